"""Round things with a wall: jars, tins, bottles, cones, ovals; their bands, lids, cut faces and ribs."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker, lighter
from ...model import Prop
from ...shapes.bottle import Bottle
from ...shapes.cone import Cone
from ...shapes.cylinder import Cylinder
from ...solids.body import Body
from ..pieces import Paint, Piece
from ..skins import BOTH_VIEWS, OVERLAP, skin_piece
from ..strokes import circle_at, stroke, tone, wall_shade
from .drawing import Ask, Drawing
from .profile import Profile, profile_of, radius_at

#: Strips on the half of a round wall that faces the prop's front: at most so many, so many more than a flat face has cells along a side, so
#: that a label's lines run on from one to the next.
_STRIPS, _MORE_STRIPS = 18, 4
#: A bottle of glass that is not clear: what is in it reaches so far up, and its neck is seen through.
_FILLED_TO = 0.62


def turned(ask: Ask) -> list[Piece]:
    """Round things: the wall in bands from the ends toward the eye's height, then the lid."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    profile = profile_of(body)
    height = profile[-1][0]
    shade = wall_shade(prop)
    steps: list[tuple[float, float, str, str]] = []
    for start, end, colour, own in bands_of(prop, tones, height):
        levels = [start * height, *(z for z, _, _ in profile if start * height < z < end * height), end * height]
        steps += [(a, b, colour, own or shade) for a, b in zip(levels, levels[1:], strict=False)]
    base = body.base[2]
    inside = [s for s in steps if s[3] == "liquid"]
    walls = [s for s in steps if s not in inside]
    below = [s for s in walls if base + s[1] <= ask.eye[2]]  # what is nearer the eye's height is painted later
    steps = inside + below + [s for s in reversed(walls) if s not in below]
    pieces = []
    for low, high, colour, how in steps:
        rings = tuple(circle_at(body, z, *radius_at(profile, z)) for z in (low, high))
        opacity = 0.92 if how == "liquid" else 1.0
        own = colour if how == "gloss" else None  # what it mirrors is the light's to show
        pieces.append(Piece("hull", Paint(colour, opacity, "round" if how == "liquid" else how, own=own), circles=rings))
        if how == "liquid":
            pieces.append(Piece("ring", Paint(lighter(colour, 0.12), 0.9), circles=(rings[1],), one_sided=True))
    top_colour = bands_of(prop, tones, height)[-1][2]
    pieces += _lid(body, prop, tones, top_colour, height, radius_at(profile, height))
    if prop.texture == "ribbed":
        pieces += _ribs(body, profile, tones[0])
    return pieces


def bands_of(prop: Prop, tones: tuple[str, ...], height: float) -> list[tuple[float, float, str, str | None]]:
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
    if prop.material == "glass" and prop.finish != "glass" and prop.texture == "smooth":
        return [(0.02, _FILLED_TO, darker(main, 0.25), "liquid"), (0, 1, main, "bottle")]
    if prop.texture == "filled" and prop.finish == "glass":
        return [(0.03, 0.72, tone(tones, 1, main), "liquid"), (0, 1, main, None)]
    return [(0, 1, main, None)]


def _lid(body: Body, prop: Prop, tones: tuple[str, ...], colour: str, height: float, radii: tuple[float, float]) -> list[Piece]:
    """The upper end of a round thing: a lid, an open mouth, a cut face."""
    a, b = radii
    if a < 0.5:
        return []
    ring = circle_at(body, height, a, b)
    if prop.texture == "segmented":
        return _cut_face(body, tones, height, a, b)
    if prop.texture == "seeded":
        return _seeded_face(body, prop, tones, height, a, b)
    if prop.finish == "glass" and prop.texture != "labelled":
        pieces = [
            Piece("ring", Paint(lighter(colour, 0.5), 0.22, "flat", line="#ffffff", line_width=0.9, line_opacity=0.75), circles=(ring,))
        ]
        if prop.texture == "smooth":
            foot = circle_at(body, 2.0, a * 0.8, b * 0.8)
            pieces.insert(0, Piece("ring", Paint("#ffffff", 0.12, line="#ffffff", line_width=0.5, line_opacity=0.35), circles=(foot,)))
        return pieces
    if prop.texture == "open":  # a tin or pot without its lid
        inner = circle_at(body, height - 0.5, a * 0.93, b * 0.93)
        # Filled nearly to the brim, so that it is the same from every side.
        fill = circle_at(body, height - 0.4, a * 0.88, b * 0.88)
        return [
            Piece("ring", Paint(lighter(colour, 0.3), 1.0, "sheen", own=colour), circles=(ring,), one_sided=True),
            Piece("ring", Paint(darker(colour, 0.65)), circles=(inner,), one_sided=True),
            Piece("ring", Paint(tone(tones, 1, darker(colour, 0.6))), circles=(fill,), one_sided=True),
        ]
    shade, own = ("metal", None) if prop.finish == "metal" else ("sheen", colour)
    pieces = [
        Piece(
            "ring",
            Paint(lighter(colour, 0.14), 1.0, shade, lighter(colour, 0.45), 0.6, 0.7, own),
            circles=(ring,),
            one_sided=True,
        )
    ]
    if prop.texture in ("labelled", "lidded", "turned"):
        inner = circle_at(body, height + 0.05, a * 0.84, b * 0.84)
        pieces.append(
            Piece(
                "ring",
                Paint(lighter(colour, 0.05), 1.0, shade, darker(colour, 0.3), 0.5, 0.5, own),
                circles=(inner,),
                one_sided=True,
            )
        )
    return pieces


