"""The starter store's props: made-up things in sensible sizes. Every size is "typical, from memory"."""

from __future__ import annotations

from . import outlines
from .starter_props_by_scenario import BY_SCENARIO
from .starter_rows import Row, box, cloth, flat, prop, round_, strewn

# One row a prop, to be read as a table.
# fmt: off
_FIRST: list[Row] = [
    prop("marmalade-jar", "marmalade jar", round_("cylinder", 76, 95), ["#c4621a", "#efe3c8", "#c9a24e"], finish="gloss", texture="labelled", material="glass", tags="preserve orange breakfast", count=6),
    prop("jar-lid-off", "open jar", round_("cylinder", 76, 88), ["#c4621a", "#d9791f"], finish="gloss", texture="open", material="glass", tags="preserve orange", count=2),
    prop("preserving-pan", "preserving pan", round_("bowl", 250, 215, 90), ["#b87345", "#c8661a"], finish="metal", texture="filled", material="copper", tags="preserve kitchen", role="hero"),
    prop("orange", "orange", round_("sphere", 74), ["#e0822a", "#6d7a34"], finish="satin", texture="pored", material="fruit", tags="orange fruit breakfast", role="accent", count=12),
    prop("orange-half", "orange half", round_("cylinder", 74, 34), ["#dd7d24", "#ee9d3a"], finish="satin", texture="segmented", material="fruit", tags="orange fruit", role="accent", count=8),
    prop("orange-slice", "orange slice", round_("cylinder", 68, 6), ["#dd7d24", "#f0a648"], finish="satin", texture="segmented", material="fruit", tags="orange fruit", role="filler", count=12),
    prop("orange-peel", "strewn peel", strewn(150, 90, 9, 22, 3), ["#dd7d24", "#e99a45"], material="fruit", tags="orange fruit", role="scatter"),
    prop("sugar-bowl", "sugar bowl", round_("bowl", 112, 58, 52), ["#d9d5cb", "#f4f1e8"], finish="satin", texture="filled", material="stoneware", tags="kitchen sugar"),
    prop("wooden-spoon", "wooden spoon", flat(outlines.spoon(300, 70, 50, 15), 9), ["#b58a5a"], texture="smooth", material="wood", tags="kitchen tool", role="linear"),
    prop("paring-knife", "paring knife", flat(outlines.knife(210, 26, 20), 4), ["#9fa4a6"], finish="metal", material="steel", tags="kitchen tool knife", role="linear"),
    prop("chopping-board", "chopping board", box(320, 220, 18), ["#b08250"], finish="satin", texture="grained", material="wood", tags="kitchen board"),
    prop("tea-towel", "tea towel", cloth(420, 300), ["#dcd7cb", "#55707c"], texture="striped", material="linen", tags="kitchen cloth", role="cloth"),
    prop("napkin", "napkin", cloth(360, 260), ["#b9b3a4", "#8d8778"], texture="woven", material="linen", tags="supper cloth", role="cloth"),
    prop("dinner-plate", "dinner plate", round_("bowl", 270, 176, 24), ["#dedad0"], finish="satin", texture="glazed", material="stoneware", tags="supper plate", count=6),
    prop("side-plate", "side plate", round_("bowl", 180, 116, 18), ["#8f9a98"], finish="satin", texture="glazed", material="stoneware", tags="supper plate tea", count=6),
    prop("smoked-fish", "smoked fish", flat(outlines.fish(250, 80), 22), ["#8d5f2c", "#d3aa68"], finish="satin", texture="scaled", material="fish", tags="supper fish", role="hero"),
    prop("lemon-half", "lemon half", round_("cylinder", 58, 30), ["#dfb52b", "#efd66a"], finish="satin", texture="segmented", material="fruit", tags="supper lemon fruit", role="accent", count=6),
    prop("beetroot-bowl", "bowl of beetroot", round_("bowl", 120, 60, 54), ["#67706d", "#6b1d38"], finish="satin", texture="filled", material="stoneware", tags="supper", count=2),
    prop("cream-pot", "pot of cream", round_("bowl", 78, 48, 46), ["#a9a294", "#f1ece0"], finish="satin", texture="filled", material="stoneware", tags="supper", count=2),
    prop("bread-slice", "slice of bread", flat(outlines.slice_of_bread(118, 104), 14), ["#7d4f28", "#cfa877"], texture="crusty", material="bread", tags="supper breakfast", count=8),
    prop("ale-bottle", "ale bottle", round_("bottle", 70, 262, 27, 104), ["#3c3a20"], finish="gloss", material="glass", tags="supper drink"),
    prop("tumbler", "tumbler of water", round_("cylinder", 74, 94), ["#d7e2e2", "#c9dadb"], finish="glass", texture="filled", material="glass", tags="supper drink", count=6),
    prop("fork", "fork", flat(outlines.fork(196, 24, 15), 3), ["#a3a7a8"], finish="metal", material="steel", tags="supper cutlery", role="linear", count=8),
    prop("sage", "sprig of sage", flat(outlines.sprig(120, 46), 5), ["#4f6b35"], texture="leafy", material="herb", tags="supper herb", role="filler", count=12),
    prop("peppercorns", "peppercorns", strewn(110, 80, 5, 24, 11), ["#2e2823", "#54443a"], material="spice", tags="supper spice", role="scatter"),
    prop("tea-tin-tall", "tall tea tin", round_("cylinder", 82, 142), ["#2d4a4e", "#e6d9bd", "#b99a5b"], finish="satin", texture="labelled", material="tin", tags="tea", role="hero"),
    prop("tea-tin-low", "low tea tin", round_("cylinder", 88, 74), ["#8a4a2f", "#e6d9bd", "#b99a5b"], finish="satin", texture="labelled", material="tin", tags="tea", count=2),
    prop("tea-tin-square", "square tea tin", box(74, 74, 112), ["#5b6148", "#e6d9bd", "#b99a5b"], finish="satin", texture="labelled", material="tin", tags="tea"),
    prop("tea-bowl", "tea bowl", round_("bowl", 92, 44, 58), ["#cfc8ba", "#8a4a18"], finish="satin", texture="filled", material="stoneware", tags="tea", role="accent", count=4),
    prop("loose-tea", "loose tea", strewn(170, 60, 9, 46, 5), ["#2b241d", "#4a3a2a", "#6a5335"], texture="leafy", material="leaf", tags="tea", role="scatter"),
    prop("tea-scoop", "tea scoop", flat(outlines.spoon(120, 46, 36, 11), 7), ["#b58a3c"], finish="metal", material="brass", tags="tea tool", role="linear"),
    prop("riser", "riser", box(150, 110, 36), ["#8f8a80"], material="wood", tags="helper", role="riser"),
    prop("cut-fig", "cut fig", round_("cone", 34, 50, 26), ["#4a2b44", "#e6cab4", "#a33a4c"], finish="satin", texture="seeded", material="fruit", tags="fig fruit", role="hero", count=8),
    prop("fig", "fig", round_("sphere", 50), ["#4a2b44", "#6f7a4c"], finish="satin", texture="pored", material="fruit", tags="fig fruit", role="accent", count=10),
    prop("bay-leaf", "bay leaf", flat(outlines.leaf(78, 27), 1.5), ["#6b7449"], texture="leafy", material="herb", tags="supper fig herb", role="filler", count=12),
]
# fmt: on

PROPS: list[Row] = [*_FIRST, *BY_SCENARIO]
