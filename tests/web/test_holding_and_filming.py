"""What holds the camera, what moves, what is trimmed and streaks, and teleconverters: through the interface."""

from __future__ import annotations

import pytest
from django.urls import reverse

from tideflat.core.evaluate import Picture
from tideflat.core.moving import moving
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import core_scene
from tideflat.web.stores.models import CameraBody, StoreConverter, StoreProp, StoreSupport
from tideflat.web.stores.queries import kit_of

pytestmark = pytest.mark.django_db


def picture_now(hand) -> Picture:
    scene = core_scene(Scene.objects.get(pk=hand.pk))
    return Picture(scene, scene.setups[0])


def tray(client, hand, name, **asked) -> str:
    return client.get(f"/scenes/{hand.pk}/tray/", {"tray": name, **asked}).content.decode()


def test_what_holds_the_camera_is_chosen_from_the_kit_and_judged(hand, ada, studio):
    StoreSupport.objects.create(studio=studio, name="short legs", lowest_mm=100, highest_mm=600)
    assert hand.do("support", name="short legs").status_code == 200
    held = picture_now(hand).setup.support
    assert held is not None and held.name == "short legs"
    page = tray(ada, hand, "camera")
    assert '<option value="short legs" selected>' in page
    assert "The short legs does not rise so high" in page or "short legs" in ada.get(f"/scenes/{hand.pk}/").content.decode()
    assert hand.do("support", name="no such").status_code == 400
    assert hand.do("support", name="").status_code == 200
    assert picture_now(hand).setup.support is None


def test_a_support_that_is_no_longer_in_the_kit_stays_chosen(hand, ada, studio):
    hand.do("support", name="rolling column")
    StoreSupport.objects.filter(studio=studio, name="rolling column").delete()
    assert '<option selected value="rolling column">' in tray(ada, hand, "camera")


def test_a_film_is_asked_for_and_a_rim_is_kept_when_something_else_is_changed(hand, ada):
    feed = {"was": "feed", "name": "feed", "ratio": "4:5"}
    assert hand.do("deliverable", **feed, bleed="3", safe="5", moves="25").status_code == 200
    made = picture_now(hand).setup.deliverables[0]
    assert (made.bleed, made.safe, made.moves) == (0.03, 0.05, 25)
    assert hand.do("deliverable", **feed, scale="80").status_code == 200  # a form of before, without these fields
    made = picture_now(hand).setup.deliverables[0]
    assert (made.bleed, made.safe, made.moves) == (0.03, 0.05, 25)
    hand.do("deliverable", **feed, bleed="", safe="", moves="")
    made = picture_now(hand).setup.deliverables[0]
    assert (made.bleed, made.safe, made.moves) == (0, 0, None)
    for wrong in ({"bleed": "21"}, {"safe": "-1"}, {"moves": "0.5"}, {"moves": "x"}):
        assert hand.do("deliverable", **feed, **wrong).status_code == 400


def test_the_starter_bodies_read_less_for_films(hand, ada, studio):
    body = CameraBody.objects.get(studio=studio, name="half-frame body")
    hand.do("body", item=body.pk)
    hand.do("deliverable", was="feed", name="feed", ratio="16:9", moves="25")
    crop = picture_now(hand).crops[0]
    assert crop.pixels == (3840, 2160)
    assert crop.box[2] - crop.box[0] == pytest.approx(21.6 / 23.5)


def test_a_streak_that_is_wanted_sets_the_time(hand, ada):
    hand.do("motion", id="p1", kind="pour", height="200")
    page = tray(ada, hand, "sharp", selected="p1")
    assert "Or let it streak over" in page
    assert hand.do("exposure", id="p1", streak="80").status_code == 200
    now = picture_now(hand)
    found = moving(now, "p1")
    assert found is not None and now.setup.exposed is not None
    assert found.pixels_s * now.setup.exposed.time_s == pytest.approx(80, rel=5e-3)
    for wrong in ({"id": "p1", "streak": "0.5"}, {"id": "p1", "streak": "20001"}, {"id": "p2", "streak": "40"}):
        assert hand.do("exposure", **wrong).status_code == 400


def test_a_teleconverter_stands_in_the_chart_and_is_taken_with_its_lens(hand, ada, studio):
    page = tray(ada, hand, "lenses")
    assert "100 mm close-up f/2.8 with 1.4x converter" in page
    answer = hand.do("take-lens", body="full-frame body", lens="85 mm f/1.8 with 1.4x converter")
    assert answer.status_code == 200, answer.content.decode()[:400]
    lens = picture_now(hand).setup.camera.lens
    assert lens.focal_length == pytest.approx(119) and lens.converter is not None and lens.max_aperture == pytest.approx(2.52)
    form = {"name": "2x", "factor": "2", "length_mm": "35 mm", "shortest_mm": "100"}
    assert ada.post(reverse("new_kit_item", args=["converter"]), form).status_code == 302
    assert StoreConverter.objects.get(studio=studio, name="2x").factor == 2
    assert [c.shortest for c in kit_of(studio).converters] == [85, 100]
    for wrong in ({"factor": "1"}, {"factor": "5"}, {"length_mm": "-1"}):
        assert ada.post(reverse("new_kit_item", args=["converter"]), {**form, **wrong}).status_code == 400


def test_a_body_is_told_all_of_what_it_reads_for_films_or_nothing(ada, studio):
    form = {"name": "b", "sensor_width_mm": "36 mm", "sensor_height_mm": "24 mm", "pixels_wide": "6000", "pixels_high": "4000"}
    part = {"moving_width_mm": "32 mm", "moving_height_mm": "18 mm", "moving_pixels_wide": "3840", "moving_pixels_high": "2160"}
    address = reverse("new_kit_item", args=["body"])
    assert ada.post(address, {**form, **part, "moving_height_mm": ""}).status_code == 400
    assert ada.post(address, {**form, **part, "moving_width_mm": "37 mm"}).status_code == 400
    assert ada.post(address, {**form, **part}).status_code == 302
    body = next(b for b in kit_of(studio).bodies if b.name == "b")
    assert body.sensor.moving is not None and body.sensor.moving.width == 32


def test_a_range_is_framed_alike_and_its_details_stay(hand, ada, studio):
    refused = hand.do("series")
    assert refused.status_code == 400 and "another article" in refused.content.decode()
    hand.do("setup-add", name="large")
    hand.do("setup-add", name="wide")
    larger = StoreProp.objects.filter(studio=studio, key__contains="marmalade-jar-large").first()
    assert hand.do("swap", setup="large", only="1", id="p1", item=larger.pk).status_code == 200
    for name in ("large", "wide"):
        hand.do("camera", setup=name, field="distance", value="1300 mm")
    assert hand.do("series", setup="main").status_code == 200
    by_name = {s["name"]: s["camera"]["distance"] for s in hand.document["setups"]}
    assert by_name["large"] == by_name["main"] != by_name["wide"]
    page = ada.get(reverse("set_ups_beside", args=[hand.pk])).content.decode()
    assert "main, large: a series." in page
    hand.do("camera", setup="large", field="aim_x", value="+20")
    assert "no series yet: they differ in middle" in ada.get(reverse("set_ups_beside", args=[hand.pk])).content.decode()
