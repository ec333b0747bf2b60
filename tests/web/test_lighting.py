"""Light on the bench: set up, changed, moved, taken away, each a named step; drawn over both views and read; proved while the bench goes on."""

from __future__ import annotations

import base64
import json
import re
import threading
import time
from types import SimpleNamespace

import cv2
import numpy as np
import pytest
from django.urls import reverse

from tests.support.lit import LAMP, picture, table, thing
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene, scene_from_value
from tideflat.core.render.proof import exposure_of
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.light_drawn import clips
from tideflat.web.bridge.lights_drawn import lights_seen
from tideflat.web.bridge.sheets import frame_sheet
from tideflat.web.scenes.forms.lights import KINDS, LAMPS
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.stores.models import StoreCard, StoreLight
from tideflat.web.work import services
from tideflat.web.work.light_keeper import KEEPER, LightKeeper
from tideflat.web.work.models import Work
from tideflat.web.work.proving import MOST_LIGHT, coded, mixed


@pytest.fixture
def lit(settings):
    """Light is drawn, by a process that takes a second to begin: for the few that ask for it."""
    settings.DRAWS_LIGHT = True
    yield
    KEEPER.end()


def lights(hand) -> dict:
    return {light["id"]: light for light in hand.document.get("lights", [])}


@pytest.mark.parametrize("what", KINDS)
def test_each_kind_is_set_up_where_it_is_of_use(hand, what):
    if what == "sun":
        refused = hand.do("light-add", what=what)
        assert refused.status_code == 400 and b"compass bearing" in refused.content
        hand.do("room-lies", field="north", value="90")
    assert hand.do("light-add", what=what).status_code == 200
    document = hand.document
    assert len(document.get("lights", [])) + len(document.get("cards", [])) + len(document.get("rig", [])) == 1
    if what in LAMPS:
        (lamp,) = document["lights"]
        assert {key: lamp[key] for key in LAMPS[what]} == LAMPS[what]
        to_middle = np.array([450, 300]) - lamp["at"][:2]
        assert to_middle @ np.array(lamp["toward"][:2]) > 0  # it looks at the set


def test_a_second_one_has_a_name_of_its_own_and_a_place_of_its_own(hand):
    for _ in range(2):
        hand.do("light-add", what="soft-box")
    assert list(lights(hand)) == ["soft-box", "soft-box-2"]
    assert lights(hand)["soft-box"]["at"] != lights(hand)["soft-box-2"]["at"]


def test_keys_of_lights_are_typed_and_faults_are_told(hand):
    hand.do("light-add", what="soft-box")
    for field, value, key, kept in (
        ("stops", "-1.5", "stops", -1.5),
        ("kelvin", "3200", "kelvin", 3200),
        ("width", "60 cm", "width", 600),
        ("beam", "40", "beam", 40),
        ("beam", "", "beam", None),
        ("filter", "#ff8040", "filter", "#ff8040"),
    ):
        assert hand.do("light-set", id="soft-box", field=field, value=value).status_code == 200
        assert lights(hand)["soft-box"][key] == kept
    hand.do("light-set", id="soft-box", field="up", value="900")
    assert lights(hand)["soft-box"]["at"][2] == 900
    hand.do("light-set", id="soft-box", field="on")
    assert lights(hand)["soft-box"]["on"] is False
    before = hand.document
    for field, value, says in (
        ("stops", "21", b"from -20 to 20"),
        ("kelvin", "900", b"from 1000"),
        ("beam", "200", b"from 1 to 180"),
        ("cover", "sheer", b"one that a lamp has"),
        ("width", "nought", b"must be a number"),
        ("stops", "x", b"must be a number"),
    ):
        refused = hand.do("light-set", id="soft-box", field=field, value=value)
        assert refused.status_code == 400 and says in refused.content, refused.content
    assert hand.do("light-set", id="nobody", field="on").status_code == 400
    assert hand.document == before


