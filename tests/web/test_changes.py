"""What each act does to the scene, and that every one is a named step that can be undone and done again."""

from __future__ import annotations

import json
import re

import pytest

from tests.conftest import Hand
from tideflat.core.evaluate import Picture
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.history import core_scene
from tideflat.web.scenes.views.changes import VERBS
from tideflat.web.stores.models import CameraBody, StoreBackdrop, StoreLens, StoreProp, StoreSurface


def test_a_move_is_kept_to_the_tenth_of_a_millimetre_and_named(hand):
    assert hand.do("move", id="p1", x=470, y=310).status_code == 200
    assert (hand.placement("p1")["x"], hand.placement("p1")["y"]) == (470, 310)
    assert hand.words(1) == "jar moved 40 mm"


def test_what_rests_on_the_board_goes_along(hand):
    hand.do("move", id="p2", x=230, y=280)
    assert (hand.placement("p9")["x"], hand.placement("p9")["y"], hand.placement("p9")["z"]) == (210, 300, 18)


def test_typed_values_know_units(hand):
    hand.do("move", id="p1", x="12in", typed=1)
    assert hand.placement("p1")["x"] == 304.8 and hand.placement("p1")["y"] == 310
    hand.do("raise", id="p1", z="2 cm")
    assert hand.placement("p1")["z"] == 20


def test_a_bare_number_is_in_the_persons_unit(hand, ada):
    ada.post("/preferences/", {"unit": "in", "ground": "middle"})
    hand.do("move", id="p1", x="10", typed=1)
    assert hand.placement("p1")["x"] == 254
    hand.do("move", id="p1", x="300", y="300")  # a drag is always mm
    assert hand.placement("p1")["x"] == 300


def test_a_sign_is_more_or_less_of_what_stood_there(hand):
    hand.do("move", id="p1", x="+20", y="-1 cm", typed=1)
    hand.do("raise", id="p1", z="+5")
    assert [hand.placement("p1")[k] for k in "xyz"] == [450, 300, 5]
    hand.do("camera", field="distance", value="-100")
    assert hand.document["setups"][0]["camera"]["distance"] == 1000
    answer = hand.do("move", id="p1", x="1,148", typed=1)
    assert answer.status_code == 400 and "From the left must say which is meant, 1\u202f148 or 1.148" in answer.content.decode()


@pytest.mark.parametrize(
    ("verb", "values", "says"),
    [
        ("move", {"id": "p1", "x": "wide", "typed": 1}, b"From the left must be a number with mm"),
        ("move", {"id": "p99", "x": 1, "y": 1}, b"Placement must be one of"), ("move", {"id": "p1", "x": "nan", "y": 1}, b"From the left must be a number"),
        ("turn", {"id": "p1", "turn": "steep"}, b"Turn must be a number of degrees"), ("camera", {"field": "elevation", "value": "95"}, b"Elevation must be"),
        ("camera", {"field": "aperture", "value": "1.2"}, b"Aperture must be one this lens has"), ("camera", {"field": "distance", "value": "10"}, b"Distance must put"),
        ("rest", {"id": "p2", "on": "p9"}, b"must not be the thing itself, nor what it carries"), ("role", {"id": "p1", "role": "star"}, b"Role must be one of"),
        ("deliverable", {"name": "odd", "ratio": "4:5", "pixels_wide": "100", "pixels_high": "100"}, b"Ratio must agree"),
        ("deliverable", {"name": "<b>", "ratio": "1:1"}, b"without &lt; or &gt;"), ("title", {"title": ""}, b"Title must not be empty"),
        ("setup-remove", {}, b"as it is the only one"), ("raise", {"id": "p1", "z": "-5"}, b"at or above the table"),
        ("remedy", {"seal": "made-up"}, b"must be one that was shown"), ("move", {"id": "p1", "x": "1e9", "y": 1}, b"must be at least"),
    ],
)  # fmt: skip
def test_a_faulty_value_is_told_in_one_line_and_changes_nothing(hand, verb, values, says):
    before = hand.document
    response = hand.do(verb, **values)
    assert response.status_code == 400
    assert says in response.content, response.content
    assert response["HX-Reswap"] == "none"
    assert hand.document == before and Scene.objects.get(pk=hand.pk).revision == 1


