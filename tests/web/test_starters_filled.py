"""The starter store as a studio's own rows: whole, filled again without harm, its pictures kept once."""

from __future__ import annotations

from tideflat.web.stores.models import StoreImage, StoreProp, StoreSurface
from tideflat.web.stores.services import fill_with_starters, keep_starter_pictures
from tideflat.web.stores.starter_skins import manifest


def worn(studio) -> set[str]:
    of_props = {skin["picture"] for row in StoreProp.objects.filter(studio=studio) for skin in row.skins}
    return of_props | {row.skin["picture"] for row in StoreSurface.objects.filter(studio=studio) if row.skin}


def kept(studio) -> list[str]:
    return sorted(StoreImage.objects.filter(studio=studio).values_list("key", flat=True))


def test_every_picture_that_is_worn_is_kept_once_with_its_size(studio):
    every = [e for found in manifest()["props"].values() for e in found] + list(manifest()["surfaces"].values())
    assert kept(studio) == sorted(worn(studio)) and len(worn(studio)) > 80
    sizes = {tuple(e["pixels"]) for e in every}
    assert {(row.width_px, row.height_px) for row in StoreImage.objects.filter(studio=studio)} <= sizes
    assert all(bytes(row.data[:4]) == b"RIFF" for row in StoreImage.objects.filter(studio=studio))


def test_filled_again_what_is_there_stays_and_what_went_comes_back(studio):
    before, first = kept(studio), StoreProp.objects.filter(studio=studio).order_by("key")[0]
    StoreProp.objects.filter(pk=first.pk).update(name="renamed")
    gone = StoreProp.objects.filter(studio=studio).exclude(pk=first.pk).exclude(skins=[])[0]
    StoreImage.objects.filter(studio=studio, key=gone.skins[0]["picture"]).delete()
    gone.delete()
    fill_with_starters(studio)
    assert kept(studio) == before and StoreProp.objects.get(pk=first.pk).name == "renamed"
    assert StoreProp.objects.filter(studio=studio, key=gone.key).count() == 1


def test_of_the_pictures_that_a_scene_wears_those_that_ship_are_kept(studio):
    before = kept(studio)
    StoreImage.objects.filter(studio=studio).delete()
    keep_starter_pictures(studio, {before[0], before[5], "no-such-picture"})
    assert kept(studio) == [before[0], before[5]]
    keep_starter_pictures(studio, set(before[:7]))
    assert kept(studio) == before[:7]


def test_one_studios_pictures_are_no_others(studio, other_studio):
    StoreImage.objects.filter(studio=studio).delete()
    keep_starter_pictures(studio, {kept(other_studio)[0]})
    assert len(kept(studio)) == 1 and len(kept(other_studio)) > 80
