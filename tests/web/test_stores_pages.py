"""The stores as their pages: find, write down, change many, tables in and out, the kit, and what each page tells."""

from __future__ import annotations

import html
import re
from dataclasses import replace

import pytest

from tests.support.prop_tables import faulty_table
from tideflat.core.camera.lens import travel_of
from tideflat.core.camera.zooms import widest_aperture
from tideflat.core.errors import FieldError
from tideflat.web.stores.kit_forms import KINDS, Asked, keep_item, values_of
from tideflat.web.stores.models import CameraBody, StoreLens, StoreProp, StoreSupport, StoreSurface, WaitingTable
from tideflat.web.stores.queries import body_in, core_lens, kit_lens, lens_in, prop_row, record_of

NEW = {
    "name": "blue jug",
    "shape": "cylinder",
    "diameter": "12 cm",
    "height": "180",
    "colours": "#3f6a9a",
    "finish": "gloss",
    "role": "support",
    "count": "2",
    "tags": "sea; jug",
}


def text_of(response) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", response.content.decode()))


def test_the_list_answers_a_sentence_and_keeps_what_it_cannot_read(ada, studio):
    page = ada.get("/stores/", {"q": "tea tin", "least": "7 cm", "most": "90"})
    assert "of 166 things" in text_of(page) and "low tea tin" in text_of(page) and "smoked fish" not in text_of(page)
    wrong = ada.get("/stores/", {"least": "wide", "colour": "red"})
    assert (
        wrong.status_code == 200 and 'value="wide"' in wrong.content.decode() and "The colour must be written as #c4621a" in text_of(wrong)
    )
    part = ada.get("/stores/", {"q": "fig"}, headers={"HX-Request": "true"})
    assert part.content.startswith(b"<section") or b"<html" not in part.content


def test_the_list_says_what_the_stores_are_like_and_what_they_lack(ada, studio):
    said = text_of(ada.get("/stores/"))
    assert "% round" in said and "Nothing" in said
    StoreProp.objects.filter(studio=studio).first()
    prop = StoreProp.objects.filter(studio=studio).first()
    ada.post(f"/stores/props/{prop.pk}/", {**NEW, "name": prop.name, "lender": "the inn", "return_on": "2020-01-01"})
    assert "to the inn, 1 Jan" in text_of(ada.get("/stores/"))


def test_a_prop_is_written_down_in_any_unit_and_changed(ada, studio):
    made = ada.post("/stores/props/new/", NEW, follow=True)
    row = StoreProp.objects.get(studio=studio, key="blue-jug")
    assert (row.width_mm, row.height_mm, row.count, row.tags) == (120, 180, 2, ["sea", "jug"])
    assert "stands clear" in text_of(made) and "120 across, 180 mm high" in text_of(made)
    ada.post(f"/stores/props/{row.pk}/", {**NEW, "height": "7 in", "cautions": ["glass", "not-food"]})
    row.refresh_from_db()
    assert row.height_mm == pytest.approx(177.8) and row.cautions == ["glass", "not-food"] and row.key == "blue-jug"
    assert "keep it out of hard sun" in text_of(ada.get(f"/stores/props/{row.pk}/"))


@pytest.mark.parametrize(
    ("wrong", "says"),
    [({"name": ""}, "write what it is called"), ({"diameter": "wide"}, "write a length above 0"), ({"colours": "#12"}, "write colours as"), ({"count": "-3"}, "write a whole number"), ({"name": "<b>"}, "without")],
)  # fmt: skip
def test_a_faulty_prop_is_told_field_by_field_with_what_was_typed_kept(ada, studio, wrong, says):
    before = StoreProp.objects.count()
    answer = ada.post("/stores/props/new/", {**NEW, **wrong})
    assert answer.status_code == 400 and says in text_of(answer)
    assert 'value="180"' in answer.content.decode() and StoreProp.objects.count() == before


