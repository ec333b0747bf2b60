"""Begin, change, undo and redo a scene. Every act is one transaction; what was answered is kept."""

from __future__ import annotations

import json
import threading
import zlib
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from tideflat.core import model
from tideflat.core.errors import FieldError, TideflatError
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import pack_scene
from tideflat.web.accounts.models import Studio

from ..models import Change, Scene


@dataclass(frozen=True)
class Edit:
    """What an act makes of a scene. ``accepted`` None leaves the accepted findings as they are."""

    scene: model.Scene
    label: str
    accepted: list[dict[str, Any]] | None = None
    selected: str | None = None


class StaleRevision(TideflatError):
    """The scene was changed elsewhere since the person's window last saw it."""

    def __init__(self, latest: str) -> None:
        self.latest = latest
        super().__init__(f"revision: must be the newest; meanwhile: {latest}")


class UnreadableScene(TideflatError):
    """A scene whose document the core does not take: it can be taken away, undone or put away, and harms nothing beside it."""

    def __init__(self, row: Scene, fault: str) -> None:
        self.row, self.fault = row, fault
        super().__init__(f"scene {row.pk}: {fault}")


def begin_scene(studio: Studio, document: model.Scene, by: User | None, label: str) -> Scene:
    """A new scene whose step 0 is ``document``."""
    with transaction.atomic():
        row = Scene(studio=studio, title=document.title, document=pack_scene(document), accepted=[])
        row.save()
        Change.objects.create(scene=row, number=0, label=label, state=_packed(row), by=by)
    return row


def change_scene(
    studio: Studio,
    scene_id: int,
    revision: int,
    by: User | None,
    make: Callable[[model.Scene, list[dict[str, Any]]], Edit],
    found: Scene | None = None,
) -> tuple[Scene, Edit, model.Scene]:
    """Apply one act to the newest state; what had been undone beyond it is dropped. Returns the row, the edit, the scene before.

    ``found``: the row, where it was read for this request already. Raises Scene.DoesNotExist outside the studio, StaleRevision when ``revision`` is not the newest, FieldError when the act
    or what it would lead to breaks a rule; then nothing is changed. Everything is worked out before the transaction begins: it only asks
    whether the revision is still the newest, and writes, so that nobody waits while another's change is computed.
    """
    row = found if found is not None and found.revision == revision else _newest(studio, scene_id, revision)
    before = core_scene(row)
    edit = make(before, list(row.accepted))
    row.document = pack_scene(edit.scene)
    row.title = _read(row.document).title  # read back: whatever made it, only a valid document is kept
    if edit.accepted is not None:
        row.accepted = edit.accepted
    row.position += 1
    row.revision += 1
    step = Change(scene=row, number=row.position, label=edit.label[:200], state=_packed(row), by=by)
    with transaction.atomic():
        if Scene.objects.filter(pk=row.pk, studio=studio).values_list("revision", flat=True).first() != revision:
            _newest(studio, scene_id, revision)
        Change.objects.filter(scene=row, number__gte=row.position).delete()
        row.save(update_fields=["document", "title", "accepted", "position", "revision", "changed_at"])
        step.save(force_insert=True)
    _remember(row.pk, row.revision, _read(row.document))
    return row, edit, before


def mark_put_away(studio: Studio, scene_id: int, *, away: bool) -> None:
    """Off the shelf, or on it again; the scene and its history stay as they are."""
    Scene.objects.filter(pk=scene_id, studio=studio).update(put_away_at=timezone.now() if away else None)


def undo(studio: Studio, scene_id: int, revision: int) -> tuple[Scene, str]:
    """Back to the step before; returns the row and the name of what was undone."""
    return _travel(studio, scene_id, revision, -1)


def redo(studio: Studio, scene_id: int, revision: int) -> tuple[Scene, str]:
    """Forward to the step after; returns the row and the name of what was done again."""
    return _travel(studio, scene_id, revision, +1)


def _travel(studio: Studio, scene_id: int, revision: int, step: int) -> tuple[Scene, str]:
    with transaction.atomic():
        row = _newest(studio, scene_id, revision)
        steps = {c.number: c for c in Change.objects.filter(scene=row, number__in=(row.position, row.position + step))}
        goal = steps.get(row.position + step)
        if goal is None:
            return row, ""
        named = steps[row.position].label if step < 0 else goal.label
        state = json.loads(zlib.decompress(goal.state))
        row.document, row.accepted = state["document"], state["accepted"]
        row.title = _title_in(row.document) or row.title
        row.position += step
        row.revision += 1
        row.save()
    return row, named


def core_scene(row: Scene) -> model.Scene:
    """The row's document as a core value; raises UnreadableScene, also for one that is too heavy to be worked out."""
    try:
        scene = _read(row.document)
        _remember(row.pk, row.revision, scene)
        return scene
    except (FieldError, ValueError, RecursionError) as error:
        fault = str(error) if isinstance(error, FieldError) else "document: must be a scene as this program writes it"
        raise UnreadableScene(row, fault) from None


#: Scenes as they were at revisions that this process has read lately, so that a window that saw one need not be sent what it has.
_recent: OrderedDict[tuple[int, int], model.Scene] = OrderedDict()
_recent_lock = threading.Lock()
_MOST_RECENT = 400


def _remember(scene_id: int, revision: int, scene: model.Scene) -> None:
    with _recent_lock:
        _recent[scene_id, revision] = scene
        _recent.move_to_end((scene_id, revision))
        while len(_recent) > _MOST_RECENT:
            _recent.popitem(last=False)


def scene_at(scene_id: int, revision: int) -> model.Scene | None:
    """The scene as it was at a revision, when this process has read it lately. A revision never comes again with another scene: a restore,
    which alone could bring it back, needs the server to be stopped."""
    with _recent_lock:
        return _recent.get((scene_id, revision))


@lru_cache(maxsize=256)  # the same document is read for every look at it
def _read(document: str) -> model.Scene:
    return scene_from_value(json.loads(document))  # our own writing: no key stands twice, nothing is nested deep


def _title_in(document: str) -> str:
    try:
        return str(json.loads(document).get("title", ""))[:120]
    except (ValueError, AttributeError):
        return ""


def names_around(row: Scene) -> tuple[str | None, str | None]:
    """(what undo would undo, what redo would do again); None where there is nothing."""
    labels = dict(Change.objects.filter(scene=row, number__in=(row.position, row.position + 1)).values_list("number", "label"))
    return (labels.get(row.position) if row.position else None), labels.get(row.position + 1)


def _newest(studio: Studio, scene_id: int, revision: int) -> Scene:
    row = Scene.objects.get(pk=scene_id, studio=studio)
    if row.revision != revision:
        last = Change.objects.filter(scene=row, number=row.position).annotate(who=F("by__first_name")).first()
        raise StaleRevision((f"{last.who or 'someone'}: {last.label}") if last else "another change")
    return row


def _packed(row: Scene) -> bytes:
    return zlib.compress(json.dumps({"document": row.document, "accepted": row.accepted}).encode(), 6)
