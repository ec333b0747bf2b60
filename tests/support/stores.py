"""Very many made-up props, the same every time."""

from __future__ import annotations

import numpy as np

from tideflat.core.colour.spaces import hex_from_rgb
from tideflat.core.formats.prop_table import PropRecord
from tideflat.core.model import FINISHES, Colour, Prop
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.sphere import Sphere

_WORDS = ("tin", "plate", "cup", "board", "jar", "bowl", "dish", "tray", "pot", "round", "blue", "old", "small", "plain", "deep")
_TAGS = ("orange", "sea", "winter", "tea", "fig", "supper", "rough", "fine")


def many_props(count: int) -> list[PropRecord]:
    """Props of four shapes with two or three colours each, drawn from one seed."""
    random = np.random.default_rng(11)
    colours = hex_from_rgb(random.random((count * 3, 3)))
    found = []
    for k in range(count):
        a, b = (float(v) for v in np.round(random.uniform(20, 380, 2), 1))
        shape = (Cylinder(a, b), Box(a, b, 20), Bowl(a, round(a * 0.6, 1), 40), Sphere(a))[k % 4]
        name = " ".join(_WORDS[int(i)] for i in random.integers(0, len(_WORDS), 2))
        tones = tuple(Colour(h, s) for h, s in zip(colours[3 * k : 3 * k + 2 + k % 2], (0.6, 0.25, 0.15), strict=False))
        tags = tuple(_TAGS[int(i)] for i in np.unique(random.integers(0, len(_TAGS), 2)))
        found.append(PropRecord(Prop(f"m{k}", name, shape, tones, FINISHES[k % len(FINISHES)], tags=tags), place=f"box {k % 40}"))
    return found