def test_a_prop_keeps_its_skin_through_the_form_whatever_is_sent(ada, studio):
    row = StoreProp.objects.get(studio=studio, key="orange-half")
    before = row.skins
    ada.post(f"/stores/props/{row.pk}/", {**NEW, "skins": "top:elsewhere"})
    row.refresh_from_db()
    assert before and row.skins == before


def test_many_are_changed_at_once_or_none(ada, studio):
    pks = list(StoreProp.objects.filter(studio=studio).values_list("pk", flat=True)[:9])
    ada.post("/stores/bulk/", {"prop": pks, "field": "place", "value": "box 4"})
    assert StoreProp.objects.filter(studio=studio, place="box 4").count() == 9
    for field, value in (("count", "many"), ("return_on", "soon"), ("add_caution", "tiger"), ("name", "x")):
        said = ada.post("/stores/bulk/", {"prop": pks, "field": field, "value": value}, follow=True)
        assert "must be" in text_of(said), field
    ada.post("/stores/bulk/", {"prop": pks, "field": "add_tag", "value": "sea"})
    ada.post("/stores/bulk/", {"prop": pks[:4], "field": "drop_tag", "value": "sea"})
    assert sum("sea" in p.tags for p in StoreProp.objects.filter(pk__in=pks)) == 5
    ada.post("/stores/bulk/", {"prop": pks, "field": "remove"})
    assert not StoreProp.objects.filter(pk__in=pks).exists()


def test_bulk_does_not_reach_into_another_studio(ada, studio, other_studio):
    theirs = StoreProp.objects.filter(studio=other_studio).first()
    ada.post("/stores/bulk/", {"prop": [theirs.pk], "field": "place", "value": "mine"})
    ada.post("/stores/bulk/", {"prop": [theirs.pk], "field": "remove"})
    theirs.refresh_from_db()
    assert theirs.place != "mine"


# ---- tables


def send(client, text, **more):
    from django.core.files.uploadedfile import SimpleUploadedFile

    return client.post(
        "/stores/import/", {"table": SimpleUploadedFile("p.csv", text if isinstance(text, bytes) else text.encode()), **more}
    )


def columns(preview) -> dict[str, str]:
    """The columns as the preview offers them."""
    found = re.findall(r'<select name="(column\d+)".*?</select>', preview.content.decode(), re.DOTALL)
    chosen = {}
    for name in found:
        part = re.search(rf'<select name="{name}".*?</select>', preview.content.decode(), re.DOTALL).group(0)
        match = re.search(r"<option selected>([^<]+)", part)
        chosen[name] = match.group(1) if match else ""
    return chosen


def test_a_thousand_rows_with_faults_are_previewed_and_come_in_as_chosen(ada, studio):
    before = StoreProp.objects.filter(studio=studio).count()
    text, wrong = faulty_table(1000)
    preview = send(ada, text)
    said = text_of(preview)
    assert "963 of 1000 rows can come in" in said and "37 rows cannot" in said
    listed = re.findall(r"<tr><td>(\d+)</td><td>(\w+)</td><td>([^<]+)</td>", preview.content.decode())
    assert {int(row): column for row, column, _ in listed} == wrong and all(cure.strip() for *_, cure in listed)
    assert StoreProp.objects.filter(studio=studio).count() == before  # nothing came in by looking
    waiting = {"waiting": WaitingTable.objects.get().pk, **columns(preview)}
    refused = ada.post("/stores/import/", {**waiting, "import": "yes"})
    assert refused.status_code == 400 and "Nothing was imported" in text_of(refused)
    assert StoreProp.objects.filter(studio=studio).count() == before
    done = ada.post("/stores/import/", {**waiting, "import": "yes", "faulty": "leave"}, follow=True)
    assert "963 new props" in text_of(done) and StoreProp.objects.filter(studio=studio).count() == before + 963
    assert not WaitingTable.objects.exists()