def test_a_window_has_a_cover_a_sun_a_place_and_a_clock(hand):
    hand.do("room-lies", field="north", value="10")
    hand.do("light-add", what="window")
    hand.do("light-add", what="sun")
    assert lights(hand)["sun"]["through"] == "window"
    hand.do("light-set", id="window", field="cover", value="paper")
    hand.do("light-set", id="sun", field="place", value="54.3 10.1")
    hand.do("light-set", id="sun", field="time", value="2026-12-21T11:00:00+01:00")
    sun = lights(hand)["sun"]
    assert (sun["latitude"], sun["longitude"], sun["time"]) == (54.3, 10.1, "2026-12-21T11:00:00+01:00")
    assert lights(hand)["window"]["cover"] == "paper"
    for field, value in (("place", "north"), ("place", "91 0"), ("time", "noon"), ("time", "2026-12-21T11:00:00")):
        assert hand.do("light-set", id="sun", field=field, value=value).status_code == 400
    hand.do("light-remove", key="lights", id="window")
    assert lights(hand)["sun"]["through"] is None


def test_moving_and_turning_keep_height_and_tilt_and_the_sheet_goes_along(hand):
    hand.do("light-add", what="sheeted-lamp")
    before = lights(hand)["sheeted-lamp"]
    hand.do("light-move", key="lights", id="sheeted-lamp", x="-400", y="900")
    moved = lights(hand)["sheeted-lamp"]
    assert moved["at"] == [-400, 900, before["at"][2]]
    apart = [np.subtract(lamp["through"]["at"], lamp["at"]) for lamp in (before, moved)]
    assert np.allclose(apart[0], apart[1], atol=0.2)
    hand.do("light-move", key="lights", id="sheeted-lamp", tx="1", ty="0")
    turned = lights(hand)["sheeted-lamp"]
    assert turned["toward"][1] == 0 and turned["toward"][2] == before["toward"][2]
    assert np.hypot(*turned["toward"][:2]) == pytest.approx(np.hypot(*before["toward"][:2]), rel=1e-3)
    assert hand.words(3) == "sheeted lamp turned" or "turned" in hand.words(3)


def test_cards_change_their_kind_and_bend(hand):
    hand.do("light-add", what="white-card")
    hand.do("card-set", id="white-card", field="kind", value="tint")
    hand.do("card-set", id="white-card", field="bend", value="60")
    hand.do("card-set", id="white-card", field="height", value="30 cm")
    (card,) = hand.document["cards"]
    assert (card["kind"], card["colour"], card["bend"], card["height"]) == ("tint", "#d8e3c8", 60, 300)
    assert hand.do("card-set", id="white-card", field="bend", value="200").status_code == 400
    hand.do("light-remove", key="cards", id="white-card")
    assert "cards" not in hand.document


def test_one_light_at_a_time_and_all_again(hand):
    for what in ("window", "strip"):
        hand.do("light-add", what=what)
    hand.do("light-only", id="strip")
    assert {i: light["on"] for i, light in lights(hand).items()} == {"window": False, "strip": True}
    hand.do("light-only", id="")
    assert all(light["on"] for light in lights(hand).values())


def test_the_set_is_turned_to_the_light(hand):
    hand.do("light-add", what="window")
    before = np.array(lights(hand)["window"]["at"][:2]) - [450, 300]
    hand.do("set-turn", value="90")
    after = np.array(lights(hand)["window"]["at"][:2]) - [450, 300]
    assert np.allclose(after, [before[1], -before[0]], atol=0.01)  # it goes round the other way
    hand.do("set-turn", value="-90")
    assert np.allclose(np.array(lights(hand)["window"]["at"][:2]) - [450, 300], before, atol=0.01)


def test_the_set_goes_after_the_sun_to_a_clock_time(hand):
    hand.do("room-lies", field="north", value="170")
    hand.do("light-add", what="sun")
    hand.do("light-add", what="white-card")
    before = hand.document
    assert hand.do("shadow-keep", id="sun", value="17:30").status_code == 200
    after = hand.document
    assert after["lights"][0]["time"] == "2026-06-21T17:30:00+01:00" and after["room"]["north"] != before["room"]["north"]
    answer = hand.client.get(f"/scenes/{hand.pk}/", {"tray": "steps"}).content.decode()
    assert "shadow kept at 17:30" in answer and "clockwise" in answer
    for typed, words in (("2:00", b"when the sun is up"), ("later", b"clock time"), ("", b"")):
        refused = hand.do("shadow-keep", id="sun", value=typed)
        assert refused.status_code == 400 and words in refused.content
    assert hand.document == after


