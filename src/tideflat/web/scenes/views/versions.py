"""Versions of a scene: kept, judged, laid over what stands now, set side by side."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import whole_from

from ..models import Change, Version, VersionProof
from ..proofs import keep_with
from ..services.history import UnreadableScene
from ..services.versions import judge_version, keep_version, let_version_go
from ..turns import in_turn
from ..versions import MOST_BESIDE, laid_over, side_by_side
from .answers import find_scene, glance_of, is_over_limit, notice
from .bench import tray_response

#: How one is looked at over what stands now, the usual first.
WAYS = (("over", "faded over it"), ("wipe", "wiped across"), ("differs", "only what differs"), ("beside", "frame beside frame"))


@stylist_required
@require_POST
def keep(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The step that is stood on, as a version; the tray of versions answers."""
    row = find_scene(request, scene_id)
    if is_over_limit(request):
        return notice(request, "Too many changes in a minute. Wait a little; nothing is lost.", 429)
    try:
        version, _ = keep_version(row, request.user, request.POST.get("note", "")[:2000])
        keep_with(version, row)
    except FieldError as error:
        return notice(request, error_words(error))
    return tray_response(request, scene_id)


@stylist_required
@require_POST
def judge(request: StudioRequest, scene_id: int, number: int) -> HttpResponse:
    """Its note, what is thought of it, or away with it."""
    row = find_scene(request, scene_id)
    try:
        if request.POST.get("way") == "let-go":
            let_version_go(row, number)
        else:
            judge_version(row, number, note=request.POST.get("note"), verdict=request.POST.get("verdict"))
    except Version.DoesNotExist:
        raise Http404 from None
    except FieldError as error:
        return notice(request, error_words(error))
    return tray_response(request, scene_id)


@member_required
@require_GET
def kept_proof(request: StudioRequest, scene_id: int, number: int) -> HttpResponse:
    """The proof that is kept with a version, in the set-up that is asked for."""
    row = find_scene(request, scene_id)
    proof = VersionProof.objects.filter(version__scene=row, version__number=number, setup=request.GET.get("setup", "")).first()
    if proof is None:
        raise Http404
    return HttpResponse(bytes(proof.picture), content_type="image/webp", headers={"Cache-Control": "private, max-age=3600"})


@member_required
@require_GET
@in_turn
def over(request: StudioRequest, scene_id: int, number: int) -> HttpResponse:
    """One version as both views would show it, and what differs from what stands now."""
    row, glance = find_scene(request, scene_id), glance_of(request)
    if not row.versions.filter(number=number).exists():
        raise Http404
    try:
        laid = laid_over(row, number, glance.setup, glance.unit)
    except Change.DoesNotExist:
        raise Http404 from None
    except UnreadableScene as fault:
        return notice(request, fault.fault)
    if laid is None:
        return notice(request, f"That version has no set-up called {glance.setup}. Look at it in another one.")
    return render(request, "scenes/fragments/compared.html", {"laid": laid, "row": row, "glance": glance, "ways": WAYS})


@member_required
@require_GET
@in_turn
def beside(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Two or three side by side: what stands now and versions, each against the first."""
    row, glance = find_scene(request, scene_id), glance_of(request)
    numbers = [n for text in request.GET.getlist("step")[: 2 * MOST_BESIDE] if (n := whole_from(text)) is not None]
    wanted = list(dict.fromkeys(numbers)) if len(set(numbers)) > 1 else list(dict.fromkeys([row.position, *numbers]))
    try:
        shown = side_by_side(row, wanted, glance.setup, glance.unit)
    except (Change.DoesNotExist, UnreadableScene):
        raise Http404 from None
    return render(request, "scenes/versions.html", {"row": row, "shown": shown, "setup_name": glance.setup})
