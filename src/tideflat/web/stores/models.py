"""Rows of the stores. Lengths mm; shapes and colours as in the scene document."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from tideflat.web.accounts.models import Studio


class StoresState(models.Model):
    """How often a studio's props have changed: what is kept in memory of them is brought up to this number."""

    studio = models.OneToOneField(Studio, on_delete=models.CASCADE, related_name="stores_state", primary_key=True)
    revision = models.PositiveBigIntegerField(default=0)

    def __str__(self) -> str:
        return f"stores of {self.studio_id} at {self.revision}"


class StoreImage(models.Model):
    """Pixels that were sent in, encoded anew as WebP: nothing but pixels, told by their own digest."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="pictures")
    key = models.SlugField(max_length=40)
    data = models.BinaryField()
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    made_at = models.DateTimeField(auto_now_add=True)
    is_passing = models.BooleanField(default=False, help_text="a photograph that is being measured; swept when it is a day old")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "key"], name="one_picture_key_in_a_studio")]

    def __str__(self) -> str:
        return f"{self.key}, {self.width_px} x {self.height_px}"


class WaitingTable(models.Model):
    """A table that was sent in and waits, between its preview and its import, for its person to decide."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    data = models.BinaryField()
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"table of {self.person_id}, {self.made_at:%Y-%m-%d}"


class StoreProp(models.Model):
    """A prop with its true size. width_mm, depth_mm, height_mm: of the box it stands in, the longer side first, kept for finding."""

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
    skins = models.JSONField(default=list, help_text="as in scene documents")
    count = models.PositiveIntegerField(default=1)
    place = models.CharField(max_length=120, default="", blank=True, help_text="where it is kept")
    lender = models.CharField(max_length=120, default="", blank=True, help_text="whose it is, when it is not the studio's")
    return_on = models.DateField(null=True, blank=True)
    cautions = models.JSONField(default=list)
    notes = models.CharField(max_length=600, default="", blank=True)
    width_mm = models.FloatField(default=0)
    depth_mm = models.FloatField(default=0)
    height_mm = models.FloatField(default=0)
    stamp = models.PositiveBigIntegerField(default=0, help_text="the stores' revision at its last change")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "key"], name="one_prop_key_in_a_studio")]
        indexes = [models.Index(fields=["studio", "stamp"], name="prop_by_stamp")]
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
    skin = models.JSONField(null=True, blank=True, help_text="as in scene documents")
    other_side_of = models.OneToOneField("self", null=True, blank=True, on_delete=models.CASCADE, related_name="other_side")
    place = models.CharField(max_length=120, default="", blank=True)

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


class StoreCard(models.Model):
    """A card that gives or takes light: white, black, silver, gold."""

    KINDS = [("white", "white"), ("black", "black"), ("silver", "silver"), ("gold", "gold"), ("colour", "coloured")]

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="cards")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, choices=KINDS, default="white")
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    colour = models.CharField(max_length=7, default="#f2f2f0")

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class StoreLight(models.Model):
    """A lamp with what is on it: the size of its lit face, the whole angle that it shines in (none: all before it), and how warm it is."""

    KINDS = [(kind, kind.replace("-", " ")) for kind in ("soft-box", "strip", "lantern", "reflector", "grid", "bare-lamp")]

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="lights")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=12, choices=KINDS, default="soft-box")
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    is_round = models.BooleanField(default=False)
    beam_deg = models.FloatField(null=True, blank=True)
    kelvin = models.FloatField(default=5500)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class StoreSupport(models.Model):
    """What holds the camera: how low and how high it brings the lens, above the floor, and whether it can look straight down."""

    KINDS = [("tripod", "tripod"), ("column", "column"), ("arm", "arm"), ("stand", "stand")]

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="supports")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, choices=KINDS, default="tripod")
    lowest_mm = models.FloatField()
    highest_mm = models.FloatField()
    inverts = models.BooleanField(default=False)
    reach_mm = models.FloatField(null=True, blank=True, help_text="to the side of its column or legs; none where that is not told")

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class StoreConverter(models.Model):
    """A teleconverter: how many times larger it makes the picture, how thick it is, and from which focal length on it goes on a lens."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="converters")
    name = models.CharField(max_length=120)
    factor = models.FloatField()
    length_mm = models.FloatField(default=0)
    shortest_mm = models.FloatField(default=0)

    class Meta:
        ordering = ["factor"]

    def __str__(self) -> str:
        return self.name


class CameraBody(models.Model):
    """A body, or a phone's module, as its sensor; moving: the part about its middle that moving pictures have, and their pixels."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="bodies")
    name = models.CharField(max_length=120)
    sensor_width_mm = models.FloatField()
    sensor_height_mm = models.FloatField()
    pixels_wide = models.PositiveIntegerField()
    pixels_high = models.PositiveIntegerField()
    is_phone = models.BooleanField(default=False)
    moving_width_mm = models.FloatField(null=True, blank=True)
    moving_height_mm = models.FloatField(null=True, blank=True)
    moving_pixels_wide = models.PositiveIntegerField(null=True, blank=True)
    moving_pixels_high = models.PositiveIntegerField(null=True, blank=True)

    class Meta:
        ordering = ["is_phone", "-sensor_width_mm"]

    def __str__(self) -> str:
        return self.name


class StoreLens(models.Model):
    """A lens; a phone's own lens belongs to its body and fits no other.

    A zoom runs from focal_length_mm to longest_mm; max_aperture is at the short end, max_aperture_long at the long one. measured: what
    the frame's long side covered, at a distance from the sensor, a zoom set to measured_at_mm (its long end when not told). min_focus_mm
    and max_magnification are a zoom's at its long end. further: what else the scene document says of a lens, by its keys there.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="lenses")
    name = models.CharField(max_length=120)
    focal_length_mm = models.FloatField()
    max_aperture = models.FloatField()
    min_aperture = models.FloatField()
    min_focus_mm = models.FloatField(null=True, blank=True)
    max_magnification = models.FloatField(null=True, blank=True)
    pupil_ratio = models.FloatField(default=1.0)
    longest_mm = models.FloatField(null=True, blank=True)
    max_aperture_long = models.FloatField(null=True, blank=True)
    measured_distance_mm = models.FloatField(null=True, blank=True)
    measured_width_mm = models.FloatField(null=True, blank=True)
    measured_at_mm = models.FloatField(null=True, blank=True)
    further = models.JSONField(default=dict, blank=True)
    fixed_on = models.ForeignKey(CameraBody, null=True, blank=True, on_delete=models.CASCADE, related_name="own_lenses")

    class Meta:
        ordering = ["fixed_on_id", "focal_length_mm"]

    def __str__(self) -> str:
        return self.name
