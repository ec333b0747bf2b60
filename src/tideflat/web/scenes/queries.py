"""Reads of scenes, always inside one studio, and what the bench shows of one."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from tideflat.core import model
from tideflat.core.camera.crops import FULL_FRAME, Crop
from tideflat.core.camera.optics import DepthOfField, depth_of_field
from tideflat.core.camera.stance import PRESETS_DEG
from tideflat.core.colour.words import colour_words
from tideflat.core.evaluate import Picture, share_within
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_writer import write_scene
from tideflat.core.units import format_length
from tideflat.core.weight import weigh
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.act_words import PRESET_WORDS, own_words
from tideflat.web.bridge.drawing import (
    frame_drawing,
    frame_grids,
    surface_grid,
    table_drawing,
)
from tideflat.web.bridge.finding_words import finding_words
from tideflat.web.bridge.geometry import geometry
from tideflat.web.bridge.sheets import FRAME_UNITS
from tideflat.web.stores.pictures import SkinBook
from tideflat.web.ui.options import options

from .models import Scene
from .own_reads import others_to_move_with, own_keys, own_of, own_parts
from .services.history import UnreadableScene, core_scene
from .services.judgement import finding_key
from .steps import names_around, steps_of

TRAYS = ("things", "held", "brief", "materials", "palette", "camera", "deliverables", "store", "steps")
MOST_TASTE = 5
#: Findings above the line that are shown at once, the gravest first; the others come up as these are settled.
MOST_ABOVE = 40


def scene_in(studio: Studio, scene_id: int) -> Scene:
    """The scene; Scene.DoesNotExist when it is not this studio's."""
    return Scene.objects.get(pk=scene_id, studio=studio)


def revision_of(studio: Studio, scene_id: int) -> int | None:
    """The newest revision, without the scene; None outside the studio."""
    return Scene.objects.filter(pk=scene_id, studio=studio).values_list("revision", flat=True).first()


@dataclass(frozen=True)
class Glance:
    """What a person has before them: which set-up, whether changes are made in it alone, what is held, which tray is open, and their unit."""

    setup: str = ""
    selected: str = ""
    tray: str = "things"
    crop: str = ""
    unit: str = "mm"
    only: bool = False
    may_change: bool = True
    roles: tuple[str, ...] = model.ROLES
    holders: tuple[str, ...] = model.HOLDERS
    sides: tuple[str, ...] = model.SIDES
    shapes: tuple[dict[str, str], ...] = (
        {"name": "square", "ratio": "1:1", "words": "square, 1:1"},
        {"name": "feed", "ratio": "4:5", "words": "upright, 4:5"},
        {"name": "story", "ratio": "9:16", "words": "tall, 9:16"},
        {"name": "banner", "ratio": "16:9", "words": "wide, 16:9"},
        {"name": "strip", "ratio": "2:1", "words": "very wide, 2:1"},
        {"name": "whole", "ratio": "3:2", "words": "as the sensor, 3:2"},
    )


def picture_of(row: Scene, setup_name: str) -> Picture:
    """The set-up with this name, or the first, with the skins that the studio keeps."""
    scene = core_scene(row)
    setup = next((s for s in scene.setups if s.name == setup_name), scene.setups[0])
    return Picture(scene, setup, SkinBook(row.studio_id))


