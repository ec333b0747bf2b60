"""What hands do on the bench, as requests: what follows a held thing, adding by words, several at once, guides, copies, the shelf."""

from __future__ import annotations

import html
import json
import re
from datetime import date

import pytest

from tests.conftest import Hand
from tests.support.scenes import scene_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.services.naming import free_title, title_from
from tideflat.web.scenes.starters import starter


def parts(text: str) -> tuple[list[str], list[tuple[str, str]]]:
    """(readings, findings by key with their sentence) of a page or of what follows a hand."""
    readings = re.findall(r'<div title="([^"]*)"><dt>', text)
    found = re.findall(r'<article class="finding[^>]*data-key="([^"]*)".*?<p>(.*?)</p>', text, re.S)
    return [html.unescape(r) for r in readings], [(html.unescape(k), html.unescape(s)) for k, s in found]


@pytest.mark.parametrize(
    ("verb", "values"),
    [
        ("let-go", {"id": "p5", "x": "640.0", "y": "400.0"}), ("let-go", {"id": "p1", "x": "612.0", "y": "388.0", "level": "1"}),
        ("let-go", {"id": "p1", "x": "365.0", "y": "200.0", "room": "1"}),
        ("turn", {"id": "p2", "turn": "75"}), ("shift", {"ids": "p1 p3", "dx": "40", "dy": "-160"}), ("spin", {"ids": "p1 p3 p5", "by": "33"}),
        ("stand", {"elevation": "30", "distance": "800"}), ("pan", {"dx": "60", "dy": "0"}), ("move", {"id": "p5", "x": 300, "y": 300, "z": 50}),
        ("repeat", {"id": "p5", "count": "3", "form": "line", "step": "90", "angle": "90", "through": "table"}),
    ],
)  # fmt: skip
def test_what_follows_a_hand_are_the_figures_of_a_release_at_the_same_place_and_nothing_is_kept(hand, ada, verb, values):
    before = Scene.objects.get(pk=hand.pk)
    followed = ada.get(f"/scenes/{hand.pk}/follow/{verb}/", {"revision": hand.revision, "setup": "main", **values})
    assert followed.status_code == 200
    after = Scene.objects.get(pk=hand.pk)
    assert (after.document, after.revision, Change.objects.filter(scene=hand.pk).count()) == (before.document, before.revision, 1)
    untouched = parts(ada.get(f"/scenes/{hand.pk}/").content.decode())
    released = parts(hand.do(verb, **values).content.decode())
    assert parts(followed.content.decode()) == released != untouched


def test_what_follows_says_what_it_would_lie_on(hand, ada):
    ask = lambda **v: ada.get(f"/scenes/{hand.pk}/follow/let-go/", {"revision": 1, "setup": "main", "id": "p5", **v}).content.decode()  # noqa: E731
    assert 'data-on="bowl"' in ask(x=640, y=400)
    assert 'data-on=""' in ask(x=640, y=400, level="1")
    assert '"matrix"' in html.unescape(ada.get(f"/scenes/{hand.pk}/follow/stand/", {"revision": 1, "elevation": 20, "distance": 900}).content.decode())


def test_the_rest_gives_way_in_the_same_step_as_it_was_shown(hand, ada):
    values = {"id": "p1", "x": "365.0", "y": "200.0", "room": "1"}
    shown = ada.get(f"/scenes/{hand.pk}/follow/let-go/", {"revision": 1, "setup": "main", **values}).content.decode()
    room = json.loads(html.unescape(re.search(r'data-room="([^"]*)"', shown)[1]))
    assert "p7" in room and "p1" not in room
    was = {i: hand.placement(i) for i in room}
    hand.do("let-go", **values)
    for i, (dx, dy) in room.items():
        now = hand.placement(i)
        assert (now["x"], now["y"]) == (pytest.approx(was[i]["x"] + dx, abs=0.11), pytest.approx(was[i]["y"] + dy, abs=0.11))
    assert f"{len(room)} made room" in hand.words(1)
    hand.travel("undo")
    assert {i: hand.placement(i) for i in room} == was
    plain = ada.get(f"/scenes/{hand.pk}/follow/let-go/", {"revision": hand.revision, "setup": "main", **values, "room": ""}).content.decode()
    assert 'data-room=""' in plain


