"""The frame's tools on the bench: which lens, the fit, what is sharp, exposure, registration, the plan out to the set."""

from __future__ import annotations

import io
import json
import re

import pytest
from django.urls import reverse
from PIL import Image

from tideflat.core.evaluate import Picture
from tideflat.core.frame.fit import room_in, share_filled
from tideflat.core.frame.hold_sharp import hold_sharp
from tideflat.core.frame.lens_chart import lens_chart
from tideflat.core.model import Lens
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import core_scene
from tideflat.web.stores.models import CameraBody, StoreLens, StoreSupport
from tideflat.web.stores.queries import kit_of


def picture_now(hand) -> Picture:
    scene = core_scene(Scene.objects.get(pk=hand.pk))
    return Picture(scene, scene.setups[0])


def tray(client, hand, name, **asked) -> str:
    response = client.get(f"/scenes/{hand.pk}/tray/", {"tray": name, "setup": "main", **asked})
    assert response.status_code == 200
    return response.content.decode().replace("\u202f", "").replace("&#x27;", "'")


def test_the_chart_shows_every_lens_with_what_stands_in_its_way_and_a_press_takes_it(hand, ada, studio):
    page = tray(ada, hand, "lenses")
    rows = lens_chart(picture_now(hand), kit_of(studio))
    assert page.count('class="lens-mark') == sum(r.camera is not None for r in rows)
    assert page.count('data-do="take-lens"') >= 2 * sum(r.camera is not None and "rig.ceiling" not in r.walls and "rig.reach" not in r.walls for r in rows) - 4
    assert "under the ceiling there is no room" in page or "no support of yours" in page
    chosen = next(r for r in rows if (r.body, r.lens) == ("half-frame body", "35 mm f/2"))
    assert hand.do("take-lens", body="half-frame body", lens="35 mm f/2").status_code == 200
    now = picture_now(hand).setup.camera
    assert now.sensor.width == 23.5 and now.lens.focal_length == 35
    assert now.distance == pytest.approx(chosen.camera.distance, abs=1e-3)
    assert hand.words(1) == "camera: 35 mm f/2 on half-frame body"


def test_a_lens_that_is_not_there_cannot_be_taken(hand):
    answer = hand.do("take-lens", body="half-frame body", lens="1200 mm f/2")
    assert answer.status_code == 400 and "Lens must be one that the studio has" in answer.content.decode()


def test_an_empty_kit_still_answers(hand, ada, studio):
    StoreLens.objects.filter(studio=studio).delete()
    CameraBody.objects.filter(studio=studio).delete()
    StoreSupport.objects.filter(studio=studio).delete()
    assert "0 of 0 lenses" in tray(ada, hand, "lenses")


def test_the_camera_is_fitted_to_what_is_in_hand(hand, ada):
    assert 'name="ids" value="p1"' in tray(ada, hand, "lenses", selected="p1")
    assert hand.do("fit", ids="p1", percent="30", crop="feed", elevation="60").status_code == 200
    now = picture_now(hand)
    assert now.setup.camera.elevation == 60
    assert share_filled(now.setup.camera, (now.bodies["p1"],), room_in(now, "feed")) == pytest.approx(0.3, abs=1e-4)


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({"ids": "p1", "percent": "99", "crop": "feed"}, "focuses no nearer"),
        ({"ids": "", "percent": "50"}, "must name one thing"),
        ({"ids": "p1", "percent": "0"}, "must be from 1 to 100"),
        ({"ids": "p1", "percent": "50", "crop": "poster"}, "must be one of the set-up's deliverables"),
        ({"ids": "p1", "percent": "50", "elevation": "120"}, "must be from -10 to 90"),
    ],
)
def test_a_fit_that_cannot_be_says_why_and_changes_nothing(hand, values, says):
    before = hand.document
    answer = hand.do("fit", **values)
    assert answer.status_code == 400
    assert says in answer.content.decode().replace("&#x27;", "'")
    assert hand.document == before


