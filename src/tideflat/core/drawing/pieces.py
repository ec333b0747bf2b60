"""A drawn path in space, and its projections."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import shapely

from ..camera.view import View
from ..plane.hull import hull_of
from ..remember import counted
from ..tolerances import BENT_STEP, NEAR_DEPTH_MM

#: Chords of a drawn circle: at 48 the flat of a chord is under a pixel for anything on a screen.
DRAWN_CHORDS = 48


@counted(8)
def _circle(chords: int) -> np.ndarray:
    angles = np.linspace(0.0, 2 * np.pi, chords, endpoint=False)
    return np.stack([np.cos(angles), np.sin(angles)], axis=1)


@dataclass(frozen=True, slots=True)
class Paint:
    """How a piece is filled and outlined.

    fill: ``#rrggbb`` or None. shade: how light plays on it: flat, round (a wall seen from the side), ball, glass, sheen, metal.
    line: colour of the outline or None; line_width in mm on the table. own: what is filled with where the scene's own light lies over the
    drawing, so that light is not drawn twice: the colour without its play, ``none`` for what is light or shadow alone; None as it is.
    """

    fill: str | None
    opacity: float = 1.0
    shade: str = "flat"
    line: str | None = None
    line_width: float = 0.0
    line_opacity: float = 1.0
    own: str | None = None


@dataclass(frozen=True, eq=False, slots=True)
class SkinCell:
    """A flat part of a picture: its id, and where the piece's corners lie in it (n, 2), in widths and heights from its top left."""

    picture: str
    uv: np.ndarray

    def affine(self, flat: np.ndarray) -> np.ndarray:
        """(3, 2): how far one width and one height of the picture reach, and where its top left lies, that best fit the corners (n, 2)."""
        about, middle = self.uv - self.uv.mean(axis=0), flat.mean(axis=0)
        reach = np.linalg.solve(about.T @ about, about.T @ (flat - middle))
        return np.array([*reach, middle - self.uv.mean(axis=0) @ reach])


@dataclass(frozen=True, eq=False, slots=True)
class Piece:
    """One path. kind: ``hull`` (around all its points), ``ring`` (closed through them in order), ``line`` (open), ``wall`` (the hull
    less its last circle where that is seen from its front: the outside of an open dish).

    circles: (3, 3) each, centre and half-axes. points: (n, 3). one_sided: drawn only when its front is seen (corners
    counter-clockwise toward the eye). views: where it is drawn. skin: the picture that fills a ring. chords: of a circle.
    """

    kind: str
    paint: Paint
    circles: tuple[np.ndarray, ...] = ()
    points: np.ndarray = field(default_factory=lambda: np.empty((0, 3)))
    one_sided: bool = False
    views: frozenset[str] = frozenset({"table", "frame"})
    skin: SkinCell | None = None
    chords: int = DRAWN_CHORDS

    def sampled(self) -> np.ndarray:
        """(n, 3) all points of the path, circles as chords."""
        rings = [circle[0] + _circle(self.chords) @ circle[1:] for circle in self.circles]
        return np.concatenate([*rings, self.points]) if rings else self.points


Paths = tuple[np.ndarray, ...]


def table_path(piece: Piece) -> Paths | None:
    """Outlines (n, 2), x and y in mm, seen from straight above; None when the piece is not drawn there."""
    if "table" not in piece.views:
        return None
    return _outlined(piece, piece.sampled()[:, :2], y_up=True)


def frame_path(piece: Piece, view: View) -> Paths | None:
    """Outlines (n, 2) in fractions of the frame; None when not drawn there, turned away, or not wholly in front of the lens."""
    if "frame" not in piece.views:
        return None
    uvd = view.straight(piece.sampled())
    if len(uvd) == 0 or (uvd[:, 2] <= NEAR_DEPTH_MM).any():
        return None
    paths = _outlined(piece, uvd[:, :2], y_up=False)
    if view.distortion is None or paths is None:
        return paths
    if piece.skin is not None:  # its cells are so small that their corners alone are bent
        return tuple(view.bent(path) for path in paths)
    return tuple(_bent(path, view, closed=piece.kind != "line") for path in paths)


def _bent(path: np.ndarray, view: View, *, closed: bool) -> np.ndarray:
    """A path of straight edges as the lens bends it."""
    line = shapely.LineString(np.concatenate([path, path[:1]]) if closed else path)
    bent = view.bent(np.array(shapely.segmentize(line, BENT_STEP).coords))
    return bent[:-1] if closed else bent


def _outlined(piece: Piece, flat: np.ndarray, *, y_up: bool) -> Paths | None:
    if piece.kind in ("hull", "wall"):
        hull = hull_of(flat)
        if hull.geom_type != "Polygon":
            return None
        outer = np.array(hull.exterior.coords)[:-1]
        mouth = flat[-piece.chords :]
        return (outer, mouth) if piece.kind == "wall" and (signed_area(mouth) > 0) == y_up else (outer,)
    if piece.one_sided and (signed_area(flat) > 0) != y_up:
        return None
    return (flat,)


def signed_area(points: np.ndarray) -> float:
    """Positive when the corners run counter-clockwise with the second axis up."""
    x, y = points[:, 0], points[:, 1]
    return float(0.5 * (x @ np.roll(y, -1) - y @ np.roll(x, -1)))
