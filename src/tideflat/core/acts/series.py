"""Set-ups that belong together: a range of articles framed alike, and the wide, the medium and the close of one scene."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..camera.framing import carried, covered_mm, distance_covering
from ..camera.lens import focus_reach_mm
from ..camera.silhouette import Silhouette
from ..camera.stance import above_surface
from ..camera.view import View, view_of
from ..errors import FieldError, OpticsError
from ..evaluate import Picture
from ..model import Camera, Scene, Setup
from ..tolerances import REGISTERED_MM
from .act import Done
from .arguments import NAMES, arg
from .set_ups import SetupAct

#: Corrections of a camera's place; each leaves a tenth or less of what was wrong.
_CORRECTIONS = 30
#: A nearer camera is brought back to the middle of the hero so often.
_CENTRED = 3
#: Of the frame's tighter side the close one is filled by the hero to this, and the medium one covers the mean of wide and close [practice].
CLOSE_FILLS = 0.8


@dataclass(frozen=True, kw_only=True)
class FrameAlike(SetupAct):
    """The named set-ups framed as this one is: body, lens, angle, scale and crops, the middle of the hero's outline at the same place."""

    act = "series"
    others: tuple[str, ...] = arg(NAMES)

    def done(self, scene: Scene) -> Done:
        first = scene.setup(self.setup)
        hero = _hero(Picture(scene, first))
        names = [n for n in dict.fromkeys(self.others) if n != first.name]
        if not names:
            raise FieldError("others", "must name another set-up", list(self.others))
        after = scene
        for name in names:
            after = after.with_setup(name, _alike(after, first, scene.setup(name), hero))
        return Done(after, self.act, (("name", first.name), ("count", len(names))))


def _hero(picture: Picture) -> Silhouette:
    """The outline of the one hero. Raises FieldError where there is none, or it is not before the lens."""
    found = [picture.silhouettes[i] for i in picture.hero_ids() if i in picture.silhouettes]
    if len(found) != 1:
        raise FieldError("setup", "must have one hero, before the lens", picture.setup.name)
    return found[0]


def _middle(hero: Silhouette) -> tuple[float, float]:
    u0, v0, u1, v1 = hero.box
    return (u0 + u1) / 2, (v0 + v1) / 2


def _depth(hero: Silhouette, view: View) -> float:
    return float((hero.body.centroid - view.position) @ view.forward)


def _alike(scene: Scene, first: Setup, other: Setup, hero: Silhouette) -> Setup:
    made = replace(other, camera=first.camera, deliverables=first.deliverables)
    (u, v), wanted = _middle(hero), _depth(hero, view_of(first.camera))
    covers = max(covered_mm(first.camera))
    for _ in range(_CORRECTIONS):
        there, view = _hero(Picture(scene, made)), view_of(made.camera)
        du, dv = _middle(there)[0] - u, _middle(there)[1] - v
        nearer = wanted - _depth(there, view)  # a taller thing seen from above is nearer, and would come out larger
        if max(abs(du) * covers, abs(dv) * covers, abs(nearer)) < REGISTERED_MM / 2:
            break
        camera = carried(made.camera, du, dv)
        x, y, z = (float(value) for value in np.array(camera.aim) - nearer * view.forward)
        made = replace(made, camera=_moved_to(first.camera, (x, y, z)))
    x, y, z = (round(value, 4) for value in made.camera.aim)
    return replace(made, camera=_moved_to(first.camera, (x, y, z)))


def _moved_to(camera: Camera, aim: tuple[float, float, float]) -> Camera:
    """The camera carried there; a point of its own that it is focused on goes along, or the scale would be another."""
    if camera.focus is None:
        return replace(camera, aim=aim)
    x, y, z = (round(f + to - at, 4) for f, to, at in zip(camera.focus, aim, camera.aim, strict=True))
    return replace(camera, aim=aim, focus=(x, y, z))


@dataclass(frozen=True, kw_only=True)
class Sequence(SetupAct):
    """A medium and a close set-up after this wide one, for a sequence: same angle, same lens if it focuses so near, same things and light;
    what there is already stays."""

    act = "sequence"

    def done(self, scene: Scene) -> Done:
        wide = scene.setup(self.setup)
        picture = Picture(scene, wide)
        hero = _hero(picture)
        taken = {s.name for s in scene.setups}
        names = [n for n in (f"{wide.name}, close", f"{wide.name}, medium") if n not in taken]
        if not names:
            raise FieldError("setup", "must have no close and no medium one yet", wide.name)
        u0, v0, u1, v1 = hero.box
        now = max(covered_mm(wide.camera))
        close = min(now, now * max(u1 - u0, v1 - v0) / CLOSE_FILLS)
        sizes = {f"{wide.name}, close": close, f"{wide.name}, medium": (now * close) ** 0.5}
        made = [replace(wide, name=name, camera=_nearer(picture, hero, sizes[name]), guides=()) for name in names]
        after = replace(scene, setups=(*scene.setups, *made))
        return Done(after, self.act, (("name", wide.name), ("count", len(made))))


def _nearer(picture: Picture, hero: Silhouette, covers_mm: float) -> Camera:
    """The camera carried to the hero and so near that it covers that much, or as near as the lens focuses."""
    camera = picture.setup.camera
    u, v = _middle(hero)
    camera = carried(camera, u - 0.5, v - 0.5)
    x, y, z = (round(value, 1) for value in camera.aim)
    camera = replace(camera, aim=(x, y, z), focus=None)
    nearest, _ = focus_reach_mm(camera.lens, camera.sensor)
    try:
        distance = distance_covering(camera, covers_mm)
    except OpticsError:
        distance = nearest
    camera = above_surface(replace(camera, distance=max(round(distance, 1), math.ceil(10 * nearest) / 10)), picture.scene.surface)
    for _ in range(_CENTRED):  # what lies before or behind the aim has passed sideways meanwhile
        u, v = _middle(_hero(picture.through(camera)))
        x, y, z = (round(value, 1) for value in carried(camera, u - 0.5, v - 0.5).aim)
        camera = above_surface(replace(camera, aim=(x, y, z)), picture.scene.surface)
    return camera
