"""Versions as they are shown: small true frames to choose from, and one laid over what stands now, with what differs in words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from urllib.parse import urlencode

from django.urls import reverse

from tideflat.core import model
from tideflat.core.arrange.compare import compare
from tideflat.core.drawing.detail import Detail
from tideflat.core.evaluate import Picture
from tideflat.core.remember import counted
from tideflat.web.bridge.compare_words import Told, compare_words
from tideflat.web.bridge.drawing import frame_drawing, table_drawing
from tideflat.web.stores.images import SkinBook

from .models import Change, Scene, Version, VersionProof
from .queries import picture_of
from .services.history import UnreadableScene, step_scene
from .steps import step_words

#: A frame as small as a thumb is drawn no finer.
SMALL = Detail(corners=60, chords=12, cells=2)
#: Side by side on one page.
MOST_BESIDE = 3


@dataclass(frozen=True)
class Shown:
    """One version in the strip. frame: None where the step cannot be shown in this set-up any more. proof: the address of the one that is
    kept with it, empty without."""

    row: Version
    words: str
    who: str
    at: datetime
    is_here: bool
    frame: dict[str, Any] | None
    proof: str


def strip(row: Scene, setup: str, unit: str) -> list[Shown]:
    """Every version that is kept, the newest first."""
    versions = list(row.versions.select_related("by"))
    proofs = kept_proofs(row, setup)
    steps = {c.number: c for c in Change.objects.filter(scene=row, number__in=[v.number for v in versions]).defer("state")}
    return [
        Shown(
            v,
            step_words(steps[v.number], unit) if v.number in steps else "",
            v.by.first_name or v.by.username if v.by else "",
            v.at,
            v.number == row.position,
            _frame(row, v.number, setup),
            proofs.get(v.number, ""),
        )
        for v in versions
    ]


def kept_proofs(row: Scene, setup: str) -> dict[int, str]:
    """Addresses of the proofs that are kept with versions in a set-up, by step."""
    numbers = VersionProof.objects.filter(version__scene=row, setup=setup).values_list("version__number", flat=True)
    return {n: f"{reverse('version_proof', args=(row.pk, n))}?{urlencode({'setup': setup})}" for n in numbers}


def _frame(row: Scene, number: int, setup: str) -> dict[str, Any] | None:
    try:
        return _small(step_scene(row, number), setup, row.studio_id, number)
    except (Change.DoesNotExist, UnreadableScene):
        return None


@counted(64)
def _small(scene: model.Scene, setup: str, studio_id: int, number: int) -> dict[str, Any] | None:
    picture = _picture(scene, setup, studio_id)
    return None if picture is None else frame_drawing(picture, prefix=f"z{number}", live=False, detail=SMALL)


def _picture(scene: model.Scene, setup: str, studio_id: int) -> Picture | None:
    found = next((s for s in scene.setups if s.name == setup), None)
    return None if found is None else Picture(scene, found, SkinBook(studio_id))


@dataclass(frozen=True)
class Laid:
    """A version, or another set-up, over what stands now. told: what it has otherwise."""

    name: str
    frame: dict[str, Any]
    table: dict[str, Any]
    told: Told


def laid_over(row: Scene, number: int, setup: str, unit: str) -> Laid | None:
    """None where the version has no such set-up. Raises Change.DoesNotExist, UnreadableScene."""
    now = picture_of(row, setup)
    then = _picture(step_scene(row, number), now.setup.name, row.studio_id)
    if then is None:
        return None
    frame = frame_drawing(then, prefix="v", live=False)
    return Laid(f"Step {number}", frame, table_drawing(then, prefix="x", live=False), compare_words(compare(now, then), then, unit))


@dataclass(frozen=True)
class Beside:
    """One of those side by side. told: against the first; None for the first itself."""

    name: str
    version: Version | None
    number: int
    frame: dict[str, Any]
    proof: str
    told: Told | None


def side_by_side(row: Scene, numbers: list[int], setup: str, unit: str) -> list[Beside]:
    """What stands now and versions, MOST_BESIDE in all; those that have no such set-up are left out."""
    now = picture_of(row, setup)
    found: list[Beside] = []
    first: Picture | None = None
    kept = {v.number: v for v in row.versions.filter(number__in=numbers)}
    proofs = kept_proofs(row, now.setup.name)
    for number in numbers[:MOST_BESIDE]:
        version = kept.get(number)
        if version is None and number != row.position:
            continue
        picture = now if number == row.position else _picture(step_scene(row, number), now.setup.name, row.studio_id)
        if picture is None:
            continue
        name = "as it stands now" if number == row.position else f"step {number}"
        told = None if first is None else compare_words(compare(first, picture), picture, unit)
        drawn = frame_drawing(picture, prefix=f"w{number}", live=False)
        found.append(Beside(name, version, number, drawn, proofs.get(number, ""), told))
        first = first or picture
    return found
