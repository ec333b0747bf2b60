"""A picture of a set-up as a stage for a renderer: its things, its ground and room, its lights and its camera."""

from __future__ import annotations

import numpy as np

from ..colour.mix import linear_from_hex
from ..evaluate import Picture
from ..facts.light import CARD_REFLECTANCE, CEILING_SIDE, FLOOR_REFLECTANCE, RIG_REFLECTANCE
from ..light.sources import Source, sources_of
from ..light.surroundings import card_rgb, card_strips, mean_rgb, rig_corners
from ..model import Card
from .meshes import laid_on, meshes_of
from .stage import Eye, FarLight, Finish, Glow, Mesh, Stage

#: The picture of a surface is laid over its whole top.
_FLAT = np.array([[0, 1, 2], [0, 2, 3]])


def stage_of(picture: Picture, *, plain: bool = False, pinhole: bool = False) -> Stage:
    """Everything that is rendered of one set-up. plain: matt things of one colour, cards matt too, as readings take them."""
    numbers = {p.id: k + 1 for k, p in enumerate(picture.whole.placements)}
    meshes: list[Mesh] = []
    for placement_id, body in picture.bodies.items():
        meshes += meshes_of(body, picture.props[placement_id], numbers[placement_id], picture.skins, plain=plain)
    sources = sources_of(picture.scene.lights, picture.scene.room)
    meshes += _ground(picture, plain) + _room(picture)
    for card in picture.scene.cards:
        meshes += _card(card, plain)
    for piece in picture.scene.rig:
        gives = CARD_REFLECTANCE["black"] if piece.kind == "flag" else RIG_REFLECTANCE.value
        meshes.append(_block(rig_corners(piece), Finish("matte", np.full(3, gives)), piece.id))
    glows = tuple(
        Glow(face.polygon, face.out, face.luminance * source.rgb, face.cosine, source.id) for source in sources for face in source.faces
    )
    return Stage(tuple(meshes), glows, tuple(_far(sources)), _eye(picture, pinhole), tuple(s.id for s in sources))


def _far(sources: tuple[Source, ...]) -> list[FarLight]:
    found = []
    for source in sources:
        if source.to_sun is not None and source.sun_lux > 0:
            found.append(FarLight(source.to_sun, source.sun_lux * source.rgb, source.id))
        elif source.sky_lux:
            found.append(FarLight(None, source.sky_lux / np.pi * source.rgb, source.id))
    return found


def _rectangle(
    middle: np.ndarray, along: np.ndarray, upward: np.ndarray, finish: Finish, owner: str, tiles: tuple[float, float] = (1.0, 1.0)
) -> Mesh:
    points = np.array([middle - along - upward, middle + along - upward, middle + along + upward, middle - along + upward])
    uv = np.array([[0.0, 0], [tiles[0], 0], [tiles[0], tiles[1]], [0, tiles[1]]])
    return Mesh(points, None, uv, _FLAT, finish, 0, owner)


def _ground(picture: Picture, plain: bool) -> list[Mesh]:
    """The surface with its picture, its front edge, and the backdrop."""
    surface, backdrop = picture.scene.surface, picture.scene.backdrop
    w, d = surface.width / 2, surface.depth / 2
    rgb = mean_rgb(surface.colours)
    skin = surface.skin
    worn = picture.skins.get(skin.picture) if skin is not None and not plain else None
    tiles = (1.0, 1.0) if skin is None or not skin.width or not skin.depth else (surface.width / skin.width, surface.depth / skin.depth)
    finish = Finish("matte" if plain else surface.finish, rgb, None if worn is None else laid_on(worn, rgb))
    middle = np.array([w, d, 0.0])
    found = [_rectangle(middle, np.array([w, 0, 0]), np.array([0, d, 0]), finish, "surface", tiles)]
    edge = np.array([w, 0.0, -12.0])
    found.append(_rectangle(edge, np.array([w, 0, 0]), np.array([0, 0, 12.0]), Finish("matte", 0.5 * rgb), "surface"))
    if backdrop is not None:
        half = backdrop.height / 2
        middle = np.array([backdrop.x, backdrop.y, half])
        sheet = Finish("matte", np.array(linear_from_hex(backdrop.colour)))
        found.append(_rectangle(middle, np.array([backdrop.width / 2, 0, 0]), np.array([0, 0, half]), sheet, "backdrop"))
    return found


def _room(picture: Picture) -> list[Mesh]:
    """Walls, ceiling and floor, each seen from within."""
    room, surface = picture.scene.room, picture.scene.surface
    if room is None:
        return []
    is_known = room.x is not None and room.y is not None and room.width is not None and room.depth is not None
    if is_known:
        x, y, wide, deep = (float(v or 0.0) / 1 for v in (room.x, room.y, room.width, room.depth))
    else:
        x, y, wide, deep = surface.width / 2, surface.depth / 2, CEILING_SIDE.value, CEILING_SIDE.value
    low = -surface.height_above_floor
    across, away = np.array([wide / 2, 0, 0]), np.array([0, deep / 2, 0])
    found = [_rectangle(np.array([x, y, low]), across, away, Finish("matte", np.full(3, FLOOR_REFLECTANCE.value)), "floor")]
    if room.ceiling_height is None:
        return found
    ceiling = Finish("matte", np.array(linear_from_hex(room.ceiling or room.walls)))
    found.append(_rectangle(np.array([x, y, low + room.ceiling_height]), across, -away, ceiling, "ceiling"))
    if is_known:
        half = np.array([0, 0, room.ceiling_height / 2])
        middle, walls = np.array([x, y, low + room.ceiling_height / 2]), Finish("matte", np.array(linear_from_hex(room.walls)))
        for side, along in ((away, across), (-away, -across), (across, -away), (-across, away)):
            found.append(_rectangle(middle + side, along, half, walls, "wall"))
    return found


def _card(card: Card, plain: bool) -> list[Mesh]:
    """Foil is a rough mirror here, matt where the readings are compared."""
    kind = "mirror" if card.kind in ("silver", "gold") and not plain else "matte"
    return [_rectangle(middle, along, upward, Finish(kind, card_rgb(card)), card.id) for middle, along, upward in card_strips(card)]


def _block(corners: np.ndarray, finish: Finish, owner: str) -> Mesh:
    quads = np.array([[3, 2, 1, 0], [4, 5, 6, 7], [0, 1, 5, 4], [1, 2, 6, 5], [2, 3, 7, 6], [3, 0, 4, 7]])
    points = corners[quads].reshape(-1, 3)
    faces = np.concatenate([_FLAT + 4 * k for k in range(6)])
    return Mesh(points, None, None, faces, finish, 0, owner)


def _eye(picture: Picture, pinhole: bool) -> Eye:
    view, camera = picture.view, picture.setup.camera
    # The circle that the pupil is seen as: what of the plane of focus it blurs is f / N wide before the lens (close-range.md).
    radius = 0.0 if pinhole else view.lens.focal_length / camera.aperture / 2 * view.lens.pupil_ratio
    sharp = picture.setup.camera.distance if camera.focus is None else float((np.array(camera.focus) - view.principal_point) @ view.forward)
    depth = max(sharp + view.lens.pupil_behind, 1.0)
    return Eye(
        view.position, view.right, view.up, view.forward, view.principal_distance, view.frame_width, view.frame_height, view.centre,
        radius, depth,
    )  # fmt: skip
