"""Which pairs of things a judgement of spacing may speak about."""

from __future__ import annotations

from ..camera.hiding import lies_in
from ..evaluate import Picture
from ..tolerances import CONTACT_MM

#: Roles whose spacing and edges are judged: large or pointed things. Fillers, cloth and what is strewn may touch [practice].
SHAPING_ROLES = frozenset({"hero", "support", "accent", "linear"})
LARGE_ROLES = frozenset({"hero", "support", "accent"})


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


def label(picture: Picture, placement_id: str) -> str:
    """The name of what stands there."""
    return picture.props[placement_id].name