ACTS = {
    "move": {"id": "p1", "x": 1, "y": 2}, "turn": {"id": "p2", "turn": "-30"}, "lean": {"id": "p1", "lean": "10", "lean_toward": "45"},
    "raise": {"id": "p1", "z": "20"}, "rest": {"id": "p5", "on": "p3"}, "role": {"id": "p5", "role": "accent"}, "hold": {"id": "p1", "held_by": "arm"},
    "lock": {"id": "p1"}, "duplicate": {"id": "p1"}, "remove": {"id": "p2"}, "hide": {"id": "p2"}, "preset": {"preset": "eye"},
    "camera": {"field": "elevation", "value": "33"}, "pan": {"dx": 10, "dy": 5}, "deliverable": {"name": "tall", "ratio": "9:16"},
    "crop": {"name": "feed", "u": 0.4, "v": 0.5}, "deliverable-remove": {"name": "feed"}, "setup-add": {}, "setup-rename": {"name": "first"},
    "title": {"title": "Evening"}, "begin": {"use": "feed", "story": "One line."}, "brief": {"field": "mood", "value": "bright"},
    "palette-subject": {}, "palette-read": {"text": '["#536068", "#d9762a"]'}, "palette-colour": {"hex": "#d9762a"}, "leaning": {"leaning": "spacing", "value": "1"},
    "move-with": {"id": "p5", "other": "p8"}, "feature": {"id": "p2", "name": "label", "side": "front", "width": "4 cm", "height": "20", "up": "9"},
    "let-go": {"id": "p5", "x": 200, "y": 300}, "shift": {"ids": "p5 p7", "dx": 5, "dy": -5}, "spin": {"ids": "p5 p7", "by": "30"}, "line-up": {"ids": "p5 p7 p3"},
    "share-out": {"ids": "p5 p7 p3", "through": "table"}, "square-up": {"ids": "p2 p6"}, "mirror": {"ids": "p2 p6"}, "face-lens": {"ids": "p2"},
    "turn-toward": {"ids": "p2", "at": "p1"}, "lock-all": {"ids": "p2 p5"}, "remove-all": {"ids": "p2 p5"}, "duplicate-all": {"ids": "p2 p5"},
    "together": {"ids": "p2 p5", "name": "place setting"}, "repeat": {"id": "p5", "count": "4", "form": "arc", "step": "9 cm", "radius": "200"},
    "lay-dish": {"id": "p2", "way": "heap", "toward": "45"}, "stand": {"elevation": "40", "distance": "900"}, "guide": {"axis": "u", "at": "0.25"}, "again": {}, "add-found": {"q": "cut fig"},
    "take-lens": {"body": "full-frame body", "lens": "35 mm f/2"}, "fit": {"ids": "p1", "percent": "30", "crop": "feed"}, "exposure": {"time": "1/60", "iso": "200"}, "support": {"name": "rolling column"}, "sequence": {},
    "motion": {"id": "p5", "kind": "pour", "height": "20 cm"}, "hold-sharp": {"ids": "p1", "way": "once"}, "register": {"id": "p1"}, "along": {"id": "p2"}, "divide": {"across": "4", "down": "3", "crop": "feed"},
    "light-add": {"what": "soft-box"}, "room-lies": {"field": "north", "value": "120"},
    "backdrop-place": {"field": "y", "value": "650"}, "room": {"field": "ceiling", "value": "2600"},
}  # fmt: skip


@pytest.mark.parametrize("verb", ACTS)
def test_every_act_is_one_named_step_undone_and_redone_exactly(hand, verb):
    before = Scene.objects.get(pk=hand.pk).document
    assert hand.do(verb, **ACTS[verb]).status_code == 200
    after = Scene.objects.get(pk=hand.pk).document
    assert after != before
    label = hand.words(1)
    assert label
    undone = hand.travel("undo")
    assert Scene.objects.get(pk=hand.pk).document == before
    assert f"Redo: {label}".encode() in undone.content.replace(b"&#x27;", b"'")
    redone = hand.travel("redo")
    assert Scene.objects.get(pk=hand.pk).document == after
    assert f"Undo: {label}".encode() in redone.content


