"""One possible change, and the remedy that a proven one becomes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ..acts.act import Act
from ..acts.registry import act_value, tried
from ..evaluate import Picture
from ..findings.finding import Finding
from ..model import Lens, Prop, Scene, Surface

Figures = tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class NamedLens:
    """A lens of the studio by its name; a zoom stands for itself once at each of some lengths."""

    name: str
    lens: Lens


@dataclass(frozen=True, slots=True)
class Stores:
    """What the studio has: props, surfaces and lenses that a remedy may take."""

    props: tuple[Prop, ...] = ()
    surfaces: tuple[Surface, ...] = ()
    lenses: tuple[NamedLens, ...] = ()


NO_STORES = Stores()


@dataclass(frozen=True)
class Candidate:
    """What it is, its figures, the developer's sentence, and the acts that do it."""

    kind: str
    figures: Figures
    sentence: str
    acts: tuple[Act, ...]

    def after(self, picture: Picture) -> Scene:
        """The whole scene with it; raises FieldError where an act cannot be done."""
        return tried(picture.whole, self.acts)


#: Proposes candidates for a finding, the smallest first. Nothing locked is ever moved.
Maker = Callable[[Picture, Finding, Stores], Iterator[Candidate]]


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change that is proven to clear a finding: its acts, and the same as RFC 6902 operations on the scene document as it was.

    ``kind`` and ``figures`` (plain numbers and names) let the web word its own sentence; ``sentence`` is the developer's.
    """

    kind: str
    figures: Figures
    sentence: str
    acts: tuple[Act, ...]
    patch: tuple[dict[str, Any], ...]

    def as_value(self) -> dict[str, Any]:
        """As `tideflat evaluate` prints it."""
        return {
            "kind": self.kind,
            **dict(self.figures),
            "sentence": self.sentence,
            "patch": list(self.patch),
            "acts": [act_value(act) for act in self.acts],
        }


def where(picture: Picture, placement_id: str, *keys: str) -> dict[str, Any]:
    """Whether an act on these keys of the placement means this set-up alone, which has one of them of its own, or the shared table."""
    return _where(picture, any(key in picture.setup.differing(placement_id) for key in keys))


def where_own(picture: Picture, is_own: bool) -> dict[str, Any]:
    """The same for what the set-up itself has of its own."""
    return _where(picture, is_own)


def _where(picture: Picture, is_own: bool) -> dict[str, Any]:
    return {"setup": picture.setup.name, "only": True} if is_own else {}
