"""One cause, one finding: the same fault in several crops, or of several things of one kind, is said once, with where and how often."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from ..evaluate import Picture
from ..model import Meant
from .finding import SEVERITY_RANK, Finding, Mark

#: A fault as bad as can be stands before one just past its limit that is so many ranks graver [practice].
_RANKS = 250
#: Marks of one finding that are drawn at once.
_MOST_MARKS = 12


def meant_of(picture: Picture, code: str, placements: tuple[str, ...]) -> Meant | None:
    """What was said of a finding of this code in this set-up that concerned these things, alone or among others."""
    asked = set(placements)
    for meant in picture.whole.meant:
        if meant.setup == picture.setup.name and meant.code == code:
            if asked <= set(meant.placements) if asked else not meant.placements:
                return meant
    return None


def merged(picture: Picture, found: Iterable[Finding], ranks: Mapping[str, int]) -> tuple[Finding, ...]:
    """One finding for each cause, the most harmful first, ``ranks`` being those of the kinds by code. What was meant of one thing stays
    apart from what is new of another."""
    order = {p.id: k for k, p in enumerate(picture.scene.placements)}
    windows = {name: k for k, (name, _) in enumerate(picture.windows)}
    groups: dict[object, list[Finding]] = {}
    for finding in found:
        groups.setdefault(_cause(picture, finding), []).append(finding)
    one_each = []
    for parts in groups.values():
        parts.sort(key=_harm, reverse=True)
        one_each.append(parts[0] if len(parts) == 1 else _together(parts, order, windows))
    heroes = set(picture.hero_ids())
    return tuple(sorted(one_each, key=lambda f: _order(f, heroes, ranks[f.code])))


def _cause(picture: Picture, finding: Finding) -> object:
    meant = meant_of(picture, finding.code, finding.placements)
    said = None if meant is None else meant.placements
    if len(finding.placements) == 1 and finding.placements[0] in picture.props:
        (i,) = finding.placements
        if picture.bodies[i].placement.role != "hero":
            return finding.code, replace(picture.props[i], id=""), said, dict(finding.figures).get("feature")
    return finding.code, finding.placements, said, dict(finding.figures).get("feature")


def _harm(finding: Finding) -> tuple[int, float]:
    return SEVERITY_RANK[finding.severity], finding.excess


def _order(finding: Finding, heroes: set[str], rank: int) -> tuple[int, float]:
    """The gravest first; then what concerns the hero, what is furthest from its limit and is seen most often."""
    weight = finding.share * (1.5 if heroes & set(finding.placements) else 1.0) * (1 + 0.15 * (min(finding.count, 5) - 1))
    return -SEVERITY_RANK[finding.severity], rank / _RANKS - weight


def _together(parts: list[Finding], order: dict[str, int], windows: dict[str | None, int]) -> Finding:
    worst = parts[0]
    placements = tuple(sorted({i for f in parts for i in f.placements}, key=lambda i: order.get(i, 0)))
    crops = tuple(sorted({c for f in parts for c in f.crops}, key=lambda c: windows.get(c, 0)))
    words = []
    if len(placements) > len(worst.placements):
        words.append(f"{len(placements)} of its kind")
    if len(crops) > 1:
        words.append("in " + ", ".join(crops))
    mark = Mark(
        tuple(dict.fromkeys(s for f in parts for s in f.mark.frame))[:_MOST_MARKS],
        tuple(dict.fromkeys(s for f in parts for s in f.mark.table))[:_MOST_MARKS],
    )
    return replace(
        worst,
        placements=placements if len(worst.placements) == 1 else worst.placements,
        message=f"{worst.message} ({'; '.join(words)})" if words else worst.message,
        mark=mark,
        crops=crops,
        count=len(parts),
        parts=tuple(parts),
    )
