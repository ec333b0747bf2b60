"""What the frame itself does to the picture: level and plumb, uprights, a line through the hero, stretch, enlargement, diffraction."""

from __future__ import annotations

from collections.abc import Iterator

from ..camera.framing import stretch
from ..camera.guides import projected_line
from ..camera.optics import airy_of
from ..camera.straightness import lean_in_frame_deg
from ..composition.relations import LARGE_ROLES, label
from ..delivered import confusion_in, hero_outline
from ..evaluate import Picture
from ..facts.practice import (
    CONVERGING,
    DIFFRACTED,
    ENLARGED,
    HORIZON,
    LEVEL,
    LEVEL_MOST,
    LOOKS_DOWN,
    LOOKS_STRAIGHT,
    PLUMB,
    PLUMB_MOST,
    STRETCHED,
)
from ..tolerances import ROUNDING
from .finding import Finding, Mark
from .kind import Kind, Rule

PLUMB_KIND = Kind(
    code="camera.plumb", rank=161, severity="mend", unit="degrees", measure="degrees off straight down", limit=PLUMB,
    limit_note=f"up to {PLUMB_MOST.value:g}: more is looked at from there on purpose",
    gives="the arm that holds the camera would have to be set anew", makers=("hang plumb",), retouch_minutes=4,
)  # fmt: skip
LEVEL_KIND = Kind(
    code="camera.level", rank=162, severity="mend", unit="degrees", measure="degrees of roll off level", limit=LEVEL,
    limit_note=f"up to {LEVEL_MOST.value:g}: more is turned on purpose",
    gives="the head that holds the camera would have to be set anew", makers=("stand level",), retouch_minutes=2,
)  # fmt: skip
ENLARGED_KIND = Kind(
    code="crop.enlarged", rank=205, severity="mend", unit="%",
    measure="pixels asked for over those that the crop has, %", limit=ENLARGED,
    gives="a larger crop, a body with more pixels, or fewer of them would have to give",
)  # fmt: skip
DIFFRACTED_KIND = Kind(
    code="lens.diffraction", rank=321, severity="taste", unit="% of the circle of confusion",
    measure="the Airy disc, of what passes for sharp in the crop", limit=DIFFRACTED,
    gives="a wider stop with more focus steps, or a larger crop, would have to give", makers=("open up",),
)  # fmt: skip
CONVERGING_KIND = Kind(
    code="frame.converging", rank=323, severity="taste", unit="degrees", measure="degrees by which an upright thing leans in the frame",
    limit=CONVERGING, limit_note=f"asked where the camera looks up or down by less than {LOOKS_STRAIGHT.value:g} degrees",
    gives="a level camera, its lens shifted or its crop taken lower, would have to give", makers=("look level",), retouch_minutes=5,
)  # fmt: skip
HORIZON_KIND = Kind(
    code="frame.horizon", rank=324, severity="taste", unit="% of the hero's height in the frame",
    measure="how far from its top or foot the line between table and background runs through the hero", limit=HORIZON,
    gives="another height of the camera, or a sweep behind, would have to give",
)  # fmt: skip
STRETCH_KIND = Kind(
    code="lens.stretch", rank=326, severity="taste", unit="times",
    measure="the nearest thing's size in the frame over the furthest's, for things of one size", limit=STRETCHED,
    limit_note="asked where the camera looks down by less than 60 degrees",
    gives="a longer lens from further off would have to give", makers=("a longer lens from further off",),
)  # fmt: skip


def find_plumb(picture: Picture) -> Iterator[Finding]:
    """Nearly straight down, and not quite."""
    off = 90 - picture.setup.camera.elevation
    if PLUMB.value < off <= PLUMB_MOST.value:
        words = f"the camera looks down {off:.1f} degrees off plumb: opposite edges of the set differ by {stretch_across(picture):.1%}"
        yield PLUMB_KIND.found((), round(off, 2), PLUMB.value, words)


def stretch_across(picture: Picture) -> float:
    """How much larger the frame shows things at its upper edge than at its lower one, on the table, or the other way round: 0..."""
    view = picture.view
    rays = [view.ray(0.5, v) for v in (0.0, 1.0)]
    if any(ray[2] >= 0 for ray in rays):
        return float("inf")
    depths = [-view.position[2] / ray[2] for ray in rays]
    return float(max(depths) / min(depths)) - 1


def find_level(picture: Picture) -> Iterator[Finding]:
    """Rolled by a little."""
    off = off_level_deg(picture.setup.camera.roll)
    if LEVEL.value < abs(off) <= LEVEL_MOST.value:
        words = f"the camera is rolled {abs(off):.1f} degrees {'clockwise' if off > 0 else 'counter-clockwise'}"
        yield LEVEL_KIND.found((), round(abs(off), 2), LEVEL.value, words, sides=("clockwise" if off > 0 else "counter-clockwise",))


