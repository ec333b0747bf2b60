"""What a browser needs to draw the light while a lamp, a window, a card or a piece of the rig is moved: everything else as it is, and for
each light places that stand for it.

Light adds up, so only what moves is worked out anew. The browser holds no rule but the sum over those places (each gives
``weight cos cos' / r2``) and a mean over their shadows; what it draws is replaced by the core's own picture at the end. Lights are shares of
what is exposed for, as in light_drawn.py; arrays are base64 of little-endian numbers, light in 1 / ``UNIT``.
"""

from __future__ import annotations

import base64
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from .evaluate import Picture
from .light.exposing import subject_of
from .light.falling import LUMINANCE, Lighting
from .light.lit_face import area_of, samples_of
from .light.lobes import METAL
from .light.on_surface import outlines_of, straight_over
from .light.on_things import Seen, light_seen, straight_on
from .light.sources import Source
from .light_drawn import THINGS_ACROSS, THINGS_IN_FRAME, DrawnLight, seen_from_above, seen_through_lens, surface_size
from .tolerances import NO_LIGHT_LUX

#: A share of 1 in whole numbers; the most that is written is 16.
UNIT = 4096
#: Places that stand for a light, a side: while it moves, and where it was let go. Places across a picture of the surface and of what lies
#: behind things.
_SIDE, _FINER_SIDE, _ACROSS = 4, 6, 150
#: A ring of a part is written with so many corners at most.
_RING = 12
#: Level tops that shadows are thrown on: so many, each seen in so many places at least; their pictures are so fine, mm, and so large at
#: most.
_TOPS, _LEAST_SEEN, _FINE_MM, _MOST = 4, 25, 4.0, 120
_LEVEL = 0.95


def live_value(picture: Picture, drawn: DrawnLight, lighting: Lighting) -> dict[str, Any]:
    """Plain JSON values. picture: lit; drawn, lighting: of it."""
    exposed = drawn.exposed
    back = lighting.on_patches.sum(axis=1) @ LUMINANCE
    one = float(exposed @ LUMINANCE)
    movable = [s for s in lighting.sources if s.faces]
    above, through = seen_from_above(lighting, drawn.table_box, THINGS_ACROSS), seen_through_lens(lighting, picture, THINGS_IN_FRAME)
    tops = _tops(lighting, above)
    surface = lighting.scene.surface
    size = _ACROSS, max(2, round(_ACROSS * surface.depth / surface.width))
    return {
        "unit": UNIT,
        "table_box": list(drawn.table_box),
        "sources": {s.id: _light(s, exposed, one) | {"back": _part(back, lighting.sources.index(s))} for s in movable},
        "cards": _cards(lighting, exposed),
        "subject": _subject(lighting, picture, movable, one),
        "parts": _parts(lighting),
        "planes": [{"of": "", "z": 0.0, "box": [0, 0, surface.width, surface.depth], "size": size}, *(top for top, _ in tops)],
        "ground": {
            "size": size,
            "light": _shares(cv2.resize(drawn.surface, size, interpolation=cv2.INTER_AREA)),
            "straight": {
                s.id: _shares(cv2.resize(straight_over(lighting, s, surface_size(lighting)) / one, size, interpolation=cv2.INTER_AREA))
                for s in movable
            },
        },
        "backdrop_y": None if lighting.scene.backdrop is None else lighting.scene.backdrop.y,
        "frame_ground": _picture(drawn.frame_ground),
        "table": _seen(lighting, above, exposed, movable, [o for _, o in tops], one),
        "frame": _seen(lighting, through, exposed, movable, [o for _, o in tops], one),
    }


def _part(back: np.ndarray, k: int) -> float:
    """The part of all light that is given back that came from one light."""
    return float(back[k] / max(back.sum(), NO_LIGHT_LUX))


def _light(source: Source, exposed: np.ndarray, one: float) -> dict[str, Any]:
    """Places of a light, and more of them, shares x mm2; its colour against that of what is exposed for, ``one`` lux."""
    return {
        "rgb": (source.rgb * one / exposed).tolist(),
        "out": source.faces[0].out.tolist(),
        "cosine": source.faces[0].cosine,
        "places": _places(source, _SIDE, one),
        "finer": _places(source, _FINER_SIDE, one),
    }


def _places(source: Source, side: int, one: float) -> list[list[float]]:
    """x, y, z, mm, and what each gives, of even weight: side * side of them."""
    if len(source.faces) == 1:
        face = source.faces[0]
        places = samples_of(face, side)
        weights = np.full(len(places), face.luminance * area_of(face.polygon) / len(places))
    else:
        light = np.array([face.luminance * area_of(face.polygon) for face in source.faces])
        # Cells in their order, one wherever another equal part of the light is reached.
        reached = (np.arange(side**2) + 0.5) / side**2 * light.sum()
        chosen = np.searchsorted(np.cumsum(light), reached).clip(0, len(light) - 1)
        places = np.array([source.faces[k].middle for k in chosen])
        weights = np.full(len(places), light.sum() / len(places))
    return [[*np.round(p, 1).tolist(), float(w) / one] for p, w in zip(places, weights, strict=True)]


