"""Which pairs of things a judgement of spacing may speak about."""

from __future__ import annotations

from ..camera.hiding import lies_in
from ..evaluate import Picture
from ..tolerances import CONTACT_MM

#: Roles whose spacing and edges are judged: large or pointed things. Fillers, cloth and what is strewn may touch [practice].
SHAPING_ROLES = frozenset({"hero", "support", "accent", "linear"})
LARGE_ROLES = frozenset({"hero", "support", "accent"})
#: Articles of one range differ in size by no more than this share [practice].
_ONE_RANGE = 0.25


def rests_on(picture: Picture, upper: str, lower: str) -> bool:
    """Whether ``upper`` is carried by ``lower``, directly or through something between."""
    return upper in picture.scene.carried_by(lower)


def related(picture: Picture, a: str, b: str) -> bool:
    """One carries the other, or one lies in the other."""
    first, second = picture.bodies[a], picture.bodies[b]
    return rests_on(picture, a, b) or rests_on(picture, b, a) or lies_in(first, second) or lies_in(second, first)


def heights_meet(picture: Picture, a: str, b: str) -> bool:
    """Whether the two have some height in common, so that they are beside and not above one another."""
    first, second = picture.bodies[a], picture.bodies[b]
    return first.z_min < second.z_max - CONTACT_MM and second.z_min < first.z_max - CONTACT_MM


def is_catalogue(picture: Picture) -> bool:
    """Whether the picture is of the catalogue school: it is for a catalogue, or order leans to squared."""
    return "catalogue" in picture.scene.brief.use.lower() or picture.scene.brief.leaning("order") < 0


def range_of(picture: Picture) -> tuple[str, ...]:
    """The articles of a range, the hero among them: the large things that stand by themselves, of the hero's kind of shape and about its
    size, in a picture of the catalogue school; none where it stands alone."""
    heroes = picture.hero_ids()
    if not is_catalogue(picture) or len(heroes) != 1:
        return ()
    lead = picture.bodies[heroes[0]]
    size = sorted(lead.shape.sides())
    alike = [
        i
        for i, b in picture.bodies.items()
        if b.placement.role in LARGE_ROLES
        and b.shape.kind == lead.shape.kind
        and all(abs(a - c) <= _ONE_RANGE * max(a, c) for a, c in zip(size, sorted(b.shape.sides()), strict=True))
    ]
    return tuple(alike) if len(alike) > 1 else ()


def label(picture: Picture, placement_id: str) -> str:
    """The name of what stands there."""
    return picture.props[placement_id].name
