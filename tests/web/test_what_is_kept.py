"""Whatever the web keeps is a value that the core has taken; what earlier versions kept is brought under the rule, history included; and one
scene that cannot be read harms nothing beside it."""

from __future__ import annotations

import copy
import json
import zlib

import pytest

from tests.conftest import Hand
from tests.support.scenes import raw, scene_value
from tideflat.core.errors import DocumentError
from tideflat.core.formats.older_rules import mended_document, mended_id, mended_ids, mended_name, mended_shape
from tideflat.core.formats.prop_reader import shape_from_value
from tideflat.core.formats.scene_reader import read_scene, scene_from_value
from tideflat.core.formats.scene_writer import pack_scene
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.stores.kit_forms import KINDS
from tideflat.web.stores.models import StoreCard, StoreProp, StoreSurface

SURFACE = {"name": "oak", "width_mm": "900", "depth_mm": "600", "main": "#a98b62", "second": "#a98b62", "finish": "matte"}
BAD_LINES = ["A <b> board", "tab\there", "line\nbreak", "nul\x00l", "bell\x07", "\ufffe"]
ODD_IDS = ["a.b", "a b", "a/b", "crème", "日本", "a:b", "", "x" * 65, "a&b", "²"]


@pytest.mark.parametrize("name", BAD_LINES)
@pytest.mark.parametrize("kind", KINDS)
def test_no_form_of_the_kit_keeps_a_name_that_the_core_would_not_take(ada, studio, kind, name):
    values = {"backdrop": {"kind": "upright", "width_mm": "900", "height_mm": "600", "colour": "#ffffff"}, "surface": SURFACE}
    values |= {"card": {"kind": "white", "width_mm": "300", "height_mm": "200", "colour": "#ffffff"}}
    values |= {"body": {"sensor_width_mm": "36", "sensor_height_mm": "24", "pixels_wide": "6000", "pixels_high": "4000"}}
    values |= {"lens": {"focal_length_mm": "50", "max_aperture": "2", "min_aperture": "22", "min_focus_mm": "450"}}
    values |= {"support": {"kind": "tripod", "lowest_mm": "300", "highest_mm": "1600"}}
    values |= {"converter": {"factor": "1.4", "length_mm": "20"}}
    values |= {"light": {"kind": "strip", "width_mm": "300", "height_mm": "1200", "kelvin": "5500"}}
    model = KINDS[kind].model
    before = model._default_manager.count()
    assert ada.post(f"/stores/kit/{kind}/new/", {**values[kind], "name": "plain"}).status_code == 302
    refused = ada.post(f"/stores/kit/{kind}/new/", {**values[kind], "name": name})
    assert refused.status_code == 400 and b"alled must" in refused.content
    assert model._default_manager.count() == before + 1


@pytest.mark.parametrize("text", BAD_LINES)
def test_no_table_form_note_or_place_keeps_one_either(ada, studio, row, text):
    before = StoreProp.objects.count()
    good = {"name": "jar", "shape": "cylinder", "diameter": "80", "height": "90", "colours": "#c4621a", "finish": "matte", "role": "support", "count": "1"}
    for column in ("name", "place", "lender", "material", "tags"):
        answer = ada.post("/stores/props/new/", {**good, column: text + "x"})
        assert answer.status_code == 400, column
    assert StoreProp.objects.count() == before
    assert ada.post("/stores/bulk/", {"prop": StoreProp.objects.first().pk, "field": "place", "value": text + "x"}, follow=True).status_code == 200
    assert not StoreProp.objects.filter(place__contains=text).exists()
    hand = Hand(ada, row)
    assert hand.do("setup-rename", name=text + "x").status_code == 400
    assert StoreCard.objects.filter(name__contains="<").count() == 0