def test_what_follows_a_row_is_where_each_would_stand(hand, ada):
    def laid(**v):
        asked = {"revision": 1, "setup": "main", "id": "p5", "count": "4", "form": "line", "step": "90", "through": "table", **v}
        answer = ada.get(f"/scenes/{hand.pk}/follow/repeat/", asked)
        found = re.search(r'data-row="([^"]*)"', answer.content.decode())
        return answer.status_code, json.loads(html.unescape(found[1])) if found else None

    assert laid(angle="90") == (200, [[0, 90, 0], [0, 180, 0], [0, 270, 0]])
    assert [round(turn) % 360 for _, _, turn in laid(form="circle", turned="1")[1]] == [90, 180, 270]
    assert laid(form="strewn", step="200", width="100", depth="100") == (204, None)  # no room for so many


def test_a_stale_or_impossible_question_is_answered_with_nothing(hand, ada, vic):
    path = f"/scenes/{hand.pk}/follow/"
    assert ada.get(path + "let-go/", {"revision": 9, "setup": "main", "id": "p5", "x": 1, "y": 1}).status_code == 204
    assert ada.get(path + "let-go/", {"revision": 1, "setup": "main", "id": "p99", "x": 1, "y": 1}).status_code == 204
    assert ada.get(path + "stand/", {"revision": 1, "setup": "main", "elevation": "steep", "distance": 1}).status_code == 204
    assert ada.get(path + "remove/", {"revision": 1, "setup": "main", "id": "p5"}).status_code == 404
    assert ada.post(path + "turn/", {"revision": 1}).status_code == 405
    assert vic.get(path + "turn/", {"revision": 1}).status_code == 403


def test_enter_puts_down_what_the_words_name_first_and_the_stores_stay_open(hand):
    answer = hand.do("add-found", q="lemon half", tray="store").content.decode()
    assert hand.document["placements"][-1]["id"] == "lemon-half"
    assert 'data-tray="store"' in answer and 'data-selected="lemon-half"' in answer
    assert hand.do("add-found", q="no such thing at all").status_code == 400
    assert hand.do("add-found", q="").status_code == 200  # the first that is offered
    hand.do("again", tray="store")
    last, one_more = hand.document["placements"][-2:]
    assert last["prop"] == one_more["prop"] and (last["x"], last["y"]) != (one_more["x"], one_more["y"])


def test_what_was_put_down_lately_is_offered_first(hand, ada):
    hand.do("add-found", q="fish knife")
    listed = ada.get(f"/scenes/{hand.pk}/tray/", {"tray": "store"}).content.decode()
    assert listed.index("put on this table lately") < listed.index("</button></li>") * 2
    assert "fish knife" in listed[: listed.index("</button></li>")]


def test_a_prop_dropped_on_a_board_lies_on_it(hand, studio):
    item = studio.props.get(name="lemon half")
    hand.do("add", item=item.pk, x=240, y=270)
    assert hand.document["placements"][-1]["on"] == "p2"
    hand.do("add", item=item.pk, x=800, y=520)
    assert hand.document["placements"][-1]["on"] is None and hand.document["placements"][-1]["x"] == 800


def test_several_stay_in_hand_after_an_act_and_copies_take_their_place(hand, ada):
    answer = hand.do("shift", ids="p5 p7", dx=3, dy=0, selected="p5", several="p5 p7", tray="several").content.decode()
    assert 'data-several="p5 p7"' in answer and "2 things" in answer
    answer = hand.do("duplicate-all", ids="p5 p7", selected="p5", several="p5 p7", tray="several").content.decode()
    assert 'data-several="p5-2 p7-2"' in answer
    answer = hand.do("remove-all", ids="p5-2 p7-2", selected="p5-2", several="p5-2 p7-2", tray="several").content.decode()
    assert 'data-several=""' in answer and 'data-tray="things"' in answer
    gone = ada.get(f"/scenes/{hand.pk}/tray/", {"tray": "several", "selected": "p5", "several": "p5 nothing"}).content.decode()
    assert "tray-held" in gone  # only one of them is there
    assert hand.do("line-up", ids=" ").status_code == 400


