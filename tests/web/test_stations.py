"""Brief, references, the day and what is kept for it, palette, what if: each gives something back, and each is the studio's own."""

from __future__ import annotations

import html
import io
import json
import re
from dataclasses import replace
from datetime import date

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from tests.conftest import Hand
from tests.support.scenes import scene_value
from tideflat.core.formats.palettes import read_palette
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.scenes.models import Reference, Reservation, Scene
from tideflat.web.scenes.services.history import begin_scene, core_scene
from tideflat.web.scenes.services.reservations import falls_short, set_day
from tideflat.web.scenes.starters import starter
from tideflat.web.stores.models import StoreLens, StoreProp, StoreSurface
from tideflat.web.stores.queries import core_lens, core_sensor, core_stores


def text_of(response) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", response.content.decode())))


def tray(client, row, kind: str, **more) -> str:
    return text_of(client.get(f"/scenes/{row.pk}/tray/", {"tray": kind, **more}))


def send(client, row, colour=(200, 120, 40), name="ref.png", second=None):
    pixels = np.full((200, 300, 3), colour, np.uint8)
    if second is not None:
        pixels[:60] = second
    kept = io.BytesIO()
    Image.fromarray(pixels).save(kept, "PNG")
    return client.post(f"/scenes/{row.pk}/references/", {"picture": SimpleUploadedFile(name, kept.getvalue()), "tray": "brief"})


@pytest.fixture
def supper(studio) -> Scene:
    return begin_scene(studio, starter("supper"), None, "laid out")


# ---- the brief


def test_a_scene_begins_with_what_it_is_for_and_one_sentence(ada, studio):
    studio.leanings = {"shadow": 1}
    studio.save()
    answer = ada.post("/scenes/new/", {"use": "site banner", "story": "Nobody is up yet."})
    row = Scene.objects.latest("pk")
    assert answer["Location"] == f"/scenes/{row.pk}/?tray=brief"
    document = json.loads(row.document)
    assert document["brief"]["use"] == "site banner" and document["brief"]["story"] == "Nobody is up yet."
    assert document["brief"]["leanings"]["shadow"] == 1
    (asked,) = document["setups"][0]["deliverables"]
    assert asked["ratio"] == "16:9" and asked["copy_space"]["side"] == "right"
    assert document["surface"]["name"] in set(StoreSurface.objects.filter(studio=studio).values_list("name", flat=True))


def test_each_field_of_the_brief_is_kept_and_can_be_taken_back(hand):
    for field, typed, kept in (
        ("mood", "bright and airy", "bright and airy"), ("season", "June", "June"), ("finals", "4", 4),
        ("tags", "orange, winter; orange", ["orange", "winter"]), ("must_show", "the label's face; the rim", ["the label's face", "the rim"]),
    ):  # fmt: skip
        assert hand.do("brief", field=field, value=typed).status_code == 200
        assert hand.document["brief"][field] == kept
        hand.do("brief", field=field, value="")
        assert hand.document["brief"][field] in ("", None, [])
    assert hand.do("brief", field="finals", value="0").status_code == 400
    assert hand.do("brief", field="leanings", value="x").status_code == 400


def test_leanings_are_asked_one_at_a_time_as_two_pictures(ada, hand, row):
    page = ada.get(f"/scenes/{row.pk}/tray/", {"tray": "brief"}).content.decode()
    assert page.count('class="school"') == 2 and page.count("Where is the hero?") == 1 and "none is a fine answer" in page
    hand.do("leaning", leaning="hero_place", value="1")
    assert "How do things lie?" in tray(ada, row, "brief")  # the next one that is open
    assert "What is sharp?" in tray(ada, row, "brief", ask="focus")


