"""What a finding is."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

Severity = Literal["taste", "mend", "stop"]
SEVERITY_RANK: dict[str, int] = {"taste": 0, "mend": 1, "stop": 2}

Segment = tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True, slots=True)
class Mark:
    """Where a finding's measure is drawn: segments in fractions of the frame, and in mm on the table."""

    frame: tuple[Segment, ...] = ()
    table: tuple[Segment, ...] = ()


@dataclass(frozen=True, slots=True)
class Finding:
    """One judgement. ``measure`` is against ``limit`` in ``unit``; ``sides`` says where, for the sentence.

    A finding that stands for several, the same fault in several crops or of several things of one kind, has them as ``parts``: it says the
    worst of them, ``crops`` every crop it is seen in, ``count`` how many there are. figures: what else was worked out for it, plain values.
    """

    code: str
    severity: Severity
    placements: tuple[str, ...]
    measure: float
    limit: float
    unit: str
    message: str
    crop: str | None = None
    leaning: str | None = None
    sides: tuple[str, ...] = ()
    mark: Mark = field(default=Mark(), compare=False)
    crops: tuple[str, ...] = ()
    count: int = 1
    parts: tuple[Finding, ...] = field(default=(), compare=False)
    figures: tuple[tuple[str, Any], ...] = field(default=(), compare=False)

    @property
    def key(self) -> tuple[str, tuple[str, ...], str | None]:
        """What makes one that stands for itself alone the same after a change."""
        return self.code, self.placements, self.crop

    @property
    def excess(self) -> float:
        """How far the measure is from its limit, in its unit."""
        return abs(self.measure - self.limit)

    @property
    def share(self) -> float:
        """How far it has gone from its limit toward as bad as can be, 0..1."""
        largest = max(abs(self.measure), abs(self.limit))
        return min(1.0, self.excess / largest) if largest > 0 else 0.0

    @property
    def each(self) -> tuple[Finding, ...]:
        """Those it stands for, the worst first; itself when it stands for none other."""
        return self.parts or (self,)
