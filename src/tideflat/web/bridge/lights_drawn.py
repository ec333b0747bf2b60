"""Lights, cards and rig as the table view shows them from above: true to size, where they stand; and the room's bounds."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import shapely

from tideflat.core.camera.crops import FULL_FRAME
from tideflat.core.evaluate import Picture
from tideflat.core.findings.lit import standing
from tideflat.core.light.form_factor import frame_of
from tideflat.core.light.sources import sun_way
from tideflat.core.light.surroundings import card_strips, rig_corners
from tideflat.core.model import Card, Faced, Lamp, Light, Rig, Scene, Sun, Window
from tideflat.core.plane.hull import hull_of
from tideflat.core.tolerances import NEAR_DEPTH_MM, SEEN_AREA
from tideflat.core.units import format_length

from .light_words import light_name, strength_words
from .sheets import Sheet, frame_sheet, path_data

#: A lamp is so deep behind its face as a share of its width; a window's frame and a card's board so thick, mm.
_LAMP_DEPTH, _WINDOW_MM, _CARD_MM = 0.6, 60.0, 14.0
#: The way it looks is drawn so far, mm, and turned at its end; a sun so far from the table's middle, as a share of the surface's longer
#: side.
_WAY_MM, _SUN_AWAY = 260.0, 0.95
_MARGIN = 0.06


def lights_drawn(scene: Scene, unit: str, table_box: str) -> dict[str, Any]:
    """``marks``: one of each that stands somewhere, and of the sun; ``box``: the viewBox that holds them and the table; ``grip``: a
    radius, ``text``: a size of letters."""
    marks = [_faced(light, scene, unit) for light in scene.lights if isinstance(light, Faced)]
    marks += [_sun(light, scene) for light in scene.lights if isinstance(light, Sun)]
    marks += [_card(card, scene, unit) for card in scene.cards] + [_rig(piece, scene, unit) for piece in scene.rig]
    x, y, wide, high = (float(v) for v in table_box.split())
    bounds = [(x, y, x + wide, y + high), *(m.pop("bounds") for m in marks)]
    x0, y0 = min(b[0] for b in bounds), min(b[1] for b in bounds)
    x1, y1 = max(b[2] for b in bounds), max(b[3] for b in bounds)
    edge = _MARGIN * max(x1 - x0, y1 - y0) if len(bounds) > 1 else 0.0
    box = f"{x0 - edge:.0f} {y0 - edge:.0f} {x1 - x0 + 2 * edge:.0f} {y1 - y0 + 2 * edge:.0f}"
    return {"marks": marks, "box": box, "grip": f"{0.014 * max(x1 - x0, y1 - y0):.0f}", "text": f"{0.03 * max(x1 - x0, y1 - y0):.0f}"}


def lights_seen(picture: Picture, sheet: Sheet) -> list[dict[str, str]]:
    """Outlines in the frame of lamps, windows, cards and rig that the lens would see, were nothing before them; what stands behind the
    backdrop it does not."""
    backdrop, found = picture.scene.backdrop, []
    for key, item_id, corners in standing(picture):
        if backdrop is not None and corners[:, 1].min() > backdrop.y:
            continue
        seen = picture.view.straight(corners)
        if (seen[:, 2] <= NEAR_DEPTH_MM).any():
            continue
        outline = picture.view.bent_outline(hull_of(seen[:, :2]).intersection(shapely.box(*FULL_FRAME)))
        if outline.geom_type == "Polygon" and outline.area > SEEN_AREA:
            name = light_name(item_id)
            found.append({"list": key, "name": name, "d": path_data(np.array(outline.exterior.coords)[:-1], sheet)})
    return found


def mirrors_drawn(shown: list[dict[str, Any]], picture: Picture) -> list[dict[str, str]]:
    """What gloss and metal show, as paths in the frame with what is mirrored there in words. shown: as light/mirrored.py has it."""
    sheet, found = frame_sheet(picture.view), []
    for one in shown:
        name = "camera" if one["kind"] == "lens" else light_name(one["meets"])
        rings = [np.array(ring) for ring in one["rings"]]
        x, y = sheet.put(np.array([[max(ring[:, 0].max() for ring in rings), rings[0][:, 1].mean()]]))[0]
        told = f"the {picture.props[one['placement']].name} mirrors the {name} here"
        found.append({
            "of": one["placement"], "kind": one["kind"], "d": "".join(path_data(ring, sheet) for ring in rings), "told": told, "name": name,
            "x": f"{x:.0f}", "y": f"{y:.0f}",
        })  # fmt: skip
    return found


def _path(points: np.ndarray, scene: Scene, *, closed: bool = True) -> str:
    return "M" + "L".join(f"{x:.0f} {scene.surface.depth - y:.0f}" for x, y, *_ in points) + ("Z" if closed else "")


def _mark(list_name: str, item: Light | Card | Rig, scene: Scene, outline: np.ndarray, told: str, **more: Any) -> dict[str, Any]:
    flat = np.column_stack([outline[:, 0], scene.surface.depth - outline[:, 1]])
    (x0, y0), (x1, y1) = flat.min(axis=0), flat.max(axis=0)
    at = getattr(item, "at", None)
    return {
        "list": list_name,
        "id": item.id,
        "name": light_name(item.id),
        "told": told,
        "on": getattr(item, "on", True),
        "at": json.dumps(at),
        "toward": json.dumps(getattr(item, "toward", None)),
        "back": _path(outline, scene),
        "face": "",
        "x": f"{(x0 + x1) / 2:.0f}",
        "y": f"{y0:.0f}",
        "bounds": (float(x0), float(y0), float(x1), float(y1)),
        **more,
    }


def _way(item: Faced | Card | Rig, scene: Scene) -> tuple[str, tuple[str, str] | None]:
    """A line along the way it looks, as long on the table as it is level, and its end, where it is turned."""
    toward = np.array(item.toward, dtype=float)
    level = toward[:2] / np.linalg.norm(toward)
    if np.linalg.norm(level) < 0.05:
        return "", None
    start = np.array(item.at[:2])
    end = start + _WAY_MM * level / np.linalg.norm(level)
    return _path(np.array([start, end]), scene, closed=False), (f"{end[0]:.0f}", f"{scene.surface.depth - end[1]:.0f}")


def _faced(light: Faced, scene: Scene, unit: str) -> dict[str, Any]:
    along, upward, out = frame_of(np.array(light.toward))
    middle = np.array(light.at)
    corners = np.array(
        [middle + a * along * light.width / 2 + b * upward * light.height / 2 for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    )
    depth = _WINDOW_MM if isinstance(light, Window) else _LAMP_DEPTH * min(light.width, 400.0)
    shrink = 1.0 if isinstance(light, Window) else 0.45
    behind = middle + (corners - middle) * shrink - depth * out
    hull = np.array(hull_of(np.concatenate([corners, behind])[:, :2]).exterior.coords)[:-1]
    way, turn = _way(light, scene)
    face = np.array([middle - along * light.width / 2, middle + along * light.width / 2])
    told = f"{light_name(light.id)}: {light.kind}, {strength_words(light.stops)}, {format_length(light.at[2], unit)} above the table"
    if isinstance(light, Lamp) and light.through is not None:
        told += ", through a sheet"
    return _mark("lights", light, scene, hull, told, face=_path(face, scene, closed=False), way=way, turn=turn, looks=light.kind)


def _sun(sun: Sun, scene: Scene) -> dict[str, Any]:
    """A disc in the sun's direction and a line from it to the table; it is moved by place and clock."""
    north = scene.room.north if scene.room is not None and scene.room.north is not None else 0.0
    way, elevation = sun_way(sun, north)
    surface = scene.surface
    middle = np.array([surface.width / 2, surface.depth / 2])
    level = way[:2] / max(float(np.linalg.norm(way[:2])), 0.01)
    place = middle + level * _SUN_AWAY * max(surface.width, surface.depth)
    angles = np.linspace(0, 2 * np.pi, 25)[:-1]
    disc = place + 55 * np.column_stack([np.cos(angles), np.sin(angles)])
    told = (
        f"{light_name(sun.id)}: the sun, {elevation:.0f} degrees high"
        if elevation > 0
        else f"{light_name(sun.id)}: the sun, below the horizon"
    )
    return _mark("lights", sun, scene, disc, told, way=_path(np.array([place, middle]), scene, closed=False), turn=None, looks="sun")


