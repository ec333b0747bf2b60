"""The view from the side as an SVG drawing, to scale: what the camera clears, sees and holds sharp."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from tideflat.core.camera.section import BODY_MM, Section, section_of
from tideflat.core.evaluate import Picture
from tideflat.core.frame.lens_chart import Row
from tideflat.core.light.sources import outline_of
from tideflat.core.light.surroundings import card_strips, rig_corners
from tideflat.core.model import Lamp, Window
from tideflat.core.plane.hull import hull_of
from tideflat.core.units import format_length

from .lens_chart_drawn import WALLS
from .light_words import light_name

#: Room round what is drawn, as a share of its longer side; and what is shown under the table where nothing else asks for more, mm.
_MARGIN, _UNDER_MM = 0.05, 120.0
#: What is dragged, as a share of the longer side.
_GRIP = 0.022
#: It reaches so far out for lights, mm; the way that one looks is drawn so long.
_OUT_MM, _WAY_MM = 700.0, 120.0
#: A ceiling further than this above the lens, mm, is out of the drawing.
_FAR_CEILING_MM = 700.0


@dataclass(frozen=True)
class Drawn:
    """box: the SVG's viewBox, mm, z upward as -y. grip: radius of what is dragged. values: attributes of its parts; ``told``: in words."""

    box: str
    grip: float
    values: dict[str, Any]
    told: str


def section_drawn(picture: Picture, selected: str, unit: str, rows: Sequence[Row] = ()) -> Drawn:
    """The section of the set-up that is shown; lengths told in ``unit``. rows: lenses whose places along the axis are marked."""
    section = section_of(picture.scene, picture.setup.camera, picture.view, picture.depth_of_field, picture.bodies)
    tops = [z for _, ring in section.things for _, z in ring]
    high = max([section.lens[1] + BODY_MM, *tops])
    shows_ceiling = section.ceiling is not None and section.ceiling - section.lens[1] < _FAR_CEILING_MM
    top = max(high, section.ceiling) if shows_ceiling and section.ceiling is not None else high
    stands_low = section.lens[1] < 0
    bottom = min(-_UNDER_MM, section.lens[1] - 50) if stands_low else -_UNDER_MM
    left = min(section.table[0], section.lens[0] - BODY_MM)
    right = max(section.table[1], section.lens[0] + BODY_MM, section.backdrop[0] + 40 if section.backdrop else -1e9)
    lights = _lights(picture, section, unit)
    for mark in lights:  # the drawing reaches out to them, but not so far that the things are lost in it
        (s0, z0), (s1, z1) = mark["bounds"]
        left, right = max(min(left, s0), left - _OUT_MM), min(max(right, s1), right + _OUT_MM)
        top = min(max(top, z1), top + _OUT_MM)
    margin = _MARGIN * max(top - bottom, right - left)
    box = f"{left - margin:.0f} {-top - margin:.0f} {right - left + 2 * margin:.0f} {top - bottom + 2 * margin:.0f}"
    upper, lower = section.edges
    values: dict[str, Any] = {
        "lens": section.lens,
        "aim": section.aim,
        "sees": _path([upper, section.eye, lower]),
        "axis": _path([section.lens, section.aim]),
        "sharp": _sharp(section),
        "table": section.table,
        "backdrop": section.backdrop,
        "ceiling": section.ceiling if shows_ceiling else None,
        "carrier": _carrier(section, bottom),
        "body": _body(section),
        "left": left - margin,
        "right": right + margin,
        "things": [
            (i, _path(ring, closed=True), picture.props[i].colours[0].hex, i == selected, picture.props[i].name)
            for i, ring in section.things
        ],
        "aim_at": json.dumps(list(picture.setup.camera.aim)),
        "lights": lights,
        "lenses": _lenses(section, picture.setup.camera.distance, rows, top + margin, _GRIP * max(top - bottom, right - left)),
        "heading": json.dumps([round(v, 6) for v in section.heading]),
    }
    return Drawn(box, _GRIP * max(top - bottom, right - left), values, _told(picture, section, unit))


