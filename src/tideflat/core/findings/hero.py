"""The hero: one, whole, and large enough."""

from __future__ import annotations

from collections.abc import Iterator

from ..camera.crops import FULL_FRAME, Rect, passed_sides
from ..evaluate import Picture, share_within
from ..facts.practice import HERO_SHARE
from ..tolerances import CUT_SHARE
from .finding import Finding, Mark
from .relations import label


def find(picture: Picture) -> Iterator[Finding]:
    heroes = picture.hero_ids()
    if not heroes:
        yield Finding("hero.missing", "mend", (), 0, 1, "heroes", "nothing in this picture has the role of hero; give it to one thing")
        return
    if len(heroes) > 1:
        names = " and ".join(label(picture, h) for h in heroes)
        yield Finding(
            "hero.several",
            "mend",
            heroes,
            len(heroes),
            1,
            "heroes",
            f"{len(heroes)} heroes share the picture ({names}); one only leads the eye",
        )
    for hero in heroes:
        yield from _cut(picture, hero)
        yield from _small(picture, hero)


def _cut(picture: Picture, hero: str) -> Iterator[Finding]:
    windows = [(None, FULL_FRAME)] + [(c.name, c.box) for c in picture.crops]
    for crop, window in windows:
        silhouette = picture.silhouettes.get(hero)
        lost = 1.0 if silhouette is None else 1 - share_within(silhouette.outline, window)
        if lost <= CUT_SHARE:
            continue
        sides = () if silhouette is None else passed_sides(silhouette.box, window)
        where = "the frame" if crop is None else f"the crop {crop}"
        yield Finding(
            "hero.cut",
            "stop" if lost > 0.5 else "mend",
            (hero,),
            round(lost * 100, 2),
            0,
            "%",
            f"{where} loses {lost * 100:.1f} % of the hero {label(picture, hero)} ({', '.join(sides) or 'behind the lens'})",
            crop=crop,
            sides=sides,
            mark=Mark() if silhouette is None else _edge_mark(silhouette.box, window, sides),
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
    share = picture.things[hero].frame_area_share * 100
    if picture.things[hero].inside_frame_share > 0 and share < HERO_SHARE.value:
        yield Finding(
            "hero.small",
            "mend",
            (hero,),
            round(share, 2),
            HERO_SHARE.value,
            "%",
            f"the hero {label(picture, hero)} fills {share:.1f} % of the frame; under {HERO_SHARE.value:g} % it is an extra",
        )
