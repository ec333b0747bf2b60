"""A job and how far it is."""

from __future__ import annotations

from django.db import models

from tideflat.web.accounts.models import Studio


class Work(models.Model):
    """One job of a studio. about: the key of what it is about, within its kind. told: what there is of its result so far, JSON."""

    WAITING, WORKING, DONE, STOPPED, FAILED = "waiting", "working", "done", "stopped", "failed"
    STATES = ((WAITING, "waiting"), (WORKING, "working"), (DONE, "done"), (STOPPED, "stopped"), (FAILED, "failed"))

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="works")
    kind = models.CharField(max_length=20)
    about = models.PositiveBigIntegerField()
    state = models.CharField(max_length=10, choices=STATES, default=WAITING)
    share = models.FloatField(default=0.0)
    told = models.TextField(default="[]")
    reason = models.TextField(default="")
    is_to_stop = models.BooleanField(default=False)
    begun_at = models.DateTimeField(auto_now_add=True)
    beat_at = models.DateTimeField()

    class Meta:
        indexes = (models.Index(fields=["studio", "kind", "about"]),)

    @property
    def is_under_way(self) -> bool:
        return self.state in (self.WAITING, self.WORKING)
