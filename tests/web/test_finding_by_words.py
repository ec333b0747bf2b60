"""Finding props by what people call them: colours, shapes, materials, other words; whole words and beginnings, the best first, with why."""

from __future__ import annotations

import pytest

from tideflat.web.stores.catalogue import catalogue_of
from tideflat.web.stores.searching import Wish, search
from tideflat.web.stores.words import ALSO_CALLED, words_of


def found(studio, text):
    catalogue = catalogue_of(studio)
    answer = search(catalogue, Wish(text=text))
    return [catalogue.name[i] for i in answer.rows], {catalogue.name[i]: why for i, why in answer.reasons.items()}


@pytest.mark.parametrize(
    ("text", "some", "none"),
    [
        ("arm", [], ["marmalade jar", "small marmalade jar"]),
        ("marm", ["marmalade jar"], []),
        ("brown", ["rye loaf"], ["white egg"]),
        ("round plate", ["dinner plate", "side plate"], ["chopping board"]),
        ("low bowl", ["breakfast plate"], ["marmalade jar"]),
        ("tall", ["ale bottle", "water jug"], ["dinner plate"]),
        ("stoneware", ["dinner plate"], ["tumbler of water"]),
        ("egg", ["brown egg", "white egg", "eggs in a bowl"], ["marmalade jar"]),
        ("eggs", ["brown egg", "eggs in a bowl"], []),
        ("hand", ["hand pouring, from the left", "hand cutting, from the right"], []),
        ("hands pouring", ["hand pouring, from the left"], ["hand cutting, from the right"]),
        ("serviette", ["napkin"], ["fork"]),
        ("wood board", ["chopping board"], ["slate board"]),
    ],
)
def test_what_is_asked_for_is_found_and_nothing_by_the_middle_of_a_word(studio, text, some, none):
    names, _ = found(studio, text)
    assert set(some) <= set(names) and not set(none) & set(names)


def test_the_best_come_first_a_name_before_a_tag_before_another_word(studio):
    names, reasons = found(studio, "tea")
    assert "tea" in names[0] and all("tea" in n for n in names[:10])
    names, reasons = found(studio, "cup")
    assert names[0] in ("egg cup with an egg", "tea cup") and names.index("tea cup") < names.index("speckled mug")
    assert "mug, for cup" in reasons["speckled mug"] and "tea cup" not in reasons


def test_why_is_said_where_the_name_does_not(studio):
    _, reasons = found(studio, "round copper")
    assert "its shape" in reasons["preserving pan"] and "copper: tagged" in reasons["preserving pan"]
    _, reasons = found(studio, "brown")
    assert all("its colour" in why or "brown" in why for why in reasons.values())


def test_every_colour_word_is_that_of_a_telling_colour():
    row = {"name": "cup", "material": "", "texture": "", "finish": "matte", "tags": [], "place": "", "lender": "", "shape": {"kind": "bowl"}}
    row |= {"width_mm": 90, "depth_mm": 90, "height_mm": 60, "colours": [{"hex": "#1c1c1c", "share": 0.9}, {"hex": "#c01818", "share": 0.1}]}
    words = words_of(row)
    assert "black" in words and "red" not in words and {"round", "deep"} & set(words)


def test_no_word_stands_for_itself_and_all_are_lower_case():
    assert all(k not in v and k == k.lower() and all(w == w.lower() for w in v) for k, v in ALSO_CALLED.items())


def test_a_hand_says_the_corridor_it_needs(studio):
    from tideflat.web.stores.models import StoreProp

    hands = StoreProp.objects.filter(studio=studio, material="hand")
    assert hands.count() == 8 and all("corridor" in h.notes and "no face" in h.notes for h in hands)
    assert all(h.width_mm > 3 * h.depth_mm for h in hands)  # the arm is part of it
