"""How much of each patch of the cards is seen from points: too small for rays to meet often enough, they are worked out as sources are."""

from __future__ import annotations

from functools import partial
from itertools import groupby

import numpy as np

from ..tolerances import LIFTED_MM
from .again import Again
from .casters import Casters
from .forms import Panel
from .lit_face import LitFace, samples_of, unhindered
from .straight import share_seen

#: Places a side of a card's patch that are looked at from a point.
_CARD_SIDE = 2


def card_faces(casters: Casters) -> list[tuple[int, LitFace]]:
    """(number, face) of each patch of every card; a face gives one lux for each that its patch gives back."""
    cards = {k for k, (kind, _) in enumerate(casters.owners) if kind == "card"}
    panels = [c for c, owner in zip(casters.casters, casters.owner_of, strict=True) if isinstance(c, Panel) and owner in cards]
    return [
        (first + k, LitFace(polygon if sign > 0 else polygon[::-1], sign * panel.out, 1 / np.pi))
        for panel in panels
        for first, sign in ((panel.front, 1), (panel.back, -1))
        for k, polygon in enumerate(panel.cells())
    ]


def cards_seen(
    casters: Casters, points: np.ndarray, normals: np.ndarray, but: frozenset[int], again: Again, called: str = ""
) -> np.ndarray:
    """(n, patches) how much of each patch of the cards is seen from points (n, 3) facing normals (n, 3), of all other patches nothing. but:
    owners that are not there. called: of points that are asked about again, a name."""
    found = np.zeros((len(points), casters.patch_count))
    owner = casters.owner
    for card, of in groupby(card_faces(casters), lambda one: int(owner[one[0]])):
        if card in but:
            continue
        faces = list(of)
        look = partial(_seen, casters, points, normals, [face for _, face in faces], but | {card})
        name = called and f"{casters.owners[card]} {called} {sorted(but)}"
        found[:, [patch for patch, _ in faces]] = again.seen(name, [face.polygon for _, face in faces], points, normals, look)
    return found


def _seen(
    casters: Casters, points: np.ndarray, normals: np.ndarray, faces: list[LitFace], but: frozenset[int], rows: np.ndarray
) -> np.ndarray:
    """(rows, faces)"""
    points, normals = points[rows], normals[rows]
    starts, found = points + LIFTED_MM * normals, np.zeros((len(rows), len(faces)))
    for k, face in enumerate(faces):
        lux = unhindered(points, normals, face, 1)
        lit = np.nonzero(lux > 0)[0]
        if len(lit):
            found[lit, k] = lux[lit] * share_seen(casters, starts[lit], normals[lit], face, samples_of(face, _CARD_SIDE), but)
    return found
