"""How much room lies between a thing and its nearest neighbour, and what may stand in it."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from ..composition.relations import heights_meet, related
from ..evaluate import Picture
from .spacing import tight_limit_mm


@dataclass(frozen=True, slots=True)
class Room:
    """neighbour: the nearest thing's id; gap_mm: clear table between the two; fits_mm: what may stand there without crowding either."""

    neighbour: str
    gap_mm: float
    fits_mm: float


def room_beside(picture: Picture, placement_id: str) -> Room | None:
    """Between the thing and the nearest solid one that stands beside it; None when it is not in the picture, or stands alone.

    What may stand there keeps from both the gap that spacing asks for under the scene's leaning, whichever way it is turned.
    """
    body = picture.bodies.get(placement_id)
    if body is None:
        return None
    beside = [
        (float(shapely.distance(body.footprint, other.footprint)), i)
        for i, other in picture.bodies.items()
        if i != placement_id and not other.is_soft and heights_meet(picture, placement_id, i) and not related(picture, placement_id, i)
    ]
    if not beside:
        return None
    gap, neighbour = min(beside)
    return Room(neighbour, gap, max(0.0, gap - 2 * tight_limit_mm(picture.scene.brief.leaning("spacing"))))
