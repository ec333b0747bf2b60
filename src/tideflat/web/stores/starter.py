"""The starter store's surfaces, backdrops and cameras, made up in sensible sizes ("typical, from memory"), and look-ups by name."""

from __future__ import annotations

from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.core.model import Prop

from .starter_props import PROPS
from .starter_rows import Row
from .starter_skins import entries_of_prop, entries_of_surface, skin_of_entry

SURFACES: list[Row] = [
    {"name": "blue-grey plaster", "width_mm": 1200, "depth_mm": 900, "colours": ["#59646a", "#434d54"], "lines": None},
    {
        "name": "pale oak boards",
        "width_mm": 1000,
        "depth_mm": 700,
        "colours": ["#c3a87f", "#a98b62"],
        "lines": {"direction": 0, "pitch": 116},
    },
    {
        "name": "walnut boards",
        "width_mm": 1100,
        "depth_mm": 760,
        "colours": ["#54412f", "#3f3023"],
        "lines": {"direction": 0, "pitch": 127},
    },
    {"name": "limestone", "width_mm": 1200, "depth_mm": 900, "colours": ["#c9c3b6", "#b0a99a"], "lines": None},
    {"name": "slate", "width_mm": 900, "depth_mm": 600, "colours": ["#4b5052", "#3a4042"], "lines": None},
    {
        "name": "whitewashed boards",
        "other_side_of": "pale oak boards",
        "width_mm": 1000,
        "depth_mm": 700,
        "colours": ["#dcdad2", "#c3c0b4"],
        "lines": {"direction": 90, "pitch": 98},
    },
    {
        "name": "green-grey canvas",
        "other_side_of": "blue-grey plaster",
        "width_mm": 1200,
        "depth_mm": 900,
        "colours": ["#6d7568", "#565e53"],
        "lines": None,
    },
    {
        "name": "rose-clay tiles",
        "width_mm": 900,
        "depth_mm": 600,
        "colours": ["#a2705c", "#8a5c4a"],
        "lines": {"direction": 0, "pitch": 150},
    },
]
BACKDROPS: list[Row] = [
    {"name": "warm grey sheet", "kind": "upright", "width_mm": 1400, "height_mm": 900, "colour": "#7d7870"},
    {"name": "chalk sweep", "kind": "sweep", "width_mm": 1350, "height_mm": 1100, "colour": "#d3cfc6"},
    {"name": "deep sea canvas", "kind": "upright", "width_mm": 1100, "height_mm": 800, "colour": "#39484a"},
]
LIGHTS: list[Row] = [
    {"name": "big soft box", "kind": "soft-box", "width_mm": 900, "height_mm": 1200},
    {"name": "small soft box", "kind": "soft-box", "width_mm": 400, "height_mm": 600},
    {"name": "strip box", "kind": "strip", "width_mm": 300, "height_mm": 1200},
    {"name": "tungsten spot", "kind": "reflector", "width_mm": 140, "height_mm": 140, "is_round": True, "beam_deg": 60, "kelvin": 3200},
]
CARDS: list[Row] = [
    {"name": "white foam card", "kind": "white", "width_mm": 700, "height_mm": 500, "colour": "#f2f2f0"},
    {"name": "small white card", "kind": "white", "width_mm": 300, "height_mm": 210, "colour": "#f2f2f0"},
    {"name": "black foam card", "kind": "black", "width_mm": 700, "height_mm": 500, "colour": "#181818"},
    {"name": "silver card", "kind": "silver", "width_mm": 420, "height_mm": 300, "colour": "#c2c5c6"},
    {"name": "gold card", "kind": "gold", "width_mm": 300, "height_mm": 210, "colour": "#c6a45a"},
]
def starter_prop(key: str) -> Prop:
    """The starter prop with this key as a core value."""
    row = next(r for r in PROPS if r["key"] == key)
    kept = ("name", "shape", "colours", "finish", "texture", "material", "tags")
    return prop_from_value({"id": row["key"], **{k: row[k] for k in kept}, "skins": [skin_of_entry(e) for e in entries_of_prop(key)]})


def starter_surface(name: str) -> Row:
    """The starter surface with this name, as the scene document writes it."""
    row = next(r for r in SURFACES if r["name"] == name)
    return {
        "name": name,
        "width": row["width_mm"],
        "depth": row["depth_mm"],
        "height_above_floor": 740,
        "colours": surface_colours(row),
        "finish": "matte",
        "lines": row["lines"],
        "skin": next((skin_of_entry(e) for e in entries_of_surface(name)), None),
    }


def surface_colours(row: Row) -> list[Row]:
    return [{"hex": row["colours"][0], "share": 0.7}, {"hex": row["colours"][1], "share": 0.3}]
