"""A proof of a set-up: rendered in passes, each light's group by itself where it is to be mixed anew, exposed for the subject.

Passes of a few samples, each with a seed of its own, add up; between two a watcher is told and may stop. What is seen (colours and turns of
faces) and the masks depend on the camera and the things alone: light changes neither.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np

from ..evaluate import Picture
from ..light.exposing import reference_light, subject_of
from ..lit import lighting_of
from .denoising import Guides, denoised
from .developing import developed
from .mitsuba_scene import DEPTH, mitsuba, scene_of, sensor_of
from .mitsuba_shown import shown_scene
from .stage import Stage
from .staging import stage_of

#: Samples of one pass; samples of what is seen.
PASS, GUIDE_SAMPLES = 4, 8
#: A pixel of a mask is looked at in so many parts a side.
_PARTS = 3
#: What a picture is given when nothing is said.
USUAL_WIDTH, USUAL_SAMPLES = 720, 16

#: Told the share that is done and the picture so far, (h, w, 3) linear; False stops.
Watch = Callable[[float, np.ndarray], bool]


@dataclass(eq=False)
class Proof:
    """light: (h, w, 3) linear for each group (the id of a light, or ``all``), as exposed: 1 is white at the subject. guides: what is seen.
    samples: of each group. is_whole: not stopped before."""

    light: dict[str, np.ndarray] = field(default_factory=dict)
    guides: Guides | None = None
    samples: int = 0
    is_whole: bool = True

    def mixed(self, strength: dict[str, float] | None = None) -> np.ndarray:
        """(h, w, 3) uint8 sRGB of the groups together, each times its strength."""
        total = sum((picture * (strength or {}).get(group, 1.0) for group, picture in self.light.items()), np.zeros(()))
        return developed(np.asarray(total))


def size_of(picture: Picture, width: int) -> tuple[int, int]:
    """Pixels of a proof so wide, of the frame's own shape."""
    view = picture.view
    return width, max(1, round(width * view.frame_height / view.frame_width))


def exposure_of(picture: Picture, *, quick: bool = False) -> np.ndarray:
    """(3,) what radiance is multiplied by: a white, matt face lit like the subject then comes out as white. quick: bounces from patches."""
    heroes, aim = picture.hero_ids(), np.array(picture.setup.camera.aim)
    lighting = lighting_of(picture)
    subject = subject_of(lighting, heroes[0] if heroes else None, aim, picture.view.position)
    return np.pi / reference_light(lighting, subject, quick=quick)  # type: ignore[no-any-return]


def proof_of(
    picture: Picture,
    width: int = USUAL_WIDTH,
    samples: int = USUAL_SAMPLES,
    *,
    apart: bool = False,
    exposure: np.ndarray | None = None,
    guide_samples: int = GUIDE_SAMPLES,
    watch: Watch = lambda share, picture: True,
) -> Proof:
    """Rendered and denoised. apart: each light by itself, so that they can be mixed anew. exposure: where it is known already. Raises
    ImportError without the renderer."""
    stage = stage_of(picture)
    wide, high = size_of(picture, width)
    exposed = exposure_of(picture) if exposure is None else exposure
    found = Proof(guides=guides_of(stage, wide, high, guide_samples), samples=samples)
    groups = [(g,) for g in stage.groups] if apart and stage.groups else [stage.groups]
    for k, group in enumerate(groups):
        raw = np.zeros((high, wide, 3), dtype=np.float32)
        done = 0
        for more, share in passes(stage, group, wide, high, samples) if group else ():
            raw = (raw * done + more * share) / (done + share)
            done += share
            if not watch((k + done / samples) / len(groups), raw * exposed):
                found.is_whole = False
                break
        found.light[group[0] if apart and group else "all"] = denoised(raw * exposed, found.guides) if group else raw
        if not found.is_whole:
            break
    return found


def passes(stage: Stage, group: tuple[str, ...], wide: int, high: int, samples: int) -> Iterator[tuple[np.ndarray, int]]:
    """((h, w, 3) float32 radiance, samples of the pass), until there are so many samples."""
    mi = mitsuba()
    scene = scene_of(stage, group)
    integrator = mi.load_dict({"type": "path", "max_depth": DEPTH})
    left, seed = samples, 0
    while left > 0:
        count = min(PASS, left)
        sensor = sensor_of(stage.eye, wide, high, count, seed)
        yield np.array(mi.render(scene, sensor=sensor, integrator=integrator, spp=count, seed=seed))[..., :3], count
        left, seed = left - count, seed + 1


def guides_of(stage: Stage, wide: int, high: int, samples: int = GUIDE_SAMPLES) -> Guides:
    """What each pixel sees: what it gives back, and which way it is turned."""
    albedo = _seen(stage, "colour", wide, high, samples)
    normal = 2 * _seen(stage, "turn", wide, high, samples) - 1
    return Guides(np.ascontiguousarray(np.clip(albedo, 0, 1)), np.ascontiguousarray(np.clip(normal, -1, 1)))


def _seen(stage: Stage, what: str, wide: int, high: int, samples: int) -> np.ndarray:
    mi = mitsuba()
    scene, integrator = shown_scene(stage, what), mi.load_dict({"type": "path", "max_depth": 1})
    seen = mi.render(scene, sensor=sensor_of(stage.eye, wide, high, samples), integrator=integrator, spp=samples, seed=0)
    return np.array(seen, dtype=np.float32)[..., :3]


def masks_of(picture: Picture, width: int = USUAL_WIDTH) -> np.ndarray:
    """(h, w) uint16: k where the k-th placement is seen through a pinhole in the lens's place, 0 where none is. Each pixel is looked at in
    nine parts: what its middle shows, or, of a tip that misses it, what a third of it shows."""
    wide, high = size_of(picture, width)
    seen = _seen(stage_of(picture, plain=True, pinhole=True), "number", _PARTS * wide, _PARTS * high, 1)[..., 0]
    parts = np.rint(seen).astype(np.uint16).reshape(high, _PARTS, wide, _PARTS).transpose(0, 2, 1, 3).reshape(high, wide, -1)
    middle = parts[..., _PARTS**2 // 2]
    most = parts.max(axis=2)
    often = (parts == most[..., None]).sum(axis=2) >= _PARTS
    return np.where((middle == 0) & often, most, middle)  # type: ignore[no-any-return]
