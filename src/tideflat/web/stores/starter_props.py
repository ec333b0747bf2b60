"""The starter store's props: made-up things in sensible sizes. Every size is "typical, from memory"."""

from __future__ import annotations

from typing import Any

from . import outlines

Row = dict[str, Any]


def _prop(
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
) -> Row:
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
    }


def _round(kind: str, *sizes: float) -> Row:
    names = {
        "cylinder": ("diameter", "height"),
        "bowl": ("diameter", "base_diameter", "height"),
        "cone": ("base_diameter", "top_diameter", "height"),
        "bottle": ("diameter", "height", "neck_diameter", "neck_height"),
        "sphere": ("diameter",),
    }[kind]
    return {"kind": kind, **dict(zip(names, sizes, strict=True))}


def _flat(points: outlines.Points, height: float) -> Row:
    return {"kind": "outline", "points": points, "height": height}


def _box(width: float, depth: float, height: float) -> Row:
    return {"kind": "box", "width": width, "depth": depth, "height": height}


def _cloth(width: float, depth: float) -> Row:
    return {"kind": "cloth", "width": width, "depth": depth, "thickness": 1.5}


def _strewn(width: float, depth: float, size: float, pieces: int, seed: int) -> Row:
    return {"kind": "scatter", "width": width, "depth": depth, "piece_diameter": size, "pieces": pieces, "seed": seed}


