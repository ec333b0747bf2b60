"""Whether things stand out from what is behind them, and whether the hero stands out most."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from ..camera.hiding import lies_in
from ..colour.delta_e_2000 import difference
from ..colour.words import colour_words
from ..composition.relations import LARGE_ROLES, SHAPING_ROLES, label, range_of
from ..delivered import hero_things
from ..evaluate import Picture
from ..facts.practice import ALONE_IN_LIGHTNESS, LIGHTER_THAN_HERO, LOUDER_THAN_HERO, MERGE, MERGE_DEEP, OFF_PALETTE, STEALS_FROM
from ..model import Prop, Scene
from ..palette.grounds import grounds
from ..palette.in_light import as_lit, in_light, lit_figures
from ..palette.seen import against, chroma, colour_distance, lightness
from .finding import Finding
from .kind import Kind, Rule


def _stands_clear(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    rim = against(picture).get(finding.placements[0])
    if rim is None:
        return None
    behind = {"surface": picture.scene.surface.colours} | {i: p.colours for i, p in picture.props.items()}
    parts = _parts_of(picture)
    own, theirs = parts.get(finding.placements[0], 0), parts.get(rim.behind, 0)

    def stands_clear(prop: Prop) -> bool:
        if rim.behind not in behind:
            return True
        return colour_distance(as_lit(prop.colours, own), as_lit(behind[rim.behind], theirs)) >= finding.limit

    return stands_clear


def _no_lighter(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    parts, own = _parts_of(picture), finding.placements[0]
    return lambda p: _above_hero(picture, parts, own, p) <= LIGHTER_THAN_HERO.value


def _parts_of(picture: Picture) -> dict[str, int]:
    """Parts of a stop that things come out lighter or darker in the set-up's light; empty without."""
    lit = in_light(picture)
    return {} if lit is None else lit.things


def _above_hero(picture: Picture, parts: dict[str, int], placement_id: str, prop: Prop) -> float:
    """L* of a prop in a thing's place above the hero's. Light may hold a light thing down; what light alone makes brighter is told by
    light.elsewhere, so it is no more than under even light."""
    hero_id = picture.hero_ids()[0]
    hero = picture.props[hero_id].colours
    in_hand = lightness(prop.colours) - lightness(hero)
    return min(in_hand, lightness(as_lit(prop.colours, parts.get(placement_id, 0))) - lightness(as_lit(hero, parts.get(hero_id, 0))))