def test_an_owner_makes_leanings_the_studios_usual_ones(olu, other_studio):
    row = begin_scene(other_studio, scene_from_value(scene_value()), None, "laid out")
    Hand(olu, row).do("leaning", leaning="order", value="-1")
    assert olu.post(f"/scenes/{row.pk}/usual-leanings/").status_code == 200
    olu.post("/scenes/new/", {"use": "feed", "story": ""})
    assert json.loads(Scene.objects.latest("pk").document)["brief"]["leanings"]["order"] == -1


def test_deliverables_say_what_each_uses_of_the_sensor_and_which_way_serves_them(hand, ada, row):
    hand.do("deliverable-remove", name="feed")
    for name in [d["name"] for d in hand.document["setups"][0]["deliverables"]]:
        hand.do("deliverable-remove", name=name)
    answer = hand.do("deliverable", name="story", ratio="9:16", pixels_wide="1080", pixels_high="1920")
    assert answer.status_code == 200, answer.content.decode()
    said = tray(ada, row, "deliverables")
    assert "story 38 %, 9.0 megapixels" in said.replace("\xa0", " ")
    assert "Upright the least served would have 84" in said
    hand.do("camera", field="orientation", value="portrait")
    assert "No other way of holding the camera serves them better" in tray(ada, row, "deliverables")


# ---- references


def test_references_say_what_they_are_like_and_what_they_have_in_common(ada, row):
    assert "high key" in text_of(send(ada, row, (240, 236, 228)))
    assert "low key" in text_of(send(ada, row, (30, 28, 26)))
    said = text_of(send(ada, row, (220, 120, 30)))
    assert "Together: middle key" in said and "warm" in said
    assert Reference.objects.filter(scene=row).count() == 3


def test_references_are_put_in_order_noted_and_taken_away(ada, row):
    for colour in ((200, 60, 40), (40, 60, 200), (60, 160, 60)):
        send(ada, row, colour)
    first, second, third = Reference.objects.filter(scene=row)
    ada.post(f"/scenes/{row.pk}/references/{third.pk}/", {"way": "earlier", "tray": "brief"})
    assert [r.pk for r in Reference.objects.filter(scene=row)] == [first.pk, third.pk, second.pk]
    ada.post(f"/scenes/{row.pk}/references/{first.pk}/", {"note": "the light", "tray": "brief"})
    ada.post(f"/scenes/{row.pk}/references/{second.pk}/", {"way": "drop", "tray": "brief"})
    assert [(r.pk, r.note) for r in Reference.objects.filter(scene=row)] == [(first.pk, "the light"), (third.pk, "")]
    assert ada.post(f"/scenes/{row.pk}/references/{second.pk}/", {"way": "drop"}).status_code == 404


def test_a_palette_comes_from_the_references_together(ada, hand, row):
    assert hand.do("palette-references").status_code == 400
    send(ada, row, (83, 96, 104), second=(217, 118, 42))
    send(ada, row, (85, 98, 105), second=(220, 215, 203))
    assert hand.do("palette-references").status_code == 200
    colours = hand.document["palette"]["colours"]
    red, _, blue = (int(colours[0]["hex"][i : i + 2], 16) for i in (1, 3, 5))
    assert colours[0]["part"] == "base" and abs(red - 84) < 4 and abs(blue - 104) < 4
    assert {c["part"] for c in colours} == {"base", "second", "accent"}


# ---- the day


