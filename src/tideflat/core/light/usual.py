"""The light of a scene that has none decided: a window from the side that drawings are lit from, so that there is something to look at."""

from __future__ import annotations

from ..model import Light, Scene, Window

#: From the back left, a little over the set, as large as a window of a room; common practice, no source.
_AWAY, _BACK, _UP, _WIDE, _HIGH = 1100.0, 900.0, 620.0, 1100.0, 1300.0
#: A light stands so far before the backdrop at least, mm.
_BEFORE_BACKDROP_MM = 320.0
USUAL_ID = "usual-window"


def before_backdrop(scene: Scene, y: float) -> float:
    """The place along y, or so far before the backdrop that a light there is not behind it."""
    return y if scene.backdrop is None else min(y, scene.backdrop.y - _BEFORE_BACKDROP_MM)


def usual_lights(scene: Scene) -> tuple[Light, ...]:
    """A sheer window to the back left of the surface."""
    x, y = scene.surface.width / 2, scene.surface.depth / 2
    at = (x - _AWAY, before_backdrop(scene, y + _BACK), _UP)
    return (Window(USUAL_ID, at=at, toward=(x - at[0], y - at[1], -0.6 * _UP), width=_WIDE, height=_HIGH, cover="sheer"),)