def fit_told(client, hand, **asked):
    answer = client.get(reverse("fit_told", args=[hand.pk]), {"setup": "main", **asked})
    assert answer.status_code == 200
    return answer.content.decode()


def test_a_fit_tells_what_it_would_do_and_where_it_cannot_the_nearest_is_taken_by_a_press(hand, ada):
    told = fit_told(ada, hand, ids="p1", percent="30", crop="feed")
    assert "away" in told and "nearest" not in told
    hand.do("room", field="ceiling", value="1700")
    hand.do("camera", field="distance", value="700")
    told = fit_told(ada, hand, ids="p1 p2 p3 p4", percent="90")
    assert "in the ceiling" in told and "Take the nearest" in told and "A lens of" in told
    assert "Lay the surface on the floor" in told
    answer = hand.do("fit", ids="p1 p2 p3 p4", percent="90", nearest="yes")
    assert answer.status_code == 200
    now = picture_now(hand)
    assert 0 <= now.ceiling_clearance < 1
    hand.do("room", field="table", value="0")
    assert "Take the nearest" not in fit_told(ada, hand, ids="p1 p2 p3 p4", percent="90")


def test_a_wrong_fit_is_told_in_its_place(hand, ada):
    assert "from 1 to 100" in fit_told(ada, hand, ids="p1", percent="0")
    assert "must name one thing" in fit_told(ada, hand, ids="", percent="50")


def test_what_is_sharp_is_told_thing_by_thing_and_held_by_a_press(hand, ada):
    hand.do("camera", field="aperture", value="1.8")
    page = tray(ada, hand, "sharp", selected="p4")
    assert "At f/1.8, focused" in page and "Hold the bottle sharp" in page and "a blur" in page
    page = tray(ada, hand, "sharp", selected="p1")
    assert "As the stop is set it cannot be: at f/1.8" in page and "Set it so" in page
    hand.do("camera", field="aperture", value="8")
    assert "As the stop is set" not in tray(ada, hand, "sharp", selected="p1")
    hand.do("camera", field="aperture", value="22")
    assert "nothing is sharp" in tray(ada, hand, "sharp") or "diffraction" in tray(ada, hand, "sharp") or "sharp all over" in tray(ada, hand, "sharp")
    assert hand.do("hold-sharp", ids="p1", way="once").status_code == 200
    now = picture_now(hand)
    assert not [f for f in tray(ada, hand, "sharp").split("<tr") if 'data-line="p1"' in f and "sharp all over" not in f]
    assert now.setup.camera.focus is not None


def test_a_tilt_is_set_and_taken_back(hand, ada):
    hand.do("camera", field="elevation", value="30")
    hand.do("camera", field="distance", value="800")
    assert hand.do("hold-sharp", ids="p2 p6 p8", way="tilt").status_code == 200
    lens: Lens = picture_now(hand).setup.camera.lens
    assert 0 < lens.tilt <= 8.1
    assert "Straighten it" in tray(ada, hand, "sharp")
    shown = picture_now(hand)
    able = next(i for i in shown.silhouettes if hold_sharp(shown, (i,)).at_once is not None)
    assert hand.do("hold-sharp", ids=able, way="once").status_code == 200
    assert picture_now(hand).setup.camera.lens.tilt == 0  # one frame is promised of the straight lens
    hand.do("hold-sharp", ids="p2 p6 p8", way="tilt")
    assert hand.do("hold-sharp", way="straight").status_code == 200
    assert picture_now(hand).setup.camera.lens.tilt == 0


def test_focus_is_slid_and_followed_without_being_kept(hand, ada):
    before = hand.document
    revision = Scene.objects.get(pk=hand.pk).revision
    answer = ada.get(f"/scenes/{hand.pk}/follow/camera/", {"field": "aperture", "value": "4", "setup": "main", "revision": revision})
    assert answer.status_code == 200 and hand.document == before
    told = json.loads(re.search(r'data-sharp="([^"]*)"', answer.content.decode())[1].replace("&quot;", '"').replace("&#x27;", "'"))
    assert "At f/4" in told["words"] and set(told) == {"table", "frame", "words", "things"} and told["things"]["p1"][0] in ("sharp", "partly", "soft")
    assert hand.do("camera", field="focus_distance", value="1000").status_code == 200
    assert picture_now(hand).view.lens.distance == pytest.approx(1000, abs=0.1)