def test_a_doubtful_column_is_asked_about_once_and_comes_in_as_answered(ada, studio):
    preview = send(ada, 'name,width,depth,height\nBread board,"1,200","1,150",18\n')
    said = text_of(preview)
    assert "0 of 1 rows can come in" in said and "In width, 1,200 is" in said and "1 200 mm" in said and "1.2 mm" in said
    kept = {"waiting": WaitingTable.objects.get().pk, **columns(preview)}
    assert "0 of 1" in text_of(ada.post("/stores/import/", {**kept, "marks_width": "thousands"}))
    answered = {**kept, "marks_width": "thousands", "marks_depth": "thousands"}
    assert "1 of 1" in text_of(ada.post("/stores/import/", answered))
    ada.post("/stores/import/", {**answered, "import": "yes"})
    assert (row := StoreProp.objects.get(name="Bread board")).shape["width"] == 1200 and row.shape["depth"] == 1150


def test_a_size_is_changed_by_so_much(ada, studio):
    row = StoreProp.objects.filter(studio=studio, shape__kind="cylinder").first()
    page = ada.get(f"/stores/props/{row.pk}/").content.decode()
    typed = {"name": row.name, "shape": "cylinder", "diameter": "+2", "height": "-1 cm", "colours": "#b0aca4", "finish": "matte", "role": "support", "count": "1"}
    assert 'name="diameter"' in page
    ada.post(f"/stores/props/{row.pk}/", typed)
    after = StoreProp.objects.get(pk=row.pk).shape
    assert after["diameter"] == row.shape["diameter"] + 2 and after["height"] == row.shape["height"] - 10


def test_columns_can_be_mapped_by_hand(ada, studio):
    preview = send(ada, "Ding,Breite,Tiefe,Hoehe\nBrett,32 cm,22 cm,18\n")
    assert "0 of 1 rows can come in" in text_of(preview)
    chosen = dict(zip(columns(preview), ("name", "width", "depth", "height"), strict=True))
    waiting = WaitingTable.objects.get().pk
    assert "1 of 1 rows can come in" in text_of(ada.post("/stores/import/", {"waiting": waiting, **chosen, "look": "again"}))
    ada.post("/stores/import/", {"waiting": waiting, **chosen, "import": "yes"})
    assert StoreProp.objects.get(studio=studio, key="brett").width_mm == 320


def test_what_goes_out_comes_in_again_unchanged(ada, studio):
    before = {p.key: record_of(p) for p in StoreProp.objects.filter(studio=studio)}
    out = ada.get("/stores/export.csv")
    assert out["Content-Type"] == "text/csv; charset=utf-8" and out.content.startswith(b"\xef\xbb\xbf")
    preview = send(ada, out.content)
    assert f"{len(before)} of {len(before)} rows can come in, {len(before)} of them as changes" in text_of(preview)
    ada.post("/stores/import/", {"waiting": WaitingTable.objects.get().pk, **columns(preview), "import": "yes"})
    assert {p.key: record_of(p) for p in StoreProp.objects.filter(studio=studio)} == before


def test_anothers_waiting_table_is_not_there(ada, olu, studio, other_studio):
    send(olu, "name,diameter\nx,10\n")
    answer = ada.post(
        "/stores/import/", {"waiting": WaitingTable.objects.get().pk, "import": "yes", "column0": "name", "column1": "diameter"}
    )
    assert answer.status_code == 400 and not StoreProp.objects.filter(studio=studio, name="x").exists()


@pytest.mark.parametrize(
    ("raw", "says"), [(b"\x89PNG\r\n\0\0", "must be a CSV text"), (b"", "row of headings"), (b"x" * 3_000_001, "at most 3 MB")]
)
def test_what_is_no_table_is_refused_in_words(ada, studio, raw, says):
    answer = send(ada, raw)
    assert answer.status_code == 400 and (says in text_of(answer) or "Choose a CSV file" in text_of(answer))


# ---- the kit


