"""A series of the catalogue school: whether set-ups show their articles at the same scale, about the same middle, with the same margins."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..camera.crops import FULL_FRAME
from ..evaluate import Picture

#: What differs by no more than this is the same, mm at the article.
SAME_MM = 1.0


@dataclass(frozen=True, slots=True)
class Article:
    """How a set-up shows its hero, in mm in the plane through its middle: per_mm: delivered pixels for each; off: (right, down) of its
    middle from the crop's; size: of its outline; margins: left, top, right, bottom to the crop's edges."""

    setup: str
    per_mm: float
    off: tuple[float, float]
    size: tuple[float, float]
    margins: tuple[float, float, float, float]


@dataclass(frozen=True, slots=True)
class Series:
    """scale_mm: how much larger the largest article would come out for the scales' difference; centre_mm: how far their middles lie apart;
    margin_mm: how far one margin differs, size left out: articles of other sizes have other margins."""

    articles: tuple[Article, ...]
    scale_mm: float
    centre_mm: float
    margin_mm: float

    @property
    def is_alike(self) -> bool:
        return max(self.scale_mm, self.centre_mm, self.margin_mm) <= SAME_MM


def article(picture: Picture) -> Article | None:
    """The one hero of a set-up in its first deliverable; None without one before the lens."""
    heroes = [picture.silhouettes[i] for i in picture.hero_ids() if i in picture.silhouettes]
    if len(heroes) != 1:
        return None
    hero, view = heroes[0], picture.view
    depth = float((hero.body.centroid - view.position) @ view.forward)
    crop = picture.crops[0].box if picture.crops else FULL_FRAME
    wide, high = (size * depth / view.principal_distance for size in (view.frame_width, view.frame_height))
    u0, v0, u1, v1 = hero.box
    pixels = picture.setup.camera.frame_pixels[0] / wide * (picture.crops[0].enlargement if picture.crops else 1.0)
    return Article(
        picture.setup.name,
        pixels,
        (((u0 + u1) - (crop[0] + crop[2])) / 2 * wide, ((v0 + v1) - (crop[1] + crop[3])) / 2 * high),
        ((u1 - u0) * wide, (v1 - v0) * high),
        ((u0 - crop[0]) * wide, (v0 - crop[1]) * high, (crop[2] - u1) * wide, (crop[3] - v1) * high),
    )


def series_of(pictures: Sequence[Picture]) -> Series | None:
    """Those that show another article each, from one angle: of one article the first. None where there are fewer than two."""
    by_prop: dict[str, Picture] = {}
    for picture in pictures:
        heroes = [i for i in picture.hero_ids() if i in picture.silhouettes]
        if len(heroes) == 1:
            by_prop.setdefault(picture.props[heroes[0]].id, picture)
    ways = [(p.setup.camera.elevation, p.setup.camera.azimuth) for p in by_prop.values()]
    alike = [p for p, way in zip(by_prop.values(), ways, strict=True) if way == ways[0]]
    found = tuple(a for a in map(article, alike) if a is not None)
    if len(found) < 2:
        return None
    scales = [a.per_mm for a in found]
    largest = max(max(a.size) for a in found)
    spread = [max(a.off[k] for a in found) - min(a.off[k] for a in found) for k in (0, 1)]
    # A margin and half the article's size reach from the crop's edge to its middle: the same for all, whatever their size.
    reaches = [tuple(margin + a.size[k % 2] / 2 for k, margin in enumerate(a.margins)) for a in found]
    margin = max(max(r[k] for r in reaches) - min(r[k] for r in reaches) for k in range(4))
    return Series(found, (max(scales) / min(scales) - 1) * largest, max(spread), margin)