def stage(
    row: Scene, glance: Glance, shown: model.Scene | None = None, around: tuple[str | None, str | None] | None = None
) -> dict[str, Any]:
    """Everything the bench's stage shows. ``shown``: the scene as the window shows it now, so that only the rest is sent. ``around``: what undo
    and redo would do, where it is known already."""
    picture = picture_of(row, glance.setup)
    scene = picture.scene
    is_here = glance.setup in ("", picture.setup.name)  # else it was dropped meanwhile, and another is shown
    glance = replace(glance, only=glance.only and is_here and len(scene.setups) > 1)
    known = known_to_window(shown, glance, picture)
    setup = picture.setup
    undo_name, redo_name = around or names_around(row, glance.unit, with_setup=len(scene.setups) > 1)
    frame, table = frame_drawing(picture, known=known), table_drawing(picture, known=known)
    crop = chosen_crop(picture, glance.crop)
    box = crop.box if crop else FULL_FRAME
    text = table_text_size(scene.surface)
    return {
        "row": row,
        "scene": scene,
        "setup": setup,
        "picture": picture,
        "glance": glance,
        "undo_name": undo_name,
        "redo_name": redo_name,
        "frame": frame,
        "table": table,
        "grids": frame_grids(picture, box, frame["sheet"]),
        "table_grid": surface_grid(scene.surface, table["sheet"]),
        "table_text": text,
        "table_view_box": f"{-3.3 * text:g} {-1.8 * text:g} {scene.surface.width + 5.2 * text:g} {scene.surface.depth + 3.9 * text:g}",
        "ruler": ruler(scene.surface, glance.unit),
        "crops": [crop_view(picture, c, frame["sheet"], c is crop) for c in picture.crops],
        "crop": crop,
        "veil": _veil(box, frame["sheet"]) if crop else "",
        "readings": readings(picture, glance.unit, crop.name if crop else None),
        "caption": frame_caption(setup),
        "decisions": decisions(picture),
        "geometry": geometry(picture, known),
        "tray": tray(row, picture, glance),
        "own": own_of(picture),
        **tideline(picture, glance.unit),
    }


def chosen_crop(picture: Picture, name: str) -> Crop | None:
    """The crop that stays bright: the one named, or the first; None when nothing is asked for."""
    return next((c for c in picture.crops if c.name == name), picture.crops[0] if picture.crops else None)


def known_to_window(shown: model.Scene | None, glance: Glance, picture: Picture) -> Picture | None:
    """What the window shows now, when it is the same set-up that it is to show next; None when it must be sent everything."""
    if shown is None or glance.setup != picture.setup.name:
        return None
    return next((Picture(shown, s) for s in shown.setups if s.name == picture.setup.name), None)


#: From this share of the budget on (core/weight.py) a person is told how much of it the scene takes.
TOLD_WEIGHT = 0.6


def tray(row: Scene, picture: Picture, glance: Glance) -> dict[str, Any]:
    """What the open tray shows: the thing that is held, or one station's tools."""
    kind = glance.tray if glance.tray in TRAYS else "things"
    selected = glance.selected if glance.selected in {p.id for p in picture.scene.placements} else ""
    if kind == "held" and not selected:
        kind = "things"
    shown: dict[str, Any] = {"kind": kind, "selected": selected}
    if kind == "held":
        shown["held"] = held(picture, selected, glance)
    elif kind == "things":
        shown["list"] = [_line(picture, p, glance.unit) for p in picture.scene.placements]
        share = weigh(picture.scene).share
        shown["weight"] = round(share * 100) if share >= TOLD_WEIGHT else None
    elif kind == "camera":
        shown["presets"] = [
            {"key": k, "words": w, "on": abs(picture.setup.camera.elevation - PRESETS_DEG[k]) < 0.5} for k, w in PRESET_WORDS.items()
        ]
    elif kind == "steps":
        shown["steps"] = steps_of(row, glance.unit, with_setup=len(picture.scene.setups) > 1)
    return shown


def held(picture: Picture, placement_id: str, glance: Glance) -> dict[str, Any]:
    """The thing in hand: its values as typed, and what the frame makes of it."""
    scene = picture.scene
    placement = scene.placement(placement_id)
    prop = scene.prop(placement.prop)
    thing = picture.things.get(placement_id)
    beneath = {placement_id, *scene.carried_by(placement_id)}
    return {
        "placement": placement,
        "prop": prop,
        "thing": thing,
        "hidden": placement_id in picture.setup.hidden,
        "own": own_parts(picture, placement_id),
        "with": scene.group_of(placement_id),
        "others": others_to_move_with(picture, placement_id),
        "size": size_words(picture, placement_id, glance.unit),
        "supports": options(((p.id, scene.prop(p.prop).name) for p in scene.placements if p.id not in beneath), placement.on),
        "seen": round(thing.visible_share * 100) if thing else 0,
        "inside": round(thing.inside_frame_share * 100) if thing else 0,
        "area": round(thing.frame_area_share * 100, 1) if thing else 0,
        "sharp": _sharpness(picture, placement_id, glance.crop),
    }


