"""Measure a thing from a photograph beside a sheet: send it, look, move what was found, keep."""

from __future__ import annotations

import json
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.core.formats.prop_table import slug
from tideflat.core.model import FINISHES
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.models import Studio
from tideflat.web.accounts.throttle import too_many
from tideflat.web.bridge.error_words import error_words
from tideflat.web.bridge.printed_sheet import printed_sheet_svg
from tideflat.web.ui.fields import Fields

from ..balance import on_surfaces
from ..hand_drawn import points_from, strokes_from
from ..image_turn import TooBusy, image_turn
from ..images import photograph_from
from ..measured import (
    EXAMPLE_HEIGHTS,
    EXAMPLES,
    Shown,
    example,
    example_photograph_of,
    keep_measured_prop,
    keep_measured_props,
    keep_tile,
    kept_photograph,
    measured,
    tiled,
    unmeasured,
)
from ..measured_shapes import KINDS, guessed_kind, shape_for
from ..models import StoreProp
from ..queries import core_stores

SHEETS = {"a4": "A4", "letter": "Letter"}
WHATS = ("prop", "cloth", "surface")
PHOTOGRAPHS_A_MINUTE = 30
#: So many things of one photograph are kept at once.
MOST_PIECES = 12
#: What a plain solid that was seen is offered as.
KIND_OF_SHAPE = {"disc": "round", "rectangle": "square", "taper": "dish", "oval": "oval", "ball": "ball"}


@stylist_required
def measure_page(request: StudioRequest) -> HttpResponse:
    """The form; with a photograph, what was found in it; without a sheet found, the photograph and the way by hand."""
    if request.method != "POST":
        return _form(request)
    if too_many("measure", str(request.user.pk), PHOTOGRAPHS_A_MINUTE, 60):
        return _form(request, "Too many photographs in a minute. Wait a little, then try again.", 429)
    try:
        with image_turn():
            return _measure(request)
    except TooBusy as busy:
        return _form(request, error_words(busy), 503)


def _measure(request: StudioRequest) -> HttpResponse:
    fields = Fields(request.POST, request.preference.unit)
    try:
        photograph = _photograph(request)
    except FieldError as error:
        return _form(request, error_words(error), 400)
    try:
        what, sheet = fields.choice("what", WHATS), fields.choice("sheet", tuple(SHEETS))
        if what != "prop":
            return _tile(request, photograph, what, sheet)
        height = fields.length("height") if fields.has("height") else None
        whole = request.POST.get("photo", "")[:40]
        corners, traced = points_from(request.POST.get("corners", "")), points_from(request.POST.get("traced", ""))
        strokes = strokes_from(request.POST.get("strokes", ""))
        second = photograph_from(request.FILES["second"]) if request.FILES.get("second") else None
        found = measured(request.membership.studio, photograph, sheet, height, corners, traced, whole, second, strokes)
    except FieldError as error:
        if request.POST.get("what") != "prop":
            return _form(request, error_words(error), 400)
        shown = unmeasured(request.membership.studio, photograph, request.POST.get("photo", "")[:40])
        return _result(request, shown, photograph, error_words(error), 422)
    return _result(request, found, photograph, "", 200, (found.found and found.found.height_mm) or 0.0)


def _photograph(request: StudioRequest) -> Photograph:
    if request.POST.get("example"):
        return example_photograph_of(request.POST["example"])
    if request.POST.get("photo"):
        fields = Fields(request.POST)
        focal = fields.number("focal") if fields.has("focal") else None
        return kept_photograph(request.membership.studio, request.POST["photo"][:40], focal if focal and 5 < focal < 1000 else None)
    return photograph_from(request.FILES.get("photograph"))


def _form(request: StudioRequest, fault: str = "", status: int = 200) -> HttpResponse:
    typed = {k: request.POST.get(k, d) for k, d in (("what", "prop"), ("sheet", "a4"), ("height", ""))}
    context = {
        "examples": [(k, w, EXAMPLE_HEIGHTS[k]) for k, w in EXAMPLES.items()],
        "sheets": SHEETS,
        "fault": fault,
        "typed": typed,
        "unit": request.preference.unit,
    }
    return render(request, "stores/measure.html", context, status=status)


