"""What stands round the things and gives light back: surface, backdrop, walls, ceiling, floor, cards and rig, with the things among them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..colour.mix import linear_from_hex
from ..facts.light import CARD_REFLECTANCE, CEILING_SIDE, FLOOR_REFLECTANCE, GLASS_PASSES, GOLD_RGB, RIG_REFLECTANCE
from ..model import Card, Colour, Prop, Rig, Room, Scene
from ..solids.body import Body
from .casters import Casters
from .form_factor import frame_of
from .forms import Block, sector_of
from .rays import covered
from .sources import Source, sources_of

#: Patches of the surface, a backdrop's side, a wall, and a card's side.
_SURFACE, _BACKDROP, _WALL, _CARD = (12, 8), (6, 4), (6, 6), (4, 4)
#: A bent card is made of flat strips of so many degrees at most.
_STRIP_DEG = 15.0
#: Matt black takes this much of what a thing of this finish would give back: gloss loses nothing here, a mirror is another matter.
_METAL_GIVES = 0.6


def mean_rgb(colours: tuple[Colour, ...]) -> np.ndarray:
    """(3,) linear, of colours by their shares."""
    shares = np.array([c.share for c in colours])
    if shares.sum() <= 0:
        shares = np.ones(len(colours))
    return shares / shares.sum() @ np.array([linear_from_hex(c.hex) for c in colours])  # type: ignore[no-any-return]


def card_rgb(card: Card) -> np.ndarray:
    """(3,) linear, what a card gives back."""
    share = CARD_REFLECTANCE[card.kind]
    if card.kind == "gold":
        return np.array(GOLD_RGB)
    if card.kind == "tint":
        return share * np.array(linear_from_hex(card.colour or "#ffffff"))  # type: ignore[no-any-return]
    return np.full(3, share)


def surroundings(
    scene: Scene, bodies: Mapping[str, Body], props: Mapping[str, Prop], worn: Mapping[str, np.ndarray] | None = None
) -> Casters:
    """Everything of the scene, as it stands in one set-up. worn: (3,) linear, what a thing gives back where that is known from the picture
    that it wears."""
    found = Casters()
    _add_ground(found, scene)
    for card in scene.cards:
        _add_card(found, card)
    for piece in scene.rig:
        _add_rig(found, piece)
    for placement_id, body in bodies.items():
        prop = props[placement_id]
        owner = found.own("placement", placement_id, GLASS_PASSES.value if prop.finish == "glass" else 0.0)
        rho = (worn or {}).get(placement_id, mean_rgb(prop.colours))
        found.add_body(owner, body, rho * (_METAL_GIVES if prop.finish == "metal" else 1.0))
    for source in sources_of(scene.lights, scene.room):  # last, so that all else keeps its number when a light comes or goes
        _add_face(found, source)
    found.choose(covered(found, *found.candidates))
    return found


def _add_ground(found: Casters, scene: Scene) -> None:
    surface = scene.surface
    half = np.array([surface.width / 2, surface.depth / 2])
    found.add_panel(
        found.own("surface", "surface"), np.array([*half, 0.0]), np.array([half[0], 0, 0]), np.array([0, half[1], 0]), _SURFACE,
        mean_rgb(surface.colours), None,
    )  # fmt: skip
    backdrop = scene.backdrop
    if backdrop is not None:
        rho = np.array(linear_from_hex(backdrop.colour))
        middle = np.array([backdrop.x, backdrop.y, backdrop.height / 2])
        found.add_panel(
            found.own("backdrop", "backdrop"), middle, np.array([backdrop.width / 2, 0, 0]), np.array([0, 0, backdrop.height / 2]),
            _BACKDROP, rho, rho,
        )  # fmt: skip
    if scene.room is not None:
        _add_room(found, scene.room, surface.height_above_floor, half)


def _add_room(found: Casters, room: Room, table_height: float, table_middle: np.ndarray) -> None:
    """Walls where their place is known; a ceiling and a floor of a usual size where it is not."""
    is_known = room.x is not None and room.y is not None and room.width is not None and room.depth is not None
    if is_known:
        x, y, wide, deep = (float(v or 0.0) for v in (room.x, room.y, room.width, room.depth))
    else:
        (x, y), wide, deep = table_middle, CEILING_SIDE.value, CEILING_SIDE.value
    low = -table_height
    across, away, up = np.array([wide / 2, 0, 0]), np.array([0, deep / 2, 0]), np.array([0, 0, 1.0])
    walls = np.array(linear_from_hex(room.walls))
    found.add_panel(
        found.own("floor", "floor"), np.array([x, y, low]), across, away, _WALL, np.full(3, FLOOR_REFLECTANCE.value), None, blocks=False
    )
    if room.ceiling_height is not None:
        ceiling = np.array(linear_from_hex(room.ceiling or room.walls))
        found.add_panel(
            found.own("ceiling", "ceiling"), np.array([x, y, low + room.ceiling_height]), across, -away, _WALL, ceiling, None, blocks=False
        )
    if is_known and room.ceiling_height is not None:
        half = room.ceiling_height / 2
        owner, middle = found.own("wall", "wall"), np.array([x, y, low + half])
        for side, along in ((away, across), (-away, -across), (across, -away), (-across, away)):  # along x up looks in
            found.add_panel(owner, middle + side, along, half * up, _WALL, walls, None, blocks=False)


def _add_face(found: Casters, source: Source) -> None:
    """What falls on a window goes out, and a lamp's face swallows it: seen from the front, they give nothing back."""
    outline = source.outline
    if outline is None:
        return
    if len(outline) == 4:
        middle, along, upward = outline.mean(axis=0), (outline[1] - outline[0]) / 2, (outline[3] - outline[0]) / 2
    else:  # a square as large as the round
        middle = outline.mean(axis=0)
        along, upward = (math.sqrt(math.pi) / 2 * (outline[k] - middle) for k in (0, len(outline) // 4))
    if float(np.cross(along, upward) @ source.faces[0].out) < 0:
        along = -along
    found.add_panel(found.own("light", source.id), middle, along, upward, (1, 1), None, None, blocks=False)


def _add_card(found: Casters, card: Card) -> None:
    owner, rho = found.own("card", card.id), card_rgb(card)
    strips = card_strips(card)
    columns = max(1, _CARD[0] // len(strips))
    for middle, along, upward in strips:
        found.add_panel(owner, middle, along, upward, (columns, _CARD[1]), rho, rho)


def card_strips(card: Card) -> list[tuple[np.ndarray, np.ndarray, np.ndarray]]:
    """(middle, half along its width, half along its height) of each flat strip of a card; one that is bent is hollow toward the way it
    looks, its middle where it is said to be."""
    along, upward, out = frame_of(np.array(card.toward))
    middle, half_high = np.array(card.at, dtype=float), upward * card.height / 2
    if card.bend <= 0:
        return [(middle, along * card.width / 2, half_high)]
    count = max(2, math.ceil(card.bend / _STRIP_DEG))
    radius = card.width / math.radians(card.bend)
    half = math.radians(card.bend) / count / 2
    found = []
    for k in range(count):
        angle = (2 * k + 1 - count) * half
        place = middle + radius * math.cos(half) * math.sin(angle) * along + radius * (1 - math.cos(angle) * math.cos(half)) * out
        way = math.cos(angle) * along + math.sin(angle) * out
        found.append((place, way * radius * math.sin(half), half_high))
    return found


def _add_rig(found: Casters, piece: Rig) -> None:
    gives = CARD_REFLECTANCE["black"] if piece.kind == "flag" else RIG_REFLECTANCE.value
    owner = found.own("rig", piece.id)
    block = rig_block(piece)
    number = np.full(8, -1)
    for sector in np.unique(block.patch):
        faces = block.patch == sector
        normals = block.planes[faces, :3]
        reach = block.planes[faces, 3] - normals @ block.centre
        number[sector] = found.patch(owner, block.centre + reach[:, None] * normals, normals, np.full(3, gives))
    found.add(owner, replace(block, patch=number[block.patch]))


def rig_corners(piece: Rig) -> np.ndarray:
    """(8, 3) corners of an upright block, below and then above."""
    along, _, _ = frame_of(np.array(piece.toward))
    away = np.array([-along[1], along[0], 0.0])
    foot = np.array(piece.at, dtype=float)
    flat = [sx * along * piece.width / 2 + sy * away * piece.depth / 2 for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    return np.array([foot + side + np.array([0, 0, z]) for z in (0.0, piece.height) for side in flat])


def rig_block(piece: Rig) -> Block:
    """The same as half spaces, its patches sectors."""
    along, _, _ = frame_of(np.array(piece.toward))
    away = np.array([-along[1], along[0], 0.0])
    centre = np.array(piece.at, dtype=float) + np.array([0, 0, piece.height / 2])
    ways = [along, -along, away, -away, np.array([0, 0, 1.0]), np.array([0, 0, -1.0])]
    halves = [piece.width, piece.width, piece.depth, piece.depth, piece.height, piece.height]
    planes = np.array([[*way, float(way @ centre) + half / 2] for way, half in zip(ways, halves, strict=True)])
    corners = rig_corners(piece)
    bounds = np.array([corners.min(axis=0), corners.max(axis=0)])
    return Block(planes, centre, math.hypot(piece.width, piece.depth, piece.height) / 2, bounds, sector_of(planes[:, :3]))