def _card(card: Card, scene: Scene, unit: str) -> dict[str, Any]:
    strips = card_strips(card)
    line = np.array([strips[0][0] - strips[0][1], *(middle + along for middle, along, _ in strips)])
    _, _, out = frame_of(np.array(card.toward))
    corners = np.concatenate([m + s * along + u * upward for m, along, upward in strips for s in (-1, 1) for u in (-1, 1)]).reshape(-1, 3)
    outline = np.array(hull_of(np.concatenate([corners[:, :2], corners[:, :2] - _CARD_MM * out[:2]])).exterior.coords)
    way, turn = _way(card, scene)
    told = (
        f"{light_name(card.id)}: {card.kind} card, its middle {format_length(card.at[2], unit)} above the table, held by a {card.held_by}"
    )
    return _mark(
        "cards", card, scene, outline[:-1], told, face=_path(line, scene, closed=False), way=way, turn=turn, looks=f"card card-{card.kind}"
    )


def _rig(piece: Rig, scene: Scene, unit: str) -> dict[str, Any]:
    way, turn = _way(piece, scene)
    told = f"{light_name(piece.id)}: {piece.kind}, {format_length(piece.height, unit)} high"
    return _mark("rig", piece, scene, rig_corners(piece)[:4], told, way=way, turn=turn, looks=f"rig rig-{piece.kind}")