@pytest.mark.parametrize(("typed", "seconds"), [("1/125", 0.008), ("1 / 60 s", 1 / 60), ("0.5", 0.5), ("2s", 2), ("0,25", 0.25)])
def test_times_are_typed_as_they_stand_on_a_camera(hand, typed, seconds):
    assert hand.do("exposure", time=typed, iso="400", handheld="on").status_code == 200
    kept = hand.document["setups"][0]["exposure"]
    assert kept["time_s"] == pytest.approx(seconds) and kept["iso"] == 400 and kept["handheld"] is True and kept["flash"] is False
    assert hand.do("exposure", time="").status_code == 200
    assert "exposure" not in hand.document["setups"][0]


@pytest.mark.parametrize(("values", "says"), [({"time": "fast"}, "Time must be a time"), ({"time": "1/0"}, "Time must be"), ({"time": "1/60", "iso": "0"}, "must be from 1")])
def test_a_time_that_is_none_says_so(hand, values, says):
    answer = hand.do("exposure", **values)
    assert answer.status_code == 400 and says in answer.content.decode()


def test_what_moves_says_how_long_it_may_be_exposed(hand, ada):
    hand.do("camera", field="elevation", value="10")
    assert hand.do("motion", id="p5", kind="pour", height="20 cm").status_code == 200
    assert hand.placement("p5")["motion"] == {"speed": 1981, "toward": [0, 0, -1]}
    hand.do("exposure", time="1/60")
    page = tray(ada, hand, "sharp")
    assert re.search(r"The \w+ moves: 1/\d+ s, or a flash as short, holds it still in feed", page) and "smears over" in page
    assert hand.do("motion", id="p5", kind="still").status_code == 200
    assert "motion" not in hand.placement("p5")
    assert hand.do("motion", id="p5", kind="pour", height="0").status_code == 400


def test_registration_lays_guides_on_the_outline_and_takes_them_away(hand):
    box = picture_now(hand).things["p1"].box
    hand.do("register", id="p1")
    guides = hand.document["setups"][0]["guides"]
    laid = [(g["axis"], g["at"]) for g in guides if g.get("of") == "p1"]
    assert laid == [("u", pytest.approx(box[0], abs=1e-6)), ("u", pytest.approx(box[2], abs=1e-6)), ("v", pytest.approx(box[1], abs=1e-6)), ("v", pytest.approx(box[3], abs=1e-6))]
    index = next(k for k, g in enumerate(guides) if g.get("of") == "p1")
    refused = hand.do("guide", index=index, at="0.5")
    assert refused.status_code == 400 and "locked" in refused.content.decode()
    hand.do("guide", index=index, lock="no")
    assert hand.do("guide", index=index, at="0.5").status_code == 200
    hand.do("register", id="p1")
    assert not [g for g in hand.document["setups"][0]["guides"] if g.get("of") == "p1"]


