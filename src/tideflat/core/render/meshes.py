"""Things as meshes for a renderer: round as they are, with the bands, labels and pictures that they are drawn with."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..colour.mix import linear_from_hex
from ..drawing.kinds.profile import Profile, profile_of, radius_at
from ..drawing.kinds.turned import bands_of
from ..drawing.skins import skin_of
from ..light.surroundings import mean_rgb
from ..model import Prop
from ..shapes.mesh import Mesh as ShapeMesh
from ..shapes.solid import UNIT_CIRCLE
from ..solids.body import Body, mesh_of
from ..solids.mesh import surface_of
from ..tolerances import PARALLEL
from .leaves import Part, leaf_parts
from .stage import Finish, Mesh

Pictures = Mapping[str, np.ndarray]
#: A ball has so many rings from pole to pole, each of a circle's points; what is strewn, fewer.
_RINGS, _STREWN_RINGS, _STREWN_STEP = 24, 8, 8
#: Glass that is neither so light nor so colourless as this holds something.
_CLEAR_LIGHT, _CLEAR_CHROMA = 0.35, 0.12
#: What a glass holds keeps so much off its wall, as a share of its radius; it is clear over that height.
_WITHIN, _FILLED_TO = 0.94, 0.9


def meshes_of(body: Body, prop: Prop, number: int, pictures: Pictures, *, plain: bool = False) -> list[Mesh]:
    """One thing. pictures: what skins look like, (h, w, 3 or 4) uint8, by id. plain: matt and of one colour, as readings take it."""
    if plain:
        return [_one_colour(body, prop, number)]
    if len(body.spheres):
        return _balls(body, prop, number, pictures)
    if body.local.opening is not None and body.shape.floor_mm is not None:
        return _dish(body, prop, number, pictures)
    if len(body.circles) >= 2:
        return _turned(body, prop, number, pictures)
    return _flat_sided(body, prop, number, pictures)


def _finish(prop: Prop, rgb: np.ndarray, picture: np.ndarray | None = None) -> Finish:
    return Finish(prop.finish, rgb, picture)


def _picture(pictures: Pictures, prop: Prop, *faces: str) -> np.ndarray | None:
    skin = skin_of(prop, *faces)
    found = None if skin is None else pictures.get(skin.picture)
    return None if found is None else laid_on(found, mean_rgb(prop.colours))


def laid_on(picture: np.ndarray, rgb: np.ndarray) -> np.ndarray:
    """(h, w, 3) uint8: a picture with holes laid on a colour."""
    if picture.shape[2] == 3:
        return picture
    from ..colour.spaces import rgb_from_linear

    ground = np.rint(rgb_from_linear(rgb) * 255)
    share = picture[..., 3:].astype(float) / 255
    return np.rint(picture[..., :3] * share + ground * (1 - share)).astype(np.uint8)  # type: ignore[no-any-return]


def _one_colour(body: Body, prop: Prop, number: int) -> Mesh:
    finish = Finish("matte", mean_rgb(prop.colours) * (0.6 if prop.finish == "metal" else 1.0))
    if len(body.spheres):
        step = _STREWN_STEP if len(body.spheres) > 1 else 1
        rings = _STREWN_RINGS if len(body.spheres) > 1 else _RINGS
        return _joined([_ball(s, rings, step) for s in body.spheres], finish, number, body.id)
    if body.local.opening is not None and body.shape.floor_mm is not None:
        return _joined(_dish_parts(body), finish, number, body.id)
    if len(body.circles) >= 2:
        profile = profile_of(body)
        walls = [_wall(body, profile, a[0], b[0]) for a, b in zip(profile, profile[1:], strict=False)]
        return _joined([*walls, *_ends(body, profile)], finish, number, body.id)
    corners = _corners(body)
    return Mesh(corners.reshape(-1, 3), None, None, np.arange(len(corners) * 3).reshape(-1, 3), finish, number, body.id)


def _joined(parts: list[Part], finish: Finish, number: int, owner: str) -> Mesh:
    starts = np.cumsum([0, *(len(p[0]) for p in parts[:-1])])
    points, normals, uv = (np.concatenate([p[k] for p in parts]) for k in range(3))
    faces = np.concatenate([p[3] + start for p, start in zip(parts, starts, strict=True)])
    return Mesh(points, normals, uv, faces, finish, number, owner)


def _wall(body: Body, profile: Profile, low: float, high: float, around: tuple[float, float] = (-180.0, 180.0), scale: float = 1.0) -> Part:
    """A ring of the wall between two heights of one stretch of the profile, over so many degrees from +x; u and v run over it."""
    steps = max(2, round(len(UNIT_CIRCLE) * (around[1] - around[0]) / 360)) + 1
    angles = np.radians(np.linspace(*around, steps))
    circle = np.column_stack([np.cos(angles), np.sin(angles)])
    rings = []
    for z in (low, high):
        a, b = radius_at(profile, z)
        rings.append(np.column_stack([circle * [a * scale, b * scale], np.full(steps, z)]))
    (a0, b0), (a1, _) = radius_at(profile, low), radius_at(profile, high)
    widest = max(a0, a1), max(b0, radius_at(profile, high)[1])
    out = circle / [max(widest[0], PARALLEL), max(widest[1], PARALLEL)]
    out = out / np.linalg.norm(out, axis=1, keepdims=True)
    normals = np.column_stack([out * (high - low), np.full(steps, -(a1 - a0))])
    normals = normals / np.linalg.norm(normals, axis=1, keepdims=True)
    uv = np.concatenate([np.column_stack([np.linspace(0, 1, steps), np.full(steps, v)]) for v in (0.0, 1.0)])
    k = np.arange(steps - 1)
    faces = np.concatenate([np.stack([k, k + 1, steps + k + 1], axis=1), np.stack([k, steps + k + 1, steps + k], axis=1)])
    return body.placed_point(np.concatenate(rings)), np.concatenate([normals, normals]) @ body.turned.T, uv, faces


def _disc(body: Body, z: float, a: float, b: float, *, up: bool) -> Part:
    """A level face; u and v over its bounds as seen from above."""
    flat = np.concatenate([[[0.0, 0.0]], UNIT_CIRCLE * [a, b]])
    n = len(UNIT_CIRCLE)
    k = np.arange(n)
    faces = np.stack([np.zeros(n, dtype=int), k + 1, (k + 1) % n + 1], axis=1)
    points = body.placed_point(np.column_stack([flat, np.full(n + 1, z)]))
    normals = np.tile(np.array([0.0, 0.0, 1.0 if up else -1.0]) @ body.turned.T, (n + 1, 1))
    return points, normals, flat / [2 * a or 1.0, 2 * b or 1.0] + 0.5, faces if up else faces[:, ::-1]


def _ends(body: Body, profile: Profile) -> list[Part]:
    (low, a0, b0), (high, a1, b1) = profile[0], profile[-1]
    return [_disc(body, low, a0, b0, up=False), *([_disc(body, high, a1, b1, up=True)] if a1 > 0 and b1 > 0 else [])]


def _turned(body: Body, prop: Prop, number: int, pictures: Pictures) -> list[Mesh]:
    """Walls in the bands they are drawn in, a label's picture round the front half, a lid; of glass, what it holds."""
    profile = profile_of(body)
    tones = tuple(c.hex for c in prop.colours)
    height = profile[-1][0]
    if prop.finish == "glass":
        return _glass(body, prop, number, profile)
    front, top = _picture(pictures, prop, "front"), _picture(pictures, prop, "top", "tile")
    found: list[Mesh] = []
    rgb = np.array(linear_from_hex(tones[0]))
    if front is None:
        for start, end, colour, how in bands_of(prop, tones, height):
            if how == "liquid":
                continue
            kind = "metal" if how == "metal" else prop.finish
            cuts = [start * height, *(z for z, _, _ in profile if start * height < z < end * height), end * height]
            parts = [_wall(body, profile, low, high) for low, high in zip(cuts, cuts[1:], strict=False) if high > low]
            rgb = np.array(linear_from_hex(colour))
            found.append(_joined(parts, Finish(kind, rgb), number, body.id))
    else:
        shoulder = profile[1][0]
        picture = Finish(prop.finish, mean_rgb(prop.colours), front)
        found.append(_joined([_wall(body, profile, 0.0, shoulder, (-180.0, 0.0))], picture, number, body.id))
        rest = [_wall(body, profile, 0.0, shoulder, (0.0, 180.0))]
        rest += [_wall(body, profile, a[0], b[0]) for a, b in zip(profile[1:], profile[2:], strict=False)]
        found.append(_joined(rest, _finish(prop, mean_rgb(prop.colours)), number, body.id))
    ends = _ends(body, profile)
    found.append(_joined(ends[:1], _finish(prop, rgb), number, body.id))
    if len(ends) > 1:
        found.append(_joined(ends[1:], _finish(prop, rgb, top), number, body.id))
    return found


