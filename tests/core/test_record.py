"""Nothing the core says of many tables changes unseen: numbers, findings, what is tried against each and in which order, acts.

Written by `make record`. A failure says where the first difference is; whether it was meant is for whoever made it to say.
"""

from __future__ import annotations

import json
from functools import cache
from typing import Any

import pytest

from tests.support.record import FOLDER, HANDS, PROVEN, TABLES, acts_done, judged_table, proven_remedies
from tideflat.core.findings.registry import KINDS
from tideflat.core.remedies.search import MAKERS

#: Numbers agree to this; machines differ by far less.
RELATIVE, ABSOLUTE = 1e-5, 1e-5


@cache
def kept(name: str) -> dict[str, Any]:
    return json.loads((FOLDER / f"{name}.json").read_text(encoding="utf-8"))


def first_difference(now: Any, was: Any, path: str = "") -> str | None:
    """Where two values first differ, or None."""
    if isinstance(now, dict) and isinstance(was, dict):
        if list(now) != list(was):
            return f"{path}: keys {list(now)} were {list(was)}"
        return next((d for k in now if (d := first_difference(now[k], was[k], f"{path}/{k}"))), None)
    if isinstance(now, list) and isinstance(was, list):
        found = next((d for i, (a, b) in enumerate(zip(now, was, strict=False)) if (d := first_difference(a, b, f"{path}/{i}"))), None)
        return found or (f"{path}: {len(now)} items were {len(was)}" if len(now) != len(was) else None)
    numbers = all(isinstance(v, int | float) and not isinstance(v, bool) for v in (now, was))
    same = now == pytest.approx(was, rel=RELATIVE, abs=ABSOLUTE) if numbers else now == was
    return None if same else f"{path}: {now!r} was {was!r}"


@pytest.mark.parametrize("seed", TABLES[::2])  # the others when the record is made anew; each costs a second
def test_a_table_is_judged_as_before(seed):
    assert first_difference(json.loads(json.dumps(judged_table(seed))), kept("judged")[str(seed)]) is None


@pytest.mark.parametrize("kind", PROVEN)
def test_the_same_remedies_are_found(kind):
    assert first_difference(json.loads(json.dumps(proven_remedies(kind))), kept("proven")[kind]) is None


@pytest.mark.parametrize("seed", HANDS[::2])
def test_acts_do_as_before(seed):
    assert first_difference(json.loads(json.dumps(acts_done(seed))), kept("acts")[str(seed)]) is None


def test_every_kind_of_finding_and_every_maker_has_its_turn_in_the_record():
    setups = [s for table in kept("judged").values() for s in table["judged"].values()]
    seen = {row[0] for s in setups for row in s["findings"]}
    assert set(KINDS) == seen
    tried = {code for s in setups for code, rows in s["tried"].items() if rows}
    assert {maker for code in tried for maker in KINDS[code].makers} | {"another surface"} == set(MAKERS)


def test_a_difference_is_found_wherever_it_is():
    kept_value = {"a": [1.0, {"b": "x"}], "c": None}
    assert first_difference(kept_value, kept_value) is None
    for other in (
        {"a": [1.0001, {"b": "x"}], "c": None},
        {"a": [1.0, {"b": "y"}], "c": None},
        {"a": [1.0], "c": None},
        {"a": [1.0, {"b": "x"}], "c": 0},
    ):
        assert first_difference(kept_value, other) is not None
