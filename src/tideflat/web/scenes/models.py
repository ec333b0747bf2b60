"""A scene is kept as its open document; every change of it is a numbered, named step that can be undone."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from tideflat.web.accounts.models import Studio


class Scene(models.Model):
    """The present state. ``revision`` grows with every change, undo and redo; ``position`` is the step one stands on."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="scenes")
    title = models.CharField(max_length=120)
    document = models.TextField()
    accepted = models.JSONField(default=list, help_text="findings that are meant: setup, code, placements, crop, reason")
    revision = models.PositiveIntegerField(default=1)
    position = models.PositiveIntegerField(default=0)
    put_away_at = models.DateTimeField(null=True, blank=True, help_text="off the shelf, to be brought back or not")
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at"]

    def __str__(self) -> str:
        return self.title


class Change(models.Model):
    """One step: the state it led to, packed. Step 0 is the scene's beginning."""

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="changes")
    number = models.PositiveIntegerField()
    label = models.CharField(max_length=200)
    state = models.BinaryField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["scene", "number"], name="one_change_a_number")]
        ordering = ["number"]

    def __str__(self) -> str:
        return f"{self.number}: {self.label}"
