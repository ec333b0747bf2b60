"""Named places as both views draw them: the state that the findings would tell, on both sides of each limit."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.findings.registry import findings
from tideflat.web.bridge.crops_drawn import chosen_crop
from tideflat.web.bridge.places_drawn import places_drawn
from tideflat.web.bridge.sheets import Sheet

FRAME, TABLE = Sheet("f", 1200, 800, 1200, 800), Sheet("t", 900, 600, 1, -1, 0, 600)


def labelled(turn: float = 0.0, **camera) -> dict:
    """A label on the jar's front, at eye level before the lens, that must be seen."""
    value = scene_value(**{"elevation": 0, "aim": [430, 310, 48], "distance": 800, "aperture": 8, "focus": {"point": [430, 272, 48]}, **camera})
    label = {"id": "label", "name": "label", "at": [0, -38, 48], "facing": [0, -1, 0], "width": 30, "height": 40}
    value["props"][0] |= {"features": [label], "finish": "matte"}
    value["placements"] = [{"id": "p1", "prop": "jar", "x": 430, "y": 310, "role": "hero", "turn": turn}]
    value["brief"] = {"must_show": [{"placement": "p1", "feature": "label"}]}
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "1:1"}]
    return value


def drawn(value: dict):
    computed = picture(value)
    return places_drawn(computed, chosen_crop(computed, "feed"), FRAME, TABLE), {f.code for f in findings(computed)}


def test_what_is_seen_is_drawn_where_the_projection_has_it() -> None:
    (place,), codes = drawn(labelled())
    assert place.state == "seen" and "label of the jar: seen" in place.told
    assert not {c for c in codes if c.startswith("feature.")}
    corners = np.cumsum(
        [[float(v) for v in pair] for pair in np.array(place.frame[1:-1].replace("l", " ").split(), dtype=float).reshape(-1, 2)], axis=0
    )
    camera = picture(labelled()).view
    seen = camera.project(np.array([[415, 272, 68], [445, 272, 68], [445, 272, 28], [415, 272, 28]], dtype=float))[:, :2] * [1200, 800]
    assert np.abs(np.sort(corners, axis=0) - np.sort(seen, axis=0)).max() < 0.2


@pytest.mark.parametrize(("turn", "state"), [(40, "seen"), (75, "turned"), (180, "turned")])
def test_turned_from_the_lens_it_is_drawn_so_or_not_at_all(turn: float, state: str) -> None:
    (place,), codes = drawn(labelled(turn))
    assert place.state == state
    assert bool({"feature.turned", "feature.hidden"} & codes) is (state == "turned")
    assert bool(place.frame) is (turn < 90)
    assert place.table


def test_soft_and_hidden_are_told_apart() -> None:
    (soft,), codes = drawn(labelled(aperture=1.8, focus={"point": [430, 600, 48]}))
    assert soft.state == "soft" and "feature.soft" in codes
    value = labelled()
    value["placements"].append({"id": "p2", "prop": "board", "x": 430, "y": 200, "z": 0, "lean": 90, "lean_toward": 90, "held_by": "arm"})
    (hidden, *_), codes = drawn(value)
    assert hidden.state == "hidden" and "feature.hidden" in codes


def test_without_named_places_nothing_is_drawn() -> None:
    assert places_drawn(picture(scene_value()), None, FRAME, TABLE) == []