def test_every_verb_is_tried_somewhere_here(hand, studio):
    stores = {
        "add": StoreProp,
        "swap": StoreProp,
        "surface": StoreSurface,
        "backdrop": StoreBackdrop,
        "lens": StoreLens,
        "body": CameraBody,
    }
    for verb, model in stores.items():
        before = hand.document
        item = model.objects.filter(studio=studio).last()
        assert hand.do(verb, item=item.pk, id="p7").status_code == 200, verb
        assert hand.document != before, verb
    tried = (
        set(ACTS)
        | set(stores)
        | {
            "feature-ask",
            "feature-drop",
            "accept",
            "reconsider",
            "remedy",
            "setup-remove",
            "palette-drop",
            "palette-references",
            "give-back",
            "take-over",
            "apart",
            "take-proposal",
            "take-frame",
            "series",
            "details",
            "scheme",
            "bend",
            *("light-set", "light-move", "light-remove", "light-only", "card-set", "set-turn", "shadow-keep"),  # tests/web/test_lighting.py
        }
    )
    assert set(VERBS) == tried


def test_a_named_place_is_asked_for_read_out_and_forgotten(hand, ada, row):
    hand.do("feature", id="p2", name="label", side="front", width="4 cm", height="20", up="9")
    prop = next(p for p in hand.document["props"] if p["id"] == "board")
    (feature,) = prop["features"]
    assert (feature["at"], feature["facing"], feature["width"], feature["height"]) == ([0, -90, 9], [0, -1, 0], 40, 20)
    assert hand.document["brief"]["must_show"] == [{"placement": "p2", "feature": "label"}]
    tray = ada.get(f"/scenes/{row.pk}/tray/", {"tray": "held", "selected": "p2"}).content.decode()
    assert "label" in tray
    hand.do("feature-ask", id="p2", feature="label")
    assert hand.document["brief"]["must_show"] == []
    hand.do("feature-drop", id="p2", feature="label")
    assert next(p for p in hand.document["props"] if p["id"] == "board")["features"] == []
    assert hand.do("feature", id="p2", name="", side="front", width="40", height="20").status_code == 400


def test_a_place_is_drawn_over_the_thing_and_drawn_anew_under_its_name(hand, row):
    seen = Picture(core_scene(row), core_scene(row).setups[0])
    u, v = (sum(c) / 4 for c in zip(*[p[:2] for p in seen.view.project(seen.bodies["p2"].parts[0][-4:])], strict=True))
    assert (
        hand.do("feature", id="p2", name="mark", stroke=f"{u - 0.01:.5f} {v - 0.01:.5f} {u + 0.01:.5f} {v + 0.01:.5f}").status_code == 200
    )
    (feature,) = next(p for p in hand.document["props"] if p["id"] == "board")["features"]
    assert feature["facing"] == [0, 0, 1] and feature["at"] == pytest.approx([0, 0, 18], abs=0.2)
    assert feature["width"] == pytest.approx(0.02 * seen.size_at_aim[0], rel=0.05)
    hand.do("feature", id="p2", name="Mark", side="front", width="40", height="10")
    (again,) = next(p for p in hand.document["props"] if p["id"] == "board")["features"]
    assert (again["id"], again["facing"]) == (feature["id"], [0, -1, 0])
    assert hand.document["brief"]["must_show"] == [{"placement": "p2", "feature": feature["id"]}]


@pytest.mark.parametrize(
    ("stroke", "says"),
    [
        ("0 0 0.001 0.001", b"Box must have its middle on the thing"),
        ("0.1 0.2 0.3", b"Box must be a box"),
        ("nan 0 1 1", b"must be a box"),
        ("1e9 0 1 1", b"must be a box"),
    ],
)
def test_a_stroke_beside_the_thing_or_of_no_box_is_told_and_changes_nothing(hand, stroke, says):
    before = hand.document
    response = hand.do("feature", id="p2", name="mark", stroke=stroke)
    assert response.status_code == 400 and says in response.content
    assert hand.document == before


