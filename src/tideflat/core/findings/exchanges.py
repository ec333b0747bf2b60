"""Remedies out of the stores: another prop in a thing's place, an echo brought in, another surface."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import islice

import numpy as np
import shapely
from shapely.affinity import translate

from ..evaluate import Picture
from ..facts.practice import LIGHTER_THAN_HERO, LOUDER_THAN_HERO
from ..model import Placement, Prop, Scene, Surface
from ..palette.seen import against, chroma, colour_distance, lightness
from ..palette.wanted import BELONGS, nearest
from ..shapes import Cloth, Scatter
from ..solids.body import Body, pose
from .candidates import Candidate
from .finding import Finding
from .variety import outline_kind

#: A prop stands in for another when neither width, depth nor height differs by more than this factor.
_SIZE_FACTOR = 1.6
_MOST_PROPS, _MOST_SPOTS = 24, 10
_CLEAR_MM = 16.0


@dataclass(frozen=True, slots=True)
class Stores:
    """What the studio has: props and surfaces that a remedy may take."""

    props: tuple[Prop, ...] = ()
    surfaces: tuple[Surface, ...] = ()


NO_STORES = Stores()


def exchanges(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Candidates for a finding of colour, palette or variety. Nothing locked, and not the hero, is exchanged."""
    if finding.code in ("copy.illegible", "colour.merge"):
        yield from _other_surfaces(picture, stores)
    if finding.code in ("palette.accent_missing", "palette.accent_lonely"):
        yield from _echoes(picture, finding, stores)
        return
    fits = _fits(picture, finding)
    if fits is None:
        return
    who = finding.placements or tuple(p.id for p in picture.scene.placements_in(picture.setup) if p.role in ("support", "accent"))
    for i in who:
        yield from _stand_ins(picture, i, fits, stores, limit=_MOST_PROPS if finding.placements else 8)


