"""What a matt card gives, as a picture of its own: the difference that it makes, so that it is swapped for another without a new render.

The card is rendered as a lamp of its own radiosity as if it gave everything back; a card that gives back less or more adds so much of that
picture more or less than the one that stands there. Against a new render within 0.05 stop for most of the picture.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..evaluate import Picture
from ..light.falling import Lighting
from ..light.surroundings import card_rgb
from ..lit import lighting_of
from ..model import Card
from ..tolerances import LIFTED_MM, NO_LIGHT_LUX
from .denoising import Guides, denoised
from .proof import passes
from .stage import Glow
from .staging import stage_of

#: Foil mirrors: what it gives has no one picture.
MATT = ("white", "tint", "black")
#: So many cards of a set-up, those that give most.
MOST = 2


@dataclass(frozen=True, eq=False, slots=True)
class CardLight:
    """rgb: (3,) linear, what the card gives back as it stands. lux: (3,) linear on it from each light, by its id. glows: its faces, giving
    everything back."""

    card: Card
    rgb: np.ndarray
    lux: dict[str, np.ndarray]
    glows: tuple[Glow, ...]

    @property
    def group(self) -> str:
        return f"card:{self.card.id}"


def share_of(was: np.ndarray, lux: dict[str, np.ndarray], becomes: np.ndarray, stops: dict[str, float]) -> np.ndarray:
    """(3,) how much of a card's picture is added where it gives back ``becomes`` in place of ``was``; lights are stronger by so many stops."""
    usual = sum(lux.values(), np.zeros(3))
    now = sum((on * 2.0 ** stops.get(light, 0.0) for light, on in lux.items()), np.zeros(3))
    return (becomes - was) * now / np.maximum(usual, NO_LIGHT_LUX)  # type: ignore[no-any-return]


def card_lights(picture: Picture) -> tuple[CardLight, ...]:
    """Of the matt cards that light reaches, those that give most."""
    lighting = lighting_of(picture)
    found = [one for card in picture.scene.cards if card.kind in MATT and (one := _of(lighting, card)) is not None]
    return tuple(sorted(found, key=lambda c: -float(sum(c.lux.values(), np.zeros(3)).sum()))[:MOST])


def _of(lighting: Lighting, card: Card) -> CardLight | None:
    rgb, own = card_rgb(card), lighting.owner("card", card.id)
    faces = [(patch, face) for patch, face in lighting.card_faces if int(lighting.casters.owner[patch]) in own]
    if not lighting.sources:
        return None
    numbers = [patch for patch, _ in faces]
    straight = lighting.lit[:, numbers, None] * np.array([source.rgb for source in lighting.sources])[:, None]
    lux = straight + np.einsum("pq,sqc->spc", lighting.exchange[numbers], lighting.given_back)
    on = {source.id: lux[k].mean(axis=0) for k, source in enumerate(lighting.sources)}
    if float(sum(on.values(), np.zeros(3)).max()) <= NO_LIGHT_LUX:
        return None
    glows = tuple(
        Glow(face.polygon + LIFTED_MM * face.out, face.out, lux[:, k].sum(axis=0) / np.pi, None, f"card:{card.id}")
        for k, (_, face) in enumerate(faces)
    )
    return CardLight(card, rgb, on, glows)


def card_picture(picture: Picture, light: CardLight, size: tuple[int, int], samples: int, exposure: np.ndarray, guides: Guides | None,
                 watch: Callable[[float], bool]) -> np.ndarray | None:  # fmt: skip
    """(h, w, 3) linear light that the card would give if it gave everything back, exposed; None where it was stopped. watch: told the share
    that is done."""
    stage = replace(stage_of(picture), glows=light.glows, far=(), groups=(light.group,))
    raw, done = np.zeros((size[1], size[0], 3), dtype=np.float32), 0
    for more, count in passes(stage, stage.groups, *size, samples):
        raw = (raw * done + more * count) / (done + count)
        done += count
        if not watch(done / samples):
            return None
    return denoised(raw * exposure, guides)