def _sharpness(picture: Picture, placement_id: str, crop_name: str) -> str:
    silhouette = picture.silhouettes.get(placement_id)
    if silhouette is None:
        return "not in the picture"
    sharp = sharpness_in(picture, chosen_crop(picture, crop_name))
    near, far = silhouette.depth
    if near >= sharp.near and (sharp.far is None or far <= sharp.far):
        return "sharp throughout"
    if far < sharp.near or (sharp.far is not None and near > sharp.far):
        return "out of focus"
    return "partly sharp"


def size_words(picture: Picture, placement_id: str, unit: str) -> str:
    """True size at rest: across, deep, high."""
    body = picture.bodies.get(placement_id)
    if body is None:
        return ""
    points = np.concatenate(body.local.parts) if body.local.parts else body.local.spheres[:, :3]
    extra = 0.0 if body.local.parts else float(body.local.spheres[0, 3]) * 2
    wide, deep = (float(np.ptp(points[:, k])) + extra for k in (0, 1))
    return " × ".join(format_length(v, unit).removesuffix(f" {unit}") for v in (wide, deep, body.local.height)) + f" {unit}"


def _line(picture: Picture, placement: model.Placement, unit: str) -> dict[str, Any]:
    thing = picture.things.get(placement.id)
    return {
        "id": placement.id,
        "name": picture.scene.prop(placement.prop).name,
        "role": placement.role,
        "x": format_length(placement.x, unit),
        "y": format_length(placement.y, unit),
        "own": own_words(list(own_keys(picture, placement.id))),
        "seen": f"{thing.visible_share * thing.inside_frame_share * 100:.0f} % seen" if thing else "left out here",
    }


def readings(picture: Picture, unit: str, crop_name: str | None) -> list[dict[str, str]]:
    """The few numbers that decide: big figure, small unit, the word that says what it decides."""
    view, camera = picture.view, picture.setup.camera
    crop = next((c for c in picture.crops if c.name == crop_name), None)
    sharp = sharpness_in(picture, crop)
    height = float(view.position[2])
    clear = picture.ceiling_clearance
    wide, high = picture.size_at_aim
    found = [
        {
            **_big(height, unit),
            "words": "lens above the table" + (f"; {format_length(clear, unit)} clear of the ceiling" if clear is not None else ""),
        },
        {**_big(wide, unit), "words": f"wide and {format_length(high, unit)} high is what the frame covers at its aim"},
    ]
    # What passes as sharp is said beside every depth: it presumes how large the picture is used.
    passes = f"at f/{camera.aperture:g} in {crop.name if crop else 'the frame'}, where blur under {sharp.circle_of_confusion:.3f} mm passes"
    if sharp.total is None:
        found.append({"figure": "∞", "unit": "", "words": f"sharp from {format_length(sharp.near, unit)} on {passes}"})
    else:
        slant = np.cos(np.radians(camera.elevation))
        along = f"; {format_length(sharp.total / slant, unit)} along the table" if slant > 0.31 else ""
        found.append({**_big(sharp.total, unit), "words": f"deep is sharp {passes}{along}"})
    heroes = picture.hero_ids()
    if heroes:
        share = picture.things[heroes[0]].frame_area_share
        name = picture.props[heroes[0]].name
        if crop is not None:
            visible = picture.things[heroes[0]].visible
            share = share_within(visible, crop.box) * visible.area / crop.share_of_frame if visible.area else 0.0
        where = f"of {crop.name}" if crop is not None else "of the frame"
        found.append(
            {"figure": f"{share * 100:.1f}" if share < 0.1 else f"{share * 100:.0f}", "unit": "%", "words": f"{where} is the {name}"}
        )
    return found


