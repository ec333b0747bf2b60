"""Each prop as the pieces it is drawn from: outline, rim, height, fill and texture, in its own colours."""

from __future__ import annotations

import zlib
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..colour.mix import darker, lighter, mixed
from ..model import Prop
from ..shapes import Bottle, Bowl, Box, Cloth, Cone, Cylinder, Ellipse, Outline, Rod, Scatter, Sphere
from ..solids.body import Body
from ..solids.local import UNIT_CIRCLE
from . import texture
from .detail import FINE, Detail, drawn_corners
from .pieces import DRAWN_CHORDS, Paint, Piece
from .skins import front_pieces, skin_of, top_pieces

#: Direction the light of the drawings comes from on the table: back left. Drawing only; the light station will have its own.
FROM_LIGHT = np.array([0.62, -0.55])
#: Length of the drawn shadow for one mm of height.
SHADOW_LENGTH = 0.62


def prop_pieces(body: Body, prop: Prop, eye_height_mm: float, detail: Detail = FINE) -> tuple[Piece, ...]:
    """The pieces of one thing, in the order they are painted. ``eye_height_mm``: the lens above the table, for what is seen from below."""
    if prop.skins:
        return _skinned(body, prop, eye_height_mm, detail)
    return tuple(_drawn(body, prop, eye_height_mm, detail))


def _skinned(body: Body, prop: Prop, eye_height_mm: float, detail: Detail) -> tuple[Piece, ...]:
    """The same with photographs on its faces; what is only drawn there gives way to them."""
    has_top, has_front = skin_of(prop, "top", "tile") is not None, skin_of(prop, "front") is not None
    keeps = ("filled",) if isinstance(body.shape, Bowl) else ("labelled", "lidded") if has_front else ()
    plain = "smooth" if has_top and prop.texture not in keeps else prop.texture
    pieces = _drawn(body, replace(prop, texture=plain), eye_height_mm, detail)
    near_wall = [p for p in pieces if p.kind == "wall"]
    level = [p for p in pieces if p.one_sided and p.paint.fill is not None]
    face = level[0] if isinstance(body.shape, Bowl) and level else level[-1] if level else None
    over = front_pieces(body, prop, detail.cells) + (top_pieces(body, prop, face, detail.cells) if has_top else [])
    return tuple([p for p in pieces if p.kind != "wall"] + over + near_wall)


def _drawn(body: Body, prop: Prop, eye_height_mm: float, detail: Detail) -> list[Piece]:
    tones = tuple(c.hex for c in prop.colours)
    match body.shape:
        case Cylinder() | Cone() | Bottle() | Ellipse():
            pieces = _turned(body, prop, tones, eye_height_mm)
        case Bowl():
            pieces = _bowl(body, prop, tones)
        case Box() | Rod():
            pieces = _box(body, prop, tones)
        case Cloth():
            pieces = _cloth(body, prop, tones)
        case Sphere():
            pieces = _ball(body, prop, tones)
        case Outline():
            pieces = _prism(body, prop, tones, detail.corners)
        case Scatter():
            pieces = _strewn(body, prop, tones, detail.chords)
    return pieces


def shadow_pieces(body: Body) -> tuple[Piece, ...]:
    """The soft shadow on what the thing stands on: three lengths over each other, and the dark line of contact."""
    ground = body.z_min + 0.05
    if isinstance(body.shape, Scatter):
        return ()
    height = body.z_max - body.z_min
    foot = _foot_outline(body)
    low = np.column_stack([foot, np.full(len(foot), ground)])
    pieces = []
    if height > 1.5:
        for reach, opacity in ((1.0, 0.07), (0.72, 0.08), (0.46, 0.09)):
            shifted = low + np.array([*(FROM_LIGHT * height * SHADOW_LENGTH * reach), 0.0])
            pieces.append(Piece("hull", Paint("#000000", opacity), points=np.concatenate([low, shifted])))
    grown = low.copy()
    centre = low[:, :2].mean(axis=0)
    offset = grown[:, :2] - centre
    length = np.linalg.norm(offset, axis=1, keepdims=True)
    grown[:, :2] = centre + offset * (1 + 2.2 / np.maximum(length, 1.0)) + FROM_LIGHT * min(2.0, height * 0.2)
    pieces.append(Piece("hull", Paint("#000000", 0.2), points=grown))
    return tuple(pieces)


