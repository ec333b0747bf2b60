"""Studios, and who may do what in them."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Studio(models.Model):
    """The account space that owns everything."""

    name = models.CharField(max_length=120)
    leanings = models.JSONField(default=dict, blank=True, help_text="what new scenes lean to: name to -1, 0 or 1")

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """One person's role in one studio."""

    OWNER, STYLIST, VIEWER = "owner", "stylist", "viewer"
    ROLES = [(OWNER, "owner"), (STYLIST, "stylist"), (VIEWER, "viewer")]

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="memberships")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=ROLES, default=STYLIST)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "person"], name="one_role_in_a_studio")]

    def __str__(self) -> str:
        return f"{self.person} is {self.role} in {self.studio}"

    @property
    def may_change(self) -> bool:
        return self.role in (self.OWNER, self.STYLIST)


class Preference(models.Model):
    """How one person likes to see things."""

    UNITS = [("mm", "millimetres"), ("cm", "centimetres"), ("in", "inches")]
    GROUNDS = [("light", "light grey"), ("middle", "middle grey"), ("deep", "deep grey")]

    person = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preference")
    unit = models.CharField(max_length=2, choices=UNITS, default="mm")
    ground = models.CharField(max_length=6, choices=GROUNDS, default="middle")

    def __str__(self) -> str:
        return f"{self.person}: {self.unit}, {self.ground}"
