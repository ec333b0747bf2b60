"""A scene is kept as its open document; every change of it is a numbered, named step that can be undone."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from tideflat.web.accounts.models import Studio
from tideflat.web.stores.models import StoreImage, StoreProp


class Scene(models.Model):
    """The present state. ``revision`` grows with every change, undo and redo; ``position`` is the number of the step one stands on."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="scenes")
    title = models.CharField(max_length=120)
    document = models.TextField()
    revision = models.PositiveIntegerField(default=1)
    position = models.PositiveIntegerField(default=0)
    shoot_on = models.DateField(null=True, blank=True, help_text="the day it is shot; what is reserved is reserved for it")
    put_away_at = models.DateTimeField(null=True, blank=True, help_text="off the shelf, to be brought back or not")
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at"]

    def __str__(self) -> str:
        return self.title


class Reservation(models.Model):
    """So many of a prop are kept for a scene on its day, so that two shoots do not count on the same ones."""

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="reservations")
    prop = models.ForeignKey(StoreProp, on_delete=models.CASCADE, related_name="reservations")
    day = models.DateField()
    count = models.PositiveIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["scene", "prop"], name="one_reservation_of_a_prop_for_a_scene")]
        indexes = [models.Index(fields=["day", "prop"], name="reserved_on_a_day")]

    def __str__(self) -> str:
        return f"{self.count} of {self.prop_id} on {self.day}"


class Reference(models.Model):
    """A picture that the scene is to be like, and in what."""

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="references")
    picture = models.ForeignKey(StoreImage, on_delete=models.PROTECT, related_name="+")
    note = models.CharField(max_length=200, default="", blank=True)
    position = models.PositiveIntegerField()
    facts = models.JSONField(help_text="colours with shares, key, contrast, warm: computed when it came in")

    class Meta:
        ordering = ["position"]

    def __str__(self) -> str:
        return f"{self.position}: {self.note or 'reference'}"


class Change(models.Model):
    """One step of the scene's history, which is a tree: the state it led to, packed, and the step it was made from. Step 0 is the
    beginning.

    Nothing is ever taken out of it: undo goes to ``parent``, redo to ``onward``, the step on which one went on from here the last time.
    """

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="changes")
    number = models.PositiveIntegerField()
    parent = models.PositiveIntegerField(null=True, help_text="number of the step this was made from; null for the beginning")
    onward = models.PositiveIntegerField(null=True, help_text="number of the step that redo goes to")
    code = models.CharField(max_length=40, default="", blank=True, help_text="what was done; empty: label says it")
    figures = models.JSONField(default=dict, help_text="what its words are made of, in whatever unit they are read")
    label = models.CharField(max_length=200, default="", blank=True, help_text="its words, where it has no code")
    setup = models.CharField(max_length=120, default="", blank=True, help_text="the set-up that was looked at")
    state = models.BinaryField(help_text="the document after it, zlib")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["scene", "number"], name="one_change_a_number")]
        ordering = ["number"]

    def __str__(self) -> str:
        return f"{self.number}: {self.code or self.label}"


class Version(models.Model):
    """A step that is kept to be chosen from: what was thought of it, and by whom. Its picture is drawn from the step itself."""

    UNDECIDED, YES, MAYBE, NO = "", "yes", "maybe", "no"
    VERDICTS = ((UNDECIDED, "not judged"), (YES, "this one"), (MAYBE, "maybe"), (NO, "not this"))

    scene = models.ForeignKey(Scene, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField(help_text="number of the step that is kept")
    note = models.CharField(max_length=300, default="", blank=True)
    verdict = models.CharField(max_length=5, choices=VERDICTS, default=UNDECIDED, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["scene", "number"], name="one_version_of_a_step")]
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.number}: {self.note or self.get_verdict_display()}"


class VersionProof(models.Model):
    """The proof of a version in one of its set-ups, as it was when it had settled."""

    version = models.ForeignKey(Version, on_delete=models.CASCADE, related_name="proofs")
    setup = models.CharField(max_length=120)
    picture = models.BinaryField(help_text="WebP")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["version", "setup"], name="one_proof_of_a_version_in_a_set_up")]
        ordering = ["setup"]

    def __str__(self) -> str:
        return f"{self.version}, {self.setup}"
