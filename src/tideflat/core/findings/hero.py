"""The hero: one, whole, and large enough."""

from __future__ import annotations

from collections.abc import Iterator

from ..camera.crops import FULL_FRAME, Rect, passed_sides
from ..composition.relations import label
from ..delivered import hero_outline, hero_share
from ..evaluate import Picture, share_within
from ..facts.optics import Fact
from ..facts.practice import HERO_CUT, HERO_SHARE
from .finding import Finding, Mark
from .kind import Kind, Rule

_ONE = "practice: one only"
MISSING = Kind(
    code="hero.missing", rank=10, severity="mend", unit="heroes", measure="heroes", limit=Fact(1, "heroes", _ONE),
    gives="add a thing and give it the role of hero", makers=("name a hero",),
)  # fmt: skip
SEVERAL = Kind(
    code="hero.several", rank=20, severity="mend", unit="heroes", measure="heroes", limit=Fact(1, "heroes", _ONE),
    gives="decide which one leads", makers=("keep one hero",),
)  # fmt: skip
CUT = Kind(
    code="hero.cut", rank=30, severity="stop", severities="mend; stop when over half is lost", unit="%",
    measure="% of its outline, with what lies on it, outside a crop (null: the frame)", limit=HERO_CUT,
    gives="a wider crop, a shorter lens, or a smaller hero would have to give", makers=("take the hero whole", "take the hero whole from elsewhere"),
)  # fmt: skip
SMALL = Kind(
    code="hero.small", rank=40, severity="mend", unit="%", measure="visible part with what lies on it, % of the crop", limit=HERO_SHARE,
    gives="a tighter crop, a longer lens, or a larger hero would have to give", makers=("come closer",),
)  # fmt: skip


def find(picture: Picture) -> Iterator[Finding]:
    heroes = picture.hero_ids()
    if not heroes:
        yield MISSING.found((), 0, 1, "nothing in this picture has the role of hero; give it to one thing")
        return
    if len(heroes) > 1:
        names = " and ".join(label(picture, h) for h in heroes)
        yield SEVERAL.found(heroes, len(heroes), 1, f"{len(heroes)} heroes share the picture ({names}); one only leads the eye")
    for hero in heroes:
        yield from _cut(picture, hero)
        yield from _small(picture, hero)


def _cut(picture: Picture, hero: str) -> Iterator[Finding]:
    outline = hero_outline(picture, hero)
    for crop, window in picture.windows:
        lost = 1.0 if outline is None else 1 - share_within(outline, window)
        if lost * 100 < HERO_CUT.value:
            continue
        box = FULL_FRAME if outline is None else outline.bounds
        sides = () if outline is None else passed_sides(box, window)
        where = "the frame" if crop is None else f"the crop {crop}"
        yield CUT.found(
            (hero,),
            round(lost * 100, 2),
            HERO_CUT.value,
            f"{where} loses {lost * 100:.1f} % of the hero {label(picture, hero)} ({', '.join(sides) or 'behind the lens'})",
            severity="stop" if lost > 0.5 else "mend",
            crop=crop,
            sides=sides,
            mark=_edge_mark(box, window, sides),
        )


def _edge_mark(box: Rect, window: Rect, sides: tuple[str, ...]) -> Mark:
    u, v = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    ends = {
        "left": ((window[0], v), (box[0], v)),
        "right": ((window[2], v), (box[2], v)),
        "top": ((u, window[1]), (u, box[1])),
        "bottom": ((u, window[3]), (u, box[3])),
    }
    return Mark(frame=tuple(ends[side] for side in sides))


def _small(picture: Picture, hero: str) -> Iterator[Finding]:
    for crop, window in picture.windows:
        share = hero_share(picture, hero, window) * 100
        if picture.things[hero].inside_frame_share > 0 and share < HERO_SHARE.value:
            where = "the frame" if crop is None else f"the crop {crop}"
            yield SMALL.found(
                (hero,),
                round(share, 2),
                HERO_SHARE.value,
                f"the hero {label(picture, hero)} fills {share:.1f} % of {where}; under {HERO_SHARE.value:g} % it is an extra",
                crop=crop,
            )


RULES = (Rule(find, (MISSING, SEVERAL, CUT, SMALL), cost=1),)  # asks what is hidden, which costs most
