"""Where else the camera might stand, as one choice of aim, distance, height and lens together: the least change first."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from math import hypot, inf, log

from ..acts.act import Act
from ..acts.camera import SetCamera, UseLens
from ..camera.framing import covered_mm, distance_keeping
from ..camera.lens import circle_needed_mm
from ..camera.stance import shortfall_over_surface_mm
from ..errors import FieldError
from ..evaluate import Picture
from ..model import Camera, Lens
from .candidate import Candidate, Figures, Stores

#: Degrees by which the camera may come higher or lower for it; a horizon is never crossed.
_HIGHER_DEG = (6.0, 12.0, 20.0, 30.0)
#: What turning the camera up or down by this much, deg, weighs: as much as halving the distance less a little.
_TURN_DEG = 30.0
#: What taking another lens weighs, beside what it changes in the picture.
_LENS_WEIGHS = 0.25
#: Of the present angle and lens so many places are proposed, of each other so many, and of all together so many.
_OF_OWN, _OF_EACH, _OF_ALL = 8, 2, 16

#: Where a camera of one angle and lens, which shows as much as the present one, would have to stand: none, one or several.
Settle = Callable[[Camera], Iterable[Camera]]


@dataclass(frozen=True, slots=True)
class Standpoint:
    """A camera; what its lens is called when it is another one; how great a change it is from the present camera."""

    camera: Camera
    called: str | None
    change: float


def standpoints(
    picture: Picture, stores: Stores, settle: Settle, turns: Iterable[float] = (0.0,), with_alike: bool = False
) -> Iterator[Standpoint]:
    """Cameras that ``settle`` finds from the present one turned up or down by each of ``turns`` (deg), with its own lens and each of the
    stores', the least change first. One that would come nearer the surface than it may, or cannot focus, is not among them.

    with_alike: whether another lens of the same focal length is another lens; for what is seen it is not.
    """
    waiting: list[Standpoint] = []
    told = 0
    for least, stance in [*_stances(picture, stores, turns, with_alike), (inf, None)]:
        # What is less of a change than turning so far, or than another lens, need not wait for them to be worked out.
        waiting.sort(key=lambda s: s.change)
        while waiting and waiting[0].change <= least and told < _OF_ALL:
            yield waiting.pop(0)
            told += 1
        if stance is None or told >= _OF_ALL:
            return
        waiting += _settled(picture, settle, stance)


def _settled(picture: Picture, settle: Settle, stance: _Stance) -> list[Standpoint]:
    now = picture.setup.camera
    try:
        camera = stance.camera(now)
        found = [Standpoint(c, stance.called, _change(now, c, stance.called)) for c in settle(camera) if c.distance > 0]
    except FieldError:
        return []
    able = [s for s in found if s.camera != now and may_stand(picture, s.camera)]
    return sorted(able, key=lambda s: s.change)[: _OF_OWN if camera == now else _OF_EACH]


def solved(
    picture: Picture, stores: Stores, settle: Settle, turns: Iterable[float] = (0.0,), with_alike: bool = False
) -> Iterator[Candidate]:
    """The same as candidates."""
    for found in standpoints(picture, stores, settle, turns, with_alike):
        yield stood(picture, found.camera, found.called)


def higher(picture: Picture) -> tuple[float, ...]:
    """Turns (deg) that raise the camera, none past straight down; the present angle first."""
    return (0.0, *(by for by in _HIGHER_DEG if picture.setup.camera.elevation + by <= 90))


def lower(picture: Picture) -> tuple[float, ...]:
    """Turns (deg) that lower the camera, none past level; the present angle first."""
    return (0.0, *(-by for by in _HIGHER_DEG if picture.setup.camera.elevation - by >= 0))


def stood(picture: Picture, camera: Camera, called: str | None) -> Candidate:
    """The candidate that puts the camera there: what is told is what differs. ``called``: the lens, when it is another one."""
    now = picture.setup.camera
    figures: Figures = ()
    words: list[str] = []
    acts: list[Act] = []
    changes = {key: getattr(camera, key) for key in ("aim", "distance", "elevation") if getattr(camera, key) != getattr(now, key)}
    kinds = []
    if called is not None:
        kinds, words = ["lens"], [f"take the {called}"]
        figures += (("lens", called),)
        acts.append(UseLens(setup=picture.setup.name, lens=camera.lens, called=called, keep="place"))
    if "elevation" in changes:
        kinds.append("elevation")
        words.append(f"look down from {camera.elevation:g} degrees")
        figures += (("elevation", camera.elevation),)
    if "aim" in changes:
        length = hypot(*(a - b for a, b in zip(camera.aim, now.aim, strict=True)))
        kinds.append("aim")
        words.append(f"carry the camera {length:.0f} mm")
        figures += (("aim", list(camera.aim)), ("mm", round(length, 1)))
    if "distance" in changes:
        step = camera.distance - now.distance
        way = "back" if step > 0 else "closer"
        kinds.append("step")
        words.append(f"step {way} {abs(step):.0f} mm")
        figures += (("distance", camera.distance), ("step_mm" if kinds[:-1] else "mm", round(abs(step), 1)), ("way", way))
    if changes:
        acts.append(SetCamera(setup=picture.setup.name, **changes))
    return Candidate("_and_".join(kinds), figures, " and ".join(words), tuple(acts))


@dataclass(frozen=True, slots=True)
class _Stance:
    """The camera turned up or down by so much (deg), with its own lens or another, which has a name."""

    turn: float
    lens: Lens | None
    called: str | None

    def camera(self, now: Camera) -> Camera:
        """With another lens it stands where it shows as much as before. Raises FieldError where that lens cannot focus."""
        camera = now
        if self.lens is not None:
            taken = replace(now, lens=self.lens, aperture=min(max(now.aperture, self.lens.max_aperture), self.lens.min_aperture))
            camera = replace(taken, distance=distance_keeping(now, taken))
        return replace(camera, elevation=round(now.elevation + self.turn, 2)) if self.turn else camera


def _stances(picture: Picture, stores: Stores, turns: Iterable[float], with_alike: bool) -> list[tuple[float, _Stance | None]]:
    """Each angle with each lens that covers the sensor, with the least that it weighs; that first."""
    now = picture.setup.camera
    lenses: list[tuple[Lens | None, str | None]] = [(None, None)]
    for other in stores.lenses:
        is_other = other.lens != now.lens and (with_alike or other.lens.focal_length != now.lens.focal_length)
        if is_other and (other.lens.image_circle or inf) >= circle_needed_mm(replace(now, lens=other.lens)):
            lenses.append((other.lens, other.name))
    found = [(abs(t) / _TURN_DEG + (_LENS_WEIGHS if called else 0.0), _Stance(t, lens, called)) for t in turns for lens, called in lenses]
    return sorted(found, key=lambda f: f[0])


def _change(now: Camera, new: Camera, called: str | None) -> float:
    """How great a change it is, about 1 for a picture of another kind: the carry and the step over the distance, the width of what is
    shown, the turn, another lens [practice]."""
    carried = hypot(*(a - b for a, b in zip(now.aim, new.aim, strict=True))) / now.distance
    shown = abs(log(covered_mm(new)[0] / covered_mm(now)[0]))
    stepped = abs(log(new.distance / now.distance))
    return carried + shown + stepped + abs(new.elevation - now.elevation) / _TURN_DEG + (_LENS_WEIGHS if called else 0.0)


def may_stand(picture: Picture, camera: Camera) -> bool:
    """Whether the lens comes no nearer the surface than it may, or than it is."""
    surface = picture.scene.surface
    return shortfall_over_surface_mm(camera, surface) <= shortfall_over_surface_mm(picture.setup.camera, surface)