def test_things_kept_together_move_together_and_are_let_go_from_each_other(hand):
    hand.do("together", ids="p5 p7", name="place setting")
    assert [(g["name"], g["placements"]) for g in hand.document["groups"]] == [("place setting", ["p5", "p7"])]
    x = hand.placement("p7")["x"]
    hand.do("let-go", id="p5", x=hand.placement("p5")["x"] + 20, y=hand.placement("p5")["y"])
    assert hand.placement("p7")["x"] == x + 20
    hand.do("apart", ids="p5 p7")
    assert hand.document["groups"] == []
    assert hand.do("apart", ids="p5").status_code == 400


def test_guides_are_laid_moved_typed_and_taken_away(hand):
    hand.do("guide", axis="u", at="0.5")
    hand.do("guide", axis="v", at="0.25")
    hand.do("guide", index=0, at="0.61803")
    assert [(g["axis"], g["at"]) for g in hand.document["setups"][0]["guides"]] == [("u", 0.61803), ("v", 0.25)]
    hand.do("guide", index=1, percent="40 %")
    assert hand.document["setups"][0]["guides"][1]["at"] == 0.4
    assert hand.do("guide", index=1, percent="140").status_code == 400 and hand.do("guide", index=2, at="0.5").status_code == 400
    hand.do("guide", index=0)
    assert [g["axis"] for g in hand.document["setups"][0]["guides"]] == ["v"]
    assert hand.words(5) == "guide taken away" and hand.words(3) == "guide moved" and hand.words(1) == "guide laid"


def test_from_the_side_is_told_in_the_persons_unit_and_a_guide_to_a_tenth(hand, ada):
    hand.do("guide", axis="u", at="0.618")
    told = lambda: ada.get(f"/scenes/{hand.pk}/?tray=camera").content.decode()  # noqa: E731
    assert re.search(r"the lens [\d\u202f]+ mm above the table", told()) and 'value="61.8"' in told()
    ada.post("/preferences/", {"unit": "in", "ground": "middle"})
    assert re.search(r"the lens [\d /]+ in above the table", told())


def test_things_are_copied_into_another_scene_as_one_step_there(hand, ada, studio):
    goal = begin_scene(studio, starter("tea"), None, "begun")
    answer = ada.post(f"/scenes/{hand.pk}/copy-things/", {"ids": "p2 p5 gone", "setup": "main", "to": goal.pk})
    assert answer.status_code == 200 and "3 things copied into" in answer.content.decode()  # the board carries a leaf
    goal.refresh_from_db()
    there = {p["id"]: p for p in json.loads(goal.document)["placements"]}
    board, leaf = there["p2"], there["p9"]
    here = hand.placement("p2")
    assert (board["x"], board["y"], board["turn"]) == (here["x"], here["y"], here["turn"]) and leaf["on"] == "p2"
    assert goal.revision == 2 and hand.document == json.loads(Scene.objects.get(pk=hand.pk).document)
    Hand(ada, goal).travel("undo")
    goal.refresh_from_db()
    assert "p2" not in {p["id"] for p in json.loads(goal.document)["placements"]}
    for wrong, code in ((hand.pk, 404), (99999, 404), ("x", 400)):
        assert ada.post(f"/scenes/{hand.pk}/copy-things/", {"ids": "p2", "setup": "main", "to": wrong}).status_code == code
    assert ada.post(f"/scenes/{hand.pk}/copy-things/", {"ids": "gone", "setup": "main", "to": goal.pk}).status_code == 400


def test_a_scene_is_copied_with_a_name_of_its_own_and_a_history_of_its_own(hand, ada, row):
    first = Scene.objects.get(pk=hand.pk)
    answer = ada.post(f"/scenes/{hand.pk}/copy/")
    copy = Scene.objects.latest("pk")
    assert answer["Location"] == f"/scenes/{copy.pk}/"
    assert copy.title == f"{first.title} 2"
    ours, theirs = json.loads(first.document), json.loads(copy.document)
    assert {**ours, "title": ""} == {**theirs, "title": ""} and Change.objects.filter(scene=copy).count() == 1
    ada.post(f"/scenes/{copy.pk}/copy/")
    assert Scene.objects.latest("pk").title == f"{first.title} 3"


