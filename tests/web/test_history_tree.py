"""History is a tree: whatever is done, every step that was there comes back byte for byte, in any order, and nothing is taken out."""

from __future__ import annotations

import json
import random
import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import Hand
from tests.support.acts import chance_act, chance_scene
from tideflat.core.errors import FieldError
from tideflat.web.accounts.models import Studio
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.acting import performed
from tideflat.web.scenes.services.history import begin_scene, change_scene, core_scene, go_to, redo, undo
from tideflat.web.scenes.steps import names_around, step_words, steps_of


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
@given(seed=st.integers(0, 2**32 - 1))
def test_any_acts_undone_redone_and_branched_come_back_to_the_same_bytes(db, seed):
    rng = random.Random(seed)
    studio = Studio.objects.create(name=f"studio {seed}")
    row = begin_scene(studio, chance_scene(rng), None, "laid out")
    kept, parents = {0: row.document}, {0: None}
    here = 0
    for _ in range(14):
        way = rng.random()
        if way < 0.55:
            value = chance_act(rng, core_scene(row))
            try:
                row, step, _, _ = change_scene(studio, row.pk, row.revision, None, lambda s, value=value: performed(s, value, s.setups[0].name))
            except FieldError:
                continue
            kept[step.number], parents[step.number] = row.document, here
        elif way < 0.75:
            row = undo(studio, row.pk, row.revision)
            assert row.document == kept[here if parents[here] is None else parents[here]]
        elif way < 0.85:
            before = row.position
            row = redo(studio, row.pk, row.revision)
            assert row.position == before or parents[row.position] == before
        else:
            row = go_to(studio, row.pk, row.revision, rng.choice(list(kept)))
        here = row.position
        assert row.document == kept[here] and row.title == core_scene(row).title
    assert {c.number: c.parent for c in Change.objects.filter(scene=row)} == parents
    for number in rng.sample(list(kept), len(kept)):
        row = go_to(studio, row.pk, row.revision, number)
        assert row.document == kept[number]
        if parents[number] is not None:  # and redo leads back along the way that was come
            assert redo(studio, row.pk, undo(studio, row.pk, row.revision).revision).position == number
            row = Scene.objects.get(pk=row.pk)
    for step in Change.objects.filter(scene=row, number__gt=0):
        assert 0 < len(step_words(step, "in", with_setup=True)) <= 330


def test_steps_are_listed_with_who_and_when_and_where_a_branch_goes_on(hand, row):
    hand.do("move", id="p1", x=400, y=300)
    hand.do("turn", id="p2", turn="30")
    hand.travel("undo")
    hand.do("role", id="p5", role="accent")
    listed = steps_of(Scene.objects.get(pk=row.pk), "mm", with_setup=False)
    assert [(s.number, s.words, s.who, s.is_here, s.is_way, s.after) for s in listed] == [
        (3, "orange made accent", "Ada", True, True, 1),
        (2, "board turned to 30°", "Ada", False, False, None),
        (1, "jar moved 32 mm", "Ada", False, True, None),
        (0, "laid out", "", False, True, None),
    ]
    page = hand.client.get(f"/scenes/{row.pk}/tray/", {"tray": "steps"}).content.decode()
    assert "goes on from step 1" in page and 'data-act="go-to" data-value="2"' in page and "you are here" in page


def test_who_looks_on_sees_the_steps_and_goes_nowhere(hand, vic, row):
    hand.do("move", id="p1", x=400, y=300)
    page = vic.get(f"/scenes/{row.pk}/tray/", {"tray": "steps"}).content.decode()
    assert "jar moved" in page and "go-to" not in page
    assert vic.post(f"/scenes/{row.pk}/go-to/", {"revision": 2, "number": 0}).status_code == 403


def test_words_are_in_the_readers_own_unit_whoever_did_it(hand, ada, row):
    hand.do("move", id="p1", x=430 + 25.4, y=310)
    assert "Undo: jar moved 25 mm" in hand.client.get(f"/scenes/{row.pk}/").content.decode()
    ada.post("/preferences/", {"unit": "in", "ground": "middle"})
    assert "Undo: jar moved 1 in" in ada.get(f"/scenes/{row.pk}/").content.decode()


def test_undo_names_the_set_up_it_was_in(hand, ada, row):
    hand.do("setup-add", name="upright")
    hand.do("camera", field="elevation", value="60", setup="upright")
    hand.do("turn", id="p1", turn="10", setup="upright", only="1")
    assert names_around(Scene.objects.get(pk=row.pk), "mm", with_setup=True) == ("jar turned to 10°, only in upright", None)
    hand.travel("undo")
    assert "Undo: elevation 60°, in upright" in ada.get(f"/scenes/{row.pk}/", {"setup": "main"}).content.decode()