def _glass(body: Body, prop: Prop, number: int, profile: Profile) -> list[Mesh]:
    """A thin wall of clear glass, and what is in it: of a glass that is clear and pale, nothing."""
    height = profile[-1][0]
    walls = [_wall(body, profile, a[0], b[0]) for a, b in zip(profile, profile[1:], strict=False)]
    found = [_joined([*walls, *_ends(body, profile)[:1]], Finish("clear", np.ones(3)), number, body.id)]
    tones = [np.array(linear_from_hex(c.hex)) for c in prop.colours]
    held = tones[1] if prop.texture == "filled" and len(tones) > 1 else tones[0]
    is_empty = held.min() > _CLEAR_LIGHT and np.ptp(held) < _CLEAR_CHROMA
    if not is_empty or prop.texture in ("filled", "labelled"):
        level = height * (0.72 if prop.texture == "filled" else _FILLED_TO)
        cuts = [2.0, *(z for z, _, _ in profile if 2.0 < z < level), level]
        parts = [_wall(body, profile, low, high, scale=_WITHIN) for low, high in zip(cuts, cuts[1:], strict=False)]
        a, b = radius_at(profile, level)
        parts += [_disc(body, level, a * _WITHIN, b * _WITHIN, up=True)]
        found.append(_joined(parts, Finish("gloss", held), number, body.id))
    if prop.texture == "labelled":
        tones_hex = tuple(c.hex for c in prop.colours)
        for start, end, colour, how in bands_of(prop, tones_hex, height)[1::2]:
            parts = [_wall(body, profile, start * height, end * height, scale=1.004)]
            if end == 1:
                a, b = profile[-1][1:]
                parts.append(_disc(body, height, a, b, up=True))
            kind = "metal" if how == "metal" else "satin"
            found.append(_joined(parts, Finish(kind, np.array(linear_from_hex(colour))), number, body.id))
    return found