# One row a prop, to be read as a table.
# fmt: off
PROPS: list[Row] = [
    _prop("marmalade-jar", "marmalade jar", _round("cylinder", 76, 95), ["#c4621a", "#efe3c8", "#c9a24e"], finish="gloss", texture="labelled", material="glass", tags="preserve orange breakfast"),
    _prop("jar-lid-off", "open jar", _round("cylinder", 76, 88), ["#c4621a", "#d9791f"], finish="gloss", texture="open", material="glass", tags="preserve orange"),
    _prop("preserving-pan", "preserving pan", _round("bowl", 250, 215, 90), ["#b87345", "#c8661a"], finish="metal", texture="filled", material="copper", tags="preserve kitchen", role="hero"),
    _prop("orange", "orange", _round("sphere", 74), ["#e0822a", "#6d7a34"], finish="satin", texture="pored", material="fruit", tags="orange fruit breakfast", role="accent"),
    _prop("orange-half", "orange half", _round("cylinder", 74, 34), ["#dd7d24", "#ee9d3a"], finish="satin", texture="segmented", material="fruit", tags="orange fruit", role="accent"),
    _prop("orange-slice", "orange slice", _round("cylinder", 68, 6), ["#dd7d24", "#f0a648"], finish="satin", texture="segmented", material="fruit", tags="orange fruit", role="filler"),
    _prop("orange-peel", "strewn peel", _strewn(150, 90, 9, 22, 3), ["#dd7d24", "#e99a45"], material="fruit", tags="orange fruit", role="scatter"),
    _prop("sugar-bowl", "sugar bowl", _round("bowl", 112, 58, 52), ["#d9d5cb", "#f4f1e8"], finish="satin", texture="filled", material="stoneware", tags="kitchen sugar"),
    _prop("wooden-spoon", "wooden spoon", _flat(outlines.spoon(300, 70, 50, 15), 9), ["#b58a5a"], texture="smooth", material="wood", tags="kitchen tool", role="linear"),
    _prop("paring-knife", "paring knife", _flat(outlines.knife(210, 26, 20), 4), ["#9fa4a6"], finish="metal", material="steel", tags="kitchen tool knife", role="linear"),
    _prop("chopping-board", "chopping board", _box(320, 220, 18), ["#b08250"], finish="satin", texture="grained", material="wood", tags="kitchen board"),
    _prop("tea-towel", "tea towel", _cloth(420, 300), ["#dcd7cb", "#55707c"], texture="striped", material="linen", tags="kitchen cloth", role="cloth"),
    _prop("napkin", "napkin", _cloth(360, 260), ["#b9b3a4", "#8d8778"], texture="woven", material="linen", tags="supper cloth", role="cloth"),
    _prop("dinner-plate", "dinner plate", _round("bowl", 270, 176, 24), ["#dedad0"], finish="satin", texture="glazed", material="stoneware", tags="supper plate"),
    _prop("side-plate", "side plate", _round("bowl", 180, 116, 18), ["#8f9a98"], finish="satin", texture="glazed", material="stoneware", tags="supper plate tea"),
    _prop("smoked-fish", "smoked fish", _flat(outlines.fish(250, 80), 22), ["#8d5f2c", "#d3aa68"], finish="satin", texture="scaled", material="fish", tags="supper fish", role="hero"),
    _prop("lemon-half", "lemon half", _round("cylinder", 58, 30), ["#dfb52b", "#efd66a"], finish="satin", texture="segmented", material="fruit", tags="supper lemon fruit", role="accent"),
    _prop("beetroot-bowl", "bowl of beetroot", _round("bowl", 120, 60, 54), ["#67706d", "#6b1d38"], finish="satin", texture="filled", material="stoneware", tags="supper"),
    _prop("cream-pot", "pot of cream", _round("bowl", 78, 48, 46), ["#a9a294", "#f1ece0"], finish="satin", texture="filled", material="stoneware", tags="supper"),
    _prop("bread-slice", "slice of bread", _flat(outlines.slice_of_bread(118, 104), 14), ["#7d4f28", "#cfa877"], texture="crusty", material="bread", tags="supper breakfast"),
    _prop("ale-bottle", "ale bottle", _round("bottle", 70, 262, 27, 104), ["#3c3a20"], finish="gloss", material="glass", tags="supper drink"),
    _prop("tumbler", "tumbler of water", _round("cylinder", 74, 94), ["#d7e2e2", "#c9dadb"], finish="glass", texture="filled", material="glass", tags="supper drink"),
    _prop("fork", "fork", _flat(outlines.fork(196, 24, 15), 3), ["#a3a7a8"], finish="metal", material="steel", tags="supper cutlery", role="linear"),
    _prop("sage", "sprig of sage", _flat(outlines.sprig(120, 46), 5), ["#4f6b35"], texture="leafy", material="herb", tags="supper herb", role="filler"),
    _prop("peppercorns", "peppercorns", _strewn(110, 80, 5, 24, 11), ["#2e2823", "#54443a"], material="spice", tags="supper spice", role="scatter"),
    _prop("tea-tin-tall", "tall tea tin", _round("cylinder", 82, 142), ["#2d4a4e", "#e6d9bd", "#b99a5b"], finish="satin", texture="labelled", material="tin", tags="tea", role="hero"),
    _prop("tea-tin-low", "low tea tin", _round("cylinder", 88, 74), ["#8a4a2f", "#e6d9bd", "#b99a5b"], finish="satin", texture="labelled", material="tin", tags="tea"),
    _prop("tea-tin-square", "square tea tin", _box(74, 74, 112), ["#5b6148", "#e6d9bd", "#b99a5b"], finish="satin", texture="labelled", material="tin", tags="tea"),
    _prop("tea-bowl", "tea bowl", _round("bowl", 92, 44, 58), ["#cfc8ba", "#8a4a18"], finish="satin", texture="filled", material="stoneware", tags="tea", role="accent"),
    _prop("loose-tea", "loose tea", _strewn(170, 60, 9, 46, 5), ["#2b241d", "#4a3a2a", "#6a5335"], texture="leafy", material="leaf", tags="tea", role="scatter"),
    _prop("tea-scoop", "tea scoop", _flat(outlines.spoon(120, 46, 36, 11), 7), ["#b58a3c"], finish="metal", material="brass", tags="tea tool", role="linear"),
    _prop("riser", "riser", _box(150, 110, 36), ["#8f8a80"], material="wood", tags="helper", role="riser"),
    _prop("cut-fig", "cut fig", _round("cone", 34, 50, 26), ["#4a2b44", "#e6cab4", "#a33a4c"], finish="satin", texture="seeded", material="fruit", tags="fig fruit", role="hero"),
    _prop("fig", "fig", _round("sphere", 50), ["#4a2b44", "#6f7a4c"], finish="satin", texture="pored", material="fruit", tags="fig fruit", role="accent"),
    _prop("bay-leaf", "bay leaf", _flat(outlines.leaf(78, 27), 1.5), ["#6b7449"], texture="leafy", material="herb", tags="supper fig herb", role="filler"),
]
# fmt: on
