"""What `tideflat evaluate` prints: the public interface to everything the core computes."""

from __future__ import annotations

from typing import Any

from .errors import DocumentError, FieldError
from .evaluate import Picture
from .findings.finding import Finding
from .findings.registry import KINDS
from .model import Scene, Setup
from .palette.seen import against, seen_colours
from .palette.wanted import met
from .remedies.search import judged, remedy_for


def evaluation(scene: Scene, *, with_remedies: bool = True) -> dict[str, Any]:
    """Every set-up of the scene, computed, as plain JSON values. Remedies cost a search each."""
    before = judged(scene)
    return {"setups": {setup.name: _setup(scene, setup, before, with_remedies) for setup in scene.setups}}


def _setup(scene: Scene, setup: Setup, before: dict[str, tuple[Finding, ...]], with_remedies: bool) -> dict[str, Any]:
    picture = Picture(scene, setup)
    try:
        return {
            "camera": _camera(picture),
            "placements": {i: _placement(picture, i) for i in picture.bodies},
            "crops": {
                c.name: {
                    "box": list(c.box),
                    "pixels": list(c.pixels),
                    "share_of_frame": c.share_of_frame,
                    "enlargement": c.enlargement,
                    "copy_space": None if c.copy_box is None else list(c.copy_box),
                }
                for c in picture.crops
            },
            "colours": _colours(picture),
            "safe_area": None if picture.safe_area is None else list(picture.safe_area),
            "findings": [_finding(picture, f, before, with_remedies) for f in before[setup.name]],
        }
    except FieldError as error:
        raise DocumentError(f"setups.{setup.name}.{error.path}", error.rule, error.got) from None


def _colours(picture: Picture) -> dict[str, Any]:
    """What the frame sees of every colour, whatever it is on; and the palette as it is met."""
    seen = seen_colours(picture)
    palette = picture.scene.palette
    found, rest = met(palette, seen) if palette is not None and palette.colours else ((), None)
    return {
        "seen": [{"owner": s.owner, "hex": s.hex, "share": s.share} for s in seen],
        "against": {i: {"delta_e": rim.delta_e, "behind": rim.behind} for i, rim in against(picture).items()},
        "palette": [{"hex": m.wanted.hex, "part": m.wanted.part, "wanted": m.wanted.share, "share": m.share} for m in found],
        "off_palette": rest,
    }


def _camera(picture: Picture) -> dict[str, Any]:
    view, sharp, seen = picture.view, picture.depth_of_field, picture.backdrop_seen
    wide, high = picture.field_of_view_deg()
    return {
        "position": [float(x) for x in view.position],
        "height_above_surface": float(view.position[2]),
        "height_above_floor": float(view.position[2]) + picture.scene.surface.height_above_floor,
        "ceiling_clearance": picture.ceiling_clearance,
        "principal_distance": view.principal_distance,
        "magnification": view.magnification,
        "focal_length": view.focal_length,
        "focus_distance": view.focus_distance,
        "sensor_to_aim": picture.setup.camera.distance + view.principal_distance,
        "field_of_view": {"horizontal": wide, "vertical": high},
        "coverage": {
            "corners": [None if c is None else list(c) for c in picture.coverage_corners],
            "width_at_aim": picture.size_at_aim[0],
            "height_at_aim": picture.size_at_aim[1],
        },
        "depth_of_field": {
            "near": sharp.near,
            "far": sharp.far,
            "total": sharp.total,
            "circle_of_confusion": sharp.circle_of_confusion,
            "effective_aperture": sharp.effective_aperture,
            "airy_diameter": sharp.airy_diameter,
        },
        "backdrop": None
        if seen is None
        else {
            "seen": None if seen.seen is None else list(seen.seen),
            "width_needed": seen.width_needed,
            "height_needed": seen.height_needed,
            "short_left": seen.short_left,
            "short_right": seen.short_right,
            "short_top": seen.short_top,
            "slide": seen.slide,
        },
    }


def _placement(picture: Picture, placement_id: str) -> dict[str, Any]:
    thing = picture.things[placement_id]
    return {
        "centre": None if thing.centre is None else list(thing.centre),
        "box": None if thing.box is None else list(thing.box),
        "inside_frame_share": thing.inside_frame_share,
        "visible_share": thing.visible_share,
        "frame_area_share": thing.frame_area_share,
        "blur": thing.blur,
    }


def _finding(picture: Picture, finding: Finding, before: dict[str, tuple[Finding, ...]], with_remedies: bool) -> dict[str, Any]:
    remedy = remedy_for(picture, finding, before) if with_remedies else None
    message = finding.message
    if with_remedies and remedy is None:
        message += f"; no small change clears it: {KINDS[finding.code].gives}"
    meant = next(
        (m for m in picture.whole.meant if (m.setup, m.code, m.placements) == (picture.setup.name, finding.code, finding.placements)), None
    )
    return {
        "code": finding.code,
        "severity": finding.severity,
        "placements": list(finding.placements),
        "crop": finding.crop,
        "measure": finding.measure,
        "limit": finding.limit,
        "unit": finding.unit,
        "message": message,
        "leaning": finding.leaning,
        "meant": None if meant is None else meant.reason,
        "remedy": None if remedy is None else remedy.as_value(),
    }
