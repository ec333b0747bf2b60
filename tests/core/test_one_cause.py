"""One cause, one finding: where, how often, kept and mended whole; what does not belong together stays apart."""

from __future__ import annotations

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.acts.registry import act_from_value, perform, tried
from tideflat.core.findings.merging import meant_of
from tideflat.core.findings.registry import findings, retouch_minutes
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.formats.scene_writer import write_scene
from tideflat.core.remedies.search import remedy_for
from tideflat.core.report import evaluation

BEAD = {"id": "bead", "name": "bead", "shape": {"kind": "cylinder", "diameter": 40, "height": 10}}


def beads(*xs, crops=(("feed", "4:5"), ("square", "1:1")), **more):
    """Beads whose right ends reach so far into the frame's right-hand crops, over a hero in the middle."""
    value = scene_value(distance=1060)
    hero = {"id": "hero", "name": "plate", "shape": {"kind": "cylinder", "diameter": 200, "height": 20}}
    value["props"] = [hero, BEAD]
    value["placements"] = [{"id": "h", "prop": "hero", "x": 450, "y": 300, "role": "hero"}]
    value["placements"] += [{"id": f"b{k}", "prop": "bead", "x": x, "y": y, "role": "accent"} for k, (x, y) in enumerate(xs)]
    value["setups"][0]["deliverables"] = [{"name": name, "ratio": ratio} for name, ratio in crops]
    return value | more


#: In a frame 721 by 481 the feed's right edge is at 450 + 481 x 0.8 / 2 = 642.4 and the square's at 690.5, seen at the bead's top a little nearer.
IN_BOTH = (450 + 481 / 2 + 15, 300)


def told(value, code):
    return [f for f in findings(picture(value)) if f.code == code]


def test_the_same_fault_in_two_crops_is_said_once_with_the_worst_and_all():
    value = beads((450 + 481 * 0.4 + 16, 300), crops=(("feed", "4:5"), ("wide", "8:10"), ("square", "1:1")))
    (found,) = told(value, "edge.sliver")
    assert set(found.crops) == {"feed", "wide"} and found.count == 2 and found.crop in found.crops
    printed = next(f for f in evaluation(read(value), with_remedies=False)["setups"]["main"]["findings"] if f["code"] == "edge.sliver")
    assert (set(printed["crops"]), printed["count"], printed["crop"]) == ({"feed", "wide"}, 2, found.crop)


def read(value):
    return picture(value).whole


def three():
    right = 450 + 481 / 2 + 16
    return beads((right, 200), (right, 300), (right, 400), crops=(("square", "1:1"),))


def test_the_same_fault_of_three_beads_is_one_finding_and_its_remedy_takes_it_whole():
    value = three()
    (found,) = told(value, "edge.sliver")
    assert found.placements == ("b0", "b1", "b2") and found.count == 3
    seen = picture(value)
    remedy = remedy_for(seen, found)
    assert remedy is not None and dict(remedy.figures).get("times", 3) == 3
    assert not [f for f in findings(seen.changed(tried(seen.whole, remedy.acts))) if f.code == "edge.sliver"]


def test_two_kinds_of_thing_are_two_findings():
    value = three()
    value["props"].append({**BEAD, "id": "cork", "name": "cork"})
    value["placements"][3]["prop"] = "cork"
    assert sorted(len(f.placements) for f in told(value, "edge.sliver")) == [1, 2]


def test_what_is_meant_is_meant_whole_and_what_is_new_of_its_kind_is_said():
    value = three()
    scene = perform(
        read(value),
        act_from_value({"act": "mean", "setup": "main", "code": "edge.sliver", "placements": ["b0", "b1", "b2"], "reason": "they roll in"}),
    ).scene
    seen = picture(value).changed(scene)
    (found,) = [f for f in findings(seen) if f.code == "edge.sliver"]
    assert meant_of(seen, found.code, found.placements).reason == "they roll in"
    value["placements"].append({**value["placements"][1], "id": "b9", "y": 120})
    value["meant"] = [{"setup": "main", "code": "edge.sliver", "placements": ["b0", "b1", "b2"]}]
    seen = picture(value)
    groups = {f.placements: meant_of(seen, f.code, f.placements) is not None for f in findings(seen) if f.code == "edge.sliver"}
    assert groups == {("b0", "b1", "b2"): True, ("b9",): False}
    value["meant"] = [{"setup": "main", "code": "edge.sliver", "placements": ["b0"]}]  # said of one alone, before they were one
    seen = picture(value)
    assert {f.placements: meant_of(seen, f.code, f.placements) is not None for f in findings(seen) if f.code == "edge.sliver"} == {
        ("b0",): True,
        ("b1", "b2", "b9"): False,
    }


def test_left_for_retouching_keeps_its_minutes():
    value = three()
    (found,) = told(value, "edge.sliver")
    assert retouch_minutes(found) == 3 * 6
    act = {"act": "mean", "setup": "main", "code": "edge.sliver", "placements": list(found.placements), "retouch": 25}
    scene = perform(read(value), act_from_value(act)).scene
    assert read_scene(write_scene(scene)) == scene and scene.meant[0].retouch == 25
    assert b'"retouch"' in write_scene(scene) and b'"retouch"' not in write_scene(read(value))


@pytest.mark.parametrize("code", ["spacing.overlap", "tangent.pair", "focus.hero", "hero.cut", "support.floating"])
def test_what_retouching_cannot_repair_has_no_minutes(code):
    from tideflat.core.findings.registry import KINDS

    assert KINDS[code].retouch_minutes is None


def test_the_most_harmful_comes_first():
    """Stops before mends before tastes; of two alike the one further from its limit."""
    ranks = {"stop": 2, "mend": 1, "taste": 0}
    found = findings(picture(scene_value()))
    order = [ranks[f.severity] for f in found]
    assert order == sorted(order, reverse=True)
    value = three()
    value["placements"][1]["x"] -= 2  # more of it is seen: a lesser sliver
    value["props"].append({**BEAD, "id": "cork", "name": "cork"})
    value["placements"][1]["prop"] = "cork"
    slivers = told(value, "edge.sliver")
    assert [f.placements for f in slivers][-1] == ("b0",)