@pytest.mark.parametrize(
    ("story", "title"),
    [
        ("Breakfast nobody has sat down to yet. Bright, quiet.", "Breakfast nobody has sat down to yet"),
        ("the last of the light; smoke", "The last of the light"),
        ("A very long first sentence that goes on and on until nobody listens any more", "A very long first sentence that goes on and on"),
        ("  ", ""),
    ],
)
def test_a_scene_is_called_by_its_own_sentence(story, title):
    assert title_from(story) == title and len(title) <= 48


def test_new_scenes_are_told_from_each_other(ada, studio):
    for _ in range(2):
        ada.post("/scenes/new/", {"from": "empty", "use": "feed", "story": "Supper is late."})
    ada.post("/scenes/new/", {"from": "empty", "use": "feed", "story": ""})
    ada.post("/scenes/new/", {"from": "empty", "use": "feed", "story": ""})
    titles = list(Scene.objects.filter(studio=studio).order_by("pk").values_list("title", flat=True))
    assert titles == ["Supper is late", "Supper is late 2", "For feed", "For feed 2"]
    assert free_title(studio, "Supper is late 2") == "Supper is late 3"


def test_the_shelf_is_searched_sorted_and_several_are_put_away(ada, studio, olu):
    rows = [begin_scene(studio, starter(kind), None, "begun") for kind in ("marmalade", "supper", "tea")]
    Scene.objects.filter(pk=rows[1].pk).update(shoot_on=date(2026, 12, 1))
    Scene.objects.filter(pk=rows[2].pk).update(shoot_on=date(2026, 11, 30))

    def order(**query):
        text = ada.get("/", query).content.decode()
        return [int(pk) for pk in re.findall(r'class="shelf-picture" href="/scenes/(\d+)/"', text)]

    assert order(sort="title") == [rows[2].pk, rows[0].pk, rows[1].pk]
    assert order(sort="day") == [rows[2].pk, rows[1].pk, rows[0].pk]
    assert order(sort="nonsense") == order() == [r.pk for r in reversed(rows)]
    assert order(q="harbour supper") == [rows[1].pk] and order(q="beetroot") == [rows[1].pk]
    assert order(q="placements") == order(q="turn") == []  # words of the document's own are no words of the scene
    assert order(q="zzz") == [] and "No scene holds all of these words" in ada.get("/", {"q": "zzz"}).content.decode()
    theirs = Scene.objects.exclude(studio=studio).first()
    ada.post("/scenes/put-away/", {"scene": [rows[0].pk, rows[2].pk, "x", theirs.pk if theirs else 0]})
    assert order() == [rows[1].pk]
    assert theirs is None or Scene.objects.get(pk=theirs.pk).put_away_at is None


def test_an_empty_scene_says_the_next_step_and_each_is_done_by_doing(ada, studio):
    row = begin_scene(studio, starter("empty"), None, "begun")
    new = Hand(ada, row)
    page = lambda: ada.get(f"/scenes/{row.pk}/").content.decode()  # noqa: E731
    assert "Lay down the hero: what is it?" in page()
    new.do("add-found", q="marmalade jar", role="hero")
    assert new.document["placements"][0]["role"] == "hero"
    assert "What is the picture for?" in page()
    new.do("deliverable", name="feed", ratio="4:5")
    assert "What stands with it?" in page()
    for words in ("chopping board", "spoon", "orange half"):
        new.do("add-found", q=words)
    assert "Say in one sentence what it tells" in page()
    new.do("begin", use="feed", story="Winter, kept in jars.")
    assert "next-step" not in page()
    new.do("role", id=new.document["placements"][0]["id"], role="support")
    assert "Which one leads?" in page()


def test_the_fixture_is_not_what_an_act_leaves(hand):
    """The table of the tests has a next step too, once it is empty: all of it taken away at once, in one step."""
    every = " ".join(p["id"] for p in hand.document["placements"])
    answer = hand.do("remove-all", ids=every)
    assert "Lay down the hero" in answer.content.decode() and hand.document["placements"] == []
    assert scene_from_value({**scene_value(), "placements": []}).placements == ()
