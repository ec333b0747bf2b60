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
    #: Whether the person may also work in another studio; set where the request's membership is found.
    is_one_of_several = False

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "person"], name="one_role_in_a_studio")]

    def __str__(self) -> str:
        return f"{self.person} is {self.role} in {self.studio}"

    @property
    def may_change(self) -> bool:
        return self.role in (self.OWNER, self.STYLIST)


class Former(models.Model):
    """Someone who was of a studio and is no longer: may be added again, with the password they have."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="formers")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="formers")
    role = models.CharField(max_length=10, choices=Membership.ROLES)
    left_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "person"], name="former_once_of_a_studio")]

    def __str__(self) -> str:
        return f"{self.person} was {self.role} in {self.studio}"


class Invitation(models.Model):
    """A studio asks somebody of another studio to join; they say yes or no themselves."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="invitations")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=Membership.ROLES)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "person"], name="asked_once_by_a_studio")]

    def __str__(self) -> str:
        return f"{self.studio} asks {self.person}"


class Count(models.Model):
    """How often something was done lately, shared by all processes. window: the stretch of time that is counted."""

    key = models.CharField(max_length=80, unique=True)
    window = models.BigIntegerField(default=0)
    count = models.PositiveIntegerField(default=0)
    last_at = models.FloatField(default=0, help_text="seconds since 1970")

    class Meta:
        indexes = [models.Index(fields=["last_at"], name="counts_by_age")]

    def __str__(self) -> str:
        return f"{self.key}: {self.count}"


class Preference(models.Model):
    """How one person likes to see things."""

    UNITS = [("mm", "millimetres"), ("cm", "centimetres"), ("in", "inches")]
    GROUNDS = [("light", "light grey"), ("middle", "middle grey"), ("deep", "deep grey")]

    person = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preference")
    unit = models.CharField(max_length=2, choices=UNITS, default="mm")
    ground = models.CharField(max_length=6, choices=GROUNDS, default="middle")

    def __str__(self) -> str:
        return f"{self.person}: {self.unit}, {self.ground}"
