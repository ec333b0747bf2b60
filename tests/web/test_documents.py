"""Scenes taken away and brought in; the shelf; the store's pictures."""

from __future__ import annotations

import json
import xml.etree.ElementTree as ET

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.support.malformed import MALFORMED
from tests.support.scenes import raw, scene_value
from tideflat.web.scenes.models import Scene
from tideflat.web.stores.catalogue import catalogue_of
from tideflat.web.stores.models import CameraBody, StoreBackdrop, StoreLens, StoreProp, StoreSurface
from tideflat.web.stores.queries import core_prop, surface_in
from tideflat.web.stores.searching import Wish, search


def upload(client, document: bytes):
    return client.post("/scenes/import/", {"document": SimpleUploadedFile("s.tideflat.json", document, "application/json")})


def test_an_exported_scene_comes_in_again_the_same(ada, row):
    document = ada.get(f"/scenes/{row.pk}/export/")
    assert document["Content-Disposition"] == 'attachment; filename="marmalade-morning.tideflat.json"'
    response = upload(ada, document.content)
    assert response.status_code == 302
    brought = Scene.objects.exclude(pk=row.pk).get()
    assert brought.document == row.document
    assert ada.get(f"/scenes/{brought.pk}/export/").content == document.content
    assert ada.get(response["Location"]).status_code == 200


@pytest.mark.parametrize("name", MALFORMED)
def test_a_malformed_document_is_400_with_its_path_and_leaves_nothing(ada, name):
    document, path = MALFORMED[name]
    response = upload(ada, document)
    assert response.status_code == 400
    text = response.content.decode()
    assert path.replace("'", "&#x27;") + ":" in text
    assert "Traceback" not in text and "<script>alert" not in text and "<img src=x" not in text
    assert Scene.objects.count() == 0


def test_no_file_is_a_sentence(ada):
    assert b"Choose a scene document" in ada.post("/scenes/import/").content


@pytest.mark.parametrize("kind", ["empty", "marmalade", "supper", "tea", "fig"])
def test_a_scene_can_be_begun_and_every_tray_opens(ada, studio, kind):
    response = ada.post("/scenes/new/", {"from": kind})
    assert response.status_code == 302
    address = response["Location"]
    page = ada.get(address)
    assert page.status_code == 200
    row = Scene.objects.get()
    selected = json.loads(row.document)["placements"][:1]
    for tray in ("things", "held", "brief", "materials", "camera", "deliverables", "store", "nonsense"):
        answer = ada.get(f"{address}tray/", {"tray": tray, "selected": selected[0]["id"] if selected else ""})
        assert answer.status_code == 200, tray
    assert ada.get("/").status_code == 200


def test_a_scene_put_away_leaves_the_shelf_and_comes_back_whole(ada, row):
    before = row.document
    assert ada.post(f"/scenes/{row.pk}/put-away/").status_code == 302
    shelf = ada.get("/").content.decode()
    assert "shelf-picture" not in shelf and "Put away: Marmalade morning" in shelf
    assert ada.post(f"/scenes/{row.pk}/bring-back/").status_code == 302
    assert "shelf-picture" in ada.get("/").content.decode()
    row.refresh_from_db()
    assert row.document == before


def test_the_starter_store_has_what_was_promised_and_every_size_is_true(studio):
    assert StoreProp.objects.filter(studio=studio).count() >= 150
    assert StoreSurface.objects.filter(studio=studio).count() == 8
    assert StoreBackdrop.objects.filter(studio=studio).count() == 3
    assert StoreLens.objects.filter(studio=studio, fixed_on=None).count() == 7
    assert CameraBody.objects.filter(studio=studio, is_phone=False).count() == 2
    assert CameraBody.objects.filter(studio=studio, is_phone=True).count() == 2
    for prop in StoreProp.objects.filter(studio=studio):
        assert core_prop(prop).name == prop.name and prop.size_source
    for surface in StoreSurface.objects.filter(studio=studio):
        assert surface_in(studio, surface.pk).width >= 800


def test_the_stores_are_searched_by_every_word(studio):
    catalogue = catalogue_of(studio)

    def keys(text: str) -> list[str]:
        return [catalogue.key[i] for i in search(catalogue, Wish(text=text)).rows]

    assert set(keys("tea tin")) >= {"tea-tin-tall", "tea-tin-low", "tea-tin-square"}
    assert keys("copper pan") == ["preserving-pan"]
    assert not keys("kettle")


def test_every_prop_has_a_picture_of_its_own(ada, studio):
    for prop in StoreProp.objects.filter(studio=studio):
        response = ada.get(f"/stores/props/{prop.pk}/picture.svg")
        root = ET.fromstring(response.content)
        assert response["Content-Type"] == "image/svg+xml"
        assert len(root.findall(".//{http://www.w3.org/2000/svg}path")) >= 2, prop.key


def test_a_scene_of_a_hundred_odd_things_behind_and_around_the_lens_still_opens(ada, studio):
    value = scene_value(elevation=3, distance=500, aim=[450, 300, 40])
    value["placements"] += [
        {
            "id": f"far{i}",
            "prop": p["id"],
            "x": -400 + 300 * i,
            "y": -900 + 250 * i,
            "lean": 17 * i % 170,
            "lean_toward": 40 * i,
            "turn": 33 * i,
        }
        for i, p in enumerate(value["props"])
    ]
    assert ada.get(upload(ada, raw(value))["Location"]).status_code == 200
