"""Whether things stand out from what is behind them, and whether the hero stands out most."""

from __future__ import annotations

from collections.abc import Iterator

from ..colour.delta_e_2000 import difference
from ..colour.words import colour_words
from ..evaluate import Picture
from ..facts.practice import ALONE_IN_LIGHTNESS, LIGHTER_THAN_HERO, LOUDER_THAN_HERO, MERGE, MERGE_DEEP, OFF_PALETTE, STEALS_FROM
from ..model import Scene
from ..palette.seen import against, chroma, lightness
from .finding import Finding
from .relations import LARGE_ROLES, SHAPING_ROLES, label


def merging_limit(scene: Scene) -> float:
    """CIEDE2000 from which a thing stands clear of what is behind it: less is asked where shadow leans to deep."""
    return (MERGE_DEEP if scene.brief.leaning("shadow") > 0 else MERGE).value


def find_merging(picture: Picture) -> Iterator[Finding]:
    """A thing as dark, light and coloured as what lies behind it: the hero is to be mended, another is a matter of taste."""
    limit = merging_limit(picture.scene)
    for i, rim in against(picture).items():
        role = picture.bodies[i].placement.role
        if role not in SHAPING_ROLES or rim.delta_e >= limit or picture.props[i].finish == "glass":
            continue
        behind = picture.props[rim.behind].name if rim.behind in picture.props else rim.behind
        yield Finding(
            "colour.merge",
            "mend" if role == "hero" else "taste",
            (i,),
            round(rim.delta_e, 1),
            limit,
            "CIEDE2000",
            f"{label(picture, i)} hardly differs from the {behind} behind it ({rim.delta_e:.1f}; {limit:g} is plain to see)",
            leaning="shadow",
            sides=(behind,),
        )


def find_louder(picture: Picture) -> Iterator[Finding]:
    """Something lighter, or more colourful, than the hero draws the eye first."""
    heroes = picture.hero_ids()
    if len(heroes) != 1 or picture.things[heroes[0]].visible_share == 0:
        return
    hero = picture.props[heroes[0]]
    hero_light, hero_chroma = lightness(hero.colours), chroma(hero.colours)
    likes_pops = picture.scene.brief.leaning("palette") > 0
    palette = picture.scene.palette
    accents = () if palette is None else palette.of_part("accent")
    for i, thing in picture.things.items():
        if i == heroes[0] or thing.frame_area_share * 100 < STEALS_FROM.value or picture.props[i].finish == "glass":
            continue
        role = picture.bodies[i].placement.role
        light, colourful = lightness(picture.props[i].colours), chroma(picture.props[i].colours)
        if light - hero_light > LIGHTER_THAN_HERO.value and role in LARGE_ROLES:
            yield Finding(
                "colour.lighter",
                "taste",
                (i,),
                round(light - hero_light, 1),
                LIGHTER_THAN_HERO.value,
                "L*",
                f"{label(picture, i)} is lighter than the hero {hero.name} by {light - hero_light:.0f} L*; the eye goes to the lightest first",
                sides=(hero.name,),
            )
        main = max(picture.props[i].colours, key=lambda c: c.share).hex
        is_meant = (likes_pops and role == "accent") or any(difference(main, a.hex) <= OFF_PALETTE.value for a in accents)
        if colourful - hero_chroma > LOUDER_THAN_HERO.value and not is_meant:
            yield Finding(
                "colour.louder",
                "taste",
                (i,),
                round(colourful - hero_chroma, 3),
                LOUDER_THAN_HERO.value,
                "OKLCH chroma",
                f"{label(picture, i)} is more colourful than the hero {hero.name} ({colourful:.2f} against {hero_chroma:.2f})",
                leaning="palette",
                sides=(hero.name,),
            )


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
    ordered = sorted(seen, key=lambda i: seen[i])
    for i, others, kind in ((ordered[0], ordered[1:], "dark"), (ordered[-1], ordered[:-1], "light")):
        nearest = min([abs(seen[i] - seen[o]) for o in others] + [abs(seen[i] - ground)])
        if nearest <= ALONE_IN_LIGHTNESS.value or picture.bodies[i].placement.role == "hero":
            continue
        yield Finding(
            f"colour.lone_{kind}",
            "taste",
            (i,),
            round(nearest, 1),
            ALONE_IN_LIGHTNESS.value,
            "L*",
            f"{label(picture, i)} is the only {kind} thing, {nearest:.0f} L* from any other; an echo elsewhere would settle it",
            sides=(colour_words(picture.props[i].colours[0].hex),),
        )
