"""One frame for all: where the camera stands and where each crop lies so that every deliverable is served as well as can be.

The choices are a grid: how much nearer or further, how far aside and onward, and a number of places for each crop. Better is: fewer stops,
then fewer of what is to be mended, counted in each crop, then the largest least share of the hero. Every camera of the grid that might be
best is judged by the findings themselves, each crop at each of its places by itself; the best is then polished by ever smaller steps.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..camera.crops import crop_of, extent_of, fitted, room_for
from ..camera.framing import covered_mm
from ..camera.silhouette import silhouettes
from ..camera.view import view_of
from ..delivered import hero_share, hero_things
from ..errors import FieldError
from ..evaluate import Picture
from ..findings.registry import each_finding
from ..model import Camera, Deliverable
from .fit import stands

#: How many times as far as now the camera may stand, and how far it may be carried, in shares of what it covers.
FARTHER = (0.8, 0.88, 1.0, 1.12, 1.25, 1.4)
CARRIED = (-0.1, 0.0, 0.1)
#: Places of a crop along each way in which it is free, between both ends.
PLACES = 5
#: Best cameras that are polished, and the smallest steps: distance, carry, crop, as shares.
_POLISHED, _STEPS = 3, ((0.06, 0.05, 0.06), (0.03, 0.025, 0.03), (0.015, 0.012, 0.015))

#: Called with the share that is done; false stops.
Watch = Callable[[float], bool]


@dataclass(frozen=True, slots=True, order=True)
class Worth:
    """What a frame is worth, the least the best: stops and what is to be mended, counted in each crop; less: what its hero's share in the crop
    that shows least of it lacks of all."""

    stops: int
    mends: int
    less: float

    @property
    def least_share(self) -> float:
        return 1 - self.less


@dataclass(frozen=True, slots=True)
class OneFrame:
    """The camera and where each deliverable's crop lies (centre, by name); what it is worth, and what today's frame is worth."""

    camera: Camera
    centres: tuple[tuple[str, tuple[float, float]], ...]
    worth: Worth
    now: Worth


@dataclass(frozen=True, slots=True)
class Dropped:
    """What the best frame is worth when this deliverable is no longer asked for."""

    name: str
    worth: Worth


def one_frame(picture: Picture, watch: Watch = lambda share: True) -> OneFrame:
    """The best frame for every deliverable. Raises FieldError without deliverables, or without a hero in the picture."""
    asked = picture.setup.deliverables
    if not asked:
        raise FieldError("deliverables", "must be asked for first: one frame serves all of them", show_got=False)
    if not any(h in picture.silhouettes for h in picture.hero_ids()):
        raise FieldError("hero", "must be in the picture: its share in every crop is what is made largest", show_got=False)
    now = judged_at(picture, picture.setup.camera, {d.name: d.centre for d in asked})
    best = [(now, picture.setup.camera, {d.name: d.centre for d in asked})]
    cameras = sorted(_cameras(picture), key=lambda c: _bound(picture, c))
    for k, camera in enumerate(cameras):
        if not watch(0.9 * k / len(cameras)):
            break
        if _bound(picture, camera)[0] > best[0][0].stops:
            continue  # at least so many crops cut the hero from there
        best.append(_best_places(picture, camera))
        best = sorted(best, key=lambda b: b[0])[:_POLISHED]
    polished = [_polished(picture, *b) for b in best]
    watch(1.0)
    worth, camera, centres = min(polished, key=lambda b: b[0])
    return OneFrame(camera, tuple(centres.items()), worth, now)


def gains(picture: Picture, watch: Watch = lambda share: True) -> tuple[Dropped, ...]:
    """What would be gained were each deliverable dropped, the best first; none where there is but one."""
    asked = picture.setup.deliverables
    if len(asked) < 2:
        return ()
    found = []
    for k, gone in enumerate(asked):
        left = replace(picture.setup, deliverables=tuple(d for d in asked if d is not gone))
        less = picture.changed(picture.whole.with_setup(left.name, left))
        found.append(Dropped(gone.name, one_frame(less, lambda share, k=k: watch((k + share) / len(asked))).worth))  # type: ignore[misc]
    return tuple(sorted(found, key=lambda d: d.worth))


def _cameras(picture: Picture) -> Iterator[Camera]:
    """The grid of places, each of which can be."""
    camera, view = picture.setup.camera, picture.view
    wide, high = covered_mm(camera)
    for times in FARTHER:
        for across in CARRIED:
            for onward in CARRIED:
                found = _carried(
                    replace(camera, distance=round(camera.distance * times, 1)), view.right, view.up, across * wide, onward * high
                )
                if stands(picture, found):
                    yield found


def _carried(camera: Camera, right: np.ndarray, up: np.ndarray, across_mm: float, onward_mm: float) -> Camera:
    """Carried level with its aim, or upright where it looks nearly level."""
    level = np.array([up[0], up[1], 0.0])
    steep = float(np.linalg.norm(level))
    onward = level / steep if steep > 0.5 else np.array([0.0, 0.0, 1.0])
    x, y, z = (round(float(a + s), 2) for a, s in zip(camera.aim, across_mm * right + onward_mm * onward, strict=True))
    return replace(camera, aim=(x, y, z))


def _bound(picture: Picture, camera: Camera) -> tuple[int, float]:
    """(crops in which the hero cannot be whole from there, which is a stop or to be mended; how far the camera is from today's)."""
    seen = silhouettes(
        tuple(picture.bodies[i] for h in picture.hero_ids() if h in picture.bodies for i in hero_things(picture, h)), view_of(camera)
    )
    now = picture.setup.camera
    moved = float(np.hypot(*(np.array(camera.aim) - np.array(now.aim))[:2])) + abs(camera.distance - now.distance)
    if not seen:
        return len(picture.setup.deliverables), moved
    boxes = np.array([s.box for s in seen.values()])
    (u0, v0), (u1, v1) = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    is_lost = u1 < 0 or v1 < 0 or u0 > 1 or v0 > 1
    return (len(picture.setup.deliverables) if is_lost else 0), moved


def _places(deliverable: Deliverable, camera: Camera) -> list[tuple[float, float]]:
    """Where its crop may lie: along each way it is free, PLACES between both ends, and where it lies now."""
    room, (wide, high) = room_for(deliverable, camera), extent_of(deliverable, camera)

    def along(low: float, high: float, size: float) -> list[float]:
        return [0.5] if size >= high - low else [float(v) for v in np.linspace(low + size / 2, high - size / 2, PLACES)]

    places = [(u, v) for u in along(room[0], room[2], wide) for v in along(room[1], room[3], high)]
    (here,) = fitted((deliverable,), camera)
    return list(dict.fromkeys([here.centre, *places]))


def _alone(seen: Picture, deliverable: Deliverable, centre: tuple[float, float]) -> Picture:
    """The same camera's picture with one deliverable, its crop there; what does not depend on that is not computed again."""
    moved = replace(deliverable, centre=centre)
    crop_of(moved, seen.setup.camera)
    setup = replace(seen.setup, deliverables=(moved,))
    alone = Picture(seen.whole.with_setup(setup.name, setup), setup, seen.skins)
    kept = ("scene", "props", "bodies", "view", "silhouettes", "hiding", "things", "ceiling_clearance")
    alone.__dict__.update({key: getattr(seen, key) for key in kept})
    return alone


def _worth(alone: Picture) -> Worth:
    found = [f.severity for f in each_finding(alone, "mend")]
    window = alone.windows[0][1]
    share = max((hero_share(alone, h, window) for h in alone.hero_ids() if h in alone.silhouettes), default=0.0)
    return Worth(found.count("stop"), found.count("mend"), 1 - share)


def _together(worths: list[Worth]) -> Worth:
    return Worth(sum(w.stops for w in worths), sum(w.mends for w in worths), max(w.less for w in worths))


def judged_at(picture: Picture, camera: Camera, centres: dict[str, tuple[float, float]]) -> Worth:
    """What the frame is worth with the camera there and the crops about these middles."""
    seen = picture.through(camera)
    return _together([_worth(_alone(seen, d, centres[d.name])) for d in seen.setup.deliverables])


def _best_places(picture: Picture, camera: Camera) -> tuple[Worth, Camera, dict[str, tuple[float, float]]]:
    """Each crop at its best place from there, every crop by itself."""
    seen = picture.through(camera)
    worths, centres = [], {}
    for d in seen.setup.deliverables:
        worth, centre = min(((_worth(_alone(seen, d, c)), c) for c in _places(d, camera)), key=lambda found: found[0])
        worths.append(worth)
        centres[d.name] = centre
    return _together(worths), camera, centres


def _polished(
    picture: Picture, worth: Worth, camera: Camera, centres: dict[str, tuple[float, float]]
) -> tuple[Worth, Camera, dict[str, tuple[float, float]]]:
    """The best of ever smaller steps from there, one number at a time."""
    best = worth, camera, centres
    for nearer, aside, slide in _STEPS:
        for tried in _beside(picture, best[1], nearer, aside):
            moved = {d.name: d.centre for d in fitted(_placed(picture, best[2]), tried)}
            found = judged_at(picture, tried, moved), tried, moved
            best = min(best, found, key=lambda b: b[0])
        for d in picture.setup.deliverables:
            for du, dv in ((slide, 0.0), (-slide, 0.0), (0.0, slide), (0.0, -slide)):
                u, v = best[2][d.name]
                (there,) = fitted((replace(d, centre=(min(max(u + du, 0.0), 1.0), min(max(v + dv, 0.0), 1.0))),), best[1])
                if there.centre != best[2][d.name]:
                    moved = {**best[2], d.name: there.centre}
                    best = min(best, (judged_at(picture, best[1], moved), best[1], moved), key=lambda b: b[0])
    return best


def _placed(picture: Picture, centres: dict[str, tuple[float, float]]) -> tuple[Deliverable, ...]:
    return tuple(replace(d, centre=centres[d.name]) for d in picture.setup.deliverables)


def _beside(picture: Picture, camera: Camera, nearer: float, aside: float) -> Iterator[Camera]:
    wide, high = covered_mm(camera)
    view = picture.view
    ways = [
        replace(camera, distance=round(camera.distance * (1 + nearer), 1)),
        replace(camera, distance=round(camera.distance * (1 - nearer), 1)),
        *(_carried(camera, view.right, view.up, du * wide, dv * high) for du, dv in ((aside, 0), (-aside, 0), (0, aside), (0, -aside))),
    ]
    yield from (found for found in ways if stands(picture, found))