def sharpness_in(picture: Picture, crop: Crop | None) -> DepthOfField:
    """What is sharp in a crop: enlarged more than the frame would be, it forgives less blur, by its share of the diagonal."""
    whole = picture.depth_of_field
    if crop is None:
        return whole
    camera, view = picture.setup.camera, picture.view
    wide, high = (crop.box[2] - crop.box[0]) * view.frame_width, (crop.box[3] - crop.box[1]) * view.frame_height
    share = np.hypot(wide, high) / np.hypot(view.frame_width, view.frame_height)
    blur = whole.circle_of_confusion * float(share)
    return depth_of_field(view.focal_length, camera.aperture, view.focus_distance, blur, camera.lens.pupil_ratio)


def _big(length_mm: float, unit: str) -> dict[str, str]:
    figure, _, small = format_length(length_mm, unit).rpartition(" ")
    return {"figure": figure, "unit": small}


def frame_caption(setup: model.Setup) -> str:
    """How the camera stands, in one line."""
    c = setup.camera
    return f"{c.lens.focal_length:g} mm, {_angle_words(c.elevation)}, f/{c.aperture:g}"


def _angle_words(elevation_deg: float) -> str:
    if elevation_deg >= 89.5:
        return "overhead"
    if abs(elevation_deg) < 0.5:
        return "eye level"
    return f"{abs(elevation_deg):g}° {'down' if elevation_deg > 0 else 'up'}"


def table_text_size(surface: model.Surface) -> float:
    """Height of the ruler's figures in mm on the table, so that they are 12.5 px high on a bench of usual size (520 x 290 px)."""
    return round(max(surface.width / 520, surface.depth / 285) * 1.13 * 12.5, 1)


