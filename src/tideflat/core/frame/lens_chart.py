"""Which lens, from where: every lens of a kit at the place from which it covers what is covered today, and the walls it runs into there.

What a wall is, is judged by the rules of the findings themselves, on the scene with that camera.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..camera.converter import with_converter
from ..camera.coverage import backdrop_seen
from ..camera.framing import distance_covering, stretch
from ..camera.stance import shortfall_over_surface_mm
from ..camera.support import short_of
from ..camera.zooms import lengths_of, set_to
from ..errors import FieldError
from ..evaluate import Picture
from ..findings.camera_reach import RULES as REACH
from ..findings.frame_kept import ENLARGED_RULE
from ..findings.surroundings import RULES as SURROUNDINGS
from ..model import Camera, Lens
from ..model.kit import Body, Kit, KitLens

#: Where no support of the kit brings the camera (the finding asks the one that holds it), where it would be in the table, and where it
#: focuses from nowhere.
REACH_WALL, TABLE_WALL, FOCUS_WALL = "rig.reach", "rig.table", "lens.min_focus"


@dataclass(frozen=True, slots=True)
class Row:
    """A lens on a body. Lengths mm; camera and all that follows from it are None where that lens covers it from nowhere.

    focal_length: as marked or set; height_above_floor: of the entrance pupil; stretch: how much larger the nearest thing is shown than the
    furthest; backdrop_width: needed where the backdrop stands; enlargement: of the deliverable that asks for most; depth: of what is
    sharp at the aperture it would have; held_by: supports that bring it there; walls: codes of what stands in the way.
    """

    body: str
    lens: str
    focal_length: float
    camera: Camera | None = None
    height_above_surface: float | None = None
    height_above_floor: float | None = None
    ceiling_clearance: float | None = None
    magnification: float | None = None
    stretch: float | None = None
    backdrop_width: float | None = None
    enlargement: float | None = None
    depth: float | None = None
    held_by: tuple[str, ...] = ()
    walls: tuple[str, ...] = ()

    def value(self) -> dict[str, object]:
        """As plain JSON values."""
        return {
            "body": self.body,
            "lens": self.lens,
            "focal_length": self.focal_length,
            "distance": None if self.camera is None else self.camera.distance,
            "height_above_surface": self.height_above_surface,
            "height_above_floor": self.height_above_floor,
            "ceiling_clearance": self.ceiling_clearance,
            "magnification": self.magnification,
            "stretch": self.stretch,
            "backdrop_width": self.backdrop_width,
            "enlargement": self.enlargement,
            "depth_of_field": self.depth,
            "held_by": list(self.held_by),
            "walls": list(self.walls),
        }


def lens_chart(picture: Picture, kit: Kit) -> tuple[Row, ...]:
    """A row for each body with each lens that goes on it, a zoom at each of its usual lengths, and each of these with each converter;
    bodies and lenses as the kit has them."""
    covered = max(picture.size_at_aim)
    return tuple(
        _row(picture, kit, body, name, lens, covered)
        for body, kept in _mounted(kit)
        for length in lengths_of(kept)
        for name, lens in settings_of(kit, kept, length)
    )


def settings_of(kit: Kit, kept: KitLens, length: float) -> Iterator[tuple[str, Lens]]:
    """A lens at a length by its name, alone and with each converter that goes on it."""
    lens = set_to(kept, length)
    name = kept.name if kept.longest is None else f"{kept.name} at {length:g}"
    yield name, lens
    if kept.fixed_on is None:
        for c in kit.converters:
            if length >= c.shortest:
                yield f"{name} with {c.name}", with_converter(lens, c.converter)


def _mounted(kit: Kit) -> Iterator[tuple[Body, KitLens]]:
    """Every body with every lens that goes on it: a body with lenses of its own takes no other."""
    with_own = {kept.fixed_on for kept in kit.lenses}
    for body in kit.bodies:
        for kept in kit.lenses:
            if kept.fixed_on == body.name or (kept.fixed_on is None and body.name not in with_own):
                yield body, kept


def _row(picture: Picture, kit: Kit, body: Body, name: str, lens: Lens, covered_mm: float) -> Row:
    try:
        there = picture.through(keeping(picture.setup.camera, body, lens, covered_mm))
        camera, view = there.setup.camera, there.view
    except FieldError:
        return Row(body.name, name, lens.focal_length, walls=(FOCUS_WALL,))
    floor = float(view.position[2]) + there.scene.surface.height_above_floor
    held = tuple(s for s in kit.supports if short_of(s, there.scene, camera, view) is None)
    drop = there.scene.backdrop
    seen = None if drop is None else backdrop_seen(view, drop)
    return Row(
        body.name,
        name,
        lens.focal_length,
        camera,
        float(view.position[2]),
        floor,
        there.ceiling_clearance,
        view.lens.magnification,
        stretch(view, there.bodies.values()),
        None if seen is None or seen.seen is None else seen.width_needed,
        max((c.enlargement for c in there.crops), default=1.0),
        there.depth_of_field.total,
        tuple(s.name for s in held),
        _walls(there, bool(kit.supports) and not held),
    )


def keeping(now: Camera, body: Body, lens: Lens, covered_mm: float) -> Camera:
    """The camera with that body and lens, from where its long side covers ``covered_mm`` in the plane through the aim. Angle, aim and the
    point in focus stay, and the aperture where the lens has it. Raises OpticsError where it covers so much from nowhere."""
    aperture = min(max(now.aperture, lens.max_aperture), lens.min_aperture)
    camera = replace(now, sensor=body.sensor, lens=lens, aperture=aperture)
    return replace(camera, distance=distance_covering(camera, covered_mm))


def _walls(there: Picture, is_out_of_reach: bool) -> tuple[str, ...]:
    found = [f.code for rule in (*REACH, *SURROUNDINGS, ENLARGED_RULE) for f in rule.find(there)]
    if is_out_of_reach:
        found.append(REACH_WALL)
    if shortfall_over_surface_mm(there.setup.camera, there.scene.surface) > 0:
        found.append(TABLE_WALL)
    return tuple(dict.fromkeys(found))
