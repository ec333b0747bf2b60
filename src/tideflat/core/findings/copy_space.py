"""Room for words must be empty."""

from __future__ import annotations

from collections.abc import Iterator

import shapely

from ..camera.crops import Crop, Rect
from ..colour.contrast import LARGE_PX, LEGIBLE, LEGIBLE_LARGE
from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import COPY_OCCUPIED
from ..model import Deliverable
from ..palette.behind_words import legibility
from ..palette.in_light import lit_figures
from .finding import Finding, Mark
from .kind import Kind, Rule

OCCUPIED = Kind(
    code="copy.occupied", rank=160, severity="mend", unit="%",
    measure="% of the copy space that is taken (cloth may carry words)", limit=COPY_OCCUPIED,
    gives="the room for words, or the things in it, would have to give", makers=("clear the words",),
)  # fmt: skip
ILLEGIBLE = Kind(
    code="copy.illegible", rank=180, severity="mend", unit="to 1",
    measure="contrast that the better of white and black words keeps on all but the worst twentieth of the copy space, over the pixels of "
    "the surface's skin", limit=Fact(LEGIBLE_LARGE, "to 1", "WCAG 2.2, 1.4.3"),
    limit_note=f"{LEGIBLE:g} for letters under {LARGE_PX:g} pixels",
    gives="a darker or lighter surface, or another place for the words, would have to give", makers=("another surface",),
)  # fmt: skip


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
        yield OCCUPIED.found(
            tuple(sorted(who)),
            round(share, 2),
            COPY_OCCUPIED.value,
            f"{share:.0f} % of the room for words in {crop.name} is taken by {', '.join(label(picture, i) for i in who)}",
            crop=crop.name,
            mark=Mark(frame=(((u0, v0), (u1, v1)),)),
        )


def find_words(picture: Picture) -> Iterator[Finding]:
    """Neither white nor black words would read on what lies in the room for them; nothing is said of an empty table."""
    if not picture.bodies:
        return
    for crop, deliverable in zip(picture.crops, picture.setup.deliverables, strict=True):
        if crop.copy_box is None:
            continue
        limit = legible_from(crop, deliverable)
        read = legibility(picture, crop.copy_box)
        if read.ratio >= limit:
            continue
        ink = "white" if read.ink == "#ffffff" else "black"
        behind = label(picture, read.behind) if read.behind in picture.props else read.behind
        u0, v0, u1, v1 = crop.copy_box
        yield ILLEGIBLE.found(
            (),
            round(read.ratio, 2),
            limit,
            f"{ink} words, the better choice, keep {read.ratio:.1f} to 1 on the {behind} in {crop.name}; {limit:g} is legible "
            f"for {'large' if limit == LEGIBLE_LARGE else 'small'} letters",
            crop=crop.name,
            sides=(ink, behind),
            figures=lit_figures(picture),
            mark=Mark(frame=(((u0, v0), (u1, v1)),)),
        )


def legible_from(crop: Crop, deliverable: Deliverable) -> float:
    """The contrast that its words need: 3 to 1 for large letters, which they are unless it says how high they are, else 4.5 (WCAG 2.2)."""
    space = deliverable.copy_space
    if space is None or space.text_share is None:
        return LEGIBLE_LARGE
    high = deliverable.pixels[1] if deliverable.pixels is not None else crop.pixels[1]
    return LEGIBLE_LARGE if space.text_share * high >= LARGE_PX else LEGIBLE


def _meets(box: Rect, room: Rect) -> bool:
    return box[0] < room[2] and room[0] < box[2] and box[1] < room[3] and room[1] < box[3]


RULES = (Rule(find, (OCCUPIED,), cost=1), Rule(find_words, (ILLEGIBLE,), cost=1))