def test_a_phones_equivalent_focal_length_becomes_its_own(ada, studio):
    body = {"name": "pocket phone", "sensor_width_mm": "6.4", "sensor_height_mm": "4.8", "pixels_wide": "4000", "pixels_high": "3000"}
    half = ada.post("/stores/kit/body/new/", {**body, "equivalent": "26"})
    assert half.status_code == 400 and "must have both" in text_of(half)
    ada.post("/stores/kit/body/new/", {**body, "equivalent": "26", "fixed_aperture": "f/1.8", "phone_focus": "9 cm"})
    row = CameraBody.objects.get(studio=studio, name="pocket phone")
    sensor, _, lens = body_in(studio, row.pk)
    # by hand: diagonals 8 and 43.267 mm, 26 x 8 / 43.267 = 4.807
    assert (
        row.is_phone
        and travel_of(lens, sensor).at_infinity == pytest.approx(4.807, abs=0.002)
        and (lens.max_aperture, lens.min_focus) == (1.8, 90)
    )
    assert "sees like a 26 mm on full frame" in text_of(ada.get("/stores/kit/"))


def test_a_zoom_is_offered_along_its_range_with_its_aperture_there(ada, studio):
    zoom = {
        "name": "travel zoom",
        "focal_length_mm": "28",
        "longest_mm": "112",
        "max_aperture": "4",
        "max_aperture_long": "5.6",
        "min_aperture": "22",
        "min_focus_mm": "450",
    }
    assert ada.post("/stores/kit/lens/new/", zoom).status_code == 302
    row = StoreLens.objects.get(studio=studio, name="travel zoom")
    zoom = kit_lens(row)
    assert widest_aperture(zoom, 28) == 4 and widest_aperture(zoom, 112) == 5.6
    assert widest_aperture(zoom, 56) == pytest.approx(4.73, abs=0.01)
    lens, name = lens_in(studio, f"{row.pk}@56")
    assert (lens.focal_length, name) == (56, "travel zoom at 56")


@pytest.mark.parametrize(
    ("kind", "wrong", "says"),
    [
        ("lens", {"longest_mm": "20"}, "must be longer"), ("lens", {"min_focus_mm": ""}, "must be written, or the largest magnification"),
        ("lens", {"min_aperture": "1"}, "larger number"), ("lens", {"min_focus_mm": "150"}, "four focal lengths"), ("support", {"highest_mm": "100"}, "must be above its lowest"), ("surface", {"width_mm": "0"}, "must be from"),
        ("surface", {"main": "red"}, "must be a colour"), ("backdrop", {"kind": "cloud"}, "must be one of"), ("card", {"name": ""}, "must be written"),
    ],
)  # fmt: skip
def test_faulty_kit_is_told_and_what_was_typed_stays(ada, studio, kind, wrong, says):
    good = {
        "lens": {"name": "L", "focal_length_mm": "50", "max_aperture": "2", "min_aperture": "16", "min_focus_mm": "450"},
        "support": {"name": "S", "kind": "arm", "lowest_mm": "400", "highest_mm": "1500", "inverts": "yes"},
        "surface": {"name": "P", "width_mm": "600", "depth_mm": "400", "main": "#888888", "second": "#777777", "finish": "matte"},
        "backdrop": {"name": "B", "kind": "sweep", "width_mm": "900", "height_mm": "800", "colour": "#dddddd"},
        "card": {"name": "C", "kind": "white", "width_mm": "300", "height_mm": "200", "colour": "#ffffff"},
    }[kind]
    assert ada.post(f"/stores/kit/{kind}/new/", good).status_code == 302
    answer = ada.post(f"/stores/kit/{kind}/new/", {**good, **wrong})
    assert answer.status_code == 400 and says in text_of(answer)
    assert all(f'value="{v}"' in answer.content.decode() for k, v in wrong.items() if v and k != "kind")


def test_a_surface_has_two_sides_and_a_third_is_refused(ada, studio):
    first = StoreSurface.objects.get(studio=studio, name="slate")
    side = {
        "name": "raw slate",
        "width_mm": "900",
        "depth_mm": "600",
        "main": "#55595b",
        "second": "#404446",
        "finish": "matte",
        "other_side_of": first.pk,
    }
    assert ada.post("/stores/kit/surface/new/", side).status_code == 302
    assert "other side: raw slate" in text_of(ada.get("/stores/kit/"))
    assert ada.post("/stores/kit/surface/new/", {**side, "name": "third"}).status_code == 400


