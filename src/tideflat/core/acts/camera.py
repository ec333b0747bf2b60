"""Acts on a set-up's camera. The lens never enters the surface: where it would, the aim is raised."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from ..bounds import LEAST_PART
from ..camera.crops import fitted
from ..camera.framing import covered_mm, distance_covering, distance_keeping
from ..camera.stance import LENS_CLEARANCE_MM, PRESETS_DEG, above_surface
from ..camera.view import view_of
from ..errors import FieldError
from ..evaluate import Picture
from ..model import LEFT_OUT, Camera, LeftOut, Lens, Scene, Sensor, Setup
from .act import Done
from .arguments import FOCUS, ID, LENS, NAME, PLACE, POINT, REACH, SENSOR, arg, maybe, numbered, one_of
from .set_ups import SetupAct

#: Looking down by less than this (sine of the elevation) the lens is raised by its aim, not by its distance.
_NEARLY_LEVEL = 0.17
#: From an elevation of so many degrees down, a camera that goes to a steeper preset was looking level: its aim comes back to the table.
_WAS_LEVEL_DEG = 10.0
#: How often the distance for a height is corrected by where the pupil is then: each leaves a tenth or less.
_CORRECTIONS = 4


def with_camera(scene: Scene, setup: Setup, **changes: Any) -> Scene:
    """The set-up's camera changed and kept above the surface; each crop moved just so far that it lies inside the frame."""
    camera: Camera = above_surface(replace(setup.camera, **changes), scene.seen_in(setup).surface)
    return scene.with_setup(setup.name, replace(setup, camera=camera, deliverables=fitted(setup.deliverables, camera)))


@dataclass(frozen=True, kw_only=True)
class SetCamera(SetupAct):
    """Values of the camera, those that are given."""

    act = "camera"
    elevation: float | None = arg(numbered(-10, 90), None)
    azimuth: float | None = arg(numbered(-360, 360), None)
    roll: float | None = arg(numbered(-360, 360), None)
    distance: float | None = arg(REACH, None)
    aim: tuple[float, float, float] | None = arg(POINT, None)
    aperture: float | None = arg(numbered(0.5, 256), None)
    orientation: str | None = arg(one_of(("landscape", "portrait")), None)
    focus: tuple[float, float, float] | LeftOut | None = arg(maybe(FOCUS), LEFT_OUT)
    circle_of_confusion: float | LeftOut | None = arg(maybe(numbered(LEAST_PART, 10)), LEFT_OUT)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        given = ("elevation", "azimuth", "roll", "distance", "aim", "aperture", "orientation")
        changes: dict[str, Any] = {key: value for key in given if (value := getattr(self, key)) is not None}
        changes |= {key: value for key in ("focus", "circle_of_confusion") if (value := getattr(self, key)) is not LEFT_OUT}
        if not changes:
            raise FieldError("elevation", "must be given, or another value of the camera", show_got=False)
        key = next(iter(changes))
        figures: dict[str, Any] = {"key": key, "value": changes[key]}
        if key == "aim":
            figures["axis"] = next((a for a, new, old in zip("xyz", changes["aim"], setup.camera.aim, strict=True) if new != old), "x")
            figures["value"] = changes["aim"]["xyz".index(figures["axis"])]
        elif key == "focus":
            figures["value"] = None
        return Done(with_camera(scene, setup, **changes), self.act, tuple(figures.items()))


@dataclass(frozen=True, kw_only=True)
class Preset(SetupAct):
    """A usual angle; at eye level the aim rises to half the hero's height."""

    act = "preset"
    preset: str = arg(one_of(tuple(PRESETS_DEG)))

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        elevation = PRESETS_DEG[self.preset]
        x, y, z = setup.camera.aim
        if elevation == 0:
            picture = Picture(scene, setup)
            heroes = [picture.bodies[i] for i in picture.hero_ids()]
            tallest = max((b.z_max for b in picture.bodies.values()), default=100.0)
            height = (heroes[0].z_max - heroes[0].z_min) / 2 + heroes[0].z_min if heroes else tallest / 2
            z = round(max(height, LENS_CLEARANCE_MM), 1)
        elif setup.camera.elevation <= _WAS_LEVEL_DEG:
            z = 0.0
        return Done(with_camera(scene, setup, aim=(x, y, z), elevation=elevation), self.act, (("preset", self.preset),))


@dataclass(frozen=True, kw_only=True)
class LensHeight(SetupAct):
    """The lens so high above the table, by its distance along the axis."""

    act = "lens_height"
    height: float = arg(PLACE)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        rise = math.sin(math.radians(setup.camera.elevation))
        if rise < _NEARLY_LEVEL:
            raise FieldError("height", "must be set by the aim's height when the camera looks nearly level", show_got=False)
        distance = _distance_for_height(setup.camera, (self.height - setup.camera.aim[2]) / rise)
        if distance <= 0:
            raise FieldError("height", f"must be above the aim, which is {setup.camera.aim[2]:g} mm above the table", self.height)
        return Done(with_camera(scene, setup, distance=distance), self.act, (("height", self.height),))


