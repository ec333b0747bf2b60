"""The plan out to the set: overlays for a live view, and the page beside the camera."""

from __future__ import annotations

import re

import numpy as np
from django.http import HttpResponse
from django.shortcuts import render
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.camera.crops import FULL_FRAME
from tideflat.core.errors import FieldError
from tideflat.core.frame.overlay import PARTS, USUAL_PARTS, Colours, overlay_png, overlay_svg
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.crops_drawn import chosen_crop, crop_view, veil
from tideflat.web.bridge.drawing import frame_drawing
from tideflat.web.bridge.error_words import error_words
from tideflat.web.bridge.frame_words import fit_words
from tideflat.web.bridge.readings import frame_caption
from tideflat.web.bridge.sheets import path_data
from tideflat.web.ui.fields import Fields

from ..forms.camera import fit_asked
from ..one_frame import ask, newest, told_of
from ..plan_sheets import plan_pdf
from ..queries import picture_of, revision_of
from ..turns import in_turn
from .answers import find_scene, glance_of, notice

OVERLAYS_A_MINUTE = 20
FITS_A_MINUTE = 120
_SIZE = re.compile(r"(\d{1,6})x(\d{1,6})")
_COLOUR = re.compile(r"#[0-9a-f]{6}")


@member_required
@require_GET
def overlay(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The plan as a transparent PNG, or as SVG, to take away."""
    find_scene(request, scene_id)
    if too_many_here("overlay", str(request.user.pk), OVERLAYS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    return _overlay_in_turn(request, scene_id)


@in_turn
def _overlay_in_turn(request: StudioRequest, scene_id: int) -> HttpResponse:
    row, fields = find_scene(request, scene_id), Fields(request.GET)
    picture = picture_of(row, glance_of(request).setup)
    try:
        kind = fields.choice("kind", ("png", "svg"))
        size = _SIZE.fullmatch(fields.text("pixels", 20))
        if size is None or not int(size[1]) or not int(size[2]):
            raise FieldError("pixels", "must be WIDTHxHEIGHT, such as 6000x4000", request.GET.get("pixels", ""))
        parts = tuple(part for part in request.GET.getlist("part") if part in PARTS) or USUAL_PARTS
        drawn = overlay_svg if kind == "svg" else overlay_png
        content = drawn(picture, int(size[1]), int(size[2]), fields.text("crop", 200) or None, _colours(fields), parts)
    except FieldError as error:
        return notice(request, error_words(error))
    response = HttpResponse(content, content_type="image/svg+xml" if kind == "svg" else "image/png")
    name = "-".join(filter(None, (slugify(row.title) or "scene", slugify(picture.setup.name), "overlay")))
    response["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    return response


def _colours(fields: Fields) -> Colours:
    """Those that are chosen; raises FieldError for what is none."""
    chosen = {}
    for name in ("crops", "guides", "outlines", "registration"):
        if fields.has(name):
            text = fields.text(name, 20).lower()
            if not _COLOUR.fullmatch(text):
                raise FieldError(name, "must be a colour such as #ffd23c", text)
            chosen[name] = text
    return Colours(**chosen)


@member_required
@require_GET
def plan_at_true_size(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The surface at its own size as a PDF of sheets, to lay under the things."""
    find_scene(request, scene_id)
    if too_many_here("plan", str(request.user.pk), OVERLAYS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    return _plan_in_turn(request, scene_id)


@in_turn
def _plan_in_turn(request: StudioRequest, scene_id: int) -> HttpResponse:
    row, glance = find_scene(request, scene_id), glance_of(request)
    picture = picture_of(row, glance.setup)
    try:
        content = plan_pdf(picture, request.GET.get("paper", "a4")[:20], glance.unit)
    except FieldError as error:
        return notice(request, error_words(error))
    response = HttpResponse(content, content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="{slugify(row.title) or "scene"}-{slugify(picture.setup.name)}-plan.pdf"'
    return response


@stylist_required
@require_GET
def fit_told(request: StudioRequest, scene_id: int) -> HttpResponse:
    """What a fit would do, before it is done; where it cannot be, why, and what can."""
    find_scene(request, scene_id)
    if too_many_here("fit", str(request.user.pk), FITS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    return _fit_in_turn(request, scene_id)


@in_turn
def _fit_in_turn(request: StudioRequest, scene_id: int) -> HttpResponse:
    glance = glance_of(request)
    picture = picture_of(find_scene(request, scene_id), glance.setup)
    try:
        found = fit_asked(picture, Fields(request.GET, glance.unit))
    except FieldError as error:
        return render(request, "scenes/fragments/fit_told.html", {"words": error_words(error), "is_wrong": True})
    moves = found.camera != picture.setup.camera
    told = {"words": fit_words(found, picture.setup.camera, glance.unit), "fit": found, "moves": moves, "glance": glance}
    return render(request, "scenes/fragments/fit_told.html", told)


@member_required
@require_GET
def frame_for_all(request: StudioRequest, scene_id: int) -> HttpResponse:
    """How far the search for one frame is; asks for itself while it goes on."""
    return _shown(request, scene_id)


@stylist_required
@require_POST
def look_for_one_frame(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Begin; the line says by itself how it goes on."""
    row = find_scene(request, scene_id)
    if too_many_here("frame", str(request.user.pk), OVERLAYS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    ask(row, picture_of(row, glance_of(request).setup))
    return _shown(request, scene_id)


@in_turn
def _shown(request: StudioRequest, scene_id: int) -> HttpResponse:
    row, glance = find_scene(request, scene_id), glance_of(request)
    picture = picture_of(row, glance.setup)
    found = newest(row, picture)
    percent = 0 if found is None else round(found.share * 100)
    told = {"row": row, "setup": picture.setup, "glance": glance, "work": found, "percent": percent, "told": told_of(found)}
    return render(request, "scenes/fragments/one_frame.html", told)


@member_required
@require_GET
def beside_camera(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The frame alone, full screen; asked with ``if_newer_than`` it answers 204 while nothing has changed."""
    asked = request.GET.get("if_newer_than")
    if asked and asked == str(revision_of(request.membership.studio, scene_id)):
        return HttpResponse(status=204)
    return _beside(request, scene_id)


@in_turn
def _beside(request: StudioRequest, scene_id: int) -> HttpResponse:
    row, glance = find_scene(request, scene_id), glance_of(request)
    picture = picture_of(row, glance.setup)
    frame = frame_drawing(picture, prefix="b", live=False)
    crop = chosen_crop(picture, glance.crop)
    lines = [np.array(guide.ends) for guide in picture.setup.guides]
    context = {
        "row": row,
        "setup": picture.setup,
        "setups": [s.name for s in picture.whole.setups],
        "glance": glance,
        "frame": frame,
        "caption": frame_caption(picture.setup),
        "crops": [crop_view(c, frame["sheet"], c is crop) for c in picture.crops],
        "veil": veil(crop.box if crop else FULL_FRAME, frame["sheet"]) if crop else "",
        "guides": "".join(path_data(line, frame["sheet"], closed=False) for line in lines),
    }
    part = "if_newer_than" in request.GET
    return render(request, "scenes/fragments/beside_camera.html" if part else "scenes/beside_camera.html", context)
