"""What the eye weighs, and what differs between two states of a scene, on tables whose answers can be said beforehand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.support.scenes import scene_value
from tideflat.core.arrange.compare import compare
from tideflat.core.composition.measures import measures
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value

_BALL = {"kind": "cylinder", "diameter": 80, "height": 1}


def flat(*places, roles=("hero",), elevation=90, shapes=None):
    """Flat discs of 80 mm seen from above in a frame of 900 x 600 mm about the middle (450, 300) of the table."""
    value = scene_value()
    value["backdrop"], value["groups"] = None, []
    value["props"] = [
        {"id": f"q{k}", "name": f"disc {k}", "shape": (shapes or {}).get(k, _BALL), "colours": [{"hex": "#d9762a", "share": 1}]} for k in range(len(places))
    ]
    value["placements"] = [
        {"id": f"t{k}", "prop": f"q{k}", "x": x, "y": y, "role": roles[k] if k < len(roles) else "support"} for k, (x, y) in enumerate(places)
    ]
    camera = {**value["setups"][0]["camera"], "aim": [450, 300, 0], "distance": 1250, "elevation": elevation, "azimuth": 0, "roll": 0, "focus": None}
    value["setups"] = [{"name": "main", "camera": camera, "deliverables": []}]
    scene = scene_from_value(value)
    return Picture(scene, scene.setups[0])


def weighed(picture):
    return {m.key: m.value for m in measures(picture)}


def high_mm(picture):
    return picture.size_at_aim[1]


def test_coverage_and_the_heros_share_are_areas_of_the_frame():
    picture = flat((300, 300), (600, 300))
    wide, high = picture.size_at_aim
    disc = 3.14159 * 40**2 / (wide * high)
    assert weighed(picture)["coverage"] == pytest.approx(2 * disc, rel=0.01)
    assert weighed(picture)["hero_share"] == pytest.approx(disc, rel=0.01)


def test_weight_is_off_the_middle_by_where_things_lie_and_symmetry_is_about_the_upright_middle():
    one = flat((450 + 90, 300))
    assert weighed(one)["balance"] == pytest.approx(90 / high_mm(one), rel=0.01)
    both = weighed(flat((350, 300), (550, 300)))
    assert both["balance"] == pytest.approx(0, abs=0.001) and both["symmetry"] == pytest.approx(1, abs=0.01)
    assert weighed(flat((350, 300), (550, 450)))["symmetry"] == pytest.approx(0, abs=0.01)


def test_gaps_islands_and_clusters():
    far = 0.12 * high_mm(flat((1, 1)))
    near = weighed(flat((300, 300), (300 + 80 + far - 2, 300)))
    off = weighed(flat((300, 300), (300 + 80 + far + 2, 300)))
    assert (near["islands"], off["islands"]) == (0, 2)
    close = 0.035 * high_mm(flat((1, 1)))
    assert weighed(flat((300, 300), (380 + close - 1, 300), (600, 300)))["clusters"] == 2
    assert weighed(flat((300, 300), (380 + close + 1, 300), (600, 300)))["clusters"] == 3
    picture = flat((300, 300), (420, 300))
    assert weighed(picture)["hero_clear"] == pytest.approx(40 / high_mm(picture), rel=0.02)


def test_even_places_read_as_even_and_a_heap_as_clustered():
    even = flat(*((x, y) for x in (150, 350, 550, 750) for y in (150, 450)))
    heap = flat(*((400 + 85 * (k % 3), 250 + 85 * (k // 3)) for k in range(8)))
    assert weighed(even)["evenness"] > 1.2 and weighed(heap)["evenness"] < 0.8
    assert weighed(even)["unevenness"] == pytest.approx(0, abs=0.05)


def test_a_line_that_meets_nothing_leads_out_and_one_at_the_hero_does_not():
    rod = {1: {"kind": "rod", "length": 150, "width": 12, "height": 4}}
    at_it = flat((200, 300), (450, 300), roles=("hero", "linear"), shapes=rod)
    past = flat((200, 300), (450, 480), roles=("hero", "linear"), shapes=rod)
    assert (weighed(at_it)["leading_out"], weighed(past)["leading_out"]) == (0, 1)


def test_sizes_that_fall_away_from_the_hero():
    sizes = {k: {"kind": "cylinder", "diameter": d, "height": 1} for k, d in enumerate((120, 100, 80, 60, 40))}
    falling = flat((100, 300), (250, 300), (400, 300), (550, 300), (700, 300), shapes=sizes)
    rising = flat((100, 300), (700, 300), (550, 300), (400, 300), (250, 300), shapes=sizes)
    assert (weighed(falling)["falling_away"], weighed(rising)["falling_away"]) == (-1, 1)


def test_every_measure_says_what_it_is_and_where_it_is_from():
    for m in measures(flat((300, 300))):
        assert m.what and m.source and m.unit and m.better in (-1, 0, 1)
    assert {m.key: m.value for m in measures(flat())}["coverage"] == 0


def moved(picture, **by_id):
    scene = picture.whole
    places = tuple(replace(p, **by_id[p.id]) if p.id in by_id else p for p in scene.placements)
    return picture.changed(replace(scene, placements=places))


def test_what_moved_and_by_how_much_is_told_and_what_was_found_then_is_gone():
    tight = flat((300, 300), (383, 300))  # 3 mm between two large things
    apart = moved(tight, t1={"x": 500, "y": 260, "turn": 350})
    told = compare(tight, apart)
    (only,) = told.moved
    assert (only.id, only.dx, only.dy, only.turn) == ("t1", 117, -40, -10) and only.mm == pytest.approx(123.65, abs=0.01)
    assert "spacing.tight" in {f.code for f in told.cleared} and "spacing.tight" not in {f.code for f in told.fresh}
    assert {c.measure.key for c in told.measures} >= {"hero_clear", "balance"}
    clear = next(c for c in told.measures if c.measure.key == "hero_clear")
    assert clear.is_better and clear.after > clear.before
    back = compare(apart, tight)
    assert (back.moved[0].dx, back.moved[0].turn) == (-117, 10) and "spacing.tight" in {f.code for f in back.fresh}
    assert compare(tight, tight).is_same


def test_what_is_there_besides_is_gone_or_goes_along_is_told_as_that():
    first = flat((300, 300), (500, 300), (500, 300))
    scene = first.whole
    stacked = replace(scene, placements=(*scene.placements[:2], replace(scene.placements[2], on="t1", z=1.0)))
    first = first.changed(stacked)
    after = moved(first, t1={"x": 520}, t2={"x": 520})
    told = compare(first, after)
    assert [(m.id, m.is_carried) for m in told.moved] == [("t1", False), ("t2", True)]
    less = first.changed(replace(stacked, placements=stacked.placements[:1]))
    assert [i for i, _ in compare(first, less).gone] == ["t1", "t2"] and [i for i, _ in compare(less, first).added] == ["t1", "t2"]
    low = first.changed(replace(stacked, setups=(replace(stacked.setups[0], camera=replace(stacked.setups[0].camera, elevation=45)),)))
    assert compare(first, low).camera == (("elevation", 90.0, 45.0),)