@pytest.mark.parametrize("odd", ODD_IDS)
def test_ids_have_one_rule_in_documents_tables_and_addresses(ada, studio, odd):
    places = (("props", 0, "id"), ("placements", 0, "id"), ("props", 0, "skins"))
    for kind, number, key in places:
        value = copy.deepcopy(scene_value())
        value[kind][number][key] = [{"picture": odd, "face": "top"}] if key == "skins" else odd
        with pytest.raises(DocumentError, match="must be an id of 1 to 64 letters"):
            read_scene(raw(value))
    assert ada.post("/scenes/import/", {"document": _file(value)}).status_code == 400
    table = f"key,name,shape,diameter,height,skins\n,jar,cylinder,80,90,top:{odd}\n"
    assert "1 of" not in ada.post("/stores/import/", {"table": _file(table)}).content.decode().split("<h1")[1].split("</h1>")[0] or not odd


def _file(content):
    from django.core.files.uploadedfile import SimpleUploadedFile

    return SimpleUploadedFile("x.json", content.encode() if isinstance(content, str) else raw(content))


# ---- sizes, with their path


@pytest.mark.parametrize(
    ("path", "value", "is_taken"),
    [
        (("props", 0, "shape", "diameter"), 0.1, True), (("props", 0, "shape", "diameter"), 0.09, False), (("props", 0, "shape", "height"), 20_000, True),
        (("props", 0, "shape", "height"), 20_001, False), (("props", 0, "shape", "height"), 1e308, False), (("props", 0, "shape", "height"), 1e-300, False),
        (("surface", "width"), 20_000, True), (("surface", "width"), 20_000.5, False), (("backdrop", "height"), 0.05, False), (("props", 6, "shape", "top_diameter"), 0, True),
        (("props", 6, "shape", "top_diameter"), 0.05, False), (("placements", 0, "x"), 100_000, True), (("placements", 0, "x"), -100_001, False),
        (("props", 9, "shape", "seed"), 2**32 - 1, True), (("props", 9, "shape", "seed"), 2**32, False), (("setups", 0, "camera", "sensor", "width"), 1e-300, False),
        (("setups", 0, "camera", "circle_of_confusion"), 1e-300, False), (("setups", 0, "deliverables", 0, "scale"), 1e-300, False),
        (("setups", 0, "deliverables", 0, "copy_space", "share"), 1e-300, False), (("setups", 0, "camera", "distance"), 100_001, False),
    ],
)  # fmt: skip
def test_every_size_has_two_ends_and_an_error_names_the_path(path, value, is_taken):
    document = copy.deepcopy(scene_value())
    target = document
    for step in path[:-1]:
        target = target[step]
    target[path[-1]] = value
    if is_taken:
        scene_from_value(document)
        return
    with pytest.raises(DocumentError) as caught:
        scene_from_value(document)
    dotted = "".join(f"[{s}]" if isinstance(s, int) else f".{s}" for s in path)[1:]
    assert caught.value.path == dotted and "must be" in caught.value.rule


def test_an_outline_is_as_wide_and_as_thin_as_a_thing_may_be():
    for points, is_taken in (([[0, 0], [0.2, 0], [0.1, 0.2]], True), ([[0, 0], [0.05, 0], [0.02, 0.2]], False), ([[-15_000, 0], [15_000, 0], [0, 10]], False)):
        shape = {"kind": "outline", "points": points, "height": 5}
        if is_taken:
            shape_from_value(shape)
        else:
            with pytest.raises(DocumentError, match="wide and deep"):
                shape_from_value(shape)


# ---- what was kept under older rules


def test_older_ids_become_ids_and_stay_different():
    assert [mended_id(i) for i in ("jar", "a.b", "crème brûlée", "日本", "x" * 70)] == ["jar", "a-b", "creme-brulee", "-", "x" * 64]
    assert mended_ids(["a.b", "a-b", "a:b", "b"]) == {"a.b": "a-b-2", "a-b": "a-b", "a:b": "a-b-3", "b": "b"}
    assert mended_name("A <b> board\t") == "A b board" and mended_name("<>") == "unnamed"
    bottle = mended_shape({"kind": "bottle", "diameter": 0.01, "height": 0.05, "neck_diameter": 0.005, "neck_height": 0.02})
    shape_from_value(bottle)
    shape_from_value(mended_shape({"kind": "scatter", "width": 50_000, "depth": 0.01, "piece_diameter": 30_000, "pieces": 3, "seed": 1}))
    shape_from_value(mended_shape({"kind": "outline", "points": [[0, 0], [40_000, 0], [0, 30_000]], "height": 50_000}))


