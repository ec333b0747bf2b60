"""Reference pictures of a scene: taken in safely, put in order, each noted for what it is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import Max

from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.formats.reading import name as plain_line
from tideflat.core.palette.sources import ImageFacts, facts_of
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.images import REFERENCE_PX, keep_picture, shrunk

from ..models import Reference, Scene

#: Reference pictures of one scene.
MOST_REFERENCES = 24


@dataclass(frozen=True, eq=False)
class Prepared:
    """A picture as it will be kept: its pixels, made small, and what it is like."""

    rgb: np.ndarray
    facts: ImageFacts


def prepared(photograph: Photograph) -> Prepared:
    """The slow part, done before anything is written."""
    small = shrunk(photograph.rgb, REFERENCE_PX)
    return Prepared(small, facts_of(small))


@transaction.atomic
def add_references(studio: Studio, scene_id: int, pictures: Sequence[Prepared], note: str = "") -> list[Reference]:
    """All of them or none, in their order, after those that are there. Raises FieldError when they would be too many."""
    row = Scene.objects.get(pk=scene_id, studio=studio)
    if row.references.count() + len(pictures) > MOST_REFERENCES:
        raise FieldError("references", f"must be at most {MOST_REFERENCES} in all", show_got=False)
    last = row.references.aggregate(Max("position"))["position__max"]
    first = 0 if last is None else last + 1
    return [
        Reference.objects.create(
            scene=row, picture=keep_picture(studio, p.rgb, REFERENCE_PX), note=_note(note), position=first + k, facts=facts_value(p.facts)
        )
        for k, p in enumerate(pictures)
    ]


def _note(text: str) -> str:
    return plain_line(text.strip()[:120], "note", empty=True)


def facts_value(facts: ImageFacts) -> dict[str, Any]:
    """The facts as they are kept."""
    return {
        "colours": [[h, round(s, 4)] for h, s in facts.colours],
        "key": round(facts.key, 1),
        "contrast": round(facts.contrast, 1),
        "warm": round(facts.warm, 3),
    }


def facts_from(value: dict[str, Any]) -> ImageFacts:
    return ImageFacts(tuple((h, s) for h, s in value["colours"]), value["key"], value["contrast"], value["warm"])


@transaction.atomic
def change_reference(
    studio: Studio, scene_id: int, reference_id: int, *, note: str | None = None, way: int = 0, drop: bool = False
) -> None:
    """Another note, a place earlier (-1) or later (+1), or away. Raises Reference.DoesNotExist outside the studio, FieldError for a note
    that is no plain line."""
    row = Reference.objects.select_related("scene").get(pk=reference_id, scene_id=scene_id, scene__studio=studio)
    if drop:
        row.delete()
        return
    if note is not None:
        row.note = _note(note)
        row.save(update_fields=["note"])
    if way:
        order = list(row.scene.references.order_by("position"))
        at = next(i for i, r in enumerate(order) if r.pk == row.pk)
        goal = min(max(at + way, 0), len(order) - 1)
        order.insert(goal, order.pop(at))
        for position, reference in enumerate(order):
            Reference.objects.filter(pk=reference.pk).update(position=position)
