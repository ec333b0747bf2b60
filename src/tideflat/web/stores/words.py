"""The words by which a prop is found: its own, those of its colours and its shape, and a few others for the same thing; each with why.

Whole words and their beginnings are found, never their middles: "arm" is no marmalade.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from tideflat.core.colour.words import colour_words

#: Other words that people use for what is called otherwise in the stores; our own list, common speech.
ALSO_CALLED: dict[str, tuple[str, ...]] = {
    "dish": ("plate", "bowl", "ramekin", "platter"), "crockery": ("plate", "bowl", "cup", "mug", "saucer"), "tableware": ("plate", "bowl", "cutlery"),
    "platter": ("plate",), "beaker": ("mug", "tumbler"), "cup": ("mug", "bowl"), "glassware": ("glass", "tumbler"), "tumbler": ("glass",),
    "silverware": ("cutlery",), "cutlery": ("fork", "knife", "spoon"), "utensil": ("tool", "spoon", "knife"), "ladle": ("spoon",),
    "cloth": ("napkin", "towel", "linen", "muslin", "runner"), "fabric": ("cloth", "linen", "muslin"), "serviette": ("napkin",), "textile": ("cloth", "linen"),
    "pot": ("jar", "pan", "teapot", "caddy"), "jam": ("marmalade", "preserve"), "preserve": ("marmalade", "jam"), "jar": ("pot",),
    "tin": ("caddy",), "can": ("tin",), "canister": ("tin", "caddy"), "board": ("slate", "slab", "tray"), "tray": ("board",), "slab": ("board",),
    "herb": ("sage", "dill", "parsley", "thyme", "bay"), "greens": ("herb", "leaf"), "fruit": ("orange", "lemon", "lime", "fig"), "citrus": ("orange", "lemon", "lime"),
    "bread": ("loaf", "toast", "rye", "crispbread"), "crockpot": ("pot",), "fish": ("fillet",), "rope": ("string", "twine"), "string": ("twine", "rope"),
    "wood": ("wooden", "oak", "bamboo"), "metal": ("steel", "brass", "copper", "tin", "silver"), "pottery": ("stoneware", "clay", "porcelain"),
    "ceramic": ("stoneware", "porcelain", "clay"), "china": ("porcelain",), "stone": ("slate", "marble", "pebble"), "paper": ("newsprint", "label"),
    "hand": ("hands",), "hands": ("hand",), "fingers": ("hand",), "gray": ("grey",), "purple": ("violet", "plum"), "tan": ("ochre", "brown"), "gold": ("ochre", "brass"),
    "circular": ("round",), "flat": ("low",), "high": ("tall",), "long": ("slim",), "rectangular": ("square",),
}  # fmt: skip

#: What a word found in a place counts for, and how a person is told of it: "" where it is plain to see.
_NAME, _TAG, _COLOUR, _SHAPE, _KEPT = (6, ""), (4, "tagged"), (3, "its colour"), (3, "its shape"), (1, "where it is kept, or whose it is")
#: A prop is low up to this height over its width, tall from this on, and slim from this length over its breadth.
_LOW, _TALL, _SLIM = 0.4, 1.15, 2.6
#: Of a prop's colours, those of less share are no word to find it by.
_TELLING_SHARE = 0.12

Words = dict[str, tuple[int, str]]


def words_of(row: Mapping[str, Any]) -> Words:
    """Every word by which the prop of this row is found, with what it counts for and why."""
    found: Words = {}
    for words, (points, why) in _sources(row):
        for word in re.findall(r"[^\W_]+", words.lower()):
            if found.get(word, (0, ""))[0] < points:
                found[word] = (points, why)
    return found


def _sources(row: Mapping[str, Any]) -> Iterator[tuple[str, tuple[int, str]]]:
    yield row["name"], _NAME
    yield " ".join((row["material"], row["texture"], row["finish"], *row["tags"])), _TAG
    for colour in row["colours"]:
        if colour["share"] >= _TELLING_SHARE:
            yield colour_words(_coarse(colour["hex"])), _COLOUR
    yield " ".join(_shape_words(row)), _SHAPE
    yield f"{row['place']} {row['lender']}", _KEPT


def _coarse(colour: str) -> str:
    """The colour to a sixteenth of each channel: it has the same name, and few names are worked out."""
    return "#" + "".join(f"{min(255, (int(colour[k : k + 2], 16) // 16) * 16 + 8):02x}" for k in (1, 3, 5))


def _shape_words(row: Mapping[str, Any]) -> Iterator[str]:
    kind = row["shape"]["kind"]
    wide, deep, high = row["width_mm"], row["depth_mm"], row["height_mm"]
    yield kind
    if kind in ("cylinder", "bowl", "bottle", "cone", "sphere"):
        yield "round"
    elif kind == "box":
        yield "square"
    elif kind == "ellipse":
        yield "oval"
    if wide > 0:
        if high <= _LOW * wide:
            yield "low"
            yield "shallow" if kind == "bowl" else ""
        elif high >= _TALL * wide:
            yield "tall"
        elif kind == "bowl":
            yield "deep"
        if deep > 0 and wide / deep >= _SLIM:
            yield "slim"