def older_value() -> dict:
    """A scene as an earlier version took it: dotted ids everywhere, and a plate of thirty metres."""
    value = json.loads(json.dumps(scene_value()).replace('"jar"', '"jar.2"').replace('"p2"', '"p 2"').replace('"name": "jar.2"', '"name": "jar"'))
    value["props"][0]["skins"] = [{"picture": "a.b", "face": "top"}]
    value["props"][1]["shape"]["width"] = 30_000
    value["surface"]["skin"] = {"picture": "c:d", "face": "tile", "width": 90, "depth": 50_000}
    value["setups"][0]["hidden"] = ["p 2"]
    value["setups"][0]["swap"] = {"p 2": "jar.2"}
    return value


def test_an_older_document_is_mended_as_a_whole_and_a_sound_one_is_left_alone():
    accepted = [{"setup": "main", "key": "spacing.tight||p1|p 2", "reason": "so it is"}]
    with pytest.raises(DocumentError):
        scene_from_value(older_value())
    value, meant = mended_document(older_value(), accepted)
    scene = scene_from_value(value)
    assert scene.placement("p-2").prop == "board" and scene.placement("p9").on == "p-2" and scene.placement("p1").prop == "jar-2"
    assert scene.setups[0].hidden == ("p-2",) and scene.setups[0].swap == (("p-2", "jar-2"),)
    assert scene.prop("jar-2").skins[0].picture == "a-b" and scene.surface.skin.depth == 20_000 and scene.prop("board").shape.width == 20_000
    assert meant[0]["key"] == "spacing.tight||p1|p-2"
    sound = json.loads(pack_scene(scene_from_value(scene_value())))
    assert mended_document(sound, []) == (sound, [])


@pytest.mark.django_db(transaction=True)
def test_a_migration_mends_scenes_stores_and_every_step_of_history():
    from django.core.management import call_command
    from django.db import connection
    from django.db.migrations.executor import MigrationExecutor

    executor = MigrationExecutor(connection)
    newest = executor.loader.graph.leaf_nodes()
    older = [("accounts", "0002_photographs_and_palette"), ("stores", "0002_photographs_and_palette"), ("scenes", "0003_photographs_and_palette")]
    try:
        executor.migrate(older)
        old = executor.loader.project_state(older).apps
        studio = old.get_model("accounts", "Studio").objects.create(name="Old quay")
        document = json.dumps(older_value())
        scene = old.get_model("scenes", "Scene").objects.create(studio=studio, title="Old", document=document, accepted=[], revision=3, position=2)
        bad_state = zlib.compress(json.dumps({"document": document, "accepted": []}).encode())
        for number, state in enumerate((bad_state, b"no state at all", bad_state)):
            old.get_model("scenes", "Change").objects.create(scene=scene, number=number, label="x", state=state)
        old.get_model("stores", "StoreSurface").objects.create(studio=studio, name="A <b> board\t", width_mm=30_000, depth_mm=600, colours=[{"hex": "#a98b62", "share": 1}])
        old.get_model("stores", "StoreProp").objects.create(
            studio=studio, key="jar", name="jar", shape={"kind": "cylinder", "diameter": 76, "height": 50_000}, colours=[{"hex": "#c4621a", "share": 1}],
            skins=[{"picture": "a.b", "face": "top"}], height_mm=50_000, width_mm=76, depth_mm=76,
        )  # fmt: skip
    finally:
        MigrationExecutor(connection).migrate(newest)
    row = Scene.objects.get(title="Old")
    assert scene_from_value(json.loads(row.document)).placement("p-2").prop == "board"
    states = [bytes(c.state) for c in Change.objects.filter(scene=row)]
    assert states[1] == b"no state at all"
    for state in (states[0], states[2]):
        assert scene_from_value(json.loads(zlib.decompress(state))).placement("p9").on == "p-2"
    from tideflat.web.stores.queries import core_prop, core_surface

    assert core_surface(StoreSurface.objects.get()).name == "A b board"
    prop = core_prop(StoreProp.objects.get(key="jar"))
    assert prop.skins[0].picture == "a-b" and prop.shape.height == 20_000 and StoreProp.objects.get(key="jar").height_mm == 20_000
    call_command("flush", interactive=False, verbosity=0)


