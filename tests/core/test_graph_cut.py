"""How rounds of a graph cut follow each other, told by a stand-in for OpenCV's; and outlines that are not told again to no good."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import cv2
import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import BOX, disc, drawn, found_from
from tideflat.core.vision import graph_cut, outlined
from tideflat.core.vision.graph_cut import _NEAR_PX, cut
from tideflat.core.vision.ground import tell_apart
from tideflat.core.vision.grounds_own import SMALL_MM2
from tideflat.core.vision.outlined import free_outline
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.things_seen import _HARDLY_OWN, _may_be_cleared

PICTURE = np.zeros((90, 120, 3), np.uint8)


def state_of(columns: int) -> np.ndarray:
    """So many columns of the picture probably the thing's."""
    state = np.full((90, 120), cv2.GC_PR_BGD, np.uint8)
    state[:, :columns] = cv2.GC_PR_FGD
    return state


@pytest.fixture
def rounds(monkeypatch):
    """``rounds(60, 58, ...)``: after each round so many columns are the thing's, and its colours those of that round; what was asked."""
    asked: list[np.ndarray] = []

    def stand_in(*columns: int) -> list[np.ndarray]:
        answers = iter(enumerate(columns, 1))

        def answer(picture, mask, rect, ground, thing, count, way):
            asked.append(mask.copy())
            number, wide = next(answers)
            assert count == 1 and (way == cv2.GC_INIT_WITH_MASK) == (number == 1)
            is_asked = mask >= cv2.GC_PR_BGD
            mask[is_asked] = np.where(np.arange(120)[None] < wide, cv2.GC_PR_FGD, cv2.GC_PR_BGD).repeat(90, axis=0)[is_asked]
            ground[:], thing[:] = number, 10 * number

        monkeypatch.setattr(graph_cut.cv2, "grabCut", answer)
        return asked

    return stand_in


def test_after_the_first_round_only_what_lies_near_to_its_cut_is_asked(rounds):
    asked = rounds(60, 62, 61)
    found = cut(PICTURE, state_of(50))
    assert (found.sum(axis=1) == 61).all()
    assert len(asked) == 3 and (asked[0] >= cv2.GC_PR_BGD).all()
    near = np.flatnonzero(asked[1][45] >= cv2.GC_PR_BGD)
    assert (near.min(), near.max()) == (60 - _NEAR_PX, 59 + _NEAR_PX)
    assert (asked[1][45][: near.min()] == cv2.GC_FGD).all() and (asked[1][45][near.max() + 1 :] == cv2.GC_BGD).all()


def test_what_was_sure_stays_so(rounds):
    asked = rounds(60, 60, 60)
    state = state_of(50)
    state[10:20, 58:62], state[30:40, 58:62] = cv2.GC_BGD, cv2.GC_FGD
    cut(PICTURE, state)
    assert all((mask[10:20, 58:62] == cv2.GC_BGD).all() and (mask[30:40, 58:62] == cv2.GC_FGD).all() for mask in asked)


@pytest.mark.parametrize(("second", "is_heard"), [(16, True), (14, False), (119, True)])
def test_a_round_that_loses_the_thing_is_not_heard(rounds, monkeypatch, second, is_heard):
    """Less than 0.3 of the fifty columns that it was begun with."""
    monkeypatch.setattr(graph_cut, "_NEAR_PX", 200)
    rounds(48, second, second)
    found, ground, thing = graph_cut._cut(PICTURE, state_of(50))
    assert int(found[0].sum()) == (second if is_heard else 48)
    assert float(ground.mean()) == (3 if is_heard else 1) and float(thing.mean()) == 10 * float(ground.mean())


@pytest.mark.parametrize(("second", "is_heard"), [(89, True), (91, False)])
def test_nor_one_that_takes_in_the_table(rounds, monkeypatch, second, is_heard):
    monkeypatch.setattr(graph_cut, "_NEAR_PX", 200)
    rounds(31, second, second)
    assert int(cut(PICTURE, state_of(30))[0].sum()) == (second if is_heard else 31)


def test_what_the_first_round_says_is_heard_whatever_it_is(rounds):
    rounds(2, 2, 2)
    assert int(cut(PICTURE, state_of(50))[0].sum()) == 2


@pytest.mark.parametrize("doubts", [[], ["soft"]])
def test_a_ragged_outline_is_told_smoothly_too_where_it_is_in_no_other_doubt(monkeypatch, doubts):
    picture, found = drawn((disc(0, 0, 70), (140, 60, 40))), found_from()
    flat = flatten(picture, found.pose.plane_to_pixel, BOX, 2.0)
    real, begun, asked = outlined._outlined, outlined.begun_outline, []

    def begins(*given):
        asked.append(given[6] if len(given) > 6 else 0.0)
        return begun(*given)

    monkeypatch.setattr(outlined, "begun_outline", begins)
    monkeypatch.setattr(outlined, "_outlined", lambda *given, **more: replace(real(*given, **more), doubts=doubts))
    monkeypatch.setattr(outlined, "raggedness", lambda outline: 1.2)
    free_outline(disc(0, 0, 70), tell_apart(flat, found.size_mm), flat, picture, found, 0.0)
    assert asked == ([0.0] if doubts else [0.0, outlined._STAIRS_PX / 2.0])


@pytest.mark.parametrize(
    ("own", "mm2", "is_in_doubt", "may_be"),
    [
        (_HARDLY_OWN, 900, True, True),
        (_HARDLY_OWN - 0.01, 900, True, False),
        (0.1, 900, False, True),
        (1.0, SMALL_MM2 + 1, True, True),
        (1.0, SMALL_MM2 - 1, True, False),
        (1.0, SMALL_MM2 - 1, False, True),
    ],
)
def test_what_is_hardly_its_own_or_a_crumb_is_not_told_again(own, mm2, is_in_doubt, may_be):
    edge = SimpleNamespace(is_own=np.arange(100) < round(100 * own))
    begun = SimpleNamespace(is_in_doubt=is_in_doubt, edge=edge, outline=shapely.box(0, 0, 10, mm2 / 10))
    assert _may_be_cleared(begun) == may_be
