"""One change made wherever it holds: on the shared table and in every set-up that has not its own, or in one set-up alone.

A change is a function of the scene as it stands somewhere. It is made on the shared table and in each set-up, as things stand there; what
comes out is put down as shared values and, where a set-up comes out otherwise, as what differs in it. So what a carrier carries follows
it in every set-up in which it moves, own values included, and stays where it is in those in which it does not.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from ..model import DIFFERING, Placement, Scene, Setup, shares_all

#: What is changed: of the scene as it stands in a set-up (None: the shared table), given the keys of the lead that it keeps of its own.
Change = Callable[[Scene, frozenset[str], Setup | None], Scene]


def on_the_shared_table(scene: Scene, lead: str, keys: tuple[str, ...], change: Change) -> Scene:
    """``change`` made on the shared table, and in each set-up but for those of ``keys`` that it has of its own for ``lead``."""
    shared = change(scene, frozenset(), None)
    seen: dict[str, Scene] = {}
    for setup in scene.setups:
        if shares_all(setup):
            continue
        own = frozenset(keys) & setup.differing(lead).keys()
        here = scene.seen_in(setup)
        seen[setup.name] = here if keys and own == frozenset(keys) else change(here, own, setup)
    return put_down(scene, shared, seen)


def in_one_setup(scene: Scene, setup: Setup, lead: str, keys: tuple[str, ...], change: Change) -> Scene:
    """``change`` made in ``setup`` alone; ``keys`` of ``lead`` are its own from then on."""
    changed = change(scene.seen_in(setup), frozenset(), setup)
    return put_down(scene, scene, {setup.name: changed}, own={(setup.name, lead): keys})


def put_down(scene: Scene, shared: Scene, seen: dict[str, Scene], own: dict[tuple[str, str], tuple[str, ...]] | None = None) -> Scene:
    """The scene with the shared values of ``shared``, and each set-up of ``seen`` standing as it does there.

    A value that a set-up had of its own stays its own; so do the keys named in ``own``, by (set-up, placement); any other becomes its own
    where it differs. Props, locks and the order of things are those of ``scene``.
    """
    placements = tuple(_with_values(p, shared.placement(p.id)) for p in scene.placements)
    made = replace(scene, placements=placements)
    setups = []
    for setup in scene.setups:
        here = seen.get(setup.name)
        setups.append(setup if here is None else _with_differences(setup, placements, here, own or {}))
    return replace(made, setups=tuple(setups))


def _with_values(p: Placement, other: Placement) -> Placement:
    return p if p is other else replace(p, **{key: getattr(other, key) for key in DIFFERING})


def _with_differences(setup: Setup, placements: tuple[Placement, ...], here: Scene, own: dict[tuple[str, str], tuple[str, ...]]) -> Setup:
    there = {p.id: p for p in here.placements}
    for p in placements:
        before, now = setup.differing(p.id), there[p.id]
        kept = own.get((setup.name, p.id), ())
        values: dict[str, Any] = {}
        for key in DIFFERING:
            value = getattr(now, key)
            if key in kept or value != getattr(p, key) or (key in before and before[key] == value):
                values[key] = value
        if values != before:
            setup = setup.with_differing(p.id, values)
    return setup
