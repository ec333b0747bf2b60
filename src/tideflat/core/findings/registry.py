"""Every kind of finding and every rule, found in the modules of this folder; and the rules run over one computed set-up."""

from __future__ import annotations

import pkgutil
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

from ..evaluate import Picture
from .finding import SEVERITY_RANK, Finding, Severity
from .kind import Kind, Rule

#: What judges, the cheap first.
RULES: tuple[Rule, ...] = tuple(
    sorted(
        (
            rule
            for module in pkgutil.iter_modules([str(Path(__file__).parent)])
            if module.name != "registry"
            for rule in getattr(import_module(f".{module.name}", __package__), "RULES", ())
        ),
        key=lambda rule: (rule.cost, min(kind.rank for kind in rule.kinds)),
    )
)
#: Every kind by its code, in the order of those that are equally grave.
KINDS: dict[str, Kind] = {kind.code: kind for kind in sorted((k for rule in RULES for k in rule.kinds), key=lambda k: k.rank)}


def findings(picture: Picture) -> tuple[Finding, ...]:
    """Every finding of the set-up, the gravest first, then in the order of KINDS."""
    return tuple(sorted(each_finding(picture), key=lambda f: (-SEVERITY_RANK[f.severity], KINDS[f.code].rank)))


def each_finding(picture: Picture, least: Severity = "taste") -> Iterator[Finding]:
    """Every finding of ``least`` severity or graver, one after the other, the cheap rules first: for who may stop at the first."""
    for rule in RULES:
        if rule.gravest >= SEVERITY_RANK[least]:
            yield from (f for f in rule.find(picture) if SEVERITY_RANK[f.severity] >= SEVERITY_RANK[least])


def findings_beside(picture: Picture, code: str) -> tuple[Finding, ...]:
    """The findings of the rule that ``code`` comes from; cheaper than all."""
    return tuple(f for rule in RULES if any(kind.code == code for kind in rule.kinds) for f in rule.find(picture))