def _fits(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    """A quick test that a stand-in must pass; the full judgement follows. None where no stand-in helps."""
    heroes = picture.hero_ids()
    hero = picture.props[heroes[0]] if heroes else None
    palette = picture.scene.palette
    match finding.code:
        case "colour.merge":
            rim = against(picture).get(finding.placements[0])
            if rim is None:
                return None
            colours = {"surface": picture.scene.surface.colours} | {i: p.colours for i, p in picture.props.items()}
            return lambda p: rim.behind not in colours or colour_distance(p.colours, colours[rim.behind]) >= finding.limit
        case "colour.lighter" if hero is not None:
            return lambda p: lightness(p.colours) - lightness(hero.colours) <= LIGHTER_THAN_HERO.value
        case "colour.louder" if hero is not None:
            return lambda p: chroma(p.colours) - chroma(hero.colours) <= LOUDER_THAN_HERO.value
        case "colour.lone_dark" | "colour.lone_light":
            own = lightness(picture.props[finding.placements[0]].colours)
            return lambda p: abs(lightness(p.colours) - own) > finding.excess
        case "palette.off" if palette is not None:
            return lambda p: nearest(palette, max(p.colours, key=lambda c: c.share).hex)[1] <= BELONGS
        case "sameness.outline":
            return lambda p: outline_kind(pose(Placement("t", p.id, 0, 0), p.shape), picture.view.forward[2]) != finding.sides[0]
        case "sameness.texture":
            return lambda p: (p.texture or "smooth") != finding.sides[0]
        case "sameness.gloss":
            return lambda p: p.finish in ("matte", "satin")
        case "sameness.sizes":
            return lambda p: True
        case "story.unrelated":
            theme = {t.lower() for t in picture.scene.brief.tags}
            return lambda p: bool(theme & {t.lower() for t in p.tags})
    return None


def _stand_ins(picture: Picture, i: str, fits: Callable[[Prop], bool], stores: Stores, limit: int) -> Iterator[Candidate]:
    """Props of about the same size in the place of ``i``, the likest first."""
    scene = picture.scene
    placement, old = scene.placement(i), picture.props[i]
    if placement.locked or placement.role == "hero" or scene.carried_by(i) or i in dict(picture.setup.swap):
        return
    if isinstance(old.shape, Cloth | Scatter):
        able = [p for p in stores.props if type(p.shape) is type(old.shape)]
    else:
        able = [p for p in stores.props if not isinstance(p.shape, Cloth | Scatter)]
    size = size_mm(picture.bodies[i])
    sized = []
    for prop in able:
        if prop.name == old.name or not fits(prop):
            continue
        other = size_mm(pose(Placement("t", prop.id, 0.0, 0.0), prop.shape))
        apart = float(np.abs(np.log(np.maximum(other, 1) / np.maximum(size, 1))).max())
        if apart < np.log(_SIZE_FACTOR):
            sized.append(
                (apart + (0 if prop.shape.kind == old.shape.kind else 0.5) - 0.1 * len(set(prop.tags) & set(old.tags)), prop.id, prop)
            )
    for _, _, prop in islice(sorted(sized, key=lambda s: s[:2]), limit):
        changed, kept = with_prop(scene, prop)
        changed = changed.with_placement(replace(placement, prop=kept.id))
        yield Candidate(
            "swap",
            (("placement", i), ("out", old.name), ("name", prop.name), ("prop", prop.id)),
            f"take {prop.name} from the stores in the place of {old.name}",
            _without_unused(changed),
        )


def _echoes(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A small thing of the accent's colour on a clear place of the table, well inside the picture."""
    wanted = finding.sides[0]
    palette = picture.scene.palette
    if palette is None:
        return
    small = []
    for prop in stores.props:
        main = max(prop.colours, key=lambda c: c.share).hex
        own, distance = nearest(palette, main)
        size = size_mm(pose(Placement("t", prop.id, 0.0, 0.0), prop.shape))
        if own.hex == wanted and distance <= BELONGS and max(size) <= 160 and prop.name not in {p.name for p in picture.props.values()}:
            small.append((distance, prop.id, prop))
    theme = set(picture.scene.brief.tags)
    count = 2 if finding.code == "palette.accent_missing" else 1  # one alone would be lonely
    for _, _, prop in islice(sorted(small, key=lambda s: (-len(theme & set(s[2].tags)), s[0], s[1])), 4):
        places = list(_clear_places(picture, prop))
        for first in range(min(len(places), _MOST_SPOTS)):
            spots = _apart(places, first, count)
            if len(spots) < count:
                continue
            changed, kept = with_prop(picture.scene, prop)
            for x, y in spots:
                new = Placement(_free_id(kept.id, {p.id for p in changed.placements}), kept.id, x, y, role="filler")
                changed = replace(changed, placements=(*changed.placements, new))
            where = " and ".join(f"{x:.0f}, {y:.0f} mm" for x, y in spots)
            yield Candidate(
                "bring",
                (("name", prop.name), ("prop", prop.id), ("count", count), ("x", spots[0][0]), ("y", spots[0][1])),
                f"bring in {prop.name} from the stores at {where}",
                changed,
            )


def _apart(places: list[tuple[float, float]], first: int, count: int) -> list[tuple[float, float]]:
    """``count`` places from the one at ``first``, each the furthest from those before."""
    chosen = [places[first]]
    while len(chosen) < min(count, len(places)):
        chosen.append(max(places, key=lambda p: min((p[0] - c[0]) ** 2 + (p[1] - c[1]) ** 2 for c in chosen)))
    return chosen if len(set(chosen)) == count else []


def _clear_places(picture: Picture, prop: Prop) -> Iterator[tuple[float, float]]:
    """Where it would stand clear of all and be seen in every crop, those away from the hero's side first."""
    window = picture.safe_area or (0.0, 0.0, 1.0, 1.0)
    margin = 0.06
    taken = [b.footprint for b in picture.bodies.values() if not isinstance(b.shape, Cloth)]
    own = pose(Placement("t", prop.id, 0.0, 0.0), prop.shape).footprint
    heroes = picture.hero_ids()
    centre = picture.bodies[heroes[0]].footprint.centroid if heroes else shapely.Point(*picture.setup.camera.aim[:2])
    aim = picture.setup.camera.aim
    copies = [c.copy_box for c in picture.crops if c.copy_box is not None]
    found = []
    for x in np.arange(30, picture.scene.surface.width, 35):
        for y in np.arange(30, picture.scene.surface.depth, 35):
            u, v, depth = picture.view.project(np.array([x, y, 0.0]))
            inside = window[0] + margin < u < window[2] - margin and window[1] + margin < v < window[3] - margin
            if depth <= 0 or not inside or any(c[0] - 0.03 < u < c[2] + 0.03 and c[1] - 0.03 < v < c[3] + 0.03 for c in copies):
                continue
            away = abs(2 * aim[0] - float(centre.x) - x) + abs(2 * aim[1] - float(centre.y) - y)
            found.append((away, float(x), float(y)))
    for _, x, y in sorted(found):
        here = translate(own, x, y)
        if all(here.distance(other) >= _CLEAR_MM for other in taken):
            yield x, y


def _other_surfaces(picture: Picture, stores: Stores) -> Iterator[Candidate]:
    old = picture.scene.surface
    able = [s for s in stores.surfaces if s.name != old.name and s.width >= old.width - 1 and s.depth >= old.depth - 1]
    for surface in sorted(able, key=lambda s: (colour_distance(s.colours, old.colours), s.name)):
        yield Candidate(
            "surface",
            (("out", old.name), ("name", surface.name)),
            f"take the surface {surface.name} from the stores",
            replace(picture.scene, surface=replace(surface, height_above_floor=old.height_above_floor)),
        )


def size_mm(body: Body) -> tuple[float, float, float]:
    """Width, depth and height of what a thing covers as it stands, the longer side first."""
    x0, y0, x1, y1 = body.footprint.bounds
    longer, shorter = sorted((x1 - x0, y1 - y0), reverse=True)
    return float(longer), float(shorter), float(body.z_max - body.z_min)


def with_prop(scene: Scene, prop: Prop) -> tuple[Scene, Prop]:
    """The scene with its own copy of a prop of the stores, one that is there already being shared."""
    for own in scene.props:
        if replace(own, id=prop.id) == prop and _stem(own.id) == _stem(prop.id):
            return scene, own
    kept = replace(prop, id=_free_id(prop.id, {p.id for p in scene.props}))
    return replace(scene, props=(*scene.props, kept)), kept


def _without_unused(scene: Scene) -> Scene:
    used = {p.prop for p in scene.placements} | {prop for s in scene.setups for _, prop in s.swap}
    return replace(scene, props=tuple(p for p in scene.props if p.id in used))


def _stem(prop_id: str) -> str:
    stem, _, tail = prop_id.rpartition("-")
    return stem if stem and tail.isdigit() else prop_id


def _free_id(wish: str, taken: set[str]) -> str:
    if wish not in taken:
        return wish
    stem = _stem(wish)[:56]
    return next(f"{stem}-{n}" for n in range(2, 10_000) if f"{stem}-{n}" not in taken)