def test_the_kit_says_how_high_each_lens_stands_and_what_reaches_there(ada, studio):
    said = text_of(ada.get("/stores/kit/"))
    # by hand: 600 x 400 on 36 x 24 is m = 0.06; 50 (1 + 1 / 0.06) = 883
    assert "50 mm f/1.8 883 mm" in said
    StoreSupport.objects.filter(studio=studio).update(inverts=False)
    assert "nothing you have" in text_of(ada.get("/stores/kit/"))


def test_fill_takes_in_the_starter_store_once(olu, other_studio):
    before = StoreProp.objects.filter(studio=other_studio).count()
    assert "0 made-up props" in text_of(olu.post("/stores/fill/", follow=True))
    assert StoreProp.objects.filter(studio=other_studio).count() == before
    prop = prop_row(other_studio, StoreProp.objects.filter(studio=other_studio, key="cut-fig").get().pk)
    assert prop.skins and olu.get(f"/stores/pictures/{prop.skins[0]['picture']}.webp")["Content-Type"] == "image/webp"


@pytest.mark.parametrize("unit", ["mm", "cm", "in"])
@pytest.mark.parametrize("kind", ["surface", "backdrop", "card", "body", "lens", "support"])
def test_keeping_a_form_untouched_changes_nothing(ada, studio, kind, unit):
    ada.post("/preferences/", {"unit": unit, "ground": "middle"})
    model = KINDS[kind].model
    rows = model.objects.filter(studio=studio, **({"fixed_on": None} if kind == "lens" else {}))
    for row in rows:
        before = {f.name: getattr(row, f.name) for f in model._meta.fields}
        page = ada.get(f"/stores/kit/{kind}/{row.pk}/").content.decode()
        sent = dict(re.findall(r'<input (?:type="color" )?name="(\w+)" value="([^"]*)"', page))
        sent |= {"inverts": "yes"} if re.search(r'name="inverts" value="yes" checked', page) else {}
        for name, options in re.findall(r'<select name="(\w+)">(.*?)</select>', page, re.DOTALL):
            sent[name] = (re.search(r'value="([^"]*)" selected', options) or re.search(r'value="([^"]*)"', options)).group(1)
        assert ada.post(f"/stores/kit/{kind}/{row.pk}/", {k: html.unescape(v) for k, v in sent.items()}).status_code == 302, row
        row.refresh_from_db()
        after = {f.name: getattr(row, f.name) for f in model._meta.fields}
        for name, value in before.items():
            assert after[name] == (pytest.approx(value, rel=1e-5) if isinstance(value, float) else value), (row, name)
    if kind == "body":
        own = StoreLens.objects.get(studio=studio, fixed_on__name="phone, main module")
        assert own.focal_length_mm == pytest.approx(6.9, rel=1e-4) and own.min_focus_mm == pytest.approx(120, rel=1e-5)


def test_a_lens_keeps_what_else_the_document_says_of_it(studio):
    """A property without a column of its own is kept by its key, read with the lens, and taken away again when it is emptied."""
    kind = replace(KINDS["lens"], asked=(*KINDS["lens"].asked, Asked("image_circle", "image circle", "number", is_needed=False)))
    typed = {a.name: None for a in kind.asked} | {"name": "old 90", "focal_length_mm": 90.0, "max_aperture": 2.8, "min_aperture": 22.0, "min_focus_mm": 900.0}
    row = keep_item(studio, kind, None, {**typed, "image_circle": 43.5})
    row.refresh_from_db()
    assert core_lens(row).image_circle == 43.5 and values_of(kind, row)["image_circle"] == 43.5
    keep_item(studio, kind, row, dict(typed))
    row.refresh_from_db()
    assert row.further == {} and core_lens(row).image_circle is None
    with pytest.raises(FieldError, match="image circle"):
        keep_item(studio, kind, row, {**typed, "image_circle": -1})