def _cut_face(body: Body, tones: tuple[str, ...], height: float, a: float, b: float) -> list[Piece]:
    """A citrus slice: rind, pith, flesh, and the walls between the segments."""
    rind, flesh = tones[0], tone(tones, 1, lighter(tones[0], 0.3))
    pieces = [
        Piece("ring", Paint(rind), circles=(circle_at(body, height, a, b),), one_sided=True),
        Piece("ring", Paint(lighter(flesh, 0.75)), circles=(circle_at(body, height, a * 0.93, b * 0.93),), one_sided=True),
        Piece("ring", Paint(flesh, 1.0, "sheen"), circles=(circle_at(body, height, a * 0.84, b * 0.84),), one_sided=True),
    ]
    for k in range(9):
        t = 2 * np.pi * k / 9 + 0.2
        spoke = np.array([[0.0, 0.0, height], [a * 0.84 * np.cos(t), b * 0.84 * np.sin(t), height]])
        pieces.append(stroke(body, spoke, lighter(flesh, 0.7), max(0.7, a * 0.035), 0.95))
    pieces.append(Piece("ring", Paint(lighter(flesh, 0.7)), circles=(circle_at(body, height, a * 0.09, b * 0.09),), one_sided=True))
    return pieces


def _seeded_face(body: Body, prop: Prop, tones: tuple[str, ...], height: float, a: float, b: float) -> list[Piece]:
    """A cut fig: skin, pale flesh, red heart, seeds."""
    skin, flesh, heart = tones[0], tone(tones, 1, "#e8cfc0"), tone(tones, 2, "#a8364a")
    pieces = [
        Piece("ring", Paint(skin), circles=(circle_at(body, height, a, b),), one_sided=True),
        Piece("ring", Paint(flesh), circles=(circle_at(body, height, a * 0.93, b * 0.93),), one_sided=True),
        Piece("ring", Paint(heart, 1.0, "sheen"), circles=(circle_at(body, height, a * 0.7, b * 0.7),), one_sided=True),
        Piece("ring", Paint(darker(heart, 0.25)), circles=(circle_at(body, height, a * 0.26, b * 0.26),), one_sided=True),
    ]
    for k in range(22):
        t, r = k * 2.39996, a * (0.3 + 0.36 * ((k * 0.618) % 1))  # the golden angle spreads them evenly
        start = np.array([r * np.cos(t), r * np.sin(t) * b / a, height])
        end = np.array([(r + a * 0.06) * np.cos(t), (r + a * 0.06) * np.sin(t) * b / a, height])
        pieces.append(stroke(body, np.array([start, end]), lighter(flesh, 0.5), max(0.5, a * 0.03), 0.85))
    return pieces


def _ribs(body: Body, profile: Profile, colour: str) -> list[Piece]:
    """Upright ribs round a wall, seen through the lens only; those at the back are under the lid or hidden by shade."""
    top, a, b = profile[-1]
    return [
        stroke(
            body,
            np.array([[profile[0][1] * np.cos(t), profile[0][2] * np.sin(t), top * 0.04], [a * np.cos(t), b * np.sin(t), top * 0.96]]),
            darker(colour, 0.3),
            0.5,
            0.3,
        )
        for t in np.radians(np.arange(190, 351, 14))
    ]


def _front(body: Body, picture: str, most_cells: int) -> list[Piece]:
    """The picture on the front half of the wall, foot to shoulder."""
    (low, high), (foot, shoulder) = body.local.circles[:2, 0, 2], body.local.circles[:2, 1, 0]
    strips = min(_STRIPS, most_cells + _MORE_STRIPS)
    edges = np.radians(np.linspace(180, 360, strips + 1))
    bit = OVERLAP * np.pi
    found = []
    for k, (a, b) in enumerate(zip(edges, edges[1:], strict=False)):
        b = min(b + bit, edges[-1])
        corners = [(shoulder, a, high), (foot, a, low), (foot, b, low), (shoulder, b, high)]
        points = body.placed_point(np.array([[r * np.cos(t), r * np.sin(t), z] for r, t, z in corners]))
        u0, u1 = k / strips, float(b - edges[0]) / np.pi
        found.append(skin_piece(points, picture, np.array([[u0, 0], [u0, 1], [u1, 1], [u1, 0]]), BOTH_VIEWS))
    rings = tuple(c @ body.turned.T + [body.base, 0 * body.base, 0 * body.base] for c in body.local.circles[:2])
    return [*found, Piece("hull", Paint("#000000", 1.0, "skinround"), circles=rings)]


DRAWING = Drawing((Cylinder, Cone, Bottle), turned, front=_front)