def _result(request: StudioRequest, shown: Shown, photograph: Photograph, fault: str, status: int, height: float = 0.0) -> HttpResponse:
    unit = request.preference.unit
    context: dict[str, Any] = {
        "shown": shown,
        "fault": fault,
        "unit": unit,
        "sheets": SHEETS,
        "corners": json.dumps(shown.corners),
        "traced": json.dumps(shown.traced),
        "typed": {k: request.POST.get(k, d) for k, d in (("sheet", "a4"), ("height", ""))},
        "shadows": [_ring(shadow, shown.pixels) for shadow in shown.shadows],
        "focal": photograph.focal_35mm or "",
    }
    if shown.found is not None:
        first = _piece(shown.found, shown.skin_key, shown.traced, shown, 1)
        others = [_piece(o.found, o.skin_key, o.traced, shown, k) for k, o in enumerate(shown.others, 2)]
        prop = prop_from_value({"id": "m", "name": "it", "shape": shape_for("outline", first["points_mm"], height), "colours": first["told"]})
        context |= first | {
            "height_mm": height,
            "finishes": FINISHES,
            "surfaces": on_surfaces(prop, core_stores(request.membership.studio).surfaces),
            "pieces": [first, *others] if others else [],
        }
    return render(request, "stores/measured.html", context, status=status)


def _piece(found: Any, skin_key: str, traced: list[list[float]], shown: Shown, number: int) -> dict[str, Any]:
    """One thing as the page shows it."""
    points = found.outline_mm.round(1).tolist()
    told = [{"hex": h, "share": round(s, 3)} for h, s in found.colours]
    kind = KIND_OF_SHAPE.get(found.shape.kind if found.shape else "") or guessed_kind(found.outline_mm, found.height_mm or 0.0)
    ends = [round(float(v), 1) for v in found.shape.values[2:4]] if found.shape and found.shape.kind == "taper" else []
    if ends and ends[1] > ends[0]:  # no plate is wider at its foot
        kind = "tapered"
    wide, high = shown.pixels
    return {
        "number": number,
        "found": found,
        "skin_key": skin_key,
        "points_mm": points,
        "told": told,
        "outline": json.dumps(points),
        "ends": json.dumps(ends),
        "colours": json.dumps(told),
        "kinds": [(k, words, k == kind) for k, words in KINDS.items()],
        "traced": json.dumps(traced),
        "ring": _ring(traced, shown.pixels),
        "middle": [round(sum(p[k] for p in traced) / len(traced) * side, 1) for k, side in ((0, wide), (1, high))],
    }


def _ring(shares: list[list[float]], pixels: tuple[int, int]) -> str:
    return " ".join(f"{x * pixels[0]:.1f},{y * pixels[1]:.1f}" for x, y in shares)


def _tile(request: StudioRequest, photograph: Photograph, what: str, sheet: str) -> HttpResponse:
    tile = tiled(request.membership.studio, photograph, sheet)
    context = {
        "tile": tile,
        "what": what,
        "unit": request.preference.unit,
        "colours": json.dumps([{"hex": h, "share": round(s, 3)} for h, s in tile.colours]),
    }
    return render(request, "stores/tile.html", context)


