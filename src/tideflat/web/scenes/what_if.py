"""The same scene on other surfaces: each seen through the same lens, judged the same way, ranked with the reasons."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.facts.practice import MERGE
from tideflat.core.findings.registry import findings
from tideflat.core.model import Surface
from tideflat.core.palette.behind_words import legibility
from tideflat.core.palette.seen import against, colour_distance, seen_colours
from tideflat.core.palette.wanted import met
from tideflat.web.bridge.drawing import frame_drawing
from tideflat.web.stores.models import StoreSurface
from tideflat.web.stores.pictures import SkinBook
from tideflat.web.stores.queries import core_surface

from .models import Scene
from .queries import picture_of

#: Surfaces side by side.
SHOWN = 6
#: Contrast at which words of usual size are legible (WCAG 2.2, 1.4.3).
_LEGIBLE = 4.5
_COLOUR = ("colour.", "palette.", "copy.illegible")


@dataclass(frozen=True)
class Tried:
    """One surface under the scene: its row (None for one that is only in the scene), the frame, points, reasons for and against."""

    pk: int | None
    name: str
    is_now: bool
    frame: dict[str, Any]
    points: float
    good: tuple[str, ...]
    bad: tuple[str, ...]


def tried_surfaces(row: Scene, setup_name: str) -> list[Tried]:
    """The surface it has and the most promising others, SHOWN in all, the best first."""
    before = picture_of(row, setup_name)
    now = before.scene.surface
    rows = [(s, core_surface(s)) for s in StoreSurface.objects.filter(studio=row.studio)]
    known = next((s.pk for s, c in rows if c.name == now.name), None)
    others = [(s.pk, c) for s, c in rows if c.name != now.name]
    heroes = before.hero_ids()
    if heroes:
        colours = before.props[heroes[0]].colours
        others.sort(key=lambda pair: -colour_distance(colours, pair[1].colours))
    chosen: list[tuple[int | None, Surface]] = [(known, now), *others[: SHOWN - 1]]
    tried = [_tried(before, row.studio_id, pk, surface, surface is now, k) for k, (pk, surface) in enumerate(chosen)]
    return sorted(tried, key=lambda t: -t.points)


def _tried(before: Picture, studio_id: int, pk: int | None, surface: Surface, is_now: bool, number: int) -> Tried:
    scene = replace(before.scene, surface=replace(surface, height_above_floor=before.scene.surface.height_above_floor))
    picture = Picture(scene, scene.setup(before.setup.name), SkinBook(studio_id))
    good: list[str] = []
    bad: list[str] = []
    points = 0.0
    rims = {i: a for i, a in against(picture).items() if a.behind == "surface"}
    for hero in picture.hero_ids():
        if hero in rims:
            points += min(rims[hero].delta_e, 50) / 8
            clear = rims[hero].delta_e >= MERGE.value
            (good if clear else bad).append(
                f"the {picture.props[hero].name} {'stands clear' if clear else 'melts into it'}, {rims[hero].delta_e:.0f}"
            )
    merging = [i for i, a in rims.items() if a.delta_e < MERGE.value and i not in picture.hero_ids()]
    points -= 1.2 * len(merging)
    if merging:
        bad.append("melts: " + ", ".join(dict.fromkeys(picture.props[i].name for i in merging[:3])))
    elif rims:
        good.append("nothing melts into it")
    bare = sum(s.share for s in seen_colours(picture) if s.owner == "room")
    if bare > 0.01:
        points -= 12 * bare
        bad.append(f"it ends in the frame: {bare * 100:.0f} % is bare room")
    points += _words(picture, good, bad)
    if scene.palette:
        _, rest = met(scene.palette, seen_colours(picture))
        points -= 5 * rest
        (good if rest < 0.25 else bad).append(f"{rest * 100:.0f} % of the picture is off the palette")
    count = sum(1 for f in findings(picture) if f.code.startswith(_COLOUR))
    points -= 0.4 * count
    return Tried(pk, surface.name, is_now, frame_drawing(picture, prefix=f"w{number}", live=False), points, tuple(good), tuple(bad))


def _words(picture: Picture, good: list[str], bad: list[str]) -> float:
    """Points for words that read in every room kept for them."""
    points = 0.0
    for crop in picture.crops:
        if crop.copy_box is None:
            continue
        read = legibility(picture, crop.copy_box)
        reads = read.ratio >= _LEGIBLE
        ink = "white" if read.ink == "#ffffff" else "black"
        (good if reads else bad).append(f"{ink} words in {crop.name} {'read' if reads else 'do not read'}, {read.ratio:.1f} to 1")
        points += 1.5 if reads else -1.5
    return points
