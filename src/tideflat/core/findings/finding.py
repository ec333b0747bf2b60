"""What a finding is."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

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
    """One judgement. ``measure`` is against ``limit`` in ``unit``; ``sides`` says where, for the sentence."""

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

    @property
    def key(self) -> tuple[str, tuple[str, ...], str | None]:
        """What makes it the same finding after a change."""
        return self.code, self.placements, self.crop

    @property
    def excess(self) -> float:
        """How far the measure is from its limit, in its unit."""
        return abs(self.measure - self.limit)