def _dish_parts(body: Body) -> list[Part]:
    profile, floor = profile_of(body), body.shape.floor_mm or 0.0
    a, b = radius_at(profile, floor)
    (low, a0, b0), _ = profile[0], profile[-1]
    return [_wall(body, profile, low, profile[-1][0]), _disc(body, low, a0, b0, up=False), _disc(body, floor, a, b, up=True)]


def _dish(body: Body, prop: Prop, number: int, pictures: Pictures) -> list[Mesh]:
    """Wall and foot in its colour, and its picture, or what it holds, at the level that it is drawn at."""
    from ..drawing.kinds.bowl import DRAWING

    main = np.array(linear_from_hex(prop.colours[0].hex))
    parts = _dish_parts(body)
    found = [_joined(parts, _finish(prop, main), number, body.id)]
    top, profile = DRAWING.top(body.shape), profile_of(body)
    picture = _picture(pictures, prop, "top", "tile")
    if picture is not None and top is not None:
        is_rim = top.height >= body.local.height
        level = top.height
        if is_rim:  # a plate's picture is of its hollow: it lies along wall and floor
            found[0] = _joined(parts[1:2], _finish(prop, main), number, body.id)
            found.append(_projected(body, parts[0], parts[2], _finish(prop, mean_rgb(prop.colours), picture), number, top.right))
        else:
            found.append(
                _joined([_disc(body, level, top.right, top.back, up=True)], _finish(prop, mean_rgb(prop.colours), picture), number, body.id)
            )
    elif prop.texture == "filled":
        level = body.local.height * 0.74
        a, b = radius_at(profile, level)
        held = np.array(linear_from_hex(prop.colours[min(1, len(prop.colours) - 1)].hex))
        found.append(_joined([_disc(body, level, a, b, up=True)], Finish("gloss", held), number, body.id))
    return found


def _projected(body: Body, wall: Part, floor: Part, finish: Finish, number: int, half: float) -> Mesh:
    """Wall and floor of a plate with its picture laid on from straight above."""
    parts = []
    for points, normals, _, faces in (wall, floor):
        local = (points - body.base) @ body.turned
        parts.append((points, normals, local[:, :2] / (2 * half) + 0.5, faces))
    return _joined(parts, finish, number, body.id)