def test_a_set_up_with_a_name_of_one_letter_is_named_too(hand, ada, row):
    hand.do("setup-rename", name="a")
    hand.setup = "a"
    hand.do("setup-add", name="b")
    hand.do("turn", id="p2", turn="10")
    assert names_around(Scene.objects.get(pk=row.pk), "mm", with_setup=True)[0] == "board turned to 10°, in a"
    hand.do("hide", id="p2")
    assert names_around(Scene.objects.get(pk=row.pk), "mm", with_setup=True)[0] == "board left out of a"


def test_a_step_of_another_scene_is_not_there(hand, ada, studio, row):
    other = begin_scene(studio, core_scene(row), None, "laid out")
    Hand(ada, other).do("move", id="p1", x=1, y=1)
    assert hand.travel("go-to", number=1).status_code == 404
    assert hand.travel("go-to", number="two").status_code == 400


def test_a_step_whose_state_is_broken_is_told_and_the_scene_stays(hand, ada, row):
    hand.do("move", id="p1", x=400, y=300)
    before = hand.document
    Change.objects.filter(scene=row, number=0).update(state=b"-")
    told = ada.post(f"/scenes/{row.pk}/undo/", {"revision": 2}, headers={"HX-Request": "true"})
    assert told.status_code == 422 and b"step 0: what was kept of it cannot be read" in told.content
    assert hand.document == before and Scene.objects.get(pk=row.pk).position == 1


# ---- the remedy that is applied is the one that was shown


@pytest.fixture
def crowded(hand, ada, row):
    hand.do("move", id="p5", x=400, y=330)  # into the jar
    return hand


def test_the_remedy_that_is_taken_is_the_one_that_was_shown_and_nothing_is_searched_for_it(crowded, ada, row, monkeypatch):
    from tideflat.core.remedies import search
    from tideflat.web.scenes.services import judgement

    key = "spacing.overlap||p1|p5"
    searched = []
    real = search.remedy_for
    judgement.remedy_of.cache_clear()
    monkeypatch.setattr(judgement, "remedy_for", lambda *a, **k: (searched.append(1), real(*a, **k))[1])
    shown = ada.get(f"/scenes/{row.pk}/remedy/", {"setup": "main", "key": key}).content.decode()
    assert len(searched) == 1
    seal = re.search(r'data-seal="([^"]+)"', shown)[1]
    ghost = json.loads(re.search(r'data-ghost="([^"]+)"', shown)[1].replace("&quot;", '"'))
    before = {p["id"]: p for p in crowded.document["placements"]}
    judgement.remedy_of.cache_clear()  # another process, which has searched nothing
    assert crowded.do("remedy", seal=seal).status_code == 200
    assert len(searched) == 1
    after = {p["id"]: p for p in crowded.document["placements"]}
    moved = {i: [round(after[i][k] - before[i][k], 1) for k in "xyz"] for i in after if after[i] != before[i]}
    assert moved == ghost["moves"] and moved
    assert crowded.words(Scene.objects.get(pk=row.pk).position).startswith("remedy: ")


def test_a_remedy_that_was_shown_for_another_state_or_scene_is_looked_for_once_more(crowded, ada, row, studio):
    shown = ada.get(f"/scenes/{row.pk}/remedy/", {"setup": "main", "key": "spacing.overlap||p1|p5"}).content.decode()
    seal = re.search(r'data-seal="([^"]+)"', shown)[1]
    crowded.do("turn", id="p2", turn="33")
    before = crowded.document
    for bad in (seal, seal[:-3] + "abc", ""):
        assert crowded.do("remedy", seal=bad).status_code == 400
    other = Hand(ada, begin_scene(studio, core_scene(Scene.objects.get(pk=row.pk)), None, "laid out"))
    refused = other.do("remedy", seal=seal)
    assert refused.status_code == 400 and b"looked for once more" in refused.content
    assert crowded.document == before


def test_a_finding_is_meant_in_every_crop_and_after_the_scene_has_been_out_and_in(hand, ada, row):
    hand.do("deliverable", name="tall", ratio="9:16", pixels_wide="1080", pixels_high="1920", copy_side="top", text_share="1")
    hand.do("deliverable", was="feed", name="feed", ratio="4:5", copy_side="top", copy_share="20", text_share="1")
    page = ada.get(f"/scenes/{row.pk}/").content.decode()
    keys = re.findall(r'class="finding \w+ above" data-key="(copy\.illegible[^"]*)"', page)
    assert len(keys) == 1  # said once, of both crops
    kept = hand.do("accept", key=keys[0], reason="they stand elsewhere").content.decode()
    assert kept.count("Meant: they stand elsewhere") == 1 and 'above" data-key="copy.illegible' not in kept
    document = ada.get(f"/scenes/{row.pk}/export/").content
    ada.post("/scenes/import/", {"document": SimpleUploadedFile("s.tideflat.json", document)})
    brought = Scene.objects.exclude(pk=row.pk).get()
    assert "Meant: they stand elsewhere" in ada.get(f"/scenes/{brought.pk}/").content.decode()
    assert ada.get(f"/scenes/{brought.pk}/export/").content == document