def _cards(lighting: Lighting, exposed: np.ndarray) -> dict[str, Any]:
    """Of each card, its strips' sides as places that give light on: the middle of as much as each stands for, the way it looks, and its
    weight in shares x mm2. Neighbouring patches are one place."""
    given = lighting.given_back.sum(axis=0) / exposed
    sides: dict[tuple[str, tuple[float, ...], int], list[np.ndarray]] = {}
    count: dict[str, int] = {}
    for patch, face in lighting.card_faces:
        name = lighting.casters.owners[int(lighting.casters.owner[patch])][1]
        quarter = count.get(name, 0) // 4
        count[name] = count.get(name, 0) + 1
        weight = given[patch] * face.luminance * area_of(face.polygon)
        sides.setdefault((name, tuple(np.round(face.out, 4).tolist()), quarter), []).append(np.concatenate([face.middle, weight]))
    found: dict[str, Any] = {}
    for (name, out, _), places in sides.items():
        middle, weight = np.mean(places, axis=0)[:3], np.sum(places, axis=0)[3:]
        found.setdefault(name, []).append([*np.round(middle, 1).tolist(), *out, *weight.tolist()])
    return found


def _subject(lighting: Lighting, picture: Picture, movable: list[Source], one: float) -> dict[str, Any]:
    """What is exposed for: a place, two ways it looks, and what comes straight to each from each light."""
    subject = subject_of(lighting, next(iter(picture.hero_ids()), None), np.array(picture.setup.camera.aim), picture.view.position)
    straight = {s.id: (subject.straight(lighting, s) / one).tolist() for s in movable}
    return {"at": subject.places[0].tolist(), "faces": subject.faces.tolist(), "straight": straight}


def _parts(lighting: Lighting) -> dict[str, Any]:
    """Convex parts of everything that stands about, as one ring of corners or two, one above the other, thinned; and balls. Of whom each
    is, and what passes it."""
    outlines, owners = outlines_of(lighting), lighting.casters.owners
    parts = []
    for k, owner in enumerate(outlines.owner):
        rings = np.split(outlines.points[outlines.first[k] : outlines.first[k + 1]], outlines.rings[k])
        step = max(1, -(-len(rings[0]) // _RING))
        points = np.concatenate([ring[::step] for ring in rings])
        parts.append(
            {"of": " ".join(owners[owner]), "passes": outlines.passes[k], "ring": len(points) // len(rings), "points": _mm(points)}
        )
    balls = [
        {"of": " ".join(owners[owner]), "passes": passes, "ball": np.round(ball, 1).tolist()}
        for ball, passes, owner in zip(outlines.balls, outlines.ball_passes, outlines.ball_owner, strict=True)
    ]
    return {"parts": parts, "balls": balls}


def _mm(points: np.ndarray) -> list[float]:
    return np.round(points, 1).ravel().tolist()  # type: ignore[no-any-return]


def _tops(lighting: Lighting, above: Seen) -> list[tuple[dict[str, Any], tuple[int, float]]]:
    """(a plane that shadows are thrown on, (owner, height)) of level tops with something higher beside or on them, the largest first."""
    level = above.normals[:, 2] > _LEVEL
    found = []
    for owner in np.unique(above.owner[level]):
        mine = level & (above.owner == owner)
        height = float(np.median(above.places[mine, 2]))
        mine &= np.abs(above.places[:, 2] - height) < 1
        name = lighting.casters.owners[owner][1]
        x0, y0, x1, y1 = lighting.bodies[name].footprint_bounds
        others = [b for b in lighting.bodies.values() if b.id != name and b.z_max > height + 2]
        if mine.sum() < _LEAST_SEEN or not any(_meet(b.footprint_bounds, (x0, y0, x1, y1)) for b in others):
            continue
        fine = max(_FINE_MM, (x1 - x0) / _MOST, (y1 - y0) / _MOST)
        size = [max(2, round((x1 - x0) / fine)), max(2, round((y1 - y0) / fine))]
        found.append(
            (int(mine.sum()), {"of": f"placement {name}", "z": height, "box": [x0, y0, x1, y1], "size": size}, (int(owner), height))
        )
    found.sort(key=lambda f: -f[0])
    return [(plane, key) for _, plane, key in found[:_TOPS]]


def _meet(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def _seen(
    lighting: Lighting, seen: Seen, exposed: np.ndarray, movable: list[Source], tops: list[tuple[int, float]], one: float
) -> dict[str, Any]:
    """The things of one view: where each place of the picture meets one, how it looks there, on which plane it lies (255: none), and its light."""
    plane = np.full(len(seen.hit), 255, dtype=np.uint8)
    level = seen.normals[:, 2] > _LEVEL
    for k, (owner, height) in enumerate(tops, 1):
        plane[level & (seen.owner == owner) & (np.abs(seen.places[:, 2] - height) < 1)] = k
    is_metal = seen.finish == METAL
    return {
        "size": [seen.size[1], seen.size[0]],
        "hit": _packed(seen.hit.astype("<u4")),
        "at": _packed(seen.places.astype("<f4")),
        "normal": _packed(np.rint(seen.normals * 127).astype("i1")),
        "plane": _packed(plane),
        "light": _shares(light_seen(lighting, seen) / exposed),
        "straight": {s.id: _shares(np.where(is_metal, 0.0, straight_on(lighting, seen, s) / one)) for s in movable},
        "metal": _packed(is_metal.astype("u1")),
    }


def _picture(light: np.ndarray) -> dict[str, Any]:
    rows, columns = light.shape[:2]
    size = _ACROSS, max(2, round(_ACROSS * rows / columns))
    return {"size": size, "light": _shares(cv2.resize(light, size, interpolation=cv2.INTER_AREA))}


def _shares(light: np.ndarray) -> str:
    return _packed(np.clip(np.rint(light * UNIT), 0, 65535).astype("<u2"))


def _packed(values: npt.NDArray[Any]) -> str:
    return base64.b64encode(np.ascontiguousarray(values).tobytes()).decode()
