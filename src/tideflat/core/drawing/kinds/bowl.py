"""An open dish: its wall, hollow and floor, what it holds, iron spots in its glaze."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker, lighter
from ...model import Prop
from ...shapes.bowl import Bowl
from ...shapes.shape import Shape, Top
from ...solids.body import Body
from ..pieces import Paint, Piece
from ..strokes import circle_at, random_of, tone, wall_shade
from .drawing import Ask, Drawing
from .profile import profile_of, radius_at

#: A dish flatter than this share of its rim wears its picture at the rim's height, a deeper one at this share of its height, on what it
#: holds.
_SHALLOW, _LEVEL = 0.2, 0.74


def bowl(ask: Ask) -> list[Piece]:
    """What is drawn of a dish, from the far wall inward."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    height = body.local.height
    main = tones[0]
    inside = tone(tones, 1, lighter(main, 0.06)) if prop.texture != "filled" else lighter(main, 0.05)
    profile = profile_of(body)
    low, high = profile[0], profile[-1]
    rings = (circle_at(body, 0, low[1]), circle_at(body, high[0], high[1]))
    is_plain = prop.finish not in ("glass", "metal")
    wall = Paint(darker(main, 0.12), 0.5 if prop.finish == "glass" else 1.0, wall_shade(prop), own=main if is_plain else None)
    thick = min(6.0, height * 0.2, low[1] * 0.3)
    pieces = [
        Piece("hull", wall, circles=rings),
        Piece(
            "ring",
            Paint(lighter(main, 0.25), 1.0, "sheen", darker(main, 0.3), 0.5, 0.5, main if is_plain else None),
            circles=(rings[1],),
            one_sided=True,
        ),
        Piece(
            "ring",
            Paint(darker(inside, 0.14), 1.0, "hollow", own=inside if is_plain else None),
            circles=(circle_at(body, high[0] - 0.5, high[1] - min(3.0, high[1] * 0.06)),),
            one_sided=True,
        ),
    ]
    floor = radius_at(profile, thick)[0] * 0.96
    if prop.texture == "filled":
        level = height * 0.74
        liquid = tone(tones, 1, darker(main, 0.5))
        radius = radius_at(profile, level)[0] * 0.955
        pieces += [
            Piece("ring", Paint(darker(liquid, 0.25), 1.0), circles=(circle_at(body, level, radius),), one_sided=True),
            Piece("ring", Paint(liquid, 1.0, "sheen"), circles=(circle_at(body, level, radius * 0.95),), one_sided=True),
        ]
    else:
        pieces.append(Piece("ring", Paint(inside, 1.0, "sheen"), circles=(circle_at(body, thick, floor),), one_sided=True))
        if prop.texture == "glazed":
            pieces += _speckles(body, prop, floor, thick, darker(inside, 0.35), random_of(prop))
    pieces.append(Piece("wall", wall, circles=rings))  # the near wall, over what lies deeper in the dish
    return pieces


def _speckles(body: Body, prop: Prop, radius: float, z: float, colour: str, random: np.random.Generator) -> list[Piece]:
    """Iron spots in a glaze."""
    pieces = []
    for _ in range(14):
        r, t = radius * 0.92 * np.sqrt(random.random()), random.random() * 2 * np.pi
        size = radius * (0.008 + 0.014 * random.random())
        circle = circle_at(body, z + 0.05, size)
        circle[0] += np.array([r * np.cos(t), r * np.sin(t), 0])
        pieces.append(Piece("ring", Paint(colour, 0.55), circles=(circle,), one_sided=True))
    return pieces


def _picture_level(shape: Shape) -> Top:
    assert isinstance(shape, Bowl)
    rim, base, height = shape.diameter, shape.base_diameter, shape.height
    level = height if height <= _SHALLOW * rim else _LEVEL * height
    half = (base + (rim - base) * level / height) / 2 * (1.0 if level == height else 0.955)
    return Top(-half, -half, half, half, level)


DRAWING = Drawing((Bowl,), bowl, top=_picture_level, keeps=("filled",), lit_first=True)