def test_what_filters_before_the_lens_counts_in_what_is_asked(hand):
    assert hand.do("exposure", time="1/30", iso="100", filter="3").status_code == 200
    assert hand.document["setups"][0]["exposure"]["filter_stops"] == 3
    for typed in ("-1", "21", "much"):
        assert hand.do("exposure", time="1/30", iso="100", filter=typed).status_code == 400
    hand.do("exposure", time="1/30", iso="100", filter="0")
    assert "filter_stops" not in hand.document["setups"][0]["exposure"]


def test_gloss_shows_where_a_lamp_lies_on_it(lit, studio, ada, olu):
    ball = thing(1, {"kind": "sphere", "diameter": 120}, 450, 300, finish="gloss", role="hero")
    value = table([{**LAMP, "at": [-300, 300, 700], "toward": [1, 0, -0.9]}], [ball], camera={"elevation": 40})
    row = begin_scene(studio, scene_from_value(value), None, "begun")
    answer = ada.get(f"/scenes/{row.pk}/light/mirrors/", {"setup": "main"}).json()
    assert {(s["of"], s["kind"], s["name"]) for s in answer["shown"]} == {("p1", "lights", "lamp"), ("p1", "lens", "camera")}
    assert all(s["d"].startswith("M") and "mirrors the" in s["told"] for s in answer["shown"])
    assert olu.get(f"/scenes/{row.pk}/light/mirrors/").status_code == 404


def asked(client, row, **values):
    return client.get(f"/scenes/{row.pk}/light/", values)


def decoded(address: str) -> np.ndarray:
    kind, _, data = address.partition(",")
    assert kind.startswith("data:image/")
    return cv2.imdecode(np.frombuffer(base64.b64decode(data), np.uint8), cv2.IMREAD_UNCHANGED)


def test_both_views_are_drawn_with_the_scenes_light_and_it_is_read(lit, row, ada):
    answer = asked(ada, row, tray="light").json()
    for key in ("table_ground", "frame_ground", "frame_things", "table_things"):
        picture = decoded(answer[key])
        assert picture.ndim == 3 and picture.std() > 1
    assert set(answer["frame_clip"]) <= set(answer["table_clip"])
    assert answer["revision"] == 1
    assert "told" not in answer and "live" not in answer
    told = asked(ada, row, told=1).json()
    assert "window to the back left" in told["told"]
    assert set(told["live"]["sources"]) == {"usual-window"} and told["live"]["table"]["hit"]


