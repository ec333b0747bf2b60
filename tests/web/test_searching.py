"""Finding in the stores: by words, tag, kind, size, nearness of colour, and what goes with a scene; always the newest, always the studio's own."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import scene_value
from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.formats.prop_table import PropRecord
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Colour, Prop
from tideflat.core.palette.choosing import NEAR
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.web.stores.catalogue import _kept, catalogue_of, tags_in_use
from tideflat.web.stores.models import StoreProp
from tideflat.web.stores.searching import Wish, search
from tideflat.web.stores.services import change_many, import_records, keep_prop, remove_props


def keys(studio, scene=None, **wish):
    catalogue = catalogue_of(studio)
    return [catalogue.key[i] for i in search(catalogue, Wish(**wish), scene).rows]


def test_words_tag_kind_finish_and_size_all_narrow(studio):
    assert set(keys(studio, text="tea", kind="cylinder", finish="satin")) >= {"tea-tin-tall", "tea-tin-low"}
    assert "tea-tin-square" not in keys(studio, text="tea tin", kind="cylinder")
    between = keys(studio, least_mm=260, most_mm=300)
    sizes = {p.key: p.width_mm for p in StoreProp.objects.filter(studio=studio)}
    assert between and set(between) == {k for k, w in sizes.items() if 260 <= w <= 300}
    tag = tags_in_use(catalogue_of(studio))[0]
    assert set(keys(studio, tag=tag)) == {p.key for p in StoreProp.objects.filter(studio=studio) if tag in p.tags}


def test_near_a_colour_is_by_ciede2000_the_nearest_first(studio):
    wanted = "#c4621a"
    found = keys(studio, colour=wanted)
    colours = {p.key: [c for c in p.colours if c["share"] >= 0.12] or p.colours[:1] for p in StoreProp.objects.filter(studio=studio)}
    nearest = [min(difference(wanted, c["hex"]) for c in colours[k]) for k in found]
    assert found and nearest == sorted(nearest) and nearest[-1] <= NEAR
    others = [k for k in colours if k not in found]
    assert min(min(difference(wanted, c["hex"]) for c in colours[k]) for k in others) > NEAR - 0.01


def test_what_goes_with_a_scene_comes_first_with_its_reason(studio):
    value = scene_value()
    value["palette"] = {"colours": [{"hex": "#536068", "part": "base", "share": 0.6}, {"hex": "#d9762a", "part": "accent", "share": 0.1}]}
    value["brief"] = {"tags": ["orange"]}
    scene = scene_from_value(value)
    catalogue = catalogue_of(studio)
    found = search(catalogue, Wish(), scene)
    best = int(found.rows[0])
    assert "tells of orange" in found.reasons[best] and "keeps to the palette's orange" in found.reasons[best]
    order = [catalogue.key[i] for i in found.rows]
    assert order.index("orange-slice") < order.index("napkin")


def test_a_change_of_any_kind_is_found_at_once(studio):
    made = keep_prop(studio, PropRecord(Prop("kettle", "old kettle", Cylinder(160, 190), (Colour("#3a3a3a", 1),), tags=("tea",))))
    assert keys(studio, text="kettle") == ["kettle"]
    change_many(studio, [made.pk], "add_tag", "headland")
    assert keys(studio, tag="headland") == ["kettle"]
    remove_props(studio, [made.pk])
    assert keys(studio, text="kettle") == []
    import_records(studio, [PropRecord(Prop("kettle", "new kettle", Cylinder(150, 180), (Colour("#b22a26", 1),)))])
    assert keys(studio, text="kettle", colour="#b22a26") == ["kettle"]


def test_another_studios_props_are_never_found(studio, other_studio):
    keep_prop(other_studio, PropRecord(Prop("secret", "secret thing", Cylinder(10, 10), (Colour("#123456", 1),))))
    assert keys(studio, text="secret") == [] and keys(other_studio, text="secret") == ["secret"]


def test_an_emptied_store_finds_nothing_and_does_not_fail(studio):
    remove_props(studio, list(StoreProp.objects.filter(studio=studio).values_list("pk", flat=True)))
    assert keys(studio) == [] and keys(studio, colour="#c4621a", text="x") == []
    assert search(catalogue_of(studio), Wish(), scene_from_value(scene_value())).rows.size == 0


@pytest.mark.parametrize("wish", [{"text": "tin"}, {"colour": "#8f9a98"}, {"least_mm": 50, "most_mm": 90}])
def test_what_is_kept_in_memory_answers_as_a_fresh_reading_does(studio, wish):
    keep_prop(studio, PropRecord(Prop("tin", "a tin", Cylinder(80, 100), (Colour("#8f9a98", 1),))))
    kept = keys(studio, **wish)
    _kept.pop(studio.pk)
    assert keys(studio, **wish) == kept
    assert np.array_equal(catalogue_of(studio).pk, catalogue_of(studio).pk)
