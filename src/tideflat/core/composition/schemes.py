"""Schemes as lines and places in the frame: where masses lie, and where the hero leads [practice, craft of the trade; no source].

Each is laid into the part of the frame where there is to be composed: all crops, less what is kept for words. What the document says of a
scheme is taken; what it leaves open is varied, a variant each.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..camera.crops import Rect
from ..model import SCHEMES, Scheme
from .layout import Layout

#: Points along a line.
_ALONG = 64
#: Over this elevation, as the sine, the table's depth is a height in the frame; a diagonal in depth wants to look along it.
_DEEP = 0.94
#: Under this elevation, as the sine, a height in the frame is no place on the table.
LOW = 0.25
_THIRDS = (1 / 3, 2 / 3)
_SIDES = ("left", "right", "bottom", "top")
Place = tuple[float, float]


@dataclass(frozen=True, eq=False, slots=True)
class Curve:
    """scheme: as the document would write it, every key chosen. points (n, 2): along its line, or its places where ``is_places``; fractions
    of the frame. hero: where the hero leads. said: the scheme in words."""

    scheme: Scheme
    points: np.ndarray
    hero: Place
    said: str
    is_places: bool = False

    @property
    def kind(self) -> str:
        return self.scheme.kind


def curves(layout: Layout, wanted: Scheme | None = None) -> tuple[Curve, ...]:
    """The variants of the wanted scheme, or of every one that suits the camera."""
    kinds = (wanted.kind,) if wanted is not None else tuple(k for k in SCHEMES if _suits(k, layout))
    return tuple(curve for kind in kinds for curve in _VARIANTS[kind](_Room(layout), wanted or Scheme(kind)))


def _suits(kind: str, layout: Layout) -> bool:
    """A diagonal in depth and planes one behind the other are seen aslant; what has a height in the frame is not seen at eye level."""
    slant = layout.slant
    if kind in ("depth-diagonal", "stagger"):
        return slant < _DEEP
    if kind == "squared":
        return layout.leanings["order"] <= 0 and slant > LOW
    return kind in ("diagonal", "off-centre", "arc", "centre") or slant > LOW


class _Room:
    """The part of the frame that a scheme is laid into; shares of it to fractions of the frame."""

    def __init__(self, layout: Layout) -> None:
        self.layout = layout
        self.u0, self.v0, self.u1, self.v1 = layout.field
        self.aspect = layout.view.aspect

    def at(self, s: Any, t: Any) -> np.ndarray:
        s, t = np.broadcast_arrays(np.asarray(s, dtype=float), np.asarray(t, dtype=float))
        return np.stack([self.u0 + s * (self.u1 - self.u0), self.v0 + t * (self.v1 - self.v0)], axis=-1)

    def place(self, s: float, t: float) -> Place:
        u, v = self.at(s, t)
        return round(float(u), 4), round(float(v), 4)

    @property
    def short(self) -> float:
        """Its shorter side in heights of the frame."""
        return min((self.u1 - self.u0) * self.aspect, self.v1 - self.v0)

    def ring(self, centre: Place, radius: float, angles: np.ndarray) -> np.ndarray:
        """Places round one, ``radius`` in heights of the frame; wider where the room is wider."""
        wide = max(1.0, min(1.6, (self.u1 - self.u0) * self.aspect / (self.v1 - self.v0)))
        return np.column_stack([centre[0] + wide * radius * np.cos(angles) / self.aspect, centre[1] - radius * np.sin(angles)])


def _given(scheme: Scheme, **chosen: Any) -> Scheme:
    return Scheme(scheme.kind, tuple({**chosen, **dict(scheme.values)}.items()))


def _crescent(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    for opens in _asked(scheme, "opens", _SIDES):
        centre = scheme.value("centre") or room.place(0.5, 0.5)
        radius = scheme.value("radius") or round(0.36 * room.short, 4)
        toward = {"right": 0.0, "top": 90.0, "left": 180.0, "bottom": 270.0}[opens]
        angles = np.radians(toward + np.linspace(65.0, 295.0, _ALONG))
        points = room.ring(centre, radius, angles)
        chosen = _given(scheme, opens=opens, centre=centre, radius=radius)
        yield Curve(chosen, points, _nearest(points, 0.5), f"a crescent open to the {opens}")


def _diagonal(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    for start in _asked(scheme, "from", ("top-left", "top-right")):
        t = np.linspace(0.1, 0.9, _ALONG)
        points = room.at(t if start == "top-left" else 1 - t, t)
        yield Curve(_given(scheme, **{"from": start}), points, _nearest(points, 0.42), f"a diagonal from the {start.replace('-', ' ')}")


def _depth_diagonal(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    """On the table's top divided in nine: from the middle of a far corner's field to that of the near corner across."""
    x0, y0, x1, y1 = room.layout.table
    for start in _asked(scheme, "from", ("far-left", "far-right")):
        t = np.linspace(0.0, 1.0, _ALONG)
        across = 1 / 6 + t * 2 / 3
        x = x0 + (across if start == "far-left" else 1 - across) * (x1 - x0)
        y = y0 + (5 / 6 - t * 2 / 3) * (y1 - y0)
        seen = room.layout.view.project(np.column_stack([x, y, np.zeros(_ALONG)]))
        inside = (seen[:, 2] > 0) & (seen[:, 0] > 0.02) & (seen[:, 0] < 0.98) & (seen[:, 1] > 0.02) & (seen[:, 1] < 0.98)
        if inside.sum() < _ALONG // 3:
            continue
        points = _even(seen[inside][:, :2])
        said = f"a diagonal in depth from the {start.replace('-', ' ')}"
        yield Curve(_given(scheme, **{"from": start}), points, _nearest(points, 0.5), said)


def _centre(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    at = scheme.value("at") or room.place(0.5, 0.5)
    radius = scheme.value("radius") or round(0.35 * room.short, 4)
    points = room.ring(at, radius, np.linspace(0, 2 * np.pi, _ALONG, endpoint=False))
    yield Curve(_given(scheme, at=at, radius=radius), points, at, "the hero in the middle, the others round it")


def _off_centre(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    """The hero on a third, the others on a bow that leads away from it to the side across."""
    heights = _THIRDS if room.layout.slant > LOW else (0.5,)
    ats = [scheme.value("at")] if scheme.value("at") else [room.place(s, t) for s in _THIRDS for t in heights]
    mid = room.at(0.5, 0.5)
    for at in ats:
        across = 2 * mid - np.array(at)
        side = np.array([-(across - at)[1] / room.aspect, (across - at)[0] * room.aspect]) * 0.5
        t = np.linspace(0.0, 1.0, _ALONG)[:, None]
        points = np.array(at) + t * (across - at) * 1.25 + (t * (1 - t)) * side * 1.6
        yield Curve(_given(scheme, at=at), _even(np.clip(points, 0.04, 0.96)), at, "the hero on a third, the others leading away")


def _s_curve(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    for mirrored in _asked(scheme, "mirrored", (False, True)):
        t = np.linspace(0.0, 1.0, _ALONG)
        s = 0.5 + (0.27 if not mirrored else -0.27) * np.sin(2 * np.pi * t)
        points = _even(room.at(s, 0.08 + 0.84 * t))
        yield Curve(_given(scheme, mirrored=mirrored), points, _nearest(points, 0.62), "an S-curve" + (", mirrored" if mirrored else ""))


def _triangle(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    ways = [((0.5, 0.16), (0.14, 0.8), (0.86, 0.8)), ((0.5, 0.84), (0.14, 0.2), (0.86, 0.2))]
    for corners in [scheme.value("points")] if scheme.value("points") else [tuple(room.place(s, t) for s, t in way) for way in ways]:
        ring = np.array([*corners, corners[0]])
        points = _even(np.concatenate([np.linspace(a, b, _ALONG // 3) for a, b in zip(ring, ring[1:], strict=False)]))
        head = float(corners[0][0]), float(corners[0][1])
        yield Curve(_given(scheme, points=tuple(corners)), points, head, "a triangle with the hero at its head")


def _arc(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    for bow in _asked(scheme, "bow", (0.12, -0.12)):
        v = scheme.value("v") if scheme.value("v") is not None else room.place(0.5, 0.5)[1]
        t = np.linspace(-1.0, 1.0, _ALONG)
        points = np.column_stack([room.at(0.5 + 0.43 * t, 0.5)[:, 0], v + bow * (0.5 - t**2) * (room.v1 - room.v0)])
        yield Curve(_given(scheme, v=v, bow=bow), points, _nearest(points, 0.5), "a line-up in an arc")


def _border(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    margin = scheme.value("margin") if scheme.value("margin") is not None else 0.18
    a, b = margin, 1 - margin
    corners = room.at([a, b, b, a, a], [a, a, b, b, a])
    points = _even(np.concatenate([np.linspace(p, q, _ALONG // 4) for p, q in zip(corners, corners[1:], strict=False)]))
    for where in (0.62, 0.12):
        yield Curve(_given(scheme, margin=margin), points, _nearest(points, where), "a border with an empty middle")


def _squared(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    count = max(1, room.layout.count)
    wide = (room.u1 - room.u0) * room.aspect / (room.v1 - room.v0)
    columns = scheme.value("columns") or max(1, round(np.sqrt(count * wide)))
    rows = scheme.value("rows") or max(1, int(np.ceil(count / columns)))
    s, t = np.meshgrid((np.arange(columns) + 0.5) / columns, (np.arange(rows) + 0.5) / rows)
    points = room.at(s.ravel(), t.ravel())
    middle = points[np.argmin(np.hypot(*(points - room.at(0.5, 0.5)).T))]
    chosen = _given(scheme, columns=columns, rows=rows)
    yield Curve(chosen, points, (float(middle[0]), float(middle[1])), f"a grid of {columns} by {rows}", True)


def _stagger(room: _Room, scheme: Scheme) -> Iterator[Curve]:
    planes = scheme.value("planes") or 3
    rows = []
    for k in range(planes):
        t = (k + 0.5) / planes
        shift = 0.12 if k % 2 else 0.0
        rows.append(room.at(np.linspace(0.12 + shift, 0.76 + shift, _ALONG // planes), 0.18 + 0.64 * t))
    points = np.concatenate(rows)
    hero = rows[planes // 2][len(rows[0]) // 2]
    yield Curve(_given(scheme, planes=planes), points, (float(hero[0]), float(hero[1])), f"{planes} planes, one behind the other")


_VARIANTS: dict[str, Callable[[_Room, Scheme], Iterator[Curve]]] = {
    "crescent": _crescent,
    "diagonal": _diagonal,
    "depth-diagonal": _depth_diagonal,
    "centre": _centre,
    "off-centre": _off_centre,
    "s-curve": _s_curve,
    "triangle": _triangle,
    "arc": _arc,
    "border": _border,
    "squared": _squared,
    "stagger": _stagger,
}


def _asked(scheme: Scheme, key: str, choices: tuple[Any, ...]) -> tuple[Any, ...]:
    value = scheme.value(key)
    return choices if value is None else (value,)


def _nearest(points: np.ndarray, share: float) -> Place:
    u, v = points[round(share * (len(points) - 1))]
    return round(float(u), 4), round(float(v), 4)


def _even(points: np.ndarray) -> np.ndarray:
    """The same line in steps of one length."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    share = np.linspace(0.0, along[-1], _ALONG)
    return np.column_stack([np.interp(share, along, points[:, k]) for k in range(2)])


def length_of(curve: Curve, aspect: float, kept: tuple[Rect, ...] = ()) -> float:
    """How long the line is, in heights of the frame, without what runs through boxes kept for words."""
    points = curve.points * [aspect, 1.0]
    middle = (curve.points[1:] + curve.points[:-1]) / 2
    free = np.ones(len(middle), dtype=bool)
    for a, b, c, d in kept:
        free &= ~((middle[:, 0] > a) & (middle[:, 0] < c) & (middle[:, 1] > b) & (middle[:, 1] < d))
    return float((np.hypot(*np.diff(points, axis=0).T) * free).sum())