def _no_louder(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    hero = chroma(picture.props[picture.hero_ids()[0]].colours)
    return lambda p: chroma(p.colours) - hero <= LOUDER_THAN_HERO.value


def _nearer_the_rest(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    own = lightness(picture.props[finding.placements[0]].colours)
    return lambda p: abs(lightness(p.colours) - own) > finding.excess


MERGING = Kind(
    code="colour.merge", rank=190, severity="mend", severities="mend for the hero, else taste", unit="CIEDE2000",
    measure="CIEDE2000, in the set-up's light, to what lies just outside its visible outline in the frame, the median along it", limit=MERGE,
    limit_note=f"{MERGE_DEEP.value:g} where shadows may be deep", leaning="shadow",
    gives="another surface, or another such thing in the stores, would have to give",
    makers=("another surface", "stand-in"), fits=_stands_clear,
    retouch_minutes=10,
)  # fmt: skip
LIGHTER = Kind(
    code="colour.lighter", rank=200, severity="taste", unit="L*",
    measure="L* above the hero's mean, in the set-up's light, of a large thing of 0.6 % of the frame or more", limit=LIGHTER_THAN_HERO,
    gives="a darker such thing in the stores, or a lighter hero, would have to give", makers=("stand-in",), fits=_no_lighter,
    retouch_minutes=6,
)  # fmt: skip
LOUDER = Kind(
    code="colour.louder", rank=210, severity="taste", unit="OKLCH chroma",
    measure="OKLCH chroma above the hero's mean; an accent of the palette may", limit=LOUDER_THAN_HERO, leaning="palette",
    gives="a quieter such thing in the stores would have to give", makers=("stand-in",), fits=_no_louder,
    retouch_minutes=6,
)  # fmt: skip
LONE = {
    kind: Kind(
        code=f"colour.lone_{kind}", rank=rank, severity="taste", unit="L*",
        measure="L* to the nearest other thing and to the surface", limit=ALONE_IN_LIGHTNESS,
        gives="an echo of it elsewhere would settle it", makers=("stand-in",), fits=_nearer_the_rest,
    )
    for kind, rank in (("dark", 220), ("light", 230))
}  # fmt: skip


def merging_limit(scene: Scene) -> float:
    """CIEDE2000 from which a thing stands clear of what is behind it: less is asked where shadow leans to deep."""
    return (MERGE_DEEP if scene.brief.leaning("shadow") > 0 else MERGE).value


def find_merging(picture: Picture) -> Iterator[Finding]:
    """A thing as dark, light and coloured as what lies behind it: the hero is to be mended, another is a matter of taste."""
    limit, is_lit = merging_limit(picture.scene), lit_figures(picture)
    colours = {g.name: g.colours for g in grounds(picture.scene, picture.view)} | {i: p.colours for i, p in picture.props.items()}
    for i, rim in against(picture).items():
        role = picture.bodies[i].placement.role
        if role not in SHAPING_ROLES or rim.delta_e >= limit or picture.props[i].finish == "glass":
            continue
        if role != "hero" and is_lit and colour_distance(colours[i], colours[rim.behind]) >= limit:
            continue  # what light alone brings together is the light's to mend, and asked of the hero only
        behind = picture.props[rim.behind].name if rim.behind in picture.props else rim.behind
        yield MERGING.found(
            (i,),
            round(rim.delta_e, 1),
            limit,
            f"{label(picture, i)} hardly differs from the {behind} behind it ({rim.delta_e:.1f}; {limit:g} is plain to see)",
            severity="mend" if role == "hero" else "taste",
            sides=(behind,),
            figures=is_lit,
        )


def find_louder(picture: Picture) -> Iterator[Finding]:
    """Something lighter, or more colourful, than the hero draws the eye first."""
    heroes = picture.hero_ids()
    if len(heroes) != 1 or picture.things[heroes[0]].visible_share == 0:
        return
    hero = picture.props[heroes[0]]
    parts, is_lit, hero_chroma = _parts_of(picture), lit_figures(picture), chroma(hero.colours)
    likes_muted = picture.scene.brief.leaning("palette") < 0
    palette = picture.scene.palette
    accents = () if palette is None else palette.of_part("accent")
    # Another of the same is no rival, however the light falls on it.
    beside = with_the_hero(picture, heroes[0]) | {i for i, prop in picture.props.items() if prop.id == hero.id}
    for i, thing in picture.things.items():
        if i in beside or thing.frame_area_share * 100 < STEALS_FROM.value or picture.props[i].finish == "glass":
            continue
        role = picture.bodies[i].placement.role
        above, colourful = _above_hero(picture, parts, i, picture.props[i]), chroma(picture.props[i].colours)
        if above > LIGHTER_THAN_HERO.value and role in LARGE_ROLES and role != "accent":
            yield LIGHTER.found(
                (i,),
                round(above, 1),
                LIGHTER_THAN_HERO.value,
                f"{label(picture, i)} is lighter than the hero {hero.name} by {above:.0f} L*; the eye goes to the lightest first",
                sides=(hero.name,),
                figures=is_lit,
            )
        main = max(picture.props[i].colours, key=lambda c: c.share).hex
        is_meant = (not likes_muted and role == "accent") or any(difference(main, a.hex) <= OFF_PALETTE.value for a in accents)
        if colourful - hero_chroma > LOUDER_THAN_HERO.value and not is_meant:
            yield LOUDER.found(
                (i,),
                round(colourful - hero_chroma, 3),
                LOUDER_THAN_HERO.value,
                f"{label(picture, i)} is more colourful than the hero {hero.name} ({colourful:.2f} against {hero_chroma:.2f})",
                sides=(hero.name,),
            )


def with_the_hero(picture: Picture, hero: str) -> frozenset[str]:
    """The hero and what is no rival of it: what carries it, on whatever that lies, and what lies on it or in it; the other articles of a
    range, where a range is what is shown."""
    placed = {p.id: p for p in picture.scene.placements}
    carriers: list[str] = []
    below = placed[hero].on
    while below is not None and below not in carriers:
        carriers.append(below)
        below = placed[below].on if below in placed else None
    body = picture.bodies[hero]
    under = [
        i for i, b in picture.bodies.items() if i != hero and (lies_in(body, b) or (b.is_soft and b.footprint.intersects(body.footprint)))
    ]
    articles = range_of(picture) if hero in range_of(picture) else ()
    return frozenset((*hero_things(picture, hero), *carriers, *under, *articles))


def find_alone(picture: Picture) -> Iterator[Finding]:
    """A single thing far darker or lighter than all others: a hole in the picture, or a lamp in it."""
    seen = {
        i: lightness(picture.props[i].colours)
        for i, t in picture.things.items()
        if t.frame_area_share * 100 >= STEALS_FROM.value and picture.props[i].finish != "glass"
    }
    if len(seen) < 3:
        return
    ground = lightness(picture.scene.surface.colours)
    heroes = picture.hero_ids()
    beside = with_the_hero(picture, heroes[0]) if len(heroes) == 1 else frozenset()
    ordered = sorted(seen, key=lambda i: seen[i])
    for i, others, kind in ((ordered[0], ordered[1:], "dark"), (ordered[-1], ordered[:-1], "light")):
        nearest = min([abs(seen[i] - seen[o]) for o in others] + [abs(seen[i] - ground)])
        if nearest <= ALONE_IN_LIGHTNESS.value or picture.bodies[i].placement.role == "hero" or i in beside:
            continue
        yield LONE[kind].found(
            (i,),
            round(nearest, 1),
            ALONE_IN_LIGHTNESS.value,
            f"{label(picture, i)} is the only {kind} thing, {nearest:.0f} L* from any other; an echo elsewhere would settle it",
            sides=(colour_words(picture.props[i].colours[0].hex),),
        )


RULES = (
    Rule(find_merging, (MERGING,), cost=2),
    Rule(find_louder, (LIGHTER, LOUDER), cost=2),
    Rule(find_alone, tuple(LONE.values()), cost=2),
)
