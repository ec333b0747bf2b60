"""Answers as they go out: compression, pages for faults, preferences, simultaneous hands."""

from __future__ import annotations

import gzip
import threading
from types import SimpleNamespace

import pytest
from django.contrib.auth.models import User
from django.db import connection
from django.test import Client

from tests.conftest import PASSWORD
from tests.support.scenes import scene_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.accounts.models import Preference, Studio
from tideflat.web.accounts.throttle import too_many
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.acting import performed
from tideflat.web.scenes.services.history import StaleRevision, begin_scene, change_scene


def test_long_answers_are_compressed_for_those_who_take_it(ada, row):
    plain = ada.get(f"/scenes/{row.pk}/")
    packed = ada.get(f"/scenes/{row.pk}/", headers={"Accept-Encoding": "gzip, br"})
    assert packed["Content-Encoding"] == "gzip" and int(packed["Content-Length"]) == len(packed.content) < len(plain.content) / 2
    assert b"Marmalade morning" in gzip.decompress(packed.content)
    assert "Content-Encoding" not in plain and "Accept-Encoding" in packed["Vary"]


def test_what_is_not_there_is_a_page_of_ours(ada):
    response = ada.get("/scenes/99999/")
    assert response.status_code == 404 and b"belongs to another studio" in response.content
    assert ada.post("/scenes/new/", {"from": "a kettle"}).status_code == 400


def test_someone_in_no_studio_is_told_so(db):
    User.objects.create_user("lone", password=PASSWORD)
    client = Client()
    client.login(username="lone", password=PASSWORD)
    response = client.get("/")
    assert response.status_code == 403 and b"You are in no studio yet" in response.content


def test_a_missing_token_is_a_page_of_ours(row, studio):
    client = Client(enforce_csrf_checks=True)
    client.login(username="ada", password=PASSWORD)
    assert b"nothing was changed" in client.post("/scenes/new/", {"from": "empty"}).content


def test_preferences_change_units_and_ground_everywhere(ada, row):
    ada.post("/preferences/", {"unit": "in", "ground": "deep"})
    page = ada.get(f"/scenes/{row.pk}/").content.decode()
    assert 'data-ground="deep"' in page and "43 5/16" in page and 'data-unit="in"' in page
    assert Preference.objects.get().unit == "in"
    ada.post("/preferences/", {"unit": "ell", "ground": "deep"})
    assert Preference.objects.get().unit == "in"


@pytest.mark.django_db
def test_tries_are_counted_by_who_and_what_for():
    assert [too_many("x", "a", 2, 60) for _ in range(3)] == [False, False, True]
    assert not too_many("x", "b", 2, 60) and not too_many("y", "a", 2, 60)


def test_changes_are_limited_and_nothing_is_lost(hand, monkeypatch):
    monkeypatch.setattr("tideflat.web.scenes.views.answers.CHANGES_A_MINUTE", 2)
    monkeypatch.setattr("tideflat.web.accounts.throttle.time", SimpleNamespace(time=lambda: 1_000_000.0))  # all in one minute
    assert [hand.do("move", id="p1", x=x, y=1).status_code for x in (1, 2, 3)] == [200, 200, 429]
    assert hand.placement("p1")["x"] == 2


@pytest.mark.django_db(transaction=True)
def test_of_many_hands_at_once_exactly_one_wins_each_revision(studio):
    row = begin_scene(studio, scene_from_value(scene_value()), None, "laid out")
    won: list[int] = []
    lost: list[int] = []

    def hand(k: int) -> None:
        try:
            change_scene(
                Studio.objects.get(pk=studio.pk), row.pk, 1, None, lambda s: performed(s, {"act": "move", "placement": "p1", "x": k, "y": 1})
            )
            won.append(k)
        except StaleRevision:
            lost.append(k)
        finally:
            connection.close()

    hands = [threading.Thread(target=hand, args=(k,)) for k in range(8)]
    for h in hands:
        h.start()
    for h in hands:
        h.join(timeout=60)
    assert len(won) == 1 and len(lost) == 7
    row.refresh_from_db()
    assert row.revision == 2 and f'"x":{won[0]},' in row.document
    assert [c.number for c in Change.objects.filter(scene=row)] == [0, 1]


def test_a_fault_inside_an_act_leaves_no_half_change(studio):
    row = begin_scene(studio, scene_from_value(scene_value()), None, "laid out")

    def broken(scene):
        raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        change_scene(studio, row.pk, 1, None, broken)
    assert Scene.objects.get(pk=row.pk).revision == 1 and Change.objects.filter(scene=row).count() == 1
