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
from .through import Through

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
        look = partial(_seen, points, normals, [face for _, face in faces])
        name, polygons = called and f"{casters.owners[card]} {called}", [face.polygon for _, face in faces]
        found[:, [patch for patch, _ in faces]] = again.seen(name, polygons, casters, points, normals, look, but=but | {card})
    return found


def _seen(points: np.ndarray, normals: np.ndarray, faces: list[LitFace], rows: np.ndarray, through: Through) -> np.ndarray:
    """(rows, faces)"""
    points, normals = points[rows], normals[rows]
    through.hold(len(rows), len(faces) * _CARD_SIDE**2)
    starts, each = points + LIFTED_MM * normals, _CARD_SIDE**2
    found = np.stack([unhindered(points, normals, face, 1) for face in faces], axis=1)
    places = np.array([samples_of(face, _CARD_SIDE) for face in faces])
    outs = np.array([face.out for face in faces])
    for out in np.unique(outs, axis=0):  # all that look the same way at once
        of = np.nonzero((outs == out).all(axis=1))[0]
        lit, k = np.nonzero(found[:, of] > 0)
        k = of[k]
        if len(lit):
            found[lit, k] *= share_seen(through, starts[lit], normals[lit], faces[of[0]], places[k], lit, k * each)
    return found
