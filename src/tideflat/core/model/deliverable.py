"""What is delivered of a frame, and the lines that help to compose it."""

from __future__ import annotations

from dataclasses import dataclass

SIDES: tuple[str, ...] = ("top", "bottom", "left", "right")
GUIDE_KINDS: tuple[str, ...] = ("centre", "third", "golden", "line", "registration")


@dataclass(frozen=True, slots=True)
class CopySpace:
    """Room for words: a band of ``share`` at ``side`` of the crop, or ``rect`` (l, t, r, b as fractions of the crop). text_share: height of
    the letters as a share of the crop's; None is large."""

    side: str | None = None
    share: float | None = None
    rect: tuple[float, float, float, float] | None = None
    text_share: float | None = None


@dataclass(frozen=True, slots=True)
class Deliverable:
    """bleed: how much of the crop may be trimmed off at each side; safe: how much further in, past that, what matters has to stay; both as
    shares of the crop's shorter side. moves: frames a second of a moving picture; None stands still."""

    name: str
    ratio: str | None
    pixels: tuple[int, int] | None
    centre: tuple[float, float] = (0.5, 0.5)
    scale: float = 1.0
    copy_space: CopySpace | None = None
    bleed: float = 0.0
    safe: float = 0.0
    moves: float | None = None


@dataclass(frozen=True, slots=True)
class Guide:
    """A line across the frame at the fraction ``at`` of u or v; or, without them, from ``start`` to ``end`` (u, v). of: the placement whose
    outline it was laid on; locked: it stays when it is dragged at."""

    axis: str | None
    at: float | None
    kind: str = "line"
    start: tuple[float, float] | None = None
    end: tuple[float, float] | None = None
    of: str | None = None
    locked: bool = False

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """(u, v) of both ends in the frame; a line across it goes from edge to edge."""
        if self.start is not None and self.end is not None:
            return self.start, self.end
        at = self.at or 0.0
        return ((at, 0.0), (at, 1.0)) if self.axis == "u" else ((0.0, at), (1.0, at))