def _distance_for_height(camera: Camera, along: float) -> float:
    """The distance at which the entrance pupil, whose height is told, is ``along`` mm from the aim: it lies off the principal point by what
    depends a little on the focus."""
    distance = along
    if camera.lens.pupil_ratio != 1 and along > 0:
        for _ in range(_CORRECTIONS):
            distance = along - view_of(replace(camera, distance=distance)).lens.pupil_behind
    return round(distance, 2)


@dataclass(frozen=True, kw_only=True)
class Pan(SetupAct):
    """The camera carried with its aim by dx, dy on the table, mm."""

    act = "pan"
    dx: float = arg(PLACE)
    dy: float = arg(PLACE)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        x, y, z = setup.camera.aim
        aim = (round(x + self.dx, 1), round(y + self.dy, 1), z)
        return Done(with_camera(scene, setup, aim=aim), self.act, (("mm", round(math.hypot(self.dx, self.dy), 1)),))


@dataclass(frozen=True, kw_only=True)
class FocusOn(SetupAct):
    """Focus through the middle of a thing in the picture; null: through the aim."""

    act = "focus_on"
    placement: str | None = arg(maybe(ID))

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        if self.placement is None:
            return Done(with_camera(scene, setup, focus=None), self.act, (("name", None),))
        picture = Picture(scene, setup)
        body = picture.bodies.get(self.placement)
        if body is None:
            raise FieldError("placement", "must be something in the picture", self.placement)
        point = tuple(round(float(v), 1) for v in body.centroid)
        return Done(with_camera(scene, setup, focus=point), self.act, (("name", picture.props[self.placement].name),))


#: What stays when the camera becomes another: what the picture shows, the camera moved for it; the camera's place; or just what the long
#: side covers, whatever the other shape of the sensor makes of the short one.
KEEP = ("picture", "place", "coverage")


@dataclass(frozen=True, kw_only=True)
class UseLens(SetupAct):
    """Another lens; the camera is moved so that the picture shows as much as before, or stays where it is. The aperture is kept where the
    lens has it. ``called``: what it is called, for the history."""

    act = "lens"
    lens: Lens = arg(LENS)
    called: str = arg(NAME, "another lens")
    keep: str = arg(one_of(KEEP), "picture")

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        aperture = min(max(setup.camera.aperture, self.lens.max_aperture), self.lens.min_aperture)
        return _with_kit(scene, setup, self.keep, self.act, self.called, lens=self.lens, aperture=aperture)


@dataclass(frozen=True, kw_only=True)
class Tilt(SetupAct):
    """The lens tilted so far, degrees, toward a side (0 right, 90 up, from behind the camera), with its focus and aperture; 0 straightens it."""

    act = "tilt"
    tilt: float = arg(numbered(0, 45))
    toward: float = arg(numbered(-360, 360), 0.0)
    aperture: float | None = arg(numbered(0.5, 256), None)
    focus: tuple[float, float, float] | LeftOut | None = arg(maybe(FOCUS), LEFT_OUT)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        changes: dict[str, Any] = {"lens": replace(setup.camera.lens, tilt=self.tilt, tilt_toward=self.toward if self.tilt else 0.0)}
        changes |= {} if self.aperture is None else {"aperture": self.aperture}
        changes |= {} if self.focus is LEFT_OUT else {"focus": self.focus}
        return Done(with_camera(scene, setup, **changes), self.act, (("tilt", self.tilt),))


@dataclass(frozen=True, kw_only=True)
class UseBody(SetupAct):
    """Another body; one with a lens of its own, such as a phone, brings it, and any may be given with it. The camera is moved so that the
    picture shows as much as before, or stays where it is. The aperture is kept where the lens has it."""

    act = "body"
    sensor: Sensor = arg(SENSOR)
    lens: Lens | None = arg(maybe(LENS), None)
    called: str = arg(NAME, "another camera")
    keep: str = arg(one_of(KEEP), "picture")

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        changes: dict[str, Any] = {"sensor": self.sensor}
        if self.lens is not None:
            aperture = min(max(setup.camera.aperture, self.lens.max_aperture), self.lens.min_aperture)
            changes.update(lens=self.lens, aperture=aperture)
        return _with_kit(scene, setup, self.keep, self.act, self.called, **changes)


def _with_kit(scene: Scene, setup: Setup, keep: str, act: str, called: str, **changes: Any) -> Done:
    camera = replace(setup.camera, **changes)
    if keep == "picture":
        changes["distance"] = distance_keeping(setup.camera, camera)
    elif keep == "coverage":
        changes["distance"] = round(distance_covering(camera, max(covered_mm(setup.camera))), 4)
    return Done(with_camera(scene, setup, **changes), act, (("name", called), ("keep", keep)))
