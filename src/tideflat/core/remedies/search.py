"""Search the change that clears a finding and harms nothing as grave: every candidate is tried and judged in full."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from itertools import islice

from ..errors import FieldError
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.registry import KINDS
from ..model import Scene
from ..weight import weigh
from . import (
    camera_moves,
    camera_solved,
    composing,
    exchanges,
    features,
    frame_kept,
    heroes,
    light_cards,
    lighting,
    moves,
    settling,
    squaring,
)
from .candidate import NO_STORES, Candidate, Maker, Remedy, Stores
from .patch import patch
from .proof import Harm, Judged, harm, is_there, judged

#: How many candidates are tried before the answer is that there is none; fewer, down to LEAST_CANDIDATES, where each costs much.
MOST_CANDIDATES, LEAST_CANDIDATES = 90, 4
#: Up to these points (core/weight.py) all candidates are tried; beyond, what one costs grows faster than the points do.
_LIGHT_POINTS = 150.0
#: All findings of a scene together have candidates for so many points; and each a few before any has many.
_POINTS_IN_ALL, _FIRST_FEW = 12_000.0, 8

#: So many candidates that clear the finding at the price of another are tried further, each with so many for that other.
_NEAR_MISSES, _SECONDS = 3, 6

#: Every maker of candidates by the name that kinds of findings declare.
MAKERS: dict[str, Maker] = {
    **moves.MAKERS,
    **camera_moves.MAKERS,
    **camera_solved.MAKERS,
    **heroes.MAKERS,
    **exchanges.MAKERS,
    **squaring.MAKERS,
    **features.MAKERS,
    **settling.MAKERS,
    **composing.MAKERS,
    **frame_kept.MAKERS,
    **lighting.MAKERS,
    **light_cards.MAKERS,
}


#: Which candidates may be tried at all.
Allowed = Callable[[Candidate], bool]


def anything(candidate: Candidate) -> bool:
    return True


def candidates(picture: Picture, finding: Finding, stores: Stores = NO_STORES, allowed: Allowed = anything) -> Iterator[Candidate]:
    """What may clear the finding, the likeliest first."""
    for name in KINDS[finding.code].makers:
        yield from filter(allowed, MAKERS[name](picture, finding, stores))


def remedy_for(
    picture: Picture, finding: Finding, before: Judged | None = None, stores: Stores = NO_STORES, allowed: Allowed = anything
) -> Remedy | None:
    """The smallest change found that clears ``finding`` whole, in every crop and of every thing; None when no candidate does without harm.

    ``before``: what the rules find of every set-up now, when already known. A remedy leaves no other finding of equal or higher severity
    new or worse in any set-up, and moves nothing locked. ``stores``: props and surfaces that may take a thing's place. ``allowed``: which
    candidates may be tried.
    """
    before = judged(picture.whole, picture) if before is None else before
    return _searched(picture, finding, before, stores, most_candidates(picture.whole), allowed)[0]


def remedies_for(picture: Picture, found: Sequence[Finding], before: Judged, stores: Stores = NO_STORES) -> list[Remedy | None]:
    """The remedy of each finding of the set-up, within one count of candidates for all, which is less where each costs much: first a few
    for each, then the rest for those that are still without one, in their order."""
    left = most_in_all(picture.whole) // len(picture.whole.setups)
    answers: list[Remedy | None] = [None] * len(found)
    each = most_candidates(picture.whole)
    for most in (min(_FIRST_FEW, each), each):
        for k, finding in enumerate(found):
            if answers[k] is None and left > 0:
                answers[k], tried = _searched(picture, finding, before, stores, min(most, left))
                left -= tried
        if each <= _FIRST_FEW:
            break
    return answers


def _searched(
    picture: Picture, finding: Finding, before: Judged, stores: Stores, most: int, allowed: Allowed = anything
) -> tuple[Remedy | None, int]:
    """(the remedy, how many candidates were tried)."""
    left = most
    done: list[Candidate] = []
    now = picture
    for part in _one_a_thing(finding):
        if done and not is_there(now, part):
            continue  # what was done for another cleared it too
        found, tried = _cleared(now, part, before, stores, left, allowed)
        left -= tried
        if not found:
            return None, most - left
        for candidate in found:
            done.append(candidate)
            now = now.changed(candidate.after(now))
    return _together(picture, done, now.whole) if done else None, most - left


def _one_a_thing(finding: Finding) -> list[Finding]:
    """The finding's parts, those of one thing as one: the worst of them with the others as its parts."""
    by_things: dict[tuple[str, ...], list[Finding]] = {}
    for part in finding.each:
        by_things.setdefault(part.placements, []).append(part)
    return [replace(parts[0], parts=tuple(parts)) for parts in by_things.values()]


