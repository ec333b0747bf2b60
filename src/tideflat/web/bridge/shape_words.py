"""What people call each kind of shape, in the order in which they are offered."""

from __future__ import annotations

from tideflat.core.shapes import SHAPES

_WORDS = {
    "cylinder": "round, straight-sided",
    "box": "square-cornered",
    "bowl": "a bowl or plate",
    "bottle": "a bottle",
    "cone": "round, tapering",
    "sphere": "a ball",
    "ellipse": "oval",
    "rod": "long and thin",
    "outline": "an outline of its own",
    "cloth": "a cloth",
    "scatter": "strewn pieces",
}


def shape_choices() -> list[tuple[str, str]]:
    """(kind, words) of every kind of shape; one that has no words yet goes by its name, last."""
    return [(kind, _WORDS[kind]) for kind in _WORDS] + [(kind, kind) for kind in SHAPES if kind not in _WORDS]
