"""What `tideflat evaluate` prints: the public interface to everything the core computes."""

from __future__ import annotations

from typing import Any

from .camera.crops import Crop
from .camera.straightness import lean_in_frame_deg, level_lines_deg
from .composition.measures import measures
from .delivered import best_aperture_for, sharpness_in, softens_from
from .errors import DocumentError, FieldError
from .evaluate import Picture
from .features.seen import in_frame, seen_within
from .findings.features import delivered_across
from .findings.finding import Finding
from .findings.merging import meant_of
from .findings.registry import as_causes, what_gives
from .model import Feature, Scene
from .palette.seen import against, seen_colours
from .palette.wanted import met
from .remedies.candidate import Remedy
from .remedies.proof import Judged, judged_in
from .remedies.search import remedies_for


def evaluation(scene: Scene, *, with_remedies: bool = True) -> dict[str, Any]:
    """Every set-up of the scene, computed, as plain JSON values. Remedies cost a search each."""
    pictures = [Picture(scene, setup) for setup in scene.setups]  # each computed once, for what is found and for what is told
    before = judged_in(pictures)
    return {"setups": {picture.setup.name: _setup(picture, before, with_remedies) for picture in pictures}}


def _setup(picture: Picture, before: Judged, with_remedies: bool) -> dict[str, Any]:
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
            "measures": {m.key: {"value": m.value, "unit": m.unit, "what": m.what} for m in measures(picture)},
            "findings": _findings(picture, before, with_remedies),
        }
    except FieldError as error:
        raise DocumentError(f"setups.{picture.setup.name}.{error.path}", error.rule, error.got) from None


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
        "magnification": view.lens.magnification,
        "focal_length": view.lens.focal_length,
        "focus_distance": view.lens.distance,
        "sensor_to_aim": picture.setup.camera.distance + view.lens.sensor_distance,
        "field_of_view": {"horizontal": wide, "vertical": high},
        "off_level": level_lines_deg(view, picture.scene),
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
        "sharpness": {c.name: _sharpness(picture, c) for c in picture.crops},
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


def _sharpness(picture: Picture, crop: Crop) -> dict[str, Any]:
    """What is sharp in a crop with diffraction in it; the f-stop at which the worse end of the hero is sharpest."""
    zone = sharpness_in(picture, crop.box)
    heroes = picture.hero_ids()
    return {
        "near": zone.near,
        "far": zone.far,
        "best_aperture": best_aperture_for(picture, heroes[0]) if heroes else None,
        "circle_of_confusion": zone.circle_of_confusion,
        "nothing_from": softens_from(picture, crop.box),
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
        "lean_in_frame": lean_in_frame_deg(picture.bodies[placement_id], picture.view),
        "features": {f.id: _feature(picture, placement_id, f) for f in picture.props[placement_id].features},
    }


def _feature(picture: Picture, placement_id: str, feature: Feature) -> dict[str, Any] | None:
    """A named place on the thing, in the whole frame and in each crop; null when the thing is not in front of the lens."""
    shown = in_frame(picture, placement_id, feature)
    if shown is None:
        return None
    whole = seen_within(picture, shown)
    crops = {}
    for crop in picture.crops:
        seen = seen_within(picture, shown, crop.box, delivered_across(picture, crop.name))
        blur = None if seen.blur == float("inf") else seen.blur
        crops[crop.name] = {"seen": seen.seen, "blur": blur, "pixels_high": seen.pixels_high}
    return {"angle": whole.angle_deg, "seen": whole.seen, "crops": crops}


def _findings(picture: Picture, before: dict[str, tuple[Finding, ...]], with_remedies: bool) -> list[dict[str, Any]]:
    found = as_causes(picture, before[picture.setup.name])
    remedies = remedies_for(picture, found, before) if with_remedies else [None] * len(found)
    return [_finding(picture, f, remedy, with_remedies) for f, remedy in zip(found, remedies, strict=True)]


def _finding(picture: Picture, finding: Finding, remedy: Remedy | None, with_remedies: bool) -> dict[str, Any]:
    message = finding.message
    if with_remedies and remedy is None:
        message += f"; no small change clears it: {what_gives(finding)}"
    meant = meant_of(picture, finding.code, finding.placements)
    return {
        "code": finding.code,
        "severity": finding.severity,
        "placements": list(finding.placements),
        "crop": finding.crop,
        "crops": list(finding.crops),
        "count": finding.count,
        "measure": finding.measure,
        "limit": finding.limit,
        "unit": finding.unit,
        "message": message,
        "leaning": finding.leaning,
        "meant": None if meant is None else meant.reason,
        "remedy": None if remedy is None else remedy.as_value(),
        **dict(finding.figures),
    }
