"""How a starter prop is written down: one row, with the shape and the shares of its colours filled in."""

from __future__ import annotations

from typing import Any

from .outlines import Points

Row = dict[str, Any]


def prop(
    key: str,
    name: str,
    shape: Row,
    tones: list[str],
    *,
    finish: str = "matte",
    texture: str = "smooth",
    material: str = "",
    tags: str = "",
    role: str = "support",
    count: int = 1,
    place: str = "",
    cautions: str = "",
    notes: str = "",
) -> Row:
    """tones: the largest share first. tags, cautions: parted by spaces."""
    shares = [0.7, 0.2, 0.1] if len(tones) == 3 else [0.75, 0.25] if len(tones) == 2 else [1.0]
    return {
        "key": key,
        "name": name,
        "shape": shape,
        "colours": [{"hex": h, "share": s} for h, s in zip(tones, shares, strict=True)],
        "finish": finish,
        "texture": texture,
        "material": material,
        "tags": tags.split(),
        "usual_role": role,
        "count": count,
        "place": place,
        "cautions": cautions.split(),
        "notes": notes,
    }


def round_(kind: str, *sizes: float) -> Row:
    names = {
        "cylinder": ("diameter", "height"),
        "bowl": ("diameter", "base_diameter", "height"),
        "cone": ("base_diameter", "top_diameter", "height"),
        "bottle": ("diameter", "height", "neck_diameter", "neck_height"),
        "sphere": ("diameter",),
    }[kind]
    return {"kind": kind, **dict(zip(names, sizes, strict=True))}


def flat(points: Points, height: float) -> Row:
    return {"kind": "outline", "points": points, "height": height}


def box(width: float, depth: float, height: float) -> Row:
    return {"kind": "box", "width": width, "depth": depth, "height": height}


def cloth(width: float, depth: float) -> Row:
    return {"kind": "cloth", "width": width, "depth": depth, "thickness": 1.5}


def strewn(width: float, depth: float, size: float, pieces: int, seed: int) -> Row:
    return {"kind": "scatter", "width": width, "depth": depth, "piece_diameter": size, "pieces": pieces, "seed": seed}
