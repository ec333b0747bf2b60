"""What the picture is for, and which way its maker leans."""

from __future__ import annotations

from dataclasses import dataclass

LEANINGS: tuple[str, ...] = (
    "hero_place",
    "order",
    "edges",
    "spacing",
    "palette",
    "shadow",
    "focus",
    "likeness",
    "fullness",
)


@dataclass(frozen=True, slots=True)
class MustShow:
    """A feature of the thing at a placement that has to be seen."""

    placement: str
    feature: str


@dataclass(frozen=True, slots=True)
class Brief:
    """``use``: what the picture is for; ``must_show``: what must be seen of the subject, in words or as a feature of a thing;
    ``finals``: how many pictures are delivered."""

    story: str = ""
    tags: tuple[str, ...] = ()
    leanings: tuple[tuple[str, float], ...] = tuple((name, 0.0) for name in LEANINGS)
    use: str = ""
    must_show: tuple[str | MustShow, ...] = ()
    mood: str = ""
    season: str = ""
    finals: int | None = None

    def leaning(self, name: str) -> float:
        """-1 the first school of the leaning, +1 the second, 0 none."""
        return dict(self.leanings).get(name, 0.0)