def off_level_deg(roll: float) -> float:
    """How far a roll is from the nearest quarter turn, degrees."""
    return (roll + 45) % 90 - 45


def find_enlarged(picture: Picture) -> Iterator[Finding]:
    """A crop has fewer pixels than are asked for."""
    for crop in picture.crops:
        percent = crop.enlargement * 100
        if percent > ENLARGED.value * (1 + ROUNDING):
            words = f"{crop.name} asks for more than its {crop.pixels[0]} x {crop.pixels[1]} pixels: they are enlarged to {percent:.0f} %"
            yield ENLARGED_KIND.found((), round(percent, 1), ENLARGED.value, words, crop=crop.name)


def find_diffraction(picture: Picture) -> Iterator[Finding]:
    """The stop is so small that diffraction takes back what depth gives. Where nothing at all is sharp, focus.hero says so."""
    airy = airy_of(picture.view.lens, picture.setup.camera.aperture)
    for crop, window in picture.windows:
        percent = airy / confusion_in(picture, window) * 100
        if DIFFRACTED.value < percent < 100:
            at = f"f/{picture.setup.camera.aperture:g}"
            words = f"at {at} diffraction alone takes {percent:.0f} % of what passes for sharp in {crop or 'the frame'}"
            yield DIFFRACTED_KIND.found((), round(percent, 1), DIFFRACTED.value, words, crop=crop)


def find_converging(picture: Picture) -> Iterator[Finding]:
    """What stands upright leans in the frame though the camera looks nearly level."""
    camera = picture.setup.camera
    if abs(camera.elevation) >= LOOKS_STRAIGHT.value or abs(off_level_deg(camera.roll)) > LEVEL.value:
        return
    leans = {i: lean for i in picture.silhouettes if (lean := lean_in_frame_deg(picture.bodies[i], picture.view)) is not None}
    leans = {i: lean for i, lean in leans.items() if picture.bodies[i].placement.role in (*LARGE_ROLES, "hero")}
    if not leans:
        return
    worst = max(leans, key=lambda i: abs(leans[i]))
    if abs(leans[worst]) > CONVERGING.value:
        words = f"{label(picture, worst)} leans {abs(leans[worst]):.1f} degrees in the frame, though it stands upright: the camera looks "
        words += "down" if camera.elevation > 0 else "up"
        yield CONVERGING_KIND.found((worst,), round(abs(leans[worst]), 2), CONVERGING.value, words)


def find_horizon(picture: Picture) -> Iterator[Finding]:
    """The line between table and background runs through the hero."""
    scene, view = picture.scene, picture.view
    if picture.setup.camera.elevation >= LOOKS_DOWN.value or (scene.backdrop is not None and scene.backdrop.kind == "sweep"):
        return
    y = scene.surface.depth if scene.backdrop is None else scene.backdrop.y
    line = projected_line(view, (-_FAR_MM, y, 0.0), (scene.surface.width + _FAR_MM, y, 0.0))
    for hero in picture.hero_ids():
        outline = hero_outline(picture, hero)
        if outline is None or line is None or line[0][0] == line[1][0]:
            continue
        u0, v0, u1, v1 = outline.bounds
        if not (u0 < 1 and u1 > 0 and v1 > v0):
            continue
        (a, b), (c, d) = line
        v = b + (d - b) * ((u0 + u1) / 2 - a) / (c - a)
        part = (v - v0) / (v1 - v0) * 100
        inside = min(part, 100 - part)
        if inside > HORIZON.value and float(picture.bodies[hero].base[1]) < y:
            words = f"the line between table and background runs through {label(picture, hero)}, {part:.0f} % of its height from its top"
            yield HORIZON_KIND.found((hero,), round(inside, 1), HORIZON.value, words, mark=Mark(frame=(((u0, float(v)), (u1, float(v))),)))


#: The line is followed so far past the table's sides, mm.
_FAR_MM = 2000.0


def find_stretch(picture: Picture) -> Iterator[Finding]:
    """The front of the set is shown much larger than its back."""
    if picture.setup.camera.elevation >= LOOKS_DOWN.value:
        return
    times = stretch(picture.view, [picture.bodies[i] for i in picture.silhouettes])
    if times is not None and times > STRETCHED.value:
        words = f"what stands in front is shown {times:.2f} times as large as the same at the back"
        yield STRETCH_KIND.found((), round(times, 3), STRETCHED.value, words)


ENLARGED_RULE = Rule(find_enlarged, (ENLARGED_KIND,))
RULES = (
    Rule(find_plumb, (PLUMB_KIND,)),
    Rule(find_level, (LEVEL_KIND,)),
    ENLARGED_RULE,
    Rule(find_diffraction, (DIFFRACTED_KIND,)),
    Rule(find_converging, (CONVERGING_KIND,)),
    Rule(find_horizon, (HORIZON_KIND,)),
    Rule(find_stretch, (STRETCH_KIND,)),
)
