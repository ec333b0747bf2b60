"""The same scene on another surface, judged by what a surface decides: what stands out from it, what it shows past its edge, words,
palette."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..colour.contrast import LEGIBLE_LARGE
from ..evaluate import Picture
from ..model import Surface
from ..palette.behind_words import Legibility, legibility
from ..palette.seen import against, seen_colours
from ..palette.wanted import met
from .standing_out import merging_limit

#: Points by which surfaces are ranked; a matter of taste (common practice, no source). For CIEDE2000 of the hero (no more than the first
#: figure of it counts), for each other thing that melts, for bare room and for what is off the palette (of the whole picture), for words.
_HERO, _HERO_MOST, _MELTS, _BARE, _OFF, _WORDS = 1 / 8, 50.0, 1.2, 12.0, 5.0, 1.5
#: Less bare room than this share of the frame is not worth a word.
BARE_SHARE = 0.01
#: More of the picture than this off the palette speaks against a surface.
OFF_SHARE = 0.25


@dataclass(frozen=True)
class SurfaceTried:
    """picture: the scene on it. hero: (id, CIEDE2000) of each hero that lies against it; melting: other things that do not stand out;
    bare: share of the frame that shows past its edge; words: (crop, legibility); off: share off the palette, None without one."""

    picture: Picture
    points: float
    limit: float
    hero: tuple[tuple[str, float], ...]
    melting: tuple[str, ...]
    bare: float
    words: tuple[tuple[str, Legibility], ...]
    off: float | None


def try_surface(before: Picture, surface: Surface) -> SurfaceTried:
    """``surface`` in place of the scene's own, on the same table, through the same lens."""
    laid = replace(surface, height_above_floor=before.scene.surface.height_above_floor)
    setup = replace(before.setup, surface=laid)  # in this set-up alone: it is only looked at
    picture = Picture(before.whole.with_setup(setup.name, setup), setup, before.skins)
    scene = picture.scene
    limit = merging_limit(scene)
    heroes = picture.hero_ids()
    rims = {i: a.delta_e for i, a in against(picture).items() if a.behind == "surface"}
    hero = tuple((i, rims[i]) for i in heroes if i in rims)
    melting = tuple(i for i, d in rims.items() if d < limit and i not in heroes)
    seen = seen_colours(picture)
    bare = sum(s.share for s in seen if s.owner == "room")
    words = tuple((c.name, legibility(picture, c.copy_box)) for c in picture.crops if c.copy_box is not None)
    off = met(scene.palette, seen)[1] if scene.palette is not None and scene.palette.colours else None
    points = (
        _HERO * sum(min(d, _HERO_MOST) for _, d in hero)
        - _MELTS * len(melting)
        - _BARE * (bare if bare > BARE_SHARE else 0.0)
        - _OFF * (off or 0.0)
        + sum(_WORDS if read.ratio >= LEGIBLE_LARGE else -_WORDS for _, read in words)
    )
    return SurfaceTried(picture, points, limit, hero, melting, bare, words, off)
