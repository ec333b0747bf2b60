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
    name: str
    ratio: str | None
    pixels: tuple[int, int] | None
    centre: tuple[float, float] = (0.5, 0.5)
    scale: float = 1.0
    copy_space: CopySpace | None = None


@dataclass(frozen=True, slots=True)
class Guide:
    """A line across the frame at the fraction ``at`` of u or v."""

    axis: str
    at: float
    kind: str