def _foot_outline(body: Body) -> np.ndarray:
    hull = body.footprint_hull
    if body.local.opening is not None and body.placement.lean == 0:  # a dish shades from its foot, not its rim
        circle = body.circles[0]
        return (circle[0] + UNIT_CIRCLE[::3] @ circle[1:])[:, :2]
    return np.array(hull.exterior.coords)[:-1][:: max(1, len(hull.exterior.coords) // 40)]


def random_of(prop: Prop) -> np.random.Generator:
    """The same hand for the same prop, wherever it stands."""
    return np.random.Generator(np.random.PCG64(zlib.crc32(prop.id.encode())))


def tone(tones: tuple[str, ...], index: int, otherwise: str) -> str:
    return tones[index] if len(tones) > index else otherwise


def wall_shade(prop: Prop) -> str:
    return {"glass": "glass", "metal": "metal", "gloss": "gloss"}.get(prop.finish, "round")


def circle_at(body: Body, height: float, radius_x: float, radius_y: float | None = None) -> np.ndarray:
    """A level circle of the thing at rest, where it is now."""
    local = np.array([[0, 0, height], [radius_x, 0, 0], [0, radius_y if radius_y is not None else radius_x, 0]])
    placed = local @ body.turned.T
    placed[0] += body.base
    return placed


def _profile(body: Body) -> list[tuple[float, float, float]]:
    """(height, half-width, half-depth) up the wall."""
    return [(float(c[0, 2]), float(c[1, 0]), float(c[2, 1])) for c in body.local.circles]


def _radius_at(profile: list[tuple[float, float, float]], height: float) -> tuple[float, float]:
    for (z0, a0, b0), (z1, a1, b1) in zip(profile, profile[1:], strict=False):
        if z0 <= height <= z1:
            share = (height - z0) / (z1 - z0) if z1 > z0 else 0.0
            return a0 + (a1 - a0) * share, b0 + (b1 - b0) * share
    return profile[-1][1:]


def _bands(prop: Prop, tones: tuple[str, ...], height: float) -> list[tuple[float, float, str, str | None]]:
    """(from, to, colour, shade) up the wall; one band unless the thing is labelled, lidded or filled."""
    main = tones[0]
    if prop.texture == "labelled":
        label, lid = tone(tones, 1, lighter(main, 0.7)), tone(tones, 2, main)
        return [
            (0, 0.18, main, None),
            (0.18, 0.7, label, "round"),
            (0.7, 0.84, main, None),
            (0.84, 1, lid, "round" if lid == main else "metal"),
        ]
    if prop.texture == "lidded":
        return [(0, 0.8, main, None), (0.8, 1, tone(tones, 1, darker(main, 0.3)), "round")]
    if prop.texture == "banded":
        band = tone(tones, 1, darker(main, 0.4))
        return [
            (0, 0.14, main, None),
            (0.14, 0.2, band, "round"),
            (0.2, 0.8, main, None),
            (0.8, 0.86, band, "round"),
            (0.86, 1, main, None),
        ]
    if prop.texture == "filled" and prop.finish == "glass":
        return [(0.03, 0.72, tone(tones, 1, main), "liquid"), (0, 1, main, None)]
    return [(0, 1, main, None)]


def _turned(body: Body, prop: Prop, tones: tuple[str, ...], eye_height: float) -> list[Piece]:
    """Round things: the wall in bands from the ends toward the eye's height, then the lid."""
    profile = _profile(body)
    height = profile[-1][0]
    shade = wall_shade(prop)
    steps: list[tuple[float, float, str, str]] = []
    for start, end, colour, own in _bands(prop, tones, height):
        levels = [start * height, *(z for z, _, _ in profile if start * height < z < end * height), end * height]
        steps += [(a, b, colour, own or shade) for a, b in zip(levels, levels[1:], strict=False)]
    base = body.base[2]
    if prop.texture != "filled":  # what is nearer the eye's height is painted later
        below = [s for s in steps if base + s[1] <= eye_height]
        steps = below + [s for s in reversed(steps) if s not in below]
    pieces = []
    for low, high, colour, how in steps:
        rings = tuple(circle_at(body, z, *_radius_at(profile, z)) for z in (low, high))
        opacity = 0.92 if how == "liquid" else 1.0
        pieces.append(Piece("hull", Paint(colour, opacity, "round" if how == "liquid" else how), circles=rings))
        if how == "liquid":
            pieces.append(Piece("ring", Paint(lighter(colour, 0.12), 0.9), circles=(rings[1],), one_sided=True))
    top_colour = _bands(prop, tones, height)[-1][2]
    pieces += texture.lid(body, prop, tones, top_colour, height, _radius_at(profile, height), circle_at)
    if prop.texture == "ribbed":
        pieces += texture.ribs(body, profile, tones[0])
    return pieces


def _bowl(body: Body, prop: Prop, tones: tuple[str, ...]) -> list[Piece]:
    shape = body.shape
    assert isinstance(shape, Bowl)
    main = tones[0]
    inside = tone(tones, 1, lighter(main, 0.06)) if prop.texture != "filled" else lighter(main, 0.05)
    profile = _profile(body)
    low, high = profile[0], profile[-1]
    rings = (circle_at(body, 0, low[1]), circle_at(body, high[0], high[1]))
    wall = Paint(darker(main, 0.12), 0.5 if prop.finish == "glass" else 1.0, wall_shade(prop))
    thick = min(6.0, shape.height * 0.2, low[1] * 0.3)
    pieces = [
        Piece("hull", wall, circles=rings),
        Piece(
            "ring",
            Paint(lighter(main, 0.25), 1.0, "sheen", line=darker(main, 0.3), line_width=0.5, line_opacity=0.5),
            circles=(rings[1],),
            one_sided=True,
        ),
        Piece(
            "ring",
            Paint(darker(inside, 0.14), 1.0, "hollow"),
            circles=(circle_at(body, high[0] - 0.5, high[1] - min(3.0, high[1] * 0.06)),),
            one_sided=True,
        ),
    ]
    floor = _radius_at(profile, thick)[0] * 0.96
    if prop.texture == "filled":
        level = shape.height * 0.74
        liquid = tone(tones, 1, darker(main, 0.5))
        radius = _radius_at(profile, level)[0] * 0.955
        pieces += [
            Piece("ring", Paint(darker(liquid, 0.25), 1.0), circles=(circle_at(body, level, radius),), one_sided=True),
            Piece("ring", Paint(liquid, 1.0, "sheen"), circles=(circle_at(body, level, radius * 0.95),), one_sided=True),
        ]
    else:
        pieces.append(Piece("ring", Paint(inside, 1.0, "sheen"), circles=(circle_at(body, thick, floor),), one_sided=True))
        if prop.texture == "glazed":
            pieces += texture.speckles(body, prop, floor, thick, darker(inside, 0.35), random_of(prop), circle_at)
    pieces.append(Piece("wall", wall, circles=rings))  # the near wall, over what lies deeper in the dish
    return pieces


def _face(body: Body, corners: np.ndarray, paint: Paint) -> Piece:
    return Piece("ring", paint, points=corners @ body.turned.T + body.base, one_sided=True)


def _inset(face: np.ndarray, along: tuple[float, float], up: tuple[float, float]) -> np.ndarray:
    """Part of a four-cornered face, as shares of its width and height."""
    low, high = face[1] - face[0], face[3] - face[0]
    return np.array([face[0] + low * a + high * b for a, b in ((along[0], up[0]), (along[1], up[0]), (along[1], up[1]), (along[0], up[1]))])


def _box(body: Body, prop: Prop, tones: tuple[str, ...]) -> list[Piece]:
    c = body.local.parts[0]
    main = tones[0]
    sides = ((0, 1, 5, 4, 0.3), (1, 2, 6, 5, 0.42), (2, 3, 7, 6, 0.16), (3, 0, 4, 7, 0.12))
    pieces = [Piece("hull", Paint(darker(main, 0.4)), points=body.parts[0])]
    for a, b, d, e, dark in sides:
        face = c[[a, b, d, e]]
        pieces.append(_face(body, face, Paint(darker(main, dark), 1.0, "metal" if prop.finish == "metal" else "flat")))
        if prop.texture == "labelled":
            pieces.append(
                _face(body, _inset(face, (0.12, 0.88), (0.2, 0.66)), Paint(darker(tone(tones, 1, lighter(main, 0.6)), dark * 0.8)))
            )
            pieces.append(_face(body, _inset(face, (0, 1), (0.86, 1)), Paint(darker(tone(tones, 2, main), dark))))
    shade = {"metal": "metal", "gloss": "sheen", "satin": "sheen"}.get(prop.finish, "sheen")
    pieces.append(_face(body, c[4:], Paint(lighter(main, 0.07), 1.0, shade, line=lighter(main, 0.35), line_width=0.5, line_opacity=0.55)))
    if isinstance(body.shape, Rod):
        pieces += texture.rod(body, prop, tones)
    if prop.texture == "grained":
        pieces += texture.grain(body, c[4:], main, random_of(prop))
    return pieces


def _cloth(body: Body, prop: Prop, tones: tuple[str, ...]) -> list[Piece]:
    c = body.local.parts[0]
    main = tones[0]
    pieces = [
        Piece("hull", Paint(darker(main, 0.3)), points=body.parts[0]),
        _face(body, c[4:], Paint(main, 1.0, "sheen", line=darker(main, 0.25), line_width=0.6, line_opacity=0.6)),
    ]
    return pieces + texture.weave(body, prop, tones, random_of(prop))


def _ball(body: Body, prop: Prop, tones: tuple[str, ...]) -> list[Piece]:
    x, y, z, r = body.spheres[0]
    # Rings from pole to pole, 12 degrees apart: their hull is round to half a per cent from anywhere.
    circles = tuple(
        np.array([[x, y, z + r * np.sin(t)], [r * np.cos(t), 0, 0], [0, r * np.cos(t), 0]]) for t in np.radians(np.arange(-84, 85, 12))
    )
    pieces = [Piece("hull", Paint(tones[0], 1.0, "ball"), circles=circles)]
    return pieces + texture.ball(body, prop, tones, random_of(prop))


def _prism(body: Body, prop: Prop, tones: tuple[str, ...], most_corners: int) -> list[Piece]:
    points = body.local.outline
    assert points is not None
    main, height = tones[0], body.local.height
    kept = drawn_corners(points, most_corners)
    low, high = body.parts[0][: len(points)][kept], body.parts[0][len(points) :][kept]
    points, n = points[kept], len(kept)
    pieces = []
    for i in range(n):
        j = (i + 1) % n
        pieces.append(
            Piece(
                "ring",
                Paint(darker(main, 0.38)),
                points=np.stack([low[i], low[j], high[j], high[i]]),
                one_sided=True,
                views=frozenset({"frame"}),
            )
        )
    pieces.append(
        Piece("ring", Paint(main, 1.0, "sheen", line=darker(main, 0.35), line_width=0.6, line_opacity=0.5), points=high, one_sided=True)
    )
    motifs: dict[str, Callable[..., list[Piece]]] = {"scaled": texture.fish, "leafy": texture.leaf, "crusty": texture.crust}
    if prop.texture in motifs:
        pieces += motifs[prop.texture](body, points, height, tones, random_of(prop))
    return pieces


def _strewn(body: Body, prop: Prop, tones: tuple[str, ...], chords: int) -> list[Piece]:
    random = random_of(prop)
    steps = 0 if chords == DRAWN_CHORDS else 4  # drawn coarsely, pieces share a few tints instead of one each
    pieces = []
    for x, y, z, r in body.spheres:
        colour = tones[int(random.integers(len(tones)))]
        toward, share = "#ffffff" if random.random() > 0.5 else "#000000", float(random.random())
        colour = mixed(colour, toward, (round(share * steps) / steps if steps else share) * 0.14)
        turn = random.random() * np.pi
        long, short = r, r * (0.8 if prop.texture != "leafy" else 0.42)
        axes = np.array([[np.cos(turn), np.sin(turn), 0], [-np.sin(turn), np.cos(turn), 0]])
        ground = body.placement.z + 0.1
        shadow = np.array([[x + r * 0.3, y - r * 0.3, ground], axes[0] * long, axes[1] * short])
        pieces.append(Piece("ring", Paint("#000000", 0.22), circles=(shadow,), chords=chords))
        if prop.texture == "leafy":
            t = np.linspace(-1, 1, 7)
            edge = np.concatenate([np.column_stack([t, (1 - t**2) * 0.5]), np.column_stack([t[-2:0:-1], -(1 - t[-2:0:-1] ** 2) * 0.5])])
            leaf = np.column_stack([edge @ (axes[:, :2] * r) + [x, y], np.full(len(edge), body.placement.z + r * 0.4)])
            pieces.append(Piece("ring", Paint(colour, 1.0, "flat", line=darker(colour, 0.3), line_width=0.3), points=leaf))
        else:
            rings = tuple(
                np.array([[x, y, h], axes[0] * long * w, axes[1] * short * w])
                for h, w in ((z - r * 0.6, 0.7), (z, 1.0), (z + r * 0.6, 0.7))
            )
            pieces.append(Piece("hull", Paint(colour, 1.0, "ball"), circles=rings, chords=chords))
    return pieces
