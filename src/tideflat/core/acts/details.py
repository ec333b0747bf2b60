"""The list of detail views of an article: a set-up for each place of it that has a name."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..camera.lens import distance_for, focus_reach_mm
from ..camera.stance import above_surface
from ..errors import FieldError
from ..evaluate import Picture
from ..model import Camera, Deliverable, Feature, Scene
from ..patches import Patch, patch_of
from .act import Done
from .arguments import ID, arg
from .set_ups import SetupAct

#: Of the frame's tighter side a detail fills so much [practice].
FILLS = 0.6
#: A camera looks down on a place that faces up, and never up from under the table.
_MOST_DOWN_DEG, _LEAST_DOWN_DEG = 90.0, 0.0


@dataclass(frozen=True, kw_only=True)
class Details(SetupAct):
    """A set-up for each named place of a thing, looking straight at it, as near as the lens focuses; what there is already stays."""

    act = "details"
    placement: str = arg(ID)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        picture = Picture(scene, setup)
        body = picture.bodies.get(self.placement)
        if body is None:
            raise FieldError("placement", "must be something in the picture", self.placement)
        prop = picture.props[self.placement]
        taken = {s.name for s in scene.setups}
        wanted = [f for f in prop.features if _called(f) not in taken]
        if not wanted:
            raise FieldError("placement", "must have named places that have no set-up yet; draw a box over one and name it", show_got=False)
        made = [
            replace(
                setup, name=_called(f), camera=_looking_at(picture, patch_of(body, f)), deliverables=_square(setup.deliverables), guides=()
            )
            for f in wanted
        ]
        after = replace(scene, setups=(*scene.setups, *made))
        return Done(after, self.act, (("name", prop.name), ("count", len(made))))


def _called(feature: Feature) -> str:
    return f"detail, {feature.name}"


def _square(deliverables: tuple[Deliverable, ...]) -> tuple[Deliverable, ...]:
    """A detail is asked for as the first deliverable is, without its room for words."""
    return tuple(replace(d, copy_space=None, centre=(0.5, 0.5), scale=1.0) for d in deliverables[:1])


def _looking_at(picture: Picture, patch: Patch) -> Camera:
    """The camera square before a patch, so near that it fills FILLS of the frame, or as near as the lens comes."""
    camera = picture.setup.camera
    x, y, z = (float(v) for v in patch.facing)
    elevation = min(max(math.degrees(math.asin(min(1.0, max(-1.0, z)))), _LEAST_DOWN_DEG), _MOST_DOWN_DEG)
    azimuth = round(math.degrees(math.atan2(x, -y)), 2) if math.hypot(x, y) > 0.02 else camera.azimuth
    wide, high = (float(np.linalg.norm(patch.corners[k] - patch.corners[k + 1])) for k in (0, 1))
    m = FILLS * min(camera.frame_width_mm / max(wide, 0.1), camera.frame_height_mm / max(high, 0.1))
    distance = max(distance_for(camera.lens, camera.sensor, m), focus_reach_mm(camera.lens, camera.sensor)[0])
    cx, cy, cz = (round(float(v), 1) for v in patch.centre)
    looking = replace(
        camera, aim=(cx, cy, cz), elevation=round(elevation, 2), azimuth=azimuth, roll=0.0, focus=None, distance=round(distance + 0.05, 1)
    )
    return above_surface(looking, picture.scene.surface)
