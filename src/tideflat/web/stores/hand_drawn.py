"""What a person draws over a photograph, as the page sends it: corners, outlines and strokes, in shares of the picture's sides."""

from __future__ import annotations

import json

from tideflat.core.errors import FieldError


def strokes_from(text: str) -> list[tuple[bool, list[list[float]]]]:
    """Strokes as the page sends them: JSON pairs of whether it belongs to the thing, and places as shares. Raises FieldError."""
    if not text.strip():
        return []
    try:
        value = json.loads(text)
        strokes = [(bool(takes), [[float(x), float(y)] for x, y in points]) for takes, points in value]
    except (ValueError, TypeError, RecursionError, OverflowError):
        raise FieldError("strokes", "must be lines over the picture", show_got=False) from None
    if len(strokes) > 12 or not all(1 <= len(p) <= 400 and all(-0.5 <= v <= 1.5 for at in p for v in at) for _, p in strokes):
        raise FieldError("strokes", "must be at most 12 lines within the picture", show_got=False)
    return strokes


def points_from(text: str) -> list[list[float]] | None:
    """Corners as the page sends them, JSON pairs of shares from 0 to 1; None when empty. Raises FieldError."""
    if not text.strip():
        return None
    try:
        value = json.loads(text)
        points = [[float(x), float(y)] for x, y in value]
    except (ValueError, TypeError, RecursionError, OverflowError):
        raise FieldError("corners", "must be pairs of numbers", show_got=False) from None
    if not 3 <= len(points) <= 400 or not all(-0.5 <= v <= 1.5 for p in points for v in p):
        raise FieldError("corners", "must be 3 to 400 places in the picture", show_got=False)
    return points
