"""People and scenes that web and browser tests share."""

from __future__ import annotations

import copy
import gc
import json
import re
from typing import Any

import pytest
from django.core.cache import cache
from django.test import Client
from hypothesis import settings

from tests.support.scenes import scene_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.accounts.models import Membership, Studio
from tideflat.web.accounts.services import add_person, make_studio
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.steps import step_words
from tideflat.web.stores.services import fill_with_starters

# The same examples every time: a test that fails here fails everywhere.
settings.register_profile("tideflat", derandomize=True, deadline=None, database=None)
settings.load_profile("tideflat")

PASSWORD = "a-long-enough-word"

#: What takes longest begins first, so that no worker ends long after the others.
LONG = tuple(f"tests/{name}" for name in (
    "web/test_keeping", "web/test_behind_a_proxy", "web/test_uploads", "web/test_processes", "web/test_people", "web/test_bad_times",
    "reference/test_measuring_photographs", "browser/",
))  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    items.sort(key=lambda item: not item.nodeid.startswith(LONG))


def pytest_collection_finish() -> None:
    """What was loaded and collected stays to the end: to look through it for what is no longer used took a tenth of the time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 30, 100)  # as the server does (web.wsgi)


@pytest.fixture(autouse=True)
def _fresh_counts():
    cache.clear()


@pytest.fixture
def studio(db: Any) -> Studio:
    """A studio with full stores and two people: ada may change, vic may look."""
    return furnished_studio()


def furnished_studio() -> Studio:
    made = make_studio("Quay studio")
    fill_with_starters(made)
    add_person(made, "ada", PASSWORD, Membership.STYLIST, "Ada")
    add_person(made, "vic", PASSWORD, Membership.VIEWER, "Vic")
    return made


@pytest.fixture
def other_studio(db: Any) -> Studio:
    """Another studio, whose things are nobody else's business."""
    made = make_studio("Far studio")
    fill_with_starters(made)
    add_person(made, "olu", PASSWORD, Membership.OWNER, "Olu")
    return made


@pytest.fixture
def row(studio: Studio) -> Scene:
    """The scene of tests/support/scenes.py in the studio."""
    return begin_scene(studio, scene_from_value(copy.deepcopy(scene_value())), None, "laid out")


def signed_in(name: str) -> Client:
    client = Client()
    assert client.login(username=name, password=PASSWORD)
    return client


@pytest.fixture
def ada(studio: Studio) -> Client:
    return signed_in("ada")


@pytest.fixture
def vic(studio: Studio) -> Client:
    return signed_in("vic")


@pytest.fixture
def olu(other_studio: Studio) -> Client:
    return signed_in("olu")


class Hand:
    """One window on one scene, as the bench's script would post."""

    def __init__(self, client: Client, scene: Scene) -> None:
        self.client, self.pk = client, scene.pk
        self.revision = Scene.objects.get(pk=scene.pk).revision
        self.setup = json.loads(scene.document)["setups"][0]["name"]

    def do(self, verb: str, **values: Any) -> Any:
        response = self.client.post(f"/scenes/{self.pk}/do/{verb}/", {"revision": self.revision, "setup": self.setup, **values})
        if response.status_code == 200:
            self.revision = Scene.objects.get(pk=self.pk).revision
        return response

    def remedy(self, key: str, setup: str = "main") -> Any:
        """Take the remedy of a finding as the window does that was shown it."""
        shown = self.client.get(f"/scenes/{self.pk}/remedy/", {"setup": setup, "key": key}).content.decode()
        seal = re.search(r'data-seal="([^"]+)"', shown)
        assert seal is not None, shown
        return self.do("remedy", seal=seal[1], setup=setup)

    def words(self, number: int) -> str:
        """What the step of this number says in millimetres."""
        return step_words(Change.objects.get(scene=self.pk, number=number), "mm")

    def travel(self, way: str, **values: Any) -> Any:
        response = self.client.post(f"/scenes/{self.pk}/{way}/", {"revision": self.revision, **values})
        if response.status_code == 200:
            self.revision = Scene.objects.get(pk=self.pk).revision
        return response

    @property
    def document(self) -> dict[str, Any]:
        return json.loads(Scene.objects.get(pk=self.pk).document)

    def placement(self, placement_id: str) -> dict[str, Any]:
        return next(p for p in self.document["placements"] if p["id"] == placement_id)

    @property
    def camera(self) -> dict[str, Any]:
        return self.document["setups"][0]["camera"]


@pytest.fixture
def hand(ada: Client, row: Scene) -> Hand:
    return Hand(ada, row)