def _lights(picture: Picture, section: Section, unit: str) -> list[dict[str, Any]]:
    """Lamps, windows, cards and rig, as far as each reaches up and along the cut."""
    scene, heading, aim = picture.scene, np.array(section.heading), np.array(picture.setup.camera.aim)
    items: list[tuple[str, Any, np.ndarray]] = [
        ("lights", light, outline_of(light)) for light in scene.lights if isinstance(light, Window | Lamp)
    ]
    for card in scene.cards:
        corners = [middle + a * along + b * up for middle, along, up in card_strips(card) for a in (-1, 1) for b in (-1, 1)]
        items.append(("cards", card, np.array(corners)))
    items += [("rig", piece, rig_corners(piece)) for piece in scene.rig]
    marks = []
    for key, item, points in items:
        flat = np.column_stack([(points[:, :2] - aim[:2]) @ heading, points[:, 2]])
        hull = hull_of(flat)
        ring = np.array(hull.exterior.coords if hull.geom_type == "Polygon" else hull.coords)
        middle = (flat.min(axis=0) + flat.max(axis=0)) / 2
        way = np.array([float(np.array(item.toward[:2]) @ heading), item.toward[2]])
        far = float(np.linalg.norm(way))
        end = middle + (_WAY_MM / far if far else 0.0) * way
        marks.append({
            "list": key,
            "id": item.id,
            "looks": f"{key} {getattr(item, 'kind', '')}{'' if getattr(item, 'on', True) else ' off'}",
            "d": _path([(float(s), float(z)) for s, z in ring], closed=True),
            "way": "" if key == "rig" else _path([(float(s), float(z)) for s, z in (middle, end)]),
            "at": json.dumps(list(item.at)),
            "told": f"{light_name(item.id)}, {format_length(item.at[2], unit)} above the table",
            "bounds": (tuple(flat.min(axis=0)), tuple(flat.max(axis=0))),
        })  # fmt: skip
    return marks


def _lenses(section: Section, distance: float, rows: Sequence[Row], top: float, size: float) -> list[dict[str, Any]]:
    """Marks across the axis where each lens would stand to show as much, as far as the drawing goes: lengths at one place are one mark."""
    (s, z), (a, b) = section.lens, section.aim
    way_s, way_z = (s - a) / distance, (z - b) / distance
    marks: list[dict[str, Any]] = []
    for row in sorted((r for r in rows if r.camera is not None), key=lambda r: r.camera.distance if r.camera else 0.0):
        far = row.camera.distance if row.camera else 0.0
        at_s, at_z = a + far * way_s, b + far * way_z
        if at_z > top or (marks and far - marks[-1]["far"] < (2.6 * abs(way_z) + 4.2 * abs(way_s)) * size):
            continue
        half = (-way_z * size * 0.7, way_s * size * 0.7)
        marks.append({
            "far": far,
            "line": _path([(at_s - half[0], at_z - half[1]), (at_s + half[0], at_z + half[1])]),
            "x": at_s + abs(way_z) * 1.8 * size,
            "y": -(at_z + abs(way_s) * 1.4 * size - abs(way_z) * 0.9 * size),
            "size": 2.5 * size,
            "label": f"{row.focal_length:g}",
            "is_walled": any(code in WALLS for code in row.walls),
            "told": row.lens,
        })  # fmt: skip
    return marks


def _path(points: Any, *, closed: bool = False) -> str:
    return "M" + "L".join(f"{s:.1f} {-z:.1f}" for s, z in points) + ("Z" if closed else "")


def _sharp(section: Section) -> str:
    low, high = section.near
    if section.far is None:
        return _path([low, high])
    return _path([low, high, section.far[1], section.far[0]], closed=True)


def _body(section: Section) -> str:
    """The camera's body behind the lens, along the axis."""
    (s, z), (a, b) = section.lens, section.aim
    far = max(1.0, ((a - s) ** 2 + (b - z) ** 2) ** 0.5)
    ux, uz = (s - a) / far, (z - b) / far
    half = 38.0
    corners = [(s - uz * half, z + ux * half), (s + uz * half, z - ux * half)]
    back = [(x + ux * BODY_MM, y + uz * BODY_MM) for x, y in reversed(corners)]
    return _path([*corners, *back], closed=True)


def _carrier(section: Section, bottom: float) -> str:
    """Column and arm: the column stands before the table, or under the lens where that is before it already."""
    s, z = section.lens
    stands = min(section.table[0] - 150.0, s) if s > section.table[0] - 60 else s
    return _path([(stands, bottom), (stands, z), (s, z)])


def _told(picture: Picture, section: Section, unit: str) -> str:
    ceiling = "" if section.ceiling is None else f", {format_length(section.ceiling - section.lens[1], unit)} under the ceiling"
    down = f"{picture.setup.camera.elevation:g}"
    return f"From the side: the lens {format_length(section.lens[1], unit)} above the table{ceiling}, looking {down} degrees down"