def _ball(sphere: np.ndarray, rings: int, step: int) -> Part:
    heights = np.linspace(-np.pi / 2, np.pi / 2, rings + 1)
    circle = np.concatenate([UNIT_CIRCLE[::step], UNIT_CIRCLE[:1]])
    n = len(circle)
    normals = np.concatenate([np.column_stack([circle * np.cos(h), np.full(n, np.sin(h))]) for h in heights])
    uv = normals[:, :2] / 2 + 0.5
    k = (np.arange(rings)[:, None] * n + np.arange(n - 1)).ravel()
    faces = np.concatenate([np.stack([k, k + 1, n + k + 1], axis=1), np.stack([k, n + k + 1, n + k], axis=1)])
    return sphere[:3] + sphere[3] * normals, normals, uv, faces


def _balls(body: Body, prop: Prop, number: int, pictures: Pictures) -> list[Mesh]:
    """A ball with its picture from above; strewn pieces in the thing's colours, one after the other."""
    if len(body.spheres) == 1:
        picture = _picture(pictures, prop, "top", "tile")
        main = np.array(linear_from_hex(prop.colours[0].hex))  # as it is drawn: the others are its pores and specks
        return [_joined([_ball(body.spheres[0], _RINGS, 2)], _finish(prop, main, picture), number, body.id)]
    tones = [np.array(linear_from_hex(c.hex)) for c in prop.colours]
    if prop.texture == "leafy":
        return [_joined(own, _finish(prop, tones[k]), number, body.id) for k, own in sorted(leaf_parts(body, prop).items())]
    found = []
    for k, rgb in enumerate(tones):
        mine = body.spheres[k :: len(tones)]
        if len(mine):
            found.append(_joined([_ball(s, _STREWN_RINGS, _STREWN_STEP) for s in mine], _finish(prop, rgb), number, body.id))
    return found


def _corners(body: Body) -> np.ndarray:
    return surface_of(body) if body.local.is_piece else body.placed_point(mesh_of(body.shape).corners)


def _flat_sided(body: Body, prop: Prop, number: int, pictures: Pictures) -> list[Mesh]:
    """Boxes, rods, outlines, cloths: the top apart, with its picture; the front with its own."""
    local: ShapeMesh = mesh_of(body.shape)
    main = np.array(linear_from_hex(prop.colours[0].hex)) if not body.shape.is_folded else mean_rgb(prop.colours)
    corner_normals = local.normals[local.faces[:, 0]]
    is_top = corner_normals[:, 2] > 0.7
    top, front = _picture(pictures, prop, "top", "tile"), _picture(pictures, prop, "front")
    is_front = (corner_normals[:, 1] < -0.9) & (front is not None)
    uv = _tiled(local, prop)
    found = []
    for faces, picture, rgb in (
        (local.faces[is_top], top, mean_rgb(prop.colours) if top is not None or len(prop.colours) > 1 else main),
        (local.faces[is_front & ~is_top], front, main),
        (local.faces[~is_top & ~is_front], None, main),
    ):
        if len(faces):
            used, again = np.unique(faces, return_inverse=True)
            points = body.placed_point(local.points[used])
            places = _upright(local)[used] if picture is front and front is not None else uv[used]
            normals = local.normals[used] @ body.turned.T
            found.append(Mesh(points, normals, places, again.reshape(-1, 3), _finish(prop, rgb, picture), number, body.id))
    return found


def _upright(mesh: ShapeMesh) -> np.ndarray:
    """Places in the picture of what faces the front: over its width and height."""
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    return (mesh.points[:, [0, 2]] - low[[0, 2]]) / np.maximum((high - low)[[0, 2]], PARALLEL)  # type: ignore[no-any-return]


def _tiled(mesh: ShapeMesh, prop: Prop) -> np.ndarray:
    """Places in the picture of what lies level: over the bounds, or in tiles of their own size."""
    skin = skin_of(prop, "top", "tile")
    if skin is None or not skin.width or not skin.depth:
        return mesh.uv
    low = mesh.points.min(axis=0)
    return (mesh.points[:, :2] - low[:2]) / [skin.width, skin.depth]  # type: ignore[no-any-return]