def test_in_a_set_up_with_another_thing_swapped_in_the_place_is_that_things(hand, studio):
    hand.do("setup-add")
    upright = hand.document["setups"][-1]["name"]
    other = StoreProp.objects.filter(studio=studio).last()
    hand.do("swap", setup=upright, only="1", id="p2", item=other.pk)
    swapped = dict(hand.document["setups"][-1]["swap"])["p2"]
    named = {"id": "p2", "name": "label", "side": "front", "width": "20", "height": "10"}
    hand.do("feature", setup=upright, **named)
    props = {p["id"]: p["features"] for p in hand.document["props"]}
    assert [f["name"] for f in props[swapped]] == ["label"] and props["board"] == []
    hand.do("feature-ask", setup=upright, id="p2", feature="label")
    assert hand.document["brief"]["must_show"] == []
    hand.do("feature-drop", setup=upright, id="p2", feature="label")
    assert next(p for p in hand.document["props"] if p["id"] == swapped)["features"] == []


def test_a_lens_keeps_the_picture_or_the_place_as_chosen(hand, studio):
    lens = StoreLens.objects.get(studio=studio, name__startswith="85")
    hand.do("lens", item=lens.pk)
    assert hand.camera["distance"] == pytest.approx(85 * (1 + 756 / 36), abs=0.2)
    hand.travel("undo")
    hand.do("lens", item=f"{lens.pk}|place")
    assert hand.camera["distance"] == 1100 and hand.camera["lens"]["focal_length"] == 85


def test_a_finding_is_left_for_retouching_with_its_minutes_and_their_sum(hand, ada, row):
    hand.do("move", id="p2", x=96, y=300)
    page = ada.get(f"/scenes/{row.pk}/").content.decode()
    found = re.search(r'data-key="(edge.sliver[^"]+|surface.edge[^"]*|colour.lighter[^"]+|palette.off[^"]+|colour.merge[^"]+)"', page)
    assert found is not None and "Leave it for retouching" in page
    assert hand.do("accept", key=found[1], minutes="14").status_code == 200
    assert hand.document["meant"][0]["retouch"] == 14
    page = ada.get(f"/scenes/{row.pk}/").content.decode()
    assert "Left for retouching: 1, about 14 minutes." in page


def test_a_new_change_after_undo_begins_a_branch_and_what_was_undone_can_be_gone_back_to(hand):
    hand.do("move", id="p1", x=1, y=1)
    hand.do("move", id="p1", x=2, y=2)
    hand.travel("undo")
    hand.do("move", id="p1", x=3, y=3)
    assert hand.travel("redo").status_code == 200
    assert hand.placement("p1")["x"] == 3
    hand.travel("undo")
    assert hand.placement("p1")["x"] == 1
    hand.travel("undo")
    hand.travel("undo")  # nothing left: no fault
    assert hand.placement("p1")["x"] == 430
    assert hand.travel("go-to", number=2).status_code == 200
    assert hand.placement("p1")["x"] == 2
    hand.travel("undo")
    hand.travel("redo")  # along the way that was gone the last time
    assert hand.placement("p1")["x"] == 2
    assert hand.travel("go-to", number=9).status_code == 404
    assert [c.parent for c in Change.objects.filter(scene=hand.pk)] == [None, 0, 1, 1]


def test_two_windows_never_overwrite_each_other_silently(hand, ada, row):
    second = Hand(ada, row)
    assert hand.do("move", id="p1", x=470, y=310).status_code == 200
    refused = second.do("move", id="p1", x=100, y=100)
    assert refused.status_code == 409
    assert b"changed in another window (Ada: jar moved 40 mm)" in refused.content and b"was not applied" in refused.content
    assert hand.placement("p1")["x"] == 470
    second.revision = Scene.objects.get(pk=row.pk).revision
    assert second.do("move", id="p1", x=100, y=100).status_code == 200
    assert second.client.post(f"/scenes/{row.pk}/undo/", {"revision": 1}).status_code == 409