def test_two_shoots_on_a_day_do_not_count_on_the_same_things(ada, studio, supper):
    second = begin_scene(studio, starter("supper"), None, "laid out")
    StoreProp.objects.filter(studio=studio, key="tumbler").update(count=1)
    for row in (supper, second):
        ada.post(f"/scenes/{row.pk}/day/", {"day": "2026-12-01", "tray": "brief"})
    assert "kinds of thing are kept" in text_of(ada.post(f"/scenes/{supper.pk}/reserve/", {"tray": "brief"}))
    said = text_of(ada.post(f"/scenes/{second.pk}/reserve/", {"tray": "brief"}))
    assert "0 of 1 tumbler of water : Supper at the harbour inn has the rest" in said.replace("  ", " ") or "0 of 1" in said
    assert Reservation.objects.get(scene=supper, prop__key="tumbler").count == 1
    assert not Reservation.objects.filter(scene=second, prop__key="tumbler").exists()
    offered = text_of(ada.get(f"/scenes/{second.pk}/tray/", {"tray": "store", "q": "tumbler of"}))
    assert "0 of 1 free" in offered
    ada.post(f"/scenes/{second.pk}/day/", {"day": "2026-12-02", "tray": "brief"})
    ada.post(f"/scenes/{second.pk}/reserve/", {"tray": "brief"})
    assert Reservation.objects.get(scene=second, prop__key="tumbler").day == date(2026, 12, 2)
    assert "for Supper at the harbour inn" in text_of(ada.get(f"/stores/props/{StoreProp.objects.get(studio=studio, key='tumbler').pk}/"))


def test_what_leaves_the_table_is_let_go_and_so_is_all_without_a_day(ada, supper):
    ada.post(f"/scenes/{supper.pk}/day/", {"day": "2026-12-01"})
    ada.post(f"/scenes/{supper.pk}/reserve/")
    assert supper.reservations.get(prop__key="lemon-half").count == 2
    hand = Hand(ada, supper)
    for lemon in ("lemon-1", "lemon-2"):
        hand.do("remove", id=lemon)
    ada.post(f"/scenes/{supper.pk}/reserve/")
    assert not supper.reservations.filter(prop__key="lemon-half").exists()
    ada.post(f"/scenes/{supper.pk}/day/", {"day": ""})
    assert not supper.reservations.exists()
    assert ada.post(f"/scenes/{supper.pk}/reserve/").status_code == 400
    assert ada.post(f"/scenes/{supper.pk}/day/", {"day": "soon"}).status_code == 400


# ---- the palette


def test_the_palette_is_made_colour_by_colour_and_unmade(hand):
    hand.do("palette-colour", hex="#536068")
    hand.do("palette-colour", hex="#DCD7CB")
    hand.do("palette-colour", hex="#d9762a")
    assert [(c["hex"], c["part"], c["share"]) for c in hand.document["palette"]["colours"]] == [
        ("#536068", "base", 0.6), ("#dcd7cb", "second", 0.3), ("#d9762a", "accent", 0.1)
    ]  # fmt: skip
    hand.do("palette-colour", at=1, share="25")
    hand.do("palette-colour", at=2, part="second")
    hand.do("palette-drop", at=0)
    assert [(c["part"], c["share"]) for c in hand.document["palette"]["colours"]] == [("second", 0.25), ("second", 0.15)]
    hand.do("palette-drop", at=0)
    hand.do("palette-drop", at=0)
    assert hand.document["palette"] is None
    for wrong in ({"hex": "red"}, {"hex": "#112233", "share": "101"}, {"at": 7, "hex": "#112233"}, {"hex": "#112233", "part": "third"}):
        assert hand.do("palette-colour", **wrong).status_code == 400
    assert hand.do("palette-drop", at=0).status_code == 400


def test_the_tray_tells_wanted_against_seen_hue_family_and_how_the_hero_stands(ada, supper):
    said = tray(ada, supper, "palette")
    told = re.search(r"The smoked fish stands clear of the dinner plate: their colours are (\d+) apart \(CIEDE2000\), clear from ([\d.]+)\.", said)
    assert told is not None and float(told[1]) > float(told[2])
    assert re.search(r"55 % *|base", said) and "is none of these" in said and "amily of hues" in said
    page = ada.get(f"/scenes/{supper.pk}/tray/", {"tray": "palette"}).content.decode()
    assert page.count('class="reading-plot"') == 2 and page.count('class="hero-ring"') >= 2 and "smoked fish: #" in page