def _cleared(
    picture: Picture, finding: Finding, before: Judged, stores: Stores, most: int, allowed: Allowed
) -> tuple[list[Candidate], int]:
    """(what clears the finding of one thing in every crop, how many were tried); the candidates of each crop in turn, the worst first.

    Where none does it alone, one that does it at the price of another finding is tried with what clears that one: two small changes.
    """
    tried = 0
    near: dict[tuple[object, ...], tuple[Candidate, Scene, Harm]] = {}
    for candidate in islice(_in_turn([candidates(picture, part, stores, allowed) for part in finding.each]), max(0, most)):
        tried += 1
        proven = _proven(picture, picture, finding, candidate, before)
        if proven is None:
            continue
        after, harmed = proven
        if harmed is None:
            return [candidate], tried
        near.setdefault((candidate.kind, harmed.setup, harmed.finding.key), (candidate, after, harmed))
    for first, between, harmed in islice(near.values(), _NEAR_MISSES):
        now = picture.changed(between, harmed.setup)
        for second in islice(candidates(now, harmed.finding, stores, allowed), max(0, min(_SECONDS, most - tried))):
            tried += 1
            proven = _proven(picture, picture.changed(between), finding, second, before)
            if proven is not None and proven[1] is None:
                return [first, second], tried
    return [], tried


def _proven(picture: Picture, now: Picture, finding: Finding, candidate: Candidate, before: Judged) -> tuple[Scene, Harm | None] | None:
    """The scene ``now`` with the candidate and what it harms, if it can be done and the finding of ``picture`` is then gone."""
    try:
        after = candidate.after(now)
        return None if is_there(picture.changed(after), finding) else (after, harm(after, picture, finding, before))
    except FieldError:  # something locked elsewhere, or optics or a crop that cannot be
        return None


def _in_turn(offers: list[Iterator[Candidate]]) -> Iterator[Candidate]:
    """The first of each, then the second of each, until all are empty."""
    while offers:
        left = []
        for offer in offers:
            candidate = next(offer, None)
            if candidate is not None:
                left.append(offer)
                yield candidate
        offers = left


def _together(picture: Picture, done: list[Candidate], after: Scene) -> Remedy:
    first, figures = done[0], done[0].figures
    if len({c.kind for c in done}) > 1:
        figures += (("then", [{"kind": c.kind, **dict(c.figures), "sentence": c.sentence} for c in done[1:]]),)
    elif len(done) > 1:
        figures += (("times", len(done)),)
    sentence = "; ".join(c.sentence for c in done[:4]) + (f"; and {len(done) - 4} more" if len(done) > 4 else "")
    acts = tuple(act for c in done for act in c.acts)
    return Remedy(first.kind, figures, sentence, acts, patch(picture.whole, after))


def most_candidates(scene: Scene) -> int:
    """How many candidates are tried in this scene: a count of its own, whatever machine it is worked on."""
    share = _LIGHT_POINTS / max(weigh(scene).judged, _LIGHT_POINTS)
    return max(LEAST_CANDIDATES, int(MOST_CANDIDATES * share**1.5))


def most_in_all(scene: Scene) -> int:
    """How many candidates are tried for all findings of a scene together."""
    points = weigh(scene).judged
    share = min(1.0, _LIGHT_POINTS / max(points, 1.0))
    return max(LEAST_CANDIDATES, int(_POINTS_IN_ALL / max(points, 1.0) * share))