@pytest.mark.parametrize(("asked", "size"), [("6000x4000", (6000, 4000)), ("1920x1280", (1920, 1280))])
def test_the_overlay_has_just_the_pixels_that_are_asked_for(hand, ada, asked, size):
    answer = ada.get(f"/scenes/{hand.pk}/overlay/", {"setup": "main", "pixels": asked, "kind": "png", "crop": "feed", "part": ["crops", "outlines"], "outlines": "#ff0000"})
    assert answer.status_code == 200 and answer["Content-Type"] == "image/png"
    assert 'filename="' in answer["Content-Disposition"] and "overlay.png" in answer["Content-Disposition"]
    with Image.open(io.BytesIO(answer.content)) as image:
        assert image.size == size and image.mode == "RGBA"


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({"pixels": "1080x1350", "kind": "png"}, "must have the frame's own shape"),
        ({"pixels": "big", "kind": "png"}, "must be WIDTHxHEIGHT"),
        ({"pixels": "0x0", "kind": "png"}, "must be WIDTHxHEIGHT"),
        ({"pixels": "30000x20000", "kind": "png"}, "megapixels"),
        ({"pixels": "600x400", "kind": "gif"}, "must be one of"),
        ({"pixels": "600x400", "kind": "svg", "crop": "poster"}, "must be one of the set-up's deliverables"),
        ({"pixels": "600x400", "kind": "svg", "guides": "url(#x)"}, "must be a colour"),
    ],
)
def test_an_overlay_that_cannot_be_says_why(hand, ada, values, says):
    answer = ada.get(f"/scenes/{hand.pk}/overlay/", values)
    assert answer.status_code == 400 and says in answer.content.decode().replace("&#x27;", "'")


def test_beside_the_camera_the_frame_follows_and_is_silent_while_nothing_changes(hand, ada):
    page = ada.get(f"/scenes/{hand.pk}/beside-the-camera/", {"setup": "main"}).content.decode()
    again = re.search(r'hx-get="([^"]+)"', page)[1].replace("&amp;", "&")
    assert "every 2s" in page and ada.get(again).status_code == 204
    hand.do("move", id="p1", x=470, y=310)
    fresh = ada.get(again)
    assert fresh.status_code == 200 and b"<html" not in fresh.content and b'id="beside"' in fresh.content


def test_a_viewer_sees_the_tools_and_changes_nothing(hand, ada, studio):
    from tideflat.web.accounts.models import Membership

    Membership.objects.filter(studio=studio).update(role="viewer")
    for name in ("lenses", "sharp", "overlays"):
        assert "data-do=" not in tray(ada, hand, name) and "data-slide" not in tray(ada, hand, name)
    assert hand.do("exposure", time="1/60").status_code == 403


@pytest.mark.parametrize("keep", ["base", "top_line", "centre"])
def test_a_jar_of_92_takes_the_place_of_one_of_76_and_the_line_that_is_chosen_stays(hand, ada, studio, keep):
    from tideflat.web.stores.models import StoreProp

    large = StoreProp.objects.filter(studio=studio).first()
    large.shape, large.name = {"kind": "cylinder", "diameter": 92, "height": 110}, "large jar"
    large.save()
    before = picture_now(hand)
    assert before.bodies["p1"].shape.sides()[0] == 76
    assert "wider" in tray(ada, hand, "store", place="p1") and 'id="swap-keep"' in tray(ada, hand, "store", place="p1")
    assert hand.do("swap", id="p1", item=large.pk, keep=keep).status_code == 200
    after = picture_now(hand)
    assert after.bodies["p1"].shape.sides()[0] == 92
    was, now = before.things["p1"].box, after.things["p1"].box
    depth = float((after.bodies["p1"].centroid - after.view.position) @ after.view.forward)
    tenth = 0.1 * after.view.principal_distance / depth / after.view.frame_height
    if keep == "base":
        assert (hand.placement("p1")["x"], hand.placement("p1")["y"]) == (430, 310)
    elif keep == "top_line":
        assert now[1] == pytest.approx(was[1], abs=tenth)
    else:
        assert (now[1] + now[3]) / 2 == pytest.approx((was[1] + was[3]) / 2, abs=tenth)


@pytest.fixture
def no_thread(monkeypatch):
    from tests.web.test_proposing import NoThread
    from tideflat.web.work import services

    NoThread.jobs.clear()
    monkeypatch.setattr(services.threading, "Thread", NoThread)
    return NoThread