@pytest.mark.parametrize("kind", ["gpl", "json", "css"])
def test_a_palette_is_taken_along_and_brought_in_again(ada, hand, row, kind):
    assert ada.get(f"/scenes/{row.pk}/palette.{kind}").status_code == 404
    hand.do("palette-read", text='["#536068", "#dcd7cb", "#d9762a"]')
    before = hand.document["palette"]
    out = ada.get(f"/scenes/{row.pk}/palette.{kind}")
    assert "attachment" in out["Content-Disposition"] and len(read_palette(out.content.decode()).colours) == 3
    hand.do("palette-drop", at=0)
    hand.do("palette-read", text=out.content.decode())
    assert hand.document["palette"] == before
    assert hand.do("palette-read", text="no colours here").status_code == 400


# ---- what if


def test_six_surfaces_side_by_side_ranked_with_reasons_and_one_is_taken(ada, supper, studio):
    page = ada.get(f"/scenes/{supper.pk}/what-if/")
    said = text_of(page)
    assert page.content.count(b"<h2>") == 6 and "as it is now" in said
    assert "ends in the frame" in said and re.search(r"melts", said)
    item = StoreSurface.objects.get(studio=studio, name="limestone").pk
    answer = ada.post(f"/scenes/{supper.pk}/what-if/", {"item": item, "revision": 1, "setup": "plate at 44"})
    assert answer["Location"] == f"/scenes/{supper.pk}/?setup=plate+at+44"
    supper.refresh_from_db()
    assert json.loads(supper.document)["surface"]["name"] == "limestone" and supper.revision == 2
    stale = ada.post(f"/scenes/{supper.pk}/what-if/", {"item": item, "revision": 1}, follow=True)
    assert "changed meanwhile" in text_of(stale)


def test_another_studios_surface_is_not_taken(ada, supper, other_studio):
    theirs = StoreSurface.objects.filter(studio=other_studio).first()
    assert ada.post(f"/scenes/{supper.pk}/what-if/", {"item": theirs.pk, "revision": 1}).status_code == 404


def test_a_remedy_from_the_stores_is_shown_as_a_ghost_and_put_on_the_table(ada, studio, supper):
    hand = Hand(ada, supper)
    page = ada.get(f"/scenes/{supper.pk}/", {"setup": "plate at 44"}).content.decode()
    keys = re.findall(r'data-key="((?:colour|palette|sameness)[^"]*)"', page)
    offered = {}
    for key in keys:
        shown = ada.get(f"/scenes/{supper.pk}/remedy/", {"setup": "plate at 44", "key": key}).content.decode()
        if "data-ghost" in shown:
            offered[key] = shown
    assert offered, "no matter of colour has a remedy"
    key, shown = next(iter(offered.items()))
    response = hand.remedy(key, "plate at 44")
    assert response.status_code == 200
    after = re.findall(r'data-key="([^"]*)"', response.content.decode())
    assert key not in after


def test_a_lens_of_the_kit_that_covers_the_sensor_is_a_remedy_and_a_phone_is_offered_none(ada, studio):
    value = scene_value(lens={"image_circle": 20})
    row = begin_scene(studio, scene_from_value(value), None, "laid out")
    hand = Hand(ada, row)
    shown = ada.get(f"/scenes/{row.pk}/remedy/", {"setup": "main", "key": "lens.circle|"}).content.decode()
    name = re.search(r"Take the ([^<]+?)<", shown).group(1)
    taken = hand.remedy("lens.circle|", "main").content.decode()
    assert name in taken and "lens.circle" not in taken
    assert hand.document["setups"][0]["camera"]["lens"]["image_circle"] is None
    own = StoreLens.objects.filter(studio=studio).exclude(fixed_on=None).select_related("fixed_on").first()
    camera = core_scene(row).setups[0].camera
    assert any("@" not in lens.name and " at " in lens.name for lens in core_stores(studio, camera).lenses)  # a zoom, at some of its lengths
    phone = replace(camera, sensor=core_sensor(own.fixed_on), lens=core_lens(own))
    assert core_stores(studio, phone).lenses == () == core_stores(studio).lenses