@stylist_required
@require_POST
def keep_measured(request: StudioRequest) -> HttpResponse:
    """What was measured becomes a prop, a cloth or a surface of the stores."""
    fields = Fields(request.POST, request.preference.unit)
    studio = request.membership.studio
    try:
        values: dict[str, Any] = {
            "name": fields.text("name", 120) or "something measured",
            "skin": fields.text("skin", 40),
            "colours": _json(fields, "colours", 2000),
        }
        if not studio.pictures.filter(key=values["skin"]).exists():
            raise FieldError("photograph", "must be sent again; it was kept for a day only", show_got=False)
        if request.POST.get("what") in ("cloth", "surface"):
            sizes = {
                "width_mm": fields.length("width"),
                "depth_mm": fields.length("depth"),
                "tile_width": fields.mm("tile_width"),
                "tile_depth": fields.mm("tile_depth"),
            }
            kept: Any = keep_tile(studio, {**values, **sizes, "kind": request.POST["what"]})
        else:
            values |= {
                "kind": fields.choice("kind", tuple(KINDS)),
                "outline": _json(fields, "outline", 20_000),
                "ends": _json(fields, "ends", 60) if fields.has("ends") else None,
                "height_mm": fields.mm("height_mm"),
                "sheet": fields.choice("sheet", tuple(SHEETS)),
            }
            values |= {
                "finish": fields.choice("finish", FINISHES),
                "count": max(1, fields.whole("count")),
                "place": fields.text("place", 120),
            }
            kept = keep_measured_prop(studio, values)
    except FieldError as error:
        return _form(request, error_words(error), 400)
    messages.success(request, f"{kept.name} is in the stores, wearing its photograph.")
    return redirect("prop_page", prop_id=kept.pk) if isinstance(kept, StoreProp) else redirect("kit")


def _json(fields: Fields, name: str, most: int) -> Any:
    """What the page wrote of a measurement; raises FieldError for anything else."""
    try:
        return json.loads(fields.text(name, most))
    except (ValueError, RecursionError):
        raise FieldError(name, "must be as it was measured; measure it once more", show_got=False) from None


@stylist_required
@require_POST
def keep_several(request: StudioRequest) -> HttpResponse:
    """Those of several measured things that were given a name become props of the stores, all or none."""
    fields = Fields(request.POST, request.preference.unit)
    studio = request.membership.studio
    try:
        every = [_one_of(fields, studio, n) for n in range(1, MOST_PIECES + 1) if fields.has(f"name_{n}")]
        if not every:
            raise FieldError("name", "must be given to the things that are to be kept", show_got=False)
        kept = keep_measured_props(studio, every)
    except FieldError as error:
        return _form(request, error_words(error), 400)
    messages.success(request, f"{', '.join(row.name for row in kept)}: in the stores, each wearing its photograph.")
    return redirect("stores")


def _one_of(fields: Fields, studio: Studio, n: int) -> dict[str, Any]:
    skin = fields.text(f"skin_{n}", 40)
    if not studio.pictures.filter(key=skin).exists():
        raise FieldError("photograph", "must be sent again; it was kept for a day only", show_got=False)
    return {
        "name": fields.text(f"name_{n}", 120),
        "skin": skin,
        "colours": _json(fields, f"colours_{n}", 2000),
        "outline": _json(fields, f"outline_{n}", 20_000),
        "ends": _json(fields, f"ends_{n}", 60) if fields.has(f"ends_{n}") else None,
        "kind": fields.choice(f"kind_{n}", tuple(KINDS)),
        "height_mm": fields.length(f"height_{n}"),
        "finish": fields.choice(f"finish_{n}", FINISHES),
        "sheet": fields.choice("sheet", tuple(SHEETS)),
        "count": 1,
        "place": "",
    }


@member_required
@require_GET
def printable_sheet(request: StudioRequest, kind: str) -> HttpResponse:
    """A sheet to print: white, its true size, with a ruler to check the printer by."""
    if kind not in SHEETS:
        raise Http404
    response = HttpResponse(printed_sheet_svg(kind), content_type="image/svg+xml")
    response["Content-Disposition"] = f'attachment; filename="{slug(SHEETS[kind])}-to-measure-by.svg"'
    return response


@member_required
@require_GET
def example_photograph(request: StudioRequest, name: str) -> HttpResponse:
    """One of the drawn photographs that ship, to try measuring with."""
    if name not in EXAMPLES:
        raise Http404
    return HttpResponse(example(name), content_type="image/jpeg")