def test_one_frame_for_all_is_looked_for_as_a_job_told_and_taken(hand, ada, no_thread):
    from tideflat.web.work import services
    from tideflat.web.work.models import Work

    hand.do("deliverable", name="wide", ratio="16:9")
    address = f"/scenes/{hand.pk}/one-frame/"
    assert "Look for one frame for all" in ada.get(address, {"setup": "main"}).content.decode()
    assert 'id="one-frame"' in tray(ada, hand, "deliverables")
    assert "<progress" in ada.post(address + "look/", {"setup": "main"}).content.decode()
    ada.post(address + "look/", {"setup": "main"})
    assert len(no_thread.jobs) == 1
    _, (pk, kind, job) = no_thread.jobs[-1]
    services._work(pk, kind, job)
    found = Work.objects.get(pk=pk)
    assert found.state == Work.DONE
    page = ada.get(address, {"setup": "main"}).content.decode()
    told = json.loads(found.told)[0]
    assert "One frame for all: now" in page and {d["name"] for d in told["dropped"]} == {"feed", "wide"}
    if "Frame it so" in page:
        assert hand.do("take-frame", work=pk).status_code == 200
        camera = hand.document["setups"][0]["camera"]
        assert camera["distance"] == told["distance"] and camera["aim"] == told["aim"]
        assert hand.words(2) == "one frame for 2 deliverables"
    hand.do("move", id="p1", x=470, y=310)
    assert "Look for one frame" in ada.get(address, {"setup": "main"}).content.decode()  # another state
    assert hand.do("take-frame", work=pk).status_code == 400


def test_a_job_without_a_hero_says_so(hand, ada, no_thread):
    from tideflat.web.work import services

    hand.do("role", id="p1", role="support")
    ada.post(f"/scenes/{hand.pk}/one-frame/look/", {"setup": "main"})
    _, (pk, kind, job) = no_thread.jobs[-1]
    services._work(pk, kind, job)
    assert "must be in the picture" in ada.get(f"/scenes/{hand.pk}/one-frame/", {"setup": "main"}).content.decode()


def test_set_ups_stand_side_by_side_with_what_it_costs_and_lie_over_each_other(hand, ada):
    hand.do("setup-add")
    name = hand.document["setups"][1]["name"]
    hand.do("camera", setup=name, field="elevation", value="30")
    page = ada.get(f"/scenes/{hand.pk}/set-ups/", {"setup": "main"}).content.decode()
    assert page.count("data-setup=") == 2 and "turned 60.0°" in page and "data-loop" not in page
    over = ada.get(f"/scenes/{hand.pk}/set-ups/over/", {"setup": "main", "name": name}).content.decode()
    assert 'data-over="frame"' in over and "elevation" in over
    assert ada.get(f"/scenes/{hand.pk}/set-ups/over/", {"setup": "main", "name": "none"}).status_code == 404
    assert "Set-ups side by side" in tray(ada, hand, "versions")


def test_one_set_up_alone_says_how_another_is_begun(hand, ada):
    assert "There is one set-up" in ada.get(f"/scenes/{hand.pk}/set-ups/").content.decode()


def test_guides_run_along_an_edge_and_divide_a_crop(hand):
    assert hand.do("along", id="p2").status_code == 200
    laid = hand.document["setups"][0]["guides"][-1]
    assert laid["of"] == "p2" and laid["from"] != laid["to"]
    assert hand.do("along", id="p1").status_code == 400  # round
    box = picture_now(hand).crops[0].box
    hand.do("divide", across="4", down="2", crop="feed")
    guides = hand.document["setups"][0]["guides"][-4:]
    assert [g["at"] for g in guides[:3]] == pytest.approx([box[0] + (box[2] - box[0]) * k / 4 for k in (1, 2, 3)], abs=1e-6)
    assert guides[3]["axis"] == "v"
    assert hand.do("divide", across="1", down="1").status_code == 400 and hand.do("divide", across="13").status_code == 400


def test_detail_views_of_what_is_named_are_begun(hand):
    hand.do("feature", id="p2", name="grain", side="top", width="4 cm", height="20", up="9")
    assert hand.do("details", id="p2").status_code == 200
    assert hand.document["setups"][-1]["name"] == "detail, grain"
    assert hand.do("details", id="p2").status_code == 400
