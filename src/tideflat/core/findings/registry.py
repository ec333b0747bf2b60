"""Every kind of finding and every rule, found in the modules of this folder; and the rules run over one computed set-up."""

from __future__ import annotations

import pkgutil
from collections.abc import Iterable, Iterator
from importlib import import_module
from pathlib import Path

from ..evaluate import Picture
from .finding import SEVERITY_RANK, Finding, Severity
from .kind import Kind, Rule
from .merging import merged

#: What judges, the cheap first.
RULES: tuple[Rule, ...] = tuple(
    sorted(
        (
            rule
            for module in pkgutil.iter_modules([str(Path(__file__).parent)])
            if module.name not in ("registry", "merging")
            for rule in getattr(import_module(f".{module.name}", __package__), "RULES", ())
        ),
        key=lambda rule: (rule.cost, min(kind.rank for kind in rule.kinds)),
    )
)
#: Every kind by its code, in the order of those that are equally grave.
KINDS: dict[str, Kind] = {kind.code: kind for kind in sorted((k for rule in RULES for k in rule.kinds), key=lambda k: k.rank)}
RANKS: dict[str, int] = {code: kind.rank for code, kind in KINDS.items()}


def findings(picture: Picture) -> tuple[Finding, ...]:
    """Every finding of the set-up, one for each cause, the most harmful first."""
    return as_causes(picture, each_finding(picture))


def as_causes(picture: Picture, found: Iterable[Finding]) -> tuple[Finding, ...]:
    """What the rules found of the set-up, one finding for each cause, the most harmful first."""
    return merged(picture, found, RANKS)


def each_finding(picture: Picture, least: Severity = "taste") -> Iterator[Finding]:
    """Every finding of ``least`` severity or graver, one after the other, the cheap rules first: for who may stop at the first."""
    for rule in RULES:
        if rule.gravest >= SEVERITY_RANK[least]:
            yield from (f for f in rule.find(picture) if SEVERITY_RANK[f.severity] >= SEVERITY_RANK[least])


def what_gives(finding: Finding) -> str:
    """What would have to give where no remedy is found: of this one, with its figures, or of its kind."""
    stack = dict(finding.figures).get("stack")
    if stack is None:
        return KINDS[finding.code].gives
    first, *_, last = at = stack["distances"] if len(stack["distances"]) > 1 else stack["distances"] * 2
    return (
        f"a stack of {len(stack['distances'])} frames at f/{stack['aperture']:g} holds it, focused from {first:.1f} to {last:.1f} mm from the lens "
        f"in steps of {(last - first) / max(1, len(at) - 1):.1f} mm"
    )


def retouch_minutes(finding: Finding) -> float | None:
    """What mending it afterwards takes, in each picture that shows it [practice]; None where retouching cannot: spacing, what hides what,
    focus."""
    own = KINDS[finding.code].retouch_minutes
    return None if own is None else own * max(1, finding.count)


def findings_beside(picture: Picture, code: str) -> tuple[Finding, ...]:
    """The findings of the rule that ``code`` comes from; cheaper than all."""
    return tuple(f for rule in RULES if any(kind.code == code for kind in rule.kinds) for f in rule.find(picture))
