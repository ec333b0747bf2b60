"""What a measured thing can become: its shape, as scene documents write it."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from tideflat.core.errors import FieldError

#: What a measured thing can become.
KINDS: dict[str, str] = {
    "outline": "its own outline",
    "round": "round, straight-sided",
    "dish": "a plate or bowl",
    "tapered": "round, tapering",
    "ball": "a ball",
    "oval": "oval",
    "square": "square-cornered",
    "cloth": "a cloth, folded flat",
}
#: Nothing is thinner than this, mm.
THINNEST_MM = 2.0


def guessed_kind(outline_mm: np.ndarray, height_mm: float) -> str:
    """What the outline looks like: by how much of its circle or its rectangle it fills."""
    outline = shapely.Polygon(outline_mm)
    low, high = outline_mm.min(axis=0), outline_mm.max(axis=0)
    wide, deep = high - low
    roundness = 4 * np.pi * outline.area / outline.length**2
    if min(wide, deep) / max(wide, deep) > 0.94 and roundness > 0.94:
        return "round" if height_mm > 0.25 * wide else "dish" if height_mm > 0 else "round"
    return "square" if outline.area > 0.96 * wide * deep else "outline"


#: The base of a plate, and of what tapers, as a share of its rim, where it was not seen.
_BASE_OF_DISH, _BASE_OF_TAPER = 0.6, 0.75


def shape_for(kind: str, outline_mm: list[list[float]], height_mm: float, ends_mm: list[float] | None = None) -> dict[str, Any]:
    """The shape, as scene documents write it, of what was measured. ends_mm: top and base across of what was seen to taper. Raises
    FieldError for an unknown kind."""
    try:
        points = np.array(outline_mm, dtype=float)
    except (TypeError, ValueError, OverflowError):
        points = np.empty(0)
    if points.ndim != 2 or points.shape[1] != 2 or not 3 <= len(points) <= 400 or not np.isfinite(points).all():
        raise FieldError("outline", "must be corners as they were measured", show_got=False)
    wide, deep = (round(float(v), 1) for v in points.max(axis=0) - points.min(axis=0))
    high = max(THINNEST_MM, height_mm)
    across = round((wide + deep) / 2, 1)
    top, base = _ends(ends_mm) or (across, round(across * (_BASE_OF_DISH if kind == "dish" else _BASE_OF_TAPER), 1))
    match kind:
        case "round":
            return {"kind": "cylinder", "diameter": across, "height": high}
        case "dish":
            return {"kind": "bowl", "diameter": top, "base_diameter": base, "height": high}
        case "tapered":
            return {"kind": "cone", "top_diameter": top, "base_diameter": base, "height": high}
        case "ball":
            return {"kind": "sphere", "diameter": across}
        case "oval":
            return {"kind": "ellipse", "width": wide, "depth": deep, "height": high}
        case "square":
            return {"kind": "box", "width": wide, "depth": deep, "height": high}
        case "cloth":
            return {"kind": "cloth", "width": wide, "depth": deep, "thickness": max(1.0, min(high, 20.0))}
        case "outline":
            return {"kind": "outline", "points": points.round(1).tolist(), "height": high}
    raise FieldError("kind", "must be one of " + ", ".join(KINDS), kind)


def _ends(ends_mm: list[float] | None) -> tuple[float, float] | None:
    if not ends_mm:
        return None
    try:
        top, base = (round(float(v), 1) for v in ends_mm)
    except (TypeError, ValueError, OverflowError):
        raise FieldError("ends", "must be as they were measured", show_got=False) from None
    return top, base
