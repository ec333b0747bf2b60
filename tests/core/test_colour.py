"""The few colours of a picture, the harmony of hues, and plain words for a colour."""

from __future__ import annotations

import numpy as np
import pytest

from tideflat.core.colour.clusters import colours_with_shares
from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.colour.harmony import harmony
from tideflat.core.colour.words import colour_words, told_apart


def _noisy(parts: list[tuple[tuple[int, int, int], int]], spread: float) -> np.ndarray:
    random = np.random.default_rng(2)
    blocks = [random.normal(colour, spread, (count, 3)) for colour, count in parts]
    return np.clip(np.concatenate(blocks), 0, 255).astype(np.uint8)


def test_clusters_find_the_colours_and_their_shares() -> None:
    found = colours_with_shares(_noisy([((196, 98, 26), 7000), ((233, 220, 196), 2500), ((20, 60, 60), 500)], 5))
    assert [pytest.approx(share, abs=0.01) for _, share in found] == [0.7, 0.25, 0.05]
    assert all(difference(got, want) < 3 for (got, _), want in zip(found, ("#c4621a", "#e9dcc4", "#143c3c"), strict=True))


def test_clusters_join_what_is_one_colour_and_drop_specks() -> None:
    pixels = _noisy([((120, 120, 120), 5000), ((126, 124, 122), 5000), ((250, 10, 10), 60)], 2)
    found = colours_with_shares(pixels)
    assert len(found) == 1
    assert found[0][1] == pytest.approx(1)
    assert colours_with_shares(np.empty((0, 3), dtype=np.uint8)) == []


def test_clusters_do_not_hang_on_the_order_of_pixels() -> None:
    pixels = _noisy([((196, 98, 26), 400), ((30, 40, 90), 300), ((220, 220, 210), 300)], 12)
    assert colours_with_shares(pixels) == colours_with_shares(pixels[::-1])


@pytest.mark.parametrize(
    ("hues", "template"),
    [([50, 54, 58], "i"), ([20, 60, 100], "V"), ([50, 55, 232], "I"), ([40, 70, 110, 255], "Y"), ([0, 60, 120, 180], "T")],
)
def test_harmony_is_the_plainest_template_that_fits(hues: list[float], template: str) -> None:
    n = len(hues)
    assert harmony(np.array(hues, dtype=float), np.full(n, 0.1), np.full(n, 1 / n)).template == template


def test_harmony_weighs_by_chroma_so_that_greys_do_not_speak() -> None:
    hues, chromas = np.array([50.0, 140.0, 250.0]), np.array([0.15, 0.004, 0.004])
    assert harmony(hues, chromas, np.array([0.2, 0.4, 0.4])).template == "i"
    assert harmony(hues, chromas * 0.05, np.ones(3)).template == "N"


def test_colours_have_plain_names() -> None:
    assert [colour_words(c) for c in ("#000000", "#ffffff", "#808080", "#d02020", "#2f6fc4", "#6d7a34")] == [
        "black",
        "white",
        "grey",
        "red",
        "blue",
        "green",
    ]


def test_colours_that_would_be_called_alike_are_told_apart():
    assert told_apart(["#9f6f36", "#dfb52b", "#4f6b35"]) == ["darker ochre", "lighter ochre", "green"]
    assert told_apart(["#dfb52b", "#9f6f36"]) == ["lighter ochre", "darker ochre"]
    assert told_apart(["#9f6f36", "#9f6f36"]) == ["ochre", "ochre"]  # one colour, twice
    assert len(set(told_apart(["#9f6f36", "#dfb52b", "#b08a30"]))) == 3
    assert told_apart([]) == []