def test_the_stores_offer_what_fits_between_what_is_in_hand_and_its_neighbour(ada, supper):
    said = tray(ada, supper, "store", selected="lemon-1", want="fits")
    room = re.search(r"up to (\d+) mm may stand there", said) or re.search(r"(nothing) fits there", said)
    assert room and "what fits between lemon half and" in said
    assert "oval platter" not in said
    near = ada.get(f"/scenes/{supper.pk}/tray/", {"tray": "store", "want": "#dfb52b"})
    assert "near the palette's" in text_of(near) and "the same to the eye" in text_of(near)


# ---- what the second reading found


def test_references_come_in_all_or_none(ada, row):
    def file(data: bytes, name: str) -> SimpleUploadedFile:
        return SimpleUploadedFile(name, data)

    kept = io.BytesIO()
    Image.new("RGB", (60, 40), "#c4621a").save(kept, "PNG")
    files = [file(kept.getvalue(), "a.png"), file(b"<script>", "b.png"), file(kept.getvalue(), "c.png")]
    assert ada.post(f"/scenes/{row.pk}/references/", {"picture": files, "tray": "brief"}).status_code == 400
    assert not Reference.objects.exists()
    many = [file(kept.getvalue(), f"{k}.png") for k in range(25)]
    answer = ada.post(f"/scenes/{row.pk}/references/", {"picture": many, "tray": "brief"})
    assert answer.status_code == 400 and "at most 24" in text_of(answer) and not Reference.objects.exists()


def test_a_second_copy_of_a_prop_on_the_table_is_reserved_with_the_first(ada, studio, supper):
    value = json.loads(supper.document)
    lemon = next(p for p in value["props"] if p["id"] == "lemon-half")
    value["props"].append({**lemon, "id": "lemon-half-2", "name": "lemon, squeezed"})
    value["placements"][-1] |= {"prop": "lemon-half-2"}
    copied = begin_scene(studio, scene_from_value(value), None, "laid out")
    ada.post(f"/scenes/{copied.pk}/day/", {"day": "2026-12-01"})
    ada.post(f"/scenes/{copied.pk}/reserve/")
    assert copied.reservations.get(prop__key="lemon-half").count == 3


def test_a_full_table_is_reserved_with_a_fixed_number_of_questions(studio, supper, django_assert_max_num_queries):
    set_day(studio, supper.pk, date(2026, 12, 1))
    supper.refresh_from_db()
    with django_assert_max_num_queries(4):
        falls_short(supper)


def test_the_tray_reads_the_set_up_that_is_shown_after_it_is_renamed(hand, ada, row):
    hand.do("setup-add", name="from above")
    hand.do("camera", setup="from above", field="distance", value="1900")
    before = text_of(ada.get(f"/scenes/{row.pk}/tray/", {"tray": "camera", "setup": "from above"}))
    height = re.search(r"the lens (?:there, )?([\d ]+ mm) above the floor", before).group(1)
    renamed = text_of(hand.do("setup-rename", setup="from above", name="bird", tray="camera"))
    assert f"{height} above the floor" in renamed


def test_taking_a_surface_comes_back_to_the_set_up_one_looked_at(ada, supper, studio):
    item = StoreSurface.objects.get(studio=studio, name="limestone").pk
    answer = ada.post(f"/scenes/{supper.pk}/what-if/", {"item": item, "revision": 1, "setup": "low and close"})
    assert answer["Location"].endswith("?setup=low+and+close")
    assert "26° down" in text_of(ada.get(answer["Location"]))


def test_lengths_beside_the_readings_are_in_the_persons_unit(ada, studio):
    ada.post("/preferences/", {"unit": "in", "ground": "middle"})
    assert "2 3/8 in up" in text_of(ada.get("/stores/measure/"))
    assert "on a table 29 1/8 in high" in text_of(ada.get("/stores/kit/"))
    assert "3 3/4 in high" in text_of(ada.get("/stores/measure/"))