def test_eye_level_raises_the_aim_to_half_the_hero_and_the_lens_stays_out_of_the_surface(hand):
    hand.do("camera", field="distance", value="700")
    hand.do("preset", preset="eye")
    assert hand.camera["elevation"] == 0 and hand.camera["aim"][2] == pytest.approx(60)
    hand.do("preset", preset="overhead")
    assert hand.camera["aim"][2] == 0 and hand.camera["elevation"] == 90
    hand.do("camera", field="distance", value="250")
    hand.do("camera", field="elevation", value="5")
    height = hand.camera["aim"][2] + 250 * 0.0871557
    assert height >= 59.9


def test_a_typed_height_of_the_lens_sets_the_distance(hand):
    hand.do("camera", field="elevation", value="30")
    hand.do("camera", field="height", value="600")
    assert hand.camera["distance"] == pytest.approx(1200)


def test_a_new_hero_makes_the_old_one_a_support(hand):
    hand.do("role", id="p5", role="hero")
    assert hand.placement("p5")["role"] == "hero" and hand.placement("p1")["role"] == "support"


def test_fruit_laid_on_a_bowl_lies_in_it_and_a_jar_stands_on_the_board(hand):
    hand.do("move", id="p5", x=640, y=400)
    hand.do("rest", id="p5", on="p3")
    assert hand.placement("p5")["on"] == "p3" and hand.placement("p5")["z"] == 6
    hand.do("rest", id="p1", on="p2")
    assert hand.placement("p1")["z"] == 18
    hand.do("rest", id="p1", on="")
    assert hand.placement("p1")["z"] == 0 and hand.placement("p1")["on"] is None


def test_a_locked_thing_stays(hand):
    hand.do("lock", id="p1")
    assert hand.do("move", id="p1", x=1, y=1).status_code == 400
    assert hand.do("remove", id="p1").status_code == 400


def test_a_board_that_carries_a_locked_leaf_stays_too(hand):
    hand.do("lock", id="p9")
    before = hand.document
    for verb, values in (
        ("move", {"x": 1, "y": 1}),
        ("raise", {"z": "10"}),
        ("turn", {"turn": "5"}),
        ("lean", {"lean": "5"}),
        ("remove", {}),
    ):
        response = hand.do(verb, id="p2", **values)
        assert response.status_code == 400 and b"Leaf must be unlocked" in response.content, verb
    assert hand.document == before


def test_a_low_camera_carried_over_the_table_stays_clear_of_it(hand):
    hand.do("camera", field="distance", value="700")
    hand.do("camera", field="elevation", value="1")
    hand.do("camera", field="aim_z", value="5")
    hand.do("pan", dx=0, dy=500)
    assert hand.camera["aim"][2] + 700 * 0.0174524 >= 59.9


def test_taking_the_board_away_lays_down_what_was_on_it(hand):
    hand.do("remove", id="p2")
    assert "board" not in {p["id"] for p in hand.document["props"]}
    assert (hand.placement("p9")["z"], hand.placement("p9")["on"]) == (0, None)


def test_added_props_find_a_free_place_and_keep_their_true_size(hand, studio):
    item = StoreProp.objects.get(studio=studio, key="dinner-plate")
    response = hand.do("add", item=item.pk)
    assert b"dinner plate" in response.content
    new = hand.document["placements"][-1]
    assert new["prop"] == "dinner-plate"
    assert hand.document["props"][-1]["shape"] == item.shape
    again = hand.do("add", item=item.pk)
    assert again.status_code == 200
    assert sum(p["prop"] == "dinner-plate" for p in hand.document["placements"]) == 2
    assert sum(p["id"].startswith("dinner-plate") for p in hand.document["props"]) == 1


def test_crops_follow_when_the_frame_is_turned_upright(hand):
    hand.do("crop", name="feed", u=0.7, v=0.5)
    assert hand.do("camera", field="orientation", value="portrait").status_code == 200
    assert hand.document["setups"][0]["deliverables"][0]["centre"][0] == 0.5


def test_a_phone_brings_its_own_lens(hand, studio):
    hand.do("body", item=CameraBody.objects.get(studio=studio, name="phone, main module").pk)
    assert hand.camera["lens"]["focal_length"] == 6.9 and hand.camera["aperture"] == 1.8


def key_of_first_finding(ada, row):
    import re

    page = ada.get(f"/scenes/{row.pk}/").content.decode()
    return re.findall(r'data-key="([^"]+)" data-mark', page)


