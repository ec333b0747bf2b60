"""Rows of the stores. Lengths mm; shapes and colours as in the scene document."""

from __future__ import annotations

from django.db import models

from tideflat.web.accounts.models import Studio


class StoreProp(models.Model):
    """A prop with its true size."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="props")
    key = models.SlugField(max_length=60, help_text="id of the prop in scene documents")
    name = models.CharField(max_length=120)
    shape = models.JSONField()
    colours = models.JSONField()
    finish = models.CharField(max_length=10, default="matte")
    texture = models.CharField(max_length=40, default="smooth", blank=True)
    material = models.CharField(max_length=40, default="", blank=True)
    tags = models.JSONField(default=list)
    usual_role = models.CharField(max_length=10, default="support")
    size_source = models.CharField(max_length=120, default="typical, from memory")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "key"], name="one_prop_key_in_a_studio")]
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class StoreSurface(models.Model):
    """A surface, width along the front edge."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="surfaces")
    name = models.CharField(max_length=120)
    width_mm = models.FloatField()
    depth_mm = models.FloatField()
    colours = models.JSONField()
    finish = models.CharField(max_length=10, default="matte")
    lines = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class StoreBackdrop(models.Model):
    """A backdrop: an upright sheet, or a sweep."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="backdrops")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, default="upright")
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    colour = models.CharField(max_length=7)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class CameraBody(models.Model):
    """A body, or a phone's module, as its sensor."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="bodies")
    name = models.CharField(max_length=120)
    sensor_width_mm = models.FloatField()
    sensor_height_mm = models.FloatField()
    pixels_wide = models.PositiveIntegerField()
    pixels_high = models.PositiveIntegerField()
    is_phone = models.BooleanField(default=False)

    class Meta:
        ordering = ["is_phone", "-sensor_width_mm"]

    def __str__(self) -> str:
        return self.name


class StoreLens(models.Model):
    """A lens; a phone's own lens belongs to its body and fits no other."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="lenses")
    name = models.CharField(max_length=120)
    focal_length_mm = models.FloatField()
    max_aperture = models.FloatField()
    min_aperture = models.FloatField()
    min_focus_mm = models.FloatField(null=True, blank=True)
    max_magnification = models.FloatField(null=True, blank=True)
    pupil_ratio = models.FloatField(default=1.0)
    fixed_on = models.ForeignKey(CameraBody, null=True, blank=True, on_delete=models.CASCADE, related_name="own_lenses")

    class Meta:
        ordering = ["fixed_on_id", "focal_length_mm"]

    def __str__(self) -> str:
        return self.name
