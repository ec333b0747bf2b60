"""Lights and cards of a studio's kit as a scene holds them."""

from __future__ import annotations

from tideflat.core.model import Card, Lamp
from tideflat.web.accounts.models import Studio

from .models import StoreCard, StoreLight

#: Where a thing is that nobody has put anywhere yet, and the way it looks.
_NOWHERE, _AHEAD = (0.0, 0.0, 0.0), (0.0, -1.0, 0.0)


def own_lights(studio: Studio) -> list[tuple[int, str, Lamp]]:
    """(pk, name, the lamp, not put anywhere) of the studio's lights."""
    return [(row.pk, row.name, _lamp(row)) for row in StoreLight.objects.filter(studio=studio)]


def own_cards(studio: Studio) -> list[tuple[int, str, Card]]:
    """The same of its cards; a coloured one is a tint."""
    return [(row.pk, row.name, _card(row)) for row in StoreCard.objects.filter(studio=studio)]


def _lamp(row: StoreLight) -> Lamp:
    size = row.width_mm, row.height_mm
    return Lamp(
        "own", at=_NOWHERE, toward=_AHEAD, width=size[0], height=size[1], round=row.is_round, beam=row.beam_deg, kelvin=row.kelvin
    )  # fmt: skip


def _card(row: StoreCard) -> Card:
    is_tint = row.kind == "colour"
    return Card("own", "tint" if is_tint else row.kind, _NOWHERE, _AHEAD, row.width_mm, row.height_mm, row.colour if is_tint else None)