def ruler(surface: model.Surface, unit: str) -> dict[str, list[dict[str, Any]]]:
    """Marks along the front and left edges: every 10 or 20 cm, or every 4 or 8 inches."""
    step = (101.6 if unit == "in" else 100.0) * (2 if surface.width > 1000 else 1)
    text = table_text_size(surface)

    def label(mm: float) -> str:
        return {"mm": f"{mm:g}", "cm": f"{mm / 10:g}", "in": f"{mm / 25.4:.0f}"}[unit]

    across = [
        {"at": k * step, "text": surface.depth + 1.5 * text, "end": surface.depth + 0.45 * text, "label": label(k * step)}
        for k in range(int(surface.width // step) + 1)
    ]
    up = [
        {"at": surface.depth - k * step, "text": surface.depth - k * step + 0.36 * text, "end": -0.45 * text, "label": label(k * step)}
        for k in range(1, int(surface.depth // step) + 1)
    ]
    return {"x": across, "y": up}


def crop_view(picture: Picture, crop: Crop, sheet: Any, chosen: bool) -> dict[str, Any]:
    """A crop as drawn, and the sensor's pixels it covers."""
    u0, v0, u1, v1 = crop.box
    drawn = {
        "name": crop.name,
        "x": u0 * sheet.width,
        "y": v0 * sheet.height,
        "width": (u1 - u0) * sheet.width,
        "height": (v1 - v0) * sheet.height,
        "chosen": chosen,
        "enlargement": crop.enlargement,
        "pixels": crop.pixels,
    }
    if crop.copy_box is not None:
        a, b, c, d = crop.copy_box
        drawn["copy"] = {"x": a * sheet.width, "y": b * sheet.height, "width": (c - a) * sheet.width, "height": (d - b) * sheet.height}
    return drawn


def _veil(box: tuple[float, float, float, float], sheet: Any) -> str:
    w, h = sheet.width, sheet.height
    u0, v0, u1, v1 = box[0] * w, box[1] * h, box[2] * w, box[3] * h
    return f"M0 0H{w:g}V{h:g}H0ZM{u0:.1f} {v0:.1f}V{v1:.1f}H{u1:.1f}V{v0:.1f}Z"


def decisions(picture: Picture) -> list[dict[str, Any]]:
    """What has been decided, in working order, and what is still open."""
    scene, setup = picture.scene, picture.setup
    heroes = picture.hero_ids()
    hero_name = picture.props[heroes[0]].name if heroes else ""
    count = len(picture.bodies)
    asked = len(setup.deliverables)
    backdrop = "" if scene.backdrop is None else f", {scene.backdrop.kind} backdrop"
    return [
        {
            "tray": "brief",
            "name": "Brief",
            "closed": bool(scene.brief.story.strip()),
            "words": brief_words(scene.brief),
        },
        {"tray": "materials", "name": "Materials", "closed": True, "words": scene.surface.name + backdrop},
        {"tray": "palette", "name": "Palette", "closed": scene.palette is not None, "words": palette_words(scene)},
        {
            "tray": "things",
            "name": "Table",
            "closed": bool(heroes),
            "words": f"{count} things, hero: {hero_name}" if heroes else (f"{count} things, no hero yet" if count else "nothing on it yet"),
        },
        {"tray": "camera", "name": "Frame", "closed": True, "words": frame_caption(setup)},
        {
            "tray": "deliverables",
            "name": "Deliverables",
            "closed": asked > 0,
            "words": ", ".join(d.name for d in setup.deliverables) or "what is the picture for?",
        },
    ]


def brief_words(brief: model.Brief) -> str:
    """What it is for, or what is still to be said."""
    if not brief.story.strip():
        return "one sentence of story"
    return f"for {brief.use}" if brief.use else "story told"


def palette_words(scene: model.Scene) -> str:
    """The palette in words: its base and its accents."""
    if scene.palette is None:
        return "which colours?"
    parts = [colour_words(c.hex) for part in ("base", "accent") for c in scene.palette.of_part(part)[:1]]
    return " with ".join(parts) or f"{len(scene.palette.colours)} colours"


def tideline(picture: Picture, unit: str) -> dict[str, Any]:
    """Findings above the line, matters of taste and what is meant below it."""
    meant = {(m.code, m.placements): m.reason for m in picture.whole.meant if m.setup == picture.setup.name}
    above: list[dict[str, Any]] = []
    taste: list[dict[str, Any]] = []
    kept: list[dict[str, Any]] = []
    waiting = 0
    for finding in findings(picture):
        reason = meant.get((finding.code, finding.placements))
        if reason is not None:
            if not any(
                (k["code"], k["placements"]) == (finding.code, finding.placements) for k in kept
            ):  # in several crops it is meant once
                kept.append({**finding_view(picture, finding, unit), "reason": reason})
        elif finding.severity == "taste":
            drawn = finding_view(picture, finding, unit) if len(taste) < MOST_TASTE else None
            if drawn and not any(t["title"] == drawn["title"] for t in taste):  # two halves of one orange are said once
                taste.append(drawn)
        elif len(above) < MOST_ABOVE:
            above.append(finding_view(picture, finding, unit))
        else:
            waiting += 1
    return {"above": above, "taste": taste, "kept": kept, "waiting": waiting}


def finding_view(picture: Picture, finding: Finding, unit: str) -> dict[str, Any]:
    """A finding as it is shown, with what it lights and the measure it draws."""
    title, sentence = finding_words(picture, finding, unit)
    sheet_width = FRAME_UNITS * picture.view.frame_width / max(picture.view.frame_width, picture.view.frame_height)
    sheet_height = FRAME_UNITS * picture.view.frame_height / max(picture.view.frame_width, picture.view.frame_height)
    depth = picture.scene.surface.depth
    mark = {
        "things": list(finding.placements),
        "frame": [
            [round(a[0] * sheet_width, 1), round(a[1] * sheet_height, 1), round(b[0] * sheet_width, 1), round(b[1] * sheet_height, 1)]
            for a, b in finding.mark.frame
        ],
        "table": [[round(a[0], 1), round(depth - a[1], 1), round(b[0], 1), round(depth - b[1], 1)] for a, b in finding.mark.table],
        "crop": finding.crop,
    }
    return {
        "key": finding_key(finding),
        "severity": finding.severity,
        "title": title,
        "sentence": sentence,
        "mark": json.dumps(mark),
        "code": finding.code,
        "placements": finding.placements,
    }


def export_bytes(row: Scene) -> bytes:
    """The scene document of the present state; one that cannot be read goes out as it is kept."""
    try:
        return write_scene(core_scene(row))
    except UnreadableScene:
        return row.document.encode("utf-8", "replace")