def test_a_light_that_is_held_is_drawn_where_it_is(lit, row, ada, hand):
    hand.do("light-add", what="soft-box")
    at = lights(hand)["soft-box"]["at"]
    here = asked(ada, row, key="lights", id="soft-box", x=at[0], y=at[1]).json()
    there = asked(ada, row, key="lights", id="soft-box", x=at[0] + 900, y=at[1]).json()
    assert here["table_ground"] != there["table_ground"] and "frame_clip" not in here
    left, right = (decoded(a["table_ground"]).mean(axis=(0, 2)) for a in (here, there))
    assert left[: len(left) // 2].mean() - right[: len(right) // 2].mean() > 2  # the left half has lost light
    assert asked(ada, row, key="lights", id="nobody", x=1, y=1).status_code == 204
    assert Scene.objects.get(pk=row.pk).revision == 2  # nothing was changed by looking


def test_a_newer_question_overtakes_an_older_one_and_a_broken_process_is_begun_again():
    keeper = LightKeeper()
    try:
        keeper._newest[7] = 99
        keeper._count = 5
        document = json.dumps({"format": "tideflat-scene", "version": 1, "surface": {"name": "t"}})
        assert "fault" in (keeper.ask(7, {"document": document, "setup": "main"}) or {})
        assert keeper._process is not None
        keeper._process.kill()
        keeper._process.wait()
        assert "fault" in (keeper.ask(7, {"document": document, "setup": "main"}) or {})
    finally:
        keeper.end()
    assert keeper._process is None


def test_what_is_expected_is_asked_once_and_told_to_whoever_asks_the_same(monkeypatch):
    keeper, asked = LightKeeper(), []

    def answer(question):
        asked.append(question["setup"])
        return {"of": question["setup"]}

    monkeypatch.setattr(keeper, "_asked", answer)
    keeper.expect(7, {"setup": "a"})
    assert keeper.ask(7, {"setup": "a"}) == {"of": "a"} and asked == ["a"]
    assert keeper.ask(7, {"setup": "a"}) == {"of": "a"} and asked == ["a", "a"]  # it is told once
    keeper.expect(7, {"setup": "b"})
    assert keeper.ask(7, {"setup": "c"}) == {"of": "c"} and keeper.ask(8, {"setup": "b"}) == {"of": "b"}
    assert keeper.ask(7, {"setup": "b"}) == {"of": "b"} and asked.count("b") == 2  # another question in between does not lose it
    for about in range(100, 140):
        keeper.expect(about, {"setup": "d"})
    assert len(keeper._expected) == 20 and 139 in keeper._expected
    keeper._idle.cancel()

    def fails(question):
        raise RuntimeError(question["setup"])

    monkeypatch.setattr(keeper, "_asked", fails)
    monkeypatch.setattr(threading, "excepthook", lambda told: None)
    keeper.expect(9, {"setup": "d"})
    with pytest.raises(RuntimeError):  # nobody waits for ever
        keeper.ask(9, {"setup": "d"})


def test_a_change_asks_for_its_light_before_the_window_does(lit, row, ada, hand, monkeypatch):
    expected = []
    monkeypatch.setattr(KEEPER, "expect", lambda about, question: expected.append((about, question)))
    hand.do("light-add", what="soft-box")
    ((about, question),) = expected
    monkeypatch.setattr(KEEPER, "ask", lambda about, asked: expected.append((about, asked)))
    assert ada.get(f"/scenes/{row.pk}/light/", {"setup": "main"}).status_code == 204
    assert expected[1] == (about, question)  # the very same question
    ada.post(f"/scenes/{row.pk}/undo/", {"revision": hand.revision})
    assert len(expected) == 3 and "soft-box" not in expected[2][1]["document"]


def test_lights_are_mixed_as_linear_light_adds():
    random = np.random.Generator(np.random.PCG64(1))
    a, b = (cv2.GaussianBlur(random.random((40, 60, 3)).astype(np.float32), (9, 9), 0) for _ in range(2))

    def webp(light: np.ndarray) -> bytes:
        return cv2.imencode(".webp", coded(light)[..., ::-1], [cv2.IMWRITE_WEBP_QUALITY, 101])[1].tobytes()

    groups = {"key": webp(a), "fill": webp(b)}
    together = cv2.imdecode(np.frombuffer(mixed(groups, {"fill": -1.0}), np.uint8), cv2.IMREAD_COLOR)[..., ::-1]
    from tideflat.core.render.developing import developed

    expected = developed(a + b / 2)
    assert np.abs(together.astype(int) - expected).mean() < 4
    dark = cv2.imdecode(np.frombuffer(mixed(groups, {"key": -6.0, "fill": -6.0}), np.uint8), cv2.IMREAD_COLOR)
    assert dark.max() <= 2
    assert coded(np.full((1, 1, 3), MOST_LIGHT * 9)).max() == 255


class NoThread:
    """Instead of a thread: the job is kept, and done when the test says so."""

    jobs: list[tuple] = []

    def __init__(self, target, args, **more):
        self.jobs.append((target, args))

    def start(self):
        pass


#: For the services of work alone.
NO_THREADS = SimpleNamespace(Thread=NoThread, Lock=threading.Lock, Event=threading.Event, Timer=threading.Timer)


def test_a_proof_is_begun_told_settled_and_mixed(row, ada, vic, hand, monkeypatch):
    pytest.importorskip("mitsuba")
    monkeypatch.setattr(services, "threading", NO_THREADS)
    hand.do("light-add", what="window")
    hand.do("light-add", what="grid")
    address = f"/scenes/{row.pk}/proof/"
    assert vic.post(f"{address}begin/", {"setup": "main"}).status_code == 403
    told = ada.get(address, {"setup": "main"})
    assert b"data-prove" in told.content and b"data-picture" not in told.content
    assert b"data-stop-proof" in ada.post(f"{address}begin/", {"setup": "main"}).content
    work = Work.objects.get(kind="proof")
    assert ada.post(f"{address}begin/", {"setup": "main"}).status_code == 200
    assert Work.objects.filter(kind="proof").count() == 1  # the same state is proved once
    assert ada.get(f"{address}{work.pk}/mixed.jpg").status_code == 404  # not settled yet
    _, (pk, kind, job) = NoThread.jobs[-1]
    services._work(pk, kind, {**job, "width": 96, "samples": 4})
    work.refresh_from_db()
    assert work.state == Work.DONE
    (proof,) = json.loads(work.told)
    assert [g["light"] for g in proof["groups"]] == ["window", "grid"]
    assert proof["size"] == [96, 64] and decoded(proof["picture"]).shape[:2] == (64, 96)
    page = ada.get(address, {"setup": "main"}).content.decode()
    assert "settled" in page and page.count("data-mix=") == 2 and "data-picture=" in page
    usual, dimmed = (
        cv2.imdecode(np.frombuffer(ada.get(f"{address}{work.pk}/mixed.jpg", q).content, np.uint8), 1).astype(float)
        for q in ({}, {"s-window": "-6"})
    )
    assert np.abs(usual - decoded(proof["picture"])[..., :3]).mean() < 6  # mixed as it was shown
    assert usual.mean() - dimmed.mean() > 5
    assert ada.get(f"{address}{work.pk}/mixed.jpg", {"s-window": "bright"}).status_code == 400
    assert proof["cards"] == [] and "data-swap" not in page
    hand.do("light-set", id="window", field="stops", value="1")
    assert b"data-picture" not in ada.get(address, {"setup": "main"}).content  # of another state there is none


def test_a_card_in_a_proof_is_swapped_without_a_new_one(row, ada, hand, monkeypatch):
    pytest.importorskip("mitsuba")
    monkeypatch.setattr(services, "threading", NO_THREADS)
    hand.do("light-add", what="window")
    hand.do("light-add", what="white-card")
    (card,) = hand.document["cards"]
    ada.post(f"/scenes/{row.pk}/proof/begin/", {"setup": "main"})
    work = Work.objects.get(kind="proof")
    _, (pk, kind, job) = NoThread.jobs[-1]
    services._work(pk, kind, {**job, "width": 96, "samples": 16})
    work.refresh_from_db()
    (proof,) = json.loads(work.told)
    assert work.state == Work.DONE and proof["words"] == "settled, 16 samples"
    assert [c["id"] for c in proof["cards"]] == [card["id"]]
    page = ada.get(f"/scenes/{row.pk}/proof/", {"setup": "main"}).content.decode()
    assert page.count("data-swap=") == 1 and "white card in the proof: swapped for another" in page
    # what a morph must not touch has a name, or another is put in its place
    assert all(" id=" in tag for tag in re.findall(r"<[^>]*data-cared-for[^>]*>", page))

    def mean(**asked: str) -> float:
        content = ada.get(f"/scenes/{row.pk}/proof/{work.pk}/mixed.jpg", asked).content
        return float(cv2.imdecode(np.frombuffer(content, np.uint8), 1).mean())

    own = f"c-{card['id']}"
    usual, white, grey, black = (mean(**{own: what}) for what in ("", "white", "grey", "black"))
    assert usual == pytest.approx(white, abs=0.2)
    assert white - 0.3 > grey > black + 0.3
    assert mean(**{own: "violet", "c-nobody": "black"}) == usual  # what is not offered changes nothing
    assert mean(**{own: "black", "s-window": "-6"}) == mean(**{"s-window": "-6"})  # without a light the card gives nothing


def test_a_proof_begins_with_what_the_drawn_light_is_exposed_for(lit, row, ada, hand, monkeypatch):
    def job() -> dict:
        with monkeypatch.context() as patched:
            patched.setattr(services, "threading", NO_THREADS)
            ada.post(f"/scenes/{row.pk}/proof/begin/", {"setup": "main"})
        return NoThread.jobs[-1][1][2]

    hand.do("light-add", what="window")
    assert "exposed" not in job()  # nobody has drawn its light yet
    hand.do("light-add", what="white-card")
    drawn = ada.get(f"/scenes/{row.pk}/light/", {"setup": "main"}).json()
    assert "exposed" not in drawn  # the browser has no use for it
    exposed = job()["exposed"]
    row.refresh_from_db()
    whole = read_scene(row.document.encode())
    assert np.pi / np.array(exposed) == pytest.approx(exposure_of(Picture(whole, whole.setups[0])), rel=0.06)


def test_strewn_pieces_are_lit_and_leaves_keep_their_colour():
    strewn = {"kind": "scatter", "width": 120, "depth": 90, "piece_diameter": 12, "pieces": 8, "seed": 3}
    for texture, is_lit in (("smooth", True), ("leafy", False)):
        value = table([LAMP], [thing(1, strewn, 450, 300, role="hero")])
        value["props"][0]["texture"] = texture
        found = clips(picture(value))
        assert ("p1" in found["frame_clip"]) is is_lit and ("p1" in found["table_clip"]) is is_lit


def test_a_proof_that_is_stopped_keeps_what_there_was(row, ada, monkeypatch):
    monkeypatch.setattr(services, "threading", NO_THREADS)
    ada.post(f"/scenes/{row.pk}/proof/begin/", {"setup": "main"})
    work = Work.objects.get(kind="proof")
    assert ada.post(f"/scenes/{row.pk}/proof/{work.pk}/stop/").status_code == 200
    _, (pk, kind, job) = NoThread.jobs[-1]
    began = time.monotonic()
    services._work(pk, kind, {**job, "width": 96})
    work.refresh_from_db()
    assert work.state == Work.STOPPED and time.monotonic() - began < 20
    assert ada.post(f"/scenes/{row.pk}/proof/{work.pk + 1}/stop/").status_code == 404


def test_without_the_renderer_it_says_what_is_missing(row, ada, monkeypatch):
    monkeypatch.setattr("tideflat.web.scenes.views.proving.may_prove", lambda: False)
    answer = ada.post(f"/scenes/{row.pk}/proof/begin/", {"setup": "main"})
    assert b"not installed yet" in answer.content and not Work.objects.filter(kind="proof").exists()


def test_a_proof_of_another_studio_is_not_there(row, olu):
    assert olu.get(f"/scenes/{row.pk}/proof/").status_code == 404
    assert olu.get(f"/scenes/{row.pk}/light/").status_code == 404


def test_what_a_proof_needs_is_installed_beside_the_demo_only_where_it_is_missing(tmp_path, monkeypatch):
    from tideflat.web.upkeep import proof_parts

    begun = []
    monkeypatch.setattr(proof_parts.subprocess, "Popen", lambda command: begun.append(command))
    wanted = tmp_path / "proof.txt"
    for missing, there, is_begun in ((True, True, True), (False, True, False), (True, False, False)):
        begun.clear()
        wanted.unlink(missing_ok=True)
        if there:
            wanted.write_text("")
        monkeypatch.setattr(proof_parts, "are_missing", lambda missing=missing: missing)
        proof_parts.install_beside(str(wanted))
        assert bool(begun) == is_begun
    proof_parts.install_beside("")
    assert not begun


@pytest.mark.django_db(transaction=True)
def test_a_proof_stops_within_a_second_or_so_however_long_its_pass_is(row):
    """Real threads: the job is at a picture of 2 000 pixels, whose passes take many seconds, when it is told to stop."""
    pytest.importorskip("mitsuba")
    job = {"document": row.document, "setup": "main", "skins": {}, "width": 2000, "samples": 64}
    work = services.begin(row.studio, "proof", row.pk, job)
    until = time.monotonic() + 40
    while Work.objects.get(pk=work.pk).share < 0.02 and time.monotonic() < until:
        time.sleep(0.1)
    time.sleep(2)  # it is in the middle of something
    services.stop(work)
    began = time.monotonic()
    while Work.objects.get(pk=work.pk).is_under_way and time.monotonic() < began + 20:
        time.sleep(0.05)
    assert Work.objects.get(pk=work.pk).state == Work.STOPPED
    assert time.monotonic() - began < 5  # about half a second on an idle machine


def test_what_stands_in_the_picture_is_outlined_in_the_frame():
    """A card beside the hero, one outside the frame, one behind the backdrop."""
    camera = {"elevation": 40, "aim": [450, 300, 30], "distance": 1100}
    card = {"id": "card", "kind": "white", "at": [600, 300, 60], "toward": [-1, 0.4, 0], "width": 100, "height": 120}
    drop = {"kind": "upright", "y": 700, "x": 450, "width": 2000, "height": 900}

    def outlined(**more):
        seen = picture(table([LAMP], [], camera=camera, **more))
        return [(found["list"], found["name"]) for found in lights_seen(seen, frame_sheet(seen.view, "f"))]

    assert outlined(cards=[card]) == [("cards", "card")]
    assert outlined(cards=[{**card, "at": [1500, 300, 60]}]) == []
    assert outlined(cards=[{**card, "at": [450, 800, 60], "toward": [0, -1, 0]}], backdrop=drop) == []
    assert outlined(rig=[{"id": "flag", "kind": "flag", "at": [300, 300, 0], "toward": [1, 0, 0], "width": 100, "depth": 5, "height": 100}]) == [("rig", "flag")]


def test_a_light_of_the_kit_is_kept_checked_and_set_up_with_its_sizes(row, ada, hand, studio):
    form = {"name": "Round spot 200", "kind": "grid", "width_mm": "200", "height_mm": "200", "is_round": "on", "beam_deg": "30", "kelvin": "3200"}
    assert ada.post(reverse("new_kit_item", args=["light"]), form).status_code == 302
    for wrong in ({"kelvin": "400"}, {"beam_deg": "200"}, {"width_mm": "0"}, {"kind": "candle"}):
        assert ada.post(reverse("new_kit_item", args=["light"]), {**form, **wrong}).status_code == 400
    own = StoreLight.objects.get(studio=studio, name="Round spot 200")
    assert "Round spot 200" in ada.get(reverse("kit")).content.decode()
    assert hand.do("light-add", what=f"own-light-{own.pk}").status_code == 200
    found = lights(hand)["round-spot-200"]
    assert (found["width"], found["round"], found["beam"], found["kelvin"]) == (200, True, 30, 3200)
    hand.do("light-add", what=f"own-light-{own.pk}")
    assert "round-spot-200-2" in lights(hand)


def test_a_card_of_the_kit_and_none_of_another_studio(row, ada, hand, studio):
    card = StoreCard.objects.create(studio=studio, name="green board", kind="colour", width_mm=310, height_mm=220, colour="#88aa77")
    foreign = StoreLight.objects.create(studio=Studio.objects.create(name="other"), name="theirs", width_mm=100, height_mm=100)
    assert hand.do("light-add", what=f"own-card-{card.pk}").status_code == 200
    (found,) = json.loads(Scene.objects.get(pk=row.pk).document)["cards"]
    assert (found["id"], found["kind"], found["colour"], found["width"]) == ("green-board", "tint", "#88aa77", 310)
    for wrong in (f"own-light-{foreign.pk}", "own-light-", "own-card-999999", "own-hat-1"):
        assert hand.do("light-add", what=wrong).status_code == 400


@pytest.mark.parametrize("clock", ["2026-06-21T16:00:00+01:00", "20260621T160000+0100"])
def test_the_day_of_a_sun_is_told_however_its_time_is_written(lit, row, ada, hand, clock):
    hand.do("room-lies", field="north", value="90")
    hand.do("light-add", what="sun")
    assert hand.do("light-set", id="sun", field="time", value=clock).status_code == 200
    assert "looked at: 16:00" in asked(ada, row, told=1).json()["told"]