# ---- one bad scene


@pytest.fixture
def bad(studio, row) -> Scene:
    """A scene of the studio that an earlier version broke: its present step cannot be read, the one before can."""
    scene = begin_scene(studio, scene_from_value(copy.deepcopy(scene_value())), None, "laid out")
    value = json.loads(scene.document)
    value["placements"][0]["id"] = "a.b"
    document = json.dumps(value)
    Change.objects.create(scene=scene, number=1, parent=0, label="broken by something", state=zlib.compress(document.encode()))
    Scene.objects.filter(pk=scene.pk).update(document=document, title="The bad one", position=1, revision=2)
    return Scene.objects.get(pk=scene.pk)


@pytest.mark.parametrize("document", ["", "{}", "no json", '{"format": "tideflat-scene"}', "[" * 5000, '{"title": 7}'])
def test_the_shelf_and_the_stores_stand_whatever_a_scene_holds(ada, bad, row, document):
    Scene.objects.filter(pk=bad.pk).update(document=document)
    shelf = ada.get("/")
    assert shelf.status_code == 200 and b"Cannot be shown" in shelf.content and b"Marmalade morning" in shelf.content
    for path in ("/stores/", "/stores/kit/", f"/scenes/{row.pk}/", f"/scenes/{row.pk}/stage/"):
        assert ada.get(path).status_code == 200
    assert ada.get(f"/scenes/{bad.pk}/export/").content == document.encode()


def test_a_bad_scene_says_its_fault_goes_out_is_mended_by_undo_or_put_away(ada, bad):
    page = ada.get(f"/scenes/{bad.pk}/")
    assert page.status_code == 422 and b"placements[0].id: must be an id" in page.content and b"Undo: broken by something" in page.content
    for path in ("stage/", "tray/?tray=things", "remedy/?key=x", "what-if/", "palette.gpl"):
        part = ada.get(f"/scenes/{bad.pk}/{path}", headers={"HX-Request": "true"})
        assert part.status_code == 422 and b'id="notice"' in part.content, path
    for path in ("do/move/", "reserve/", "references/1/", "usual-leanings/"):
        assert ada.post(f"/scenes/{bad.pk}/{path}", {"revision": 2, "id": "p1", "setup": "main"}, headers={"HX-Request": "true"}).status_code < 500
    assert json.loads(ada.get(f"/scenes/{bad.pk}/export/").content)["placements"][0]["id"] == "a.b"
    mended = ada.post(f"/scenes/{bad.pk}/undo/", {"revision": 2, "then": "bench"}, follow=True)
    assert mended.status_code == 200 and b'id="stage"' in mended.content
    assert ada.post(f"/scenes/{bad.pk}/put-away/").status_code == 302


def test_a_bad_row_of_the_stores_is_left_out_and_takes_nothing_down(ada, row, studio):
    StoreProp.objects.filter(key="preserving-pan").update(shape={"kind": "cylinder", "diameter": -5, "height": 9})
    StoreSurface.objects.filter(studio=studio).first().delete()
    StoreSurface.objects.create(studio=studio, name="broken <", width_mm=1, depth_mm=0, colours=[])
    for path in ("/", f"/scenes/{row.pk}/", f"/scenes/{row.pk}/?tray=store", "/stores/", "/stores/?q=pan", "/stores/kit/"):
        assert ada.get(path).status_code == 200, path
