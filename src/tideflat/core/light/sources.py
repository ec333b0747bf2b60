"""Lights as they are worked with: lit faces of known luminance, ways to the sun, and an even sky.

Strength 0 stands for: a window's or lamp's whole face, before cover, sheet and beam, even and matt and with its filter on, gives 1 000 lux
on a face square to its axis 1 m in front of its middle; the sun 80 000 lux on a face square to it; the room 100 lux on a level face.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ..colour.mix import linear_from_hex
from ..colour.spaces import RGB_TO_XYZ
from ..facts.light import LUX_AT_A_METRE, LUX_OF_ROOM, LUX_OF_SUN, SUN_DISC
from ..model import COVERS, Lamp, Light, Room, Sheet, Sun, Window
from ..remember import counted
from ..tolerances import SAME_NUMBER
from .form_factor import even_disc, frame_of, projected_solid_angle
from .lit_face import LitFace
from .lit_sheet import bounds_on, lit_cells
from .planckian import rgb_of_kelvin
from .sun import moment_of, sun_at

#: Corners of a round face.
_ROUND = 48
_METRE_MM = 1000.0


@dataclass(frozen=True, eq=False, slots=True)
class Source:
    """One light that is on. rgb: linear, of luminance 1. faces: what shines. outline: (k, 3) round all of it, None for sun and room.
    to_sun: (3,) unit, None where it is none. sun_lux: on a face square to the sun, before a window. opening: what the sun must pass;
    is_spread: a cover gives it on. sky_lux: on a level face under nothing."""

    is_remembered: ClassVar[bool] = True
    id: str
    kind: str
    rgb: np.ndarray
    faces: tuple[LitFace, ...] = ()
    outline: np.ndarray | None = None
    to_sun: np.ndarray | None = None
    sun_lux: float = 0.0
    opening: Opening | None = None
    is_spread: bool = False
    sky_lux: float = 0.0

    @property
    def middle(self) -> np.ndarray | None:
        """(3,) of the lit outline, mm; None for sun and room."""
        return None if self.outline is None else self.outline.mean(axis=0)


@dataclass(frozen=True, eq=False, slots=True)
class Opening:
    """A window that the sun passes: its middle, half-sides (3,) each, and whether it is round."""

    at: np.ndarray
    along: np.ndarray
    upward: np.ndarray
    round: bool

    def passes(self, points: np.ndarray, way: np.ndarray) -> np.ndarray:
        """(n,) whether a ray from each point along ``way`` (3,) or (n, 3) goes through."""
        out = np.cross(self.along, self.upward)
        slope = (way * out).sum(axis=-1)
        safe = np.where(np.abs(slope) < SAME_NUMBER, SAME_NUMBER, slope)
        far = ((self.at - points) @ out) / safe
        inside = self.off(points + far[..., None] * way) <= 0
        return inside & (far > 0) & (np.abs(slope) > SAME_NUMBER)  # type: ignore[no-any-return]

    def off(self, places: np.ndarray) -> np.ndarray:
        """(n,) how far places (n, 3) of its plane lie outside it, as a share of its half-sides: 0 at its edge, -1 in its middle."""
        met = places - self.at
        a = met @ self.along / float(self.along @ self.along)
        b = met @ self.upward / float(self.upward @ self.upward)
        return (np.hypot(a, b) if self.round else np.maximum(np.abs(a), np.abs(b))) - 1  # type: ignore[no-any-return]


@counted(64)
def sources_of(lights: tuple[Light, ...], room: Room | None) -> tuple[Source, ...]:
    """The lights that are on, in their order."""
    north = 0.0 if room is None or room.north is None else room.north
    windows = {light.id: light for light in lights if isinstance(light, Window)}
    found = []
    for light in lights:
        if not light.on:
            continue
        suns = tuple(s for s in lights if isinstance(s, Sun) and s.on and s.through == light.id)
        window = windows.get(light.through or "") if isinstance(light, Sun) else None
        found.append(_source(light, suns, window, north))
    return tuple(found)


@counted(128)
def _source(light: Light, suns: tuple[Sun, ...], window: Window | None, north: float) -> Source:
    """The same value, the same object: what is known of it is kept with it."""
    if isinstance(light, Window):
        return _window(light, suns, north)
    if isinstance(light, Lamp):
        return _lamp(light)
    if isinstance(light, Sun):
        return _sun(light, window, north)
    return Source(light.id, "room", rgb_of(light), sky_lux=LUX_OF_ROOM.value * 2**light.stops)


def rgb_of(light: Light) -> np.ndarray:
    """(3,) linear sRGB of luminance 1 of a light with its filter."""
    rgb = np.array(rgb_of_kelvin(light.kelvin))
    if light.filter is None:
        return rgb
    # A black filter passes next to nothing of any colour: what counts is how its parts stand to each other.
    passed = rgb * np.maximum(linear_from_hex(light.filter), 1 / 255)
    return passed / float(RGB_TO_XYZ[1] @ passed)  # type: ignore[no-any-return]


def sun_way(sun: Sun, north: float) -> tuple[np.ndarray, float]:
    """((3,) unit toward the sun in table axes, its elevation in degrees) in a room whose +y has the compass bearing ``north``."""
    place = sun_at(sun.latitude, sun.longitude, moment_of(sun.time))
    return way_of(place.elevation, place.azimuth, north), place.elevation


def way_of(elevation: float, azimuth: float, north: float) -> np.ndarray:
    """(3,) unit toward a place in the sky, degrees."""
    up, round_about = math.radians(elevation), math.radians(azimuth - north)
    return np.array([math.sin(round_about) * math.cos(up), math.cos(round_about) * math.cos(up), math.sin(up)])


def outline_of(light: Window | Lamp | Sheet) -> np.ndarray:
    """(k, 3) corners of a face, counter-clockwise seen from the side it looks to."""
    along, upward, _ = frame_of(np.array(light.toward))
    a, b = along * light.width / 2, upward * light.height / 2
    middle = np.array(light.at, dtype=float)
    if not isinstance(light, Sheet) and light.round:
        angles = np.linspace(0, 2 * np.pi, _ROUND, endpoint=False)
        return middle + np.cos(angles)[:, None] * a + np.sin(angles)[:, None] * b  # type: ignore[no-any-return]
    return np.array([middle - a - b, middle + a - b, middle + a + b, middle - a + b])


def _face_luminance(light: Window | Lamp, outline: np.ndarray) -> float:
    _, _, out = frame_of(np.array(light.toward))
    before = (np.array(light.at) + _METRE_MM * out)[None]
    return LUX_AT_A_METRE.value * 2**light.stops / float(projected_solid_angle(before, -out[None], outline)[0])


def _window(window: Window, suns: tuple[Sun, ...], north: float) -> Source:
    """Its own light, and that of a sun that its cover spreads."""
    outline = outline_of(window)
    _, _, out = frame_of(np.array(window.toward))
    passed = COVERS[window.cover]
    rgb, luminance = rgb_of(window), _face_luminance(window, outline) * passed
    if window.cover != "none":
        light = luminance * rgb
        for sun in suns:
            way, elevation = sun_way(sun, north)
            if elevation > 0:
                light = light + rgb_of(sun) * LUX_OF_SUN.value * 2**sun.stops * passed * max(0.0, -float(way @ out)) / math.pi
        luminance = float(RGB_TO_XYZ[1] @ light)
        rgb = light / luminance
    return Source(window.id, "window", rgb, (LitFace(outline, out, luminance),), outline)


def _sun(sun: Sun, window: Window | None, north: float) -> Source:
    way, elevation = sun_way(sun, north)
    is_spread = window is not None and window.cover != "none"
    lux = LUX_OF_SUN.value * 2**sun.stops if elevation > 0 and not is_spread else 0.0
    opening = None
    if window is not None:
        along, upward, _ = frame_of(np.array(window.toward))
        opening = Opening(np.array(window.at), along * window.width / 2, upward * window.height / 2, window.round)
    return Source(sun.id, "sun", rgb_of(sun), to_sun=way, sun_lux=lux, opening=opening, is_spread=is_spread)


def sun_samples(to_sun: np.ndarray, side: int) -> np.ndarray:
    """(side * side, 3) unit ways to even parts of the sun's disc."""
    along, upward, _ = frame_of(to_sun)
    disc = even_disc(side) * math.tan(math.radians(SUN_DISC.value / 2))
    ways = to_sun + disc[:, :1] * along + disc[:, 1:] * upward
    return ways / np.linalg.norm(ways, axis=1, keepdims=True)  # type: ignore[no-any-return]


def _lamp(lamp: Lamp) -> Source:
    outline = outline_of(lamp)
    _, _, out = frame_of(np.array(lamp.toward))
    cosine = None if lamp.beam is None or lamp.beam >= 180 else math.cos(math.radians(lamp.beam / 2))
    face = LitFace(outline, out, _face_luminance(lamp, outline), cosine)
    if lamp.through is None:
        return Source(lamp.id, "lamp", rgb_of(lamp), (face,), outline)
    cells = lit_cells(face, lamp.through)
    lit = np.concatenate([c.polygon for c in cells]) if cells else None
    return Source(lamp.id, "lamp", rgb_of(lamp), cells, None if lit is None else bounds_on(lit, lamp.through))
