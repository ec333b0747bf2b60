"""What a kind of finding is, declared once beside the rule that judges by it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from ..evaluate import Picture
from ..facts.optics import Fact
from ..model import Prop
from .finding import SEVERITY_RANK, Finding, Mark, Severity

#: Of a finding: a quick test that a prop taken in a thing's place must pass; None where none would help.
Fits = Callable[[Picture, Finding], Callable[[Prop], bool] | None]


@dataclass(frozen=True)
class Kind:
    """One kind of finding.

    code: family, point, kind. rank: its place among findings equally grave. severity: the gravest it comes in; severities: every one, where
    there are several, in words. unit: of measure and limit. measure: what is measured, in words. limit: from where on it is a finding, with
    its source; limit_note: what bends it; limit_words: what it is, where it is no figure. leaning: the choice between schools that bends
    or colours it. gives: what would have to give where no remedy is found. makers: names of the makers of candidates (core/remedies),
    those tried first standing first; fits: for a stand-in. retouch_minutes: what mending it in one finished picture takes afterwards
    [practice]; None where retouching cannot.
    """

    code: str
    rank: int
    severity: Severity
    unit: str
    measure: str
    limit: Fact
    gives: str
    severities: str = ""
    limit_note: str = ""
    limit_words: str = ""
    leaning: str | None = None
    makers: tuple[str, ...] = ()
    fits: Fits | None = None
    retouch_minutes: float | None = None

    def found(
        self,
        placements: tuple[str, ...],
        measure: float,
        limit: float,
        message: str,
        *,
        severity: Severity | None = None,
        crop: str | None = None,
        sides: tuple[str, ...] = (),
        mark: Mark | None = None,
        figures: tuple[tuple[str, Any], ...] = (),
    ) -> Finding:
        """A finding of this kind: ``measure`` against ``limit``; ``message`` is the developer's sentence."""
        return Finding(
            self.code,
            severity or self.severity,
            placements,
            measure,
            limit,
            self.unit,
            message,
            crop,
            self.leaning,
            sides,
            mark or Mark(),
            crops=() if crop is None else (crop,),
            figures=figures,
        )


@dataclass(frozen=True)
class Rule:
    """What judges: ``find`` yields findings of ``kinds``. ``cost``: those that cost more run later, for who stops at the first finding."""

    find: Callable[[Picture], Iterable[Finding]]
    kinds: tuple[Kind, ...]
    cost: int = 0

    @property
    def gravest(self) -> int:
        return max(SEVERITY_RANK[kind.severity] for kind in self.kinds)
