"""A scheme that is laid over the picture and bent by hand: its line, its handles, whether things have room along it, and what follows it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..composition.schemes import Curve, curves
from ..errors import FieldError
from ..evaluate import Picture
from ..formats.reading import Node
from ..formats.scene_writer import scheme_value
from ..formats.scheme_reader import scheme_of
from ..model import LEFT_OUT, Scheme
from .energy import Judge
from .impossible import line_and_needs
from .problem import Problem, problem_of
from .search import on_table

#: What is seen no further than this from the line follows it, heights of the frame [practice].
FOLLOWS = 0.14
_LEAST_RADIUS = 0.03
Place = tuple[float, float]


@dataclass(frozen=True, eq=False)
class Laid:
    """points (n, 2), fractions of the frame; table (n, 2), mm, the same on the table. handles: places in the frame by key, such as centre
    or radius. has, needs: how long its free line is, and how much what lies along it needs, heights of the frame; 0 for places. followers:
    ids of the things that follow it."""

    curve: Curve
    points: np.ndarray
    table: np.ndarray
    handles: dict[str, Place]
    has: float
    needs: float
    followers: tuple[str, ...]

    @property
    def has_room(self) -> bool:
        return self.needs <= self.has or self.curve.is_places


def laid_scheme(picture: Picture) -> Laid | None:
    """The scheme of the set-up as it lies over it; None where there is none, or the camera cannot see it."""
    scheme = picture.scene.scheme
    if scheme is LEFT_OUT or scheme is None:
        return None
    problem = problem_of(picture)
    every = curves(problem.layout, scheme)
    return _laid(problem, every[0]) if every else None


def filled(picture: Picture, scheme: Scheme) -> Scheme:
    """The scheme with what it leaves open chosen. Raises FieldError where this camera cannot see it."""
    every = curves(problem_of(picture).layout, scheme)
    if not every:
        raise FieldError("scheme", f"must be one that this camera sees; {scheme.kind} wants a lower angle", show_got=False)
    return every[0].scheme


def _laid(problem: Problem, curve: Curve) -> Laid:
    has, needs = line_and_needs(problem, (curve,))
    aim = np.array(problem.setup.camera.aim[:2])  # at eye level the line lies at its depth
    table = on_table(problem, curve.points, 0.0, np.tile(aim, (len(curve.points), 1)))
    follows = tuple(problem.units[u].lead for u in _followers(problem, curve, _middles(problem)))
    return Laid(curve, curve.points, table, _handles(curve), has, needs, follows)


def bent(picture: Picture, key: str, u: float, v: float) -> tuple[Scheme, dict[str, Place]]:
    """(the scheme with one handle at a place of the frame, where what follows it would stand, mm, by id). Raises FieldError for a handle
    that there is not."""
    scheme = picture.scene.scheme
    problem = problem_of(picture)
    old = curves(problem.layout, scheme) if isinstance(scheme, Scheme) else ()
    if not old or key not in _handles(old[0]):
        raise FieldError("key", "must be a handle of the scheme that is laid over the picture", key)
    at = min(max(u, 0.0), 1.0), min(max(v, 0.0), 1.0)
    return _reshaped(problem, old[0], _moved(problem, old[0], key, at))


def reshaped(picture: Picture, values: dict[str, Any]) -> tuple[Scheme, dict[str, Place]]:
    """The same with some of its own keys set, as the document has them. Raises FieldError where no scheme is laid, or for what a key cannot
    be."""
    scheme = picture.scene.scheme
    problem = problem_of(picture)
    old = curves(problem.layout, scheme) if isinstance(scheme, Scheme) else ()
    if not old:
        raise FieldError("scheme", "must be laid over the picture first", show_got=False)
    return _reshaped(problem, old[0], values)


def _reshaped(problem: Problem, old: Curve, values: dict[str, Any]) -> tuple[Scheme, dict[str, Place]]:
    written = scheme_value(Scheme(old.kind, tuple({**dict(old.scheme.values), **values}.items())))
    new = curves(problem.layout, scheme_of(Node(written, "scheme")))[0]
    return new.scheme, _followed(problem, old, new)


def _handles(curve: Curve) -> dict[str, Place]:
    value = curve.scheme.value
    if curve.kind in ("crescent", "centre"):
        at = value("centre" if curve.kind == "crescent" else "at")
        middle = curve.points[len(curve.points) // 2]
        return {"at": at, "radius": (float(middle[0]), float(middle[1]))}
    if curve.kind == "off-centre":
        return {"at": value("at")}
    if curve.kind == "triangle":
        return {f"corner {k + 1}": (float(p[0]), float(p[1])) for k, p in enumerate(value("points"))}
    if curve.kind == "arc":
        (u0, v0), (um, vm) = curve.points[0], curve.points[len(curve.points) // 2]
        return {"height": (float(u0), float(v0)), "bow": (float(um), float(vm))}
    if curve.kind == "border":
        left = float(curve.points[:, 0].min())
        return {"margin": (left, float(curve.points[:, 1].mean()))}
    return {}


def _moved(problem: Problem, curve: Curve, key: str, at: Place) -> dict[str, Any]:
    """Which of its keys a handle changes, to what."""
    place = (round(at[0], 4), round(at[1], 4))
    kind, aspect = curve.kind, problem.view.aspect
    u0, v0, u1, v1 = problem.field
    if key == "at":
        return {"centre" if kind == "crescent" else "at": place}
    if key == "radius":
        centre = curve.scheme.value("centre" if kind == "crescent" else "at")
        middle = curve.points[len(curve.points) // 2]
        was = np.hypot((middle[0] - centre[0]) * aspect, middle[1] - centre[1])
        now = np.hypot((at[0] - centre[0]) * aspect, at[1] - centre[1])
        return {"radius": round(float(min(1.0, max(_LEAST_RADIUS, curve.scheme.value("radius") * now / max(was, _LEAST_RADIUS)))), 4)}
    if key.startswith("corner"):
        corners = [tuple(p) for p in curve.scheme.value("points")]
        corners[int(key.split()[1]) - 1] = place
        return {"points": tuple(corners)}
    if key == "margin":
        return {"margin": round(min(0.5, max(0.0, (at[0] - u0) / (u1 - u0))), 4)}
    bow = curve.scheme.value("bow")
    if key == "bow":  # the middle of the line lies half of its bow under its height
        return {"bow": round(min(1.0, max(-1.0, (at[1] - curve.scheme.value("v")) * 2 / (v1 - v0))), 4)}
    return {"v": round(min(1.0, max(0.0, at[1] + bow * 0.5 * (v1 - v0))), 4)}


def _middles(problem: Problem) -> np.ndarray:
    """(units, 2) where each is seen now, heights of the frame."""
    judge = Judge(problem, ())
    stands = (([unit.x], [unit.y], [0.0]) for unit in problem.units)
    return np.array([judge.looks(u, *(np.array(v) for v in at)).middle[0] for u, at in enumerate(stands)]).reshape(-1, 2)


def _followers(problem: Problem, curve: Curve, middles: np.ndarray) -> list[int]:
    scale = np.array([problem.view.aspect, 1.0])
    found = []
    for u in problem.mobile:
        unit = problem.units[u]
        line = np.array([curve.hero]) if unit.is_hero else curve.points
        far = np.hypot(*(line * scale - middles[u]).T).min()
        if far <= FOLLOWS and not unit.is_laid:
            found.append(u)
    return found


def _followed(problem: Problem, old: Curve, new: Curve) -> dict[str, Place]:
    """Each as far along the new line, and as far beside it, as it lies along the old one."""
    scale = np.array([problem.view.aspect, 1.0])
    middles = _middles(problem)
    places: dict[str, Place] = {}
    for u in _followers(problem, old, middles):
        unit = problem.units[u]
        if unit.is_hero:
            shift = np.array(new.hero) - np.array(old.hero)
        else:
            nearest = int(np.hypot(*(old.points * scale - middles[u]).T).argmin())
            share = nearest / max(1, len(old.points) - 1)
            shift = new.points[round(share * (len(new.points) - 1))] - old.points[nearest]
        here = middles[u] / scale
        stands = np.array([[unit.x, unit.y]])
        a, b = (on_table(problem, spot[None], unit.top / 2, stands)[0] for spot in (here, here + shift))
        places[unit.lead] = round(float(unit.x + b[0] - a[0]), 1), round(float(unit.y + b[1] - a[1]), 1)
    return places
