"""How the whole of an arrangement sits: weight, light, sizes, spacing, number, echoes. Matters of taste, all of them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from ..composition.eye import Eye, echoes, eye_of
from ..composition.layout import layout_of
from ..composition.measures import falling_away, light_balance, unevenness
from ..composition.relations import LARGE_ROLES, label, related
from ..evaluate import Picture
from ..facts.practice import (
    ALIKE_GAPS,
    BALANCE_OFF,
    CROWDED,
    CROWDED_ABUNDANT,
    CROWDED_SPARSE,
    ECHO_CLOSE,
    HERO_CLEAR_LEAST,
    ISLAND_PLAIN,
    LIGHT_ONE_SIDED,
    SIZES_GROW,
)
from . import edges, spacing
from .finding import Finding, Mark, Segment
from .kind import Kind, Rule

_HEIGHT = "% of the frame's height"
AIR = Kind(
    code="hero.crowded", rank=281, severity="taste", unit=_HEIGHT, measure="gap from the hero's outline to that of a large thing",
    limit=HERO_CLEAR_LEAST, limit_note="none for gathered", leaning="spacing", gives="what stands around them would have to make room",
    makers=("give it air",),
)  # fmt: skip
ISLAND = Kind(
    code="spacing.island", rank=330, severity="taste", unit=_HEIGHT, measure="gap of a large thing to the nearest of at least three others that shape the picture",
    limit=ISLAND_PLAIN, limit_note="none for airy", leaning="spacing", gives="the others would have to come to it", makers=("bring it nearer",),
)  # fmt: skip
EVEN = Kind(
    code="spacing.even", rank=340, severity="taste", unit="ratio", measure="deviation of gaps to the nearest over their mean, of four or more",
    limit=ALIKE_GAPS, limit_note="asked where order leans to loose", leaning="order", gives="some of them would have to gather", makers=("gather two",),
)  # fmt: skip
BALANCE = Kind(
    code="balance.off", rank=312, severity="taste", unit=_HEIGHT,
    measure="middle of visual weight, area times contrast with what is behind, from the middle of what all crops share less words",
    limit=BALANCE_OFF, leaning="hero", gives="something of weight would have to come in across", makers=("shift the weight", "change places"),
)  # fmt: skip
LIGHT = Kind(
    code="balance.light", rank=350, severity="taste", unit="L*", measure="mean lightness of what stands left of the middle, against right of it",
    limit=LIGHT_ONE_SIDED, gives="something dark or light would have to come in across", makers=("change places",),
)  # fmt: skip
GROWING = Kind(
    code="size.growing", rank=322, severity="taste", unit="rank correlation",
    measure="Spearman's, of seen size with distance from the hero, from above, of five or more round it", limit=SIZES_GROW,
    gives="the large things would have to come nearer to the hero", makers=("change places",),
)  # fmt: skip
CROWD = Kind(
    code="fullness.crowded", rank=305, severity="taste", unit="things", measure="things that shape a picture seen from above",
    limit=CROWDED, limit_note=f"{CROWDED_SPARSE.value:g} for sparse, {CROWDED_ABUNDANT.value:g} for abundant", leaning="fullness",
    gives="something would have to be taken away", makers=("take one away",),
)  # fmt: skip
ECHO = Kind(
    code="echo.close", rank=345, severity="taste", unit=_HEIGHT, measure="gap between the only two things that carry the accent",
    limit=ECHO_CLOSE, leaning="palette", gives="one of the two would have to go across", makers=("change places",),
)  # fmt: skip

#: From this sine of the elevation on a picture is a flat lay.
FLAT = 0.9
#: Under this one at eye level looks along the table: what stands apart there may be one behind the other.
_LEVEL = 0.12
#: What is seen of less than this has neighbours outside the frame.
_WHOLE = 0.98


def find(picture: Picture) -> Iterator[Finding]:
    eye = eye_of(picture)
    if len(eye.ids) < 2:
        return
    yield from _air(picture, eye)
    yield from _islands(picture, eye)
    yield from _even(picture, eye)
    yield from _balance(picture, eye)
    yield from _light(picture, eye)
    yield from _growing(picture, eye)
    yield from _crowd(picture, eye)
    yield from _echoes(picture, eye)


def segment(eye: Eye, one: np.ndarray, other: np.ndarray) -> Segment:
    """Two places in heights of the frame as a segment in fractions of it."""
    (a, b), (c, d) = one, other
    return ((float(a / eye.aspect), float(b)), (float(c / eye.aspect), float(d)))


def _between(eye: Eye, i: str, j: str) -> Mark:
    ends = shapely.get_coordinates(shapely.shortest_line(eye.outlines[i], eye.outlines[j]))
    return Mark(frame=(segment(eye, ends[0], ends[1]),)) if len(ends) == 2 else Mark()


def _air(picture: Picture, eye: Eye) -> Iterator[Finding]:
    """What the rules of gaps and kisses name is not named again."""
    if eye.hero is None or picture.scene.brief.leaning("spacing") > 0:
        return
    told = {frozenset(f.placements) for f in (*spacing.find(picture), *edges.find_pairs(picture))}
    own = eye.gaps[eye.ids.index(eye.hero)] * 100
    for i, gap in zip(eye.ids, own.tolist(), strict=True):
        if 0 < gap < HERO_CLEAR_LEAST.value and picture.bodies[i].placement.role in LARGE_ROLES and frozenset((eye.hero, i)) not in told:
            if related(picture, eye.hero, i):
                continue
            yield AIR.found(
                (eye.hero, i),
                round(gap, 2),
                HERO_CLEAR_LEAST.value,
                f"{label(picture, i)} comes within {gap:.1f} % of the frame's height of the hero; {HERO_CLEAR_LEAST.value:g} % of clear air lets it lead",
                mark=_between(eye, eye.hero, i),
            )


def _islands(picture: Picture, eye: Eye) -> Iterator[Finding]:
    if len(eye.ids) < 4 or picture.scene.brief.leaning("spacing") < 0 or abs(float(picture.view.forward[2])) < _LEVEL:
        return
    for i, row in zip(eye.ids, eye.gaps * 100, strict=True):
        gap = float(row.min())
        placement = picture.bodies[i].placement
        is_asked = placement.role in ("support", "accent") and placement.held_by is None
        if gap > ISLAND_PLAIN.value and is_asked and picture.things[i].inside_frame_share > _WHOLE:
            near = eye.ids[int(row.argmin())]
            yield ISLAND.found(
                (i,),
                round(gap, 2),
                ISLAND_PLAIN.value,
                f"{label(picture, i)} lies {gap:.0f} % of the frame's height from {label(picture, near)}, the nearest to it: an island",
                mark=_between(eye, i, near),
                figures=(("nearest", near),),
            )


def _even(picture: Picture, eye: Eye) -> Iterator[Finding]:
    value = unevenness(eye) if len(eye.ids) >= 4 and picture.scene.brief.leaning("order") > 0 else None
    if value is not None and value < ALIKE_GAPS.value:
        yield EVEN.found(
            tuple(eye.ids),
            round(value, 3),
            ALIKE_GAPS.value,
            f"all {len(eye.ids)} things stand about as far from their neighbours (deviation {value:.2f} of the mean); slight clusters look laid by hand",
        )


def balance_point(picture: Picture, eye: Eye) -> np.ndarray:
    """(2,) where weight is asked to balance: the middle of what there is to compose in."""
    u0, v0, u1, v1 = layout_of(picture, len(eye.ids)).field
    return np.array([(u0 + u1) / 2 * eye.aspect, (v0 + v1) / 2])


def _balance(picture: Picture, eye: Eye) -> Iterator[Finding]:
    middle = eye.weight_middle
    if middle is None or len(eye.ids) < 3:
        return
    point = balance_point(picture, eye)
    off = float(np.hypot(*(middle - point))) * 100
    if off > BALANCE_OFF.value:
        across, down = middle - point
        sides = ("right" if across > 0 else "left",) if abs(across) > abs(down) else ("bottom" if down > 0 else "top",)
        yield BALANCE.found(
            (),
            round(off, 2),
            BALANCE_OFF.value,
            f"the picture weighs {off:.0f} % of the frame's height toward the {sides[0]}; up to {BALANCE_OFF.value:g} % it hangs in balance",
            sides=sides,
            mark=Mark(frame=(segment(eye, point, middle),)),
        )


def _light(picture: Picture, eye: Eye) -> Iterator[Finding]:
    value = light_balance(eye) if len(eye.ids) >= 4 else None
    if value is not None and abs(value) > LIGHT_ONE_SIDED.value:
        light, dark = ("left", "right") if value > 0 else ("right", "left")
        yield LIGHT.found(
            (),
            round(abs(value), 1),
            LIGHT_ONE_SIDED.value,
            f"all that is light stands at the {light} and all that is dark at the {dark}: {abs(value):.0f} apart in lightness",
            sides=(light, dark),
        )


def _growing(picture: Picture, eye: Eye) -> Iterator[Finding]:
    is_asked = len(eye.ids) > 5 and abs(float(picture.view.forward[2])) > FLAT  # aslant, what is tall goes behind
    value = falling_away(eye) if is_asked else None
    if value is not None and value > SIZES_GROW.value:
        yield GROWING.found(
            (eye.hero or "",),
            round(value, 3),
            SIZES_GROW.value,
            f"the further from the hero, the larger the things (rank correlation {value:.2f}); the eye is led away from it",
        )


def _crowd(picture: Picture, eye: Eye) -> Iterator[Finding]:
    leaning = picture.scene.brief.leaning("fullness")
    limit = (CROWDED_SPARSE if leaning < 0 else CROWDED_ABUNDANT if leaning > 0 else CROWDED).value
    if len(eye.ids) > limit and abs(float(picture.view.forward[2])) > FLAT:
        yield CROWD.found(
            (), len(eye.ids), limit, f"{len(eye.ids)} things shape this picture from above; past {limit:g} it reads as crowded"
        )


def _echoes(picture: Picture, eye: Eye) -> Iterator[Finding]:
    for a, b, accent in echoes(picture):
        gap = float(shapely.distance(eye.seen(a), eye.seen(b))) * 100
        if gap < ECHO_CLOSE.value:
            yield ECHO.found(
                (a, b),
                round(gap, 2),
                ECHO_CLOSE.value,
                f"{label(picture, a)} and {label(picture, b)}, which carry the accent {accent}, lie {gap:.0f} % of the frame's height apart: one spot, no echo",
                sides=(accent,),
            )


RULES = (Rule(find, (AIR, ISLAND, EVEN, BALANCE, LIGHT, GROWING, CROWD, ECHO), cost=2),)
