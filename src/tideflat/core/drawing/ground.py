"""What lies under and behind the things: the surface with its lines, the backdrop, the wall."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ..camera.view import View
from ..colour.mix import darker, lighter, mixed
from ..model import Backdrop, Surface
from ..plane.clip import clip_half_plane
from ..tolerances import NEAR_DEPTH_MM

#: Thickness of the drawn front edge of a surface, mm.
EDGE_MM = 24.0
#: So high a sweep's curve still has the surface's colour in it, mm.
SWEEP_MM = 150.0


@dataclass(frozen=True, eq=False, slots=True)
class Patch:
    """A flat polygon in space (n, 3), its colour and how light plays on it."""

    points: np.ndarray
    fill: str
    opacity: float = 1.0
    shade: str = "flat"


def surface_patches(surface: Surface) -> tuple[Patch, ...]:
    """The top, the boards or joints on it, and the light that falls off across it."""
    w, d = surface.width, surface.depth
    main = surface.colours[0].hex
    second = surface.colours[1].hex if len(surface.colours) > 1 else darker(main, 0.1)
    top = np.array([[0, 0, 0], [w, 0, 0], [w, d, 0], [0, d, 0]], dtype=float)
    patches = [Patch(top, main)]
    if surface.skin is not None:  # a photograph lies between the two
        pass
    elif surface.lines is not None and surface.lines.pitch >= 12:
        patches += _strips(surface, main, second)
    else:
        patches += _clouds(surface, main, second)
    patches.append(Patch(top, main, 1.0, "falloff"))
    return tuple(patches)


def _strips(surface: Surface, main: str, second: str) -> list[Patch]:
    """Boards or courses along the lines' direction, each a shade of its own, a dark joint between, grain along them."""
    assert surface.lines is not None
    w, d = surface.width, surface.depth
    random = np.random.Generator(np.random.PCG64(int(w * 7 + d * 3 + surface.lines.pitch)))
    t = np.radians(surface.lines.direction)
    along, across = np.array([np.cos(t), np.sin(t)]), np.array([-np.sin(t), np.cos(t)])
    whole = shapely.box(0, 0, w, d)
    corners = np.array([[0, 0], [w, 0], [w, d], [0, d]])
    low, high = (corners @ across).min(), (corners @ across).max()
    reach = np.hypot(w, d)
    patches: list[Patch] = []
    at = low
    pitch = surface.lines.pitch
    joint = min(2.2, pitch * 0.03)
    while at < high and len(patches) < 400:
        shade = mixed(main, second, float(random.random()) * 0.8)
        patches += _strip(whole, along, across, at + joint / 2, at + pitch - joint / 2, reach, shade, 1.0)
        patches += _strip(whole, along, across, at + pitch - joint / 2, at + pitch + joint / 2, reach, darker(main, 0.55), 0.8)
        for _ in range(3):
            grain = at + pitch * (0.1 + 0.8 * random.random())
            patches += _strip(whole, along, across, grain, grain + 0.5 + 1.3 * random.random(), reach, darker(shade, 0.3), 0.22)
        at += pitch
    return patches


def _strip(
    whole: shapely.Polygon, along: np.ndarray, across: np.ndarray, low: float, high: float, reach: float, fill: str, opacity: float
) -> list[Patch]:
    corners = [
        along * -reach + across * low,
        along * reach * 2 + across * low,
        along * reach * 2 + across * high,
        along * -reach + across * high,
    ]
    cut = shapely.intersection(whole, shapely.Polygon(corners))
    if cut.geom_type != "Polygon" or cut.is_empty:
        return []
    ring = np.array(cut.exterior.coords)[:-1]
    return [Patch(np.column_stack([ring, np.zeros(len(ring))]), fill, opacity)]


def _clouds(surface: Surface, main: str, second: str) -> list[Patch]:
    """Soft blotches of stone, plaster or painted canvas."""
    w, d = surface.width, surface.depth
    random = np.random.Generator(np.random.PCG64(int(w * 5 + d)))
    whole = shapely.box(0, 0, w, d)
    patches = []
    for _ in range(26):
        centre = random.random(2) * [w, d]
        size = (0.05 + 0.16 * random.random()) * w
        t = np.linspace(0, 2 * np.pi, 22)[:-1]
        wobble = 1 + 0.22 * np.sin(t * 3 + random.random() * 6) + 0.12 * np.sin(t * 5 + random.random() * 6)
        ring = centre + np.column_stack([np.cos(t) * size * wobble, np.sin(t) * size * 0.6 * wobble])
        cut = shapely.intersection(shapely.Polygon(ring).buffer(0), whole)
        if cut.geom_type == "Polygon" and not cut.is_empty:
            flat = np.array(cut.exterior.coords)[:-1]
            fill = second if random.random() > 0.4 else lighter(main, 0.25)
            patches.append(Patch(np.column_stack([flat, np.zeros(len(flat))]), fill, 0.13))
    return patches


def front_edge(surface: Surface) -> Patch:
    """The thickness of the surface, seen where the camera looks at its front."""
    w = surface.width
    points = np.array([[0, 0, -EDGE_MM], [w, 0, -EDGE_MM], [w, 0, 0], [0, 0, 0]], dtype=float)
    return Patch(points, darker(surface.colours[0].hex, 0.45))


def backdrop_patches(backdrop: Backdrop, surface: Surface) -> tuple[Patch, ...]:
    """The upright sheet, lit a little unevenly. A sweep comes up out of the surface: its foot takes the surface's colour, without a line."""
    left, right = backdrop.x - backdrop.width / 2, backdrop.x + backdrop.width / 2
    y, high = backdrop.y, backdrop.height
    sheet = np.array([[left, y, 0], [right, y, 0], [right, y, high], [left, y, high]])
    patches = [Patch(sheet, backdrop.colour), Patch(sheet, backdrop.colour, 1.0, "backlight")]
    if backdrop.kind == "upright":
        foot = np.array([[left, y, 0], [right, y, 0], [right, y, 14], [left, y, 14]])
        patches.append(Patch(foot, "#000000", 0.1))
    else:
        rise = min(SWEEP_MM, high)
        foot = np.array([[left, y, 0], [right, y, 0], [right, y, rise], [left, y, rise]])
        patches.append(Patch(foot, surface.colours[0].hex, 1.0, "rise"))
    return tuple(patches)


def seen_patch(patch: Patch, view: View) -> np.ndarray | None:
    """(n, 2) of the patch in fractions of the frame, cut off before the lens; None when nothing is in front."""
    cut = clip_half_plane(patch.points, view.forward, float(-view.forward @ view.position) - 20 * NEAR_DEPTH_MM)
    if len(cut) < 3:
        return None
    flat = view.straight(cut)[:, :2]
    kept = view.bent_outline(shapely.intersection(shapely.Polygon(flat).buffer(0), shapely.box(-0.5, -0.5, 1.5, 1.5)))
    if kept.is_empty or kept.geom_type != "Polygon":
        return None
    return np.array(kept.exterior.coords)[:-1]
