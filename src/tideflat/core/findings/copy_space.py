"""Room for words must be empty."""

from __future__ import annotations

from collections.abc import Iterator

import shapely

from ..camera.crops import Rect
from ..colour.contrast import LEGIBLE
from ..evaluate import Picture
from ..facts.practice import COPY_OCCUPIED
from ..palette.behind_words import legibility
from .finding import Finding, Mark
from .relations import label

#: A thing counts as an occupant from this share (%) of the copy space on.
OCCUPANT = 0.2


def find(picture: Picture) -> Iterator[Finding]:
    """Things inside the copy space of a deliverable; cloth is quiet enough to carry words."""
    for crop in picture.crops:
        if crop.copy_box is None:
            continue
        room = shapely.box(*crop.copy_box)
        taken = {
            i: shapely.intersection(picture.things[i].visible, room)
            for i, silhouette in picture.silhouettes.items()
            if silhouette.body.placement.role != "cloth" and _meets(silhouette.box, crop.copy_box)
        }
        share = float(shapely.union_all(list(taken.values())).area / room.area) * 100 if taken else 0.0
        if share <= COPY_OCCUPIED.value:
            continue
        who = sorted((i for i, part in taken.items() if part.area / room.area * 100 > OCCUPANT), key=lambda i: -taken[i].area)
        u0, v0, u1, v1 = shapely.union_all([taken[i] for i in who]).bounds
        yield Finding(
            "copy.occupied",
            "mend",
            tuple(sorted(who)),
            round(share, 2),
            COPY_OCCUPIED.value,
            "%",
            f"{share:.0f} % of the room for words in {crop.name} is taken by {', '.join(label(picture, i) for i in who)}",
            crop=crop.name,
            mark=Mark(frame=(((u0, v0), (u1, v1)),)),
        )


def find_words(picture: Picture) -> Iterator[Finding]:
    """Neither white nor black words would read on what lies in the room for them (WCAG 2.2, 1.4.3: 4.5 to 1)."""
    for crop in picture.crops:
        if crop.copy_box is None:
            continue
        read = legibility(picture, crop.copy_box)
        if read.ratio >= LEGIBLE:
            continue
        ink = "white" if read.ink == "#ffffff" else "black"
        behind = label(picture, read.behind) if read.behind in picture.props else read.behind
        u0, v0, u1, v1 = crop.copy_box
        yield Finding(
            "copy.illegible",
            "mend",
            (),
            round(read.ratio, 2),
            LEGIBLE,
            "to 1",
            f"{ink} words, the better choice, keep {read.ratio:.1f} to 1 on the {behind} in {crop.name}; {LEGIBLE:g} is legible",
            crop=crop.name,
            sides=(ink, behind),
            mark=Mark(frame=(((u0, v0), (u1, v1)),)),
        )


def _meets(box: Rect, room: Rect) -> bool:
    return box[0] < room[2] and room[0] < box[2] and box[1] < room[3] and room[1] < box[3]
