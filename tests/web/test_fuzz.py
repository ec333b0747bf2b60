"""No post, whatever is in it, gets an answer of 500, and nothing is kept that the core would not take. `make fuzz` runs 5,000 and more."""

from __future__ import annotations

import os
import xml.etree.ElementTree as ElementTree

import pytest

from tests.conftest import signed_in
from tests.support.fuzz import posts
from tideflat.web.accounts.models import Membership, Studio
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import UnreadableScene, core_scene
from tideflat.web.stores.models import CameraBody, StoreBackdrop, StoreImage, StoreLens, StoreProp, StoreSurface, WaitingTable
from tideflat.web.stores.queries import core_backdrop, core_lens, core_prop, core_sensor, core_surface

COUNT, SEED = int(os.environ.get("TIDEFLAT_FUZZ", "420")), int(os.environ.get("TIDEFLAT_FUZZ_SEED", "7"))


def everything_kept_is_taken_by_the_core(studio: Studio) -> None:
    for row in Scene.objects.filter(studio=studio):
        try:
            core_scene(row)
        except UnreadableScene as error:
            pytest.fail(str(error))
    for model, read in ((StoreProp, core_prop), (StoreSurface, core_surface), (StoreBackdrop, core_backdrop), (StoreLens, core_lens), (CameraBody, core_sensor)):
        for row in model.objects.filter(studio=studio):
            read(row)


def pages_open(client, studio: Studio, scene: Scene) -> None:
    for path in ("/", f"/scenes/{scene.pk}/", f"/scenes/{scene.pk}/?tray=store", "/stores/", "/stores/kit/", "/people/", "/preferences/"):
        assert client.get(path).status_code in (200, 302), path
    newest = StoreProp.objects.filter(studio=studio).order_by("-pk").first()
    assert newest is not None
    assert client.get(f"/stores/props/{newest.pk}/").status_code == 200
    ElementTree.fromstring(client.get(f"/stores/props/{newest.pk}/picture.svg").content)


@pytest.mark.filterwarnings("ignore")
def test_no_post_is_answered_with_500_and_what_is_kept_is_sound(studio, row):
    ada = signed_in("ada")
    Membership.objects.filter(person__username="ada").update(role=Membership.OWNER)
    ada.raise_request_exception = False
    prop = StoreProp.objects.filter(studio=studio).first()
    assert prop is not None
    picture = StoreImage.objects.filter(studio=studio).first()
    members = list(Membership.objects.filter(studio=studio, person__username="vic").values_list("pk", flat=True))
    answers: dict[int, int] = {}
    for post in posts(SEED, COUNT, row.pk, prop.pk, members):
        values = dict(post.values)
        for key, value in values.items():
            if value == "NOW":
                values[key] = Scene.objects.get(pk=row.pk).revision
            elif value == "WAITING":
                values[key] = WaitingTable.objects.values_list("pk", flat=True).last() or 1
            elif value == "PICTURE":
                values[key] = picture.key if picture else "none"
        client = ada
        answer = client.post(post.path, values)
        answers[answer.status_code] = answers.get(answer.status_code, 0) + 1
        assert answer.status_code < 500, f"seed {SEED}, {post} answered {answer.status_code}"
        if answer.status_code == 400:
            assert len(answer.content) > 20, f"seed {SEED}, {post}: refused without words"
        if post.number % 100 == 99:
            everything_kept_is_taken_by_the_core(studio)
            pages_open(ada, studio, row)
        if ada.get("/preferences/").status_code != 200:  # a changed password or the like: sign in again
            person = Membership.objects.get(person__username="ada").person
            person.set_password("a-long-enough-word")
            person.save()
            ada.login(username="ada", password="a-long-enough-word")
    everything_kept_is_taken_by_the_core(studio)
    pages_open(ada, studio, row)
    assert answers.get(200, 0) > COUNT / 20 and answers.get(400, 0) > COUNT / 20, answers  # it reaches both what is taken and what is refused
