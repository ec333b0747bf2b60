"""The same scene on other surfaces, side by side: the core judges each, here it is put in words and drawn."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.findings.copy_space import legible_from
from tideflat.core.findings.surface_tried import BARE_SHARE, OFF_SHARE, SurfaceTried, try_surface
from tideflat.core.model import Surface
from tideflat.core.palette.seen import colour_distance
from tideflat.core.weight import MOST_SHOWN, weigh
from tideflat.web.bridge.drawing import frame_drawing
from tideflat.web.stores.models import StoreSurface
from tideflat.web.stores.queries import core_surface, readable

from .models import Scene
from .queries import picture_of

#: Surfaces side by side.
SHOWN = 6


@dataclass(frozen=True)
class Tried:
    """One surface under the scene: its row (None for one that is only in the scene), the frame, reasons for and against."""

    pk: int | None
    name: str
    is_now: bool
    frame: dict[str, Any]
    good: tuple[str, ...]
    bad: tuple[str, ...]


def tried_surfaces(row: Scene, setup_name: str) -> list[Tried]:
    """The surface it has and the most promising others, SHOWN in all (fewer of a heavy scene), the best first."""
    before = picture_of(row, setup_name)
    owned = list(readable(lambda s: (s.pk, core_surface(s)), StoreSurface.objects.filter(studio=row.studio)))
    chosen = _chosen(before, owned)
    judged = [(pk, surface, try_surface(before, surface)) for pk, surface in chosen]
    judged.sort(key=lambda entry: -entry[2].points)
    return [_shown(pk, surface, surface is before.scene.surface, tried, k) for k, (pk, surface, tried) in enumerate(judged)]


def _chosen(before: Picture, owned: list[tuple[int, Surface]]) -> list[tuple[int | None, Surface]]:
    """The present surface, then those that differ most from the hero in colour."""
    now = before.scene.surface
    known = next((pk for pk, surface in owned if surface.name == now.name), None)
    others = [(pk, surface) for pk, surface in owned if surface.name != now.name]
    heroes = before.hero_ids()
    if heroes:
        colours = before.props[heroes[0]].colours
        others.sort(key=lambda entry: -colour_distance(colours, entry[1].colours))
    # Each is judged and drawn anew: of a heavy scene fewer fit into one answer.
    shown = max(2, min(SHOWN, round(MOST_SHOWN / weigh(before.scene).shown)))
    return [(known, now), *others[: shown - 1]]


def _shown(pk: int | None, surface: Surface, is_now: bool, tried: SurfaceTried, number: int) -> Tried:
    frame = frame_drawing(tried.picture, prefix=f"w{number}", live=False)
    reasons = _reasons(tried)
    good, bad = (tuple(words for is_good, words in reasons if is_good is side) for side in (True, False))
    return Tried(pk, surface.name, is_now, frame, good, bad)


def _reasons(tried: SurfaceTried) -> list[tuple[bool, str]]:
    """(whether it speaks for the surface, words)."""
    names = {i: p.name for i, p in tried.picture.props.items()}
    found = [
        (d >= tried.limit, f"the {names[i]} {'stands clear' if d >= tried.limit else 'melts into it'}, {d:.0f}") for i, d in tried.hero
    ]
    if tried.melting:
        found.append((False, "melts: " + ", ".join(list(dict.fromkeys(names[i] for i in tried.melting))[:3])))
    else:
        found.append((True, "nothing melts into it"))
    if tried.bare > BARE_SHARE:
        found.append((False, f"it ends in the frame: {tried.bare * 100:.0f} % is bare room"))
    wanted = {c.name: legible_from(c, d) for c, d in zip(tried.picture.crops, tried.picture.setup.deliverables, strict=True)}
    for crop, read in tried.words:
        reads, ink = read.ratio >= wanted[crop], "white" if read.ink == "#ffffff" else "black"
        found.append((reads, f"{ink} words in {crop} {'read' if reads else 'do not read'}, {read.ratio:.1f} to 1"))
    if tried.off is not None:
        found.append((tried.off < OFF_SHARE, f"{tried.off * 100:.0f} % of the picture is off the palette"))
    return found