def test_a_finding_that_is_meant_goes_below_the_line_with_its_reason_and_comes_back(hand, ada, row):
    key = key_of_first_finding(ada, row)[0]
    response = hand.do("accept", key=key, reason="the client wants it so")
    assert b"Meant: the client wants it so" in response.content
    code, _, *ids = key.split("|")
    assert hand.document["meant"] == [
        {"setup": "main", "code": code, "placements": [i for i in ids if i], "reason": "the client wants it so"}
    ]
    hand.travel("undo")
    assert hand.document["meant"] == []
    hand.travel("redo")
    assert b"Meant" not in hand.do("reconsider", key=key).content


def test_what_is_meant_stays_meant_when_its_set_up_is_renamed(hand, ada, row):
    key = key_of_first_finding(ada, row)[0]
    hand.do("accept", key=key, reason="on purpose")
    assert b"Meant: on purpose" in hand.do("setup-rename", name="first light").content
    hand.travel("undo")
    assert b"Meant: on purpose" in ada.get(f"/scenes/{row.pk}/").content


def test_a_remedy_is_shown_with_its_ghost_then_applied_in_one_press_and_undone_in_one(hand, ada, row):
    hand.do("move", id="p5", x=400, y=330)  # into the jar
    key = next(k for k in key_of_first_finding(ada, row) if k.startswith("spacing.overlap"))
    shown = ada.get(f"/scenes/{row.pk}/remedy/", {"setup": "main", "key": key})
    assert b"Move the" in shown.content and b"data-ghost" in shown.content
    before = hand.document
    assert hand.remedy(key).status_code == 200
    assert key not in key_of_first_finding(ada, row)
    hand.travel("undo")
    assert hand.document == before
    assert ada.get(f"/scenes/{row.pk}/remedy/", {"setup": "main", "key": "hero.missing||"}).status_code == 204


def test_the_stage_is_answered_with_a_fixed_number_of_queries(hand, ada, row, django_assert_num_queries):
    ada.get(f"/scenes/{row.pk}/")
    with django_assert_num_queries(6):  # session, person, membership with studio and preference, scene, names of undo and redo, versions
        ada.get(f"/scenes/{row.pk}/")


def test_nothing_newer_is_204_and_something_newer_is_the_stage(hand, ada, row):
    assert ada.get(f"/scenes/{row.pk}/stage/", {"if_newer_than": 1}).status_code == 204
    hand.do("move", id="p1", x=1, y=1)
    assert b'data-revision="2"' in ada.get(f"/scenes/{row.pk}/stage/", {"if_newer_than": 1}).content


def test_names_with_quotes_and_ampersands_are_shown_as_text(hand, ada, row):
    hand.do("title", title='Ann\'s "jam" & tea')
    page = ada.get(f"/scenes/{row.pk}/").content
    assert b"Ann&#x27;s &quot;jam&quot; &amp; tea" in page
    assert json.loads(ada.get(f"/scenes/{row.pk}/export/").content)["title"] == 'Ann\'s "jam" & tea'


def test_of_very_many_findings_the_gravest_are_shown_and_the_rest_counted_and_the_weight_is_told(ada, studio):
    from tests.support.scenes import crowded_value
    from tideflat.core.evaluate import Picture
    from tideflat.core.findings.registry import findings
    from tideflat.core.formats.scene_reader import scene_from_value
    from tideflat.core.weight import weigh
    from tideflat.web.bridge.tideline import MOST_ABOVE
    from tideflat.web.scenes.services.history import begin_scene

    scene = scene_from_value(crowded_value(80))
    row = begin_scene(studio, scene, None, "laid out")
    page = ada.get(f"/scenes/{row.pk}/").content.decode()
    grave = [f for f in findings(Picture(scene, scene.setups[0])) if f.severity != "taste"]  # one for each cause
    assert len(grave) > MOST_ABOVE and page.count(' above"') == MOST_ABOVE
    assert f"And {len(grave) - MOST_ABOVE} more, which come up as these are settled: " in page
    assert f"takes {round(weigh(scene).share * 100)} % of what can be worked out at once" in page
