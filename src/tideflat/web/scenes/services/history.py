"""Begin and change a scene, and go about its history. Every act is one transaction; what was answered is kept; nothing is taken out."""

from __future__ import annotations

import json
import threading
import zlib
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from tideflat.core import model
from tideflat.core.errors import FieldError, TideflatError
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import pack_scene
from tideflat.core.remember import remembered
from tideflat.web.accounts.models import Studio

from ..models import Change, Scene


@dataclass(frozen=True)
class Edit:
    """What an act makes of a scene; ``code`` and ``figures`` are what its words are made of. ``held``: what is in hand afterwards, None to
    leave that as it is; ``setup``: the set-up that was looked at."""

    scene: model.Scene
    code: str
    figures: dict[str, Any] = field(default_factory=dict)
    held: str | None = None
    setup: str = ""


class StaleRevision(TideflatError):
    """The scene was changed elsewhere since the person's window last saw it. ``latest``: the step it stands on now."""

    def __init__(self, latest: Change | None) -> None:
        self.latest = latest
        super().__init__("revision: must be the newest")


class UnreadableScene(TideflatError):
    """A scene whose document the core does not take: it can be taken away, undone or put away, and harms nothing beside it."""

    def __init__(self, row: Scene, fault: str) -> None:
        self.row, self.fault = row, fault
        super().__init__(f"scene {row.pk}: {fault}")


def begin_scene(studio: Studio, document: model.Scene, by: User | None, label: str) -> Scene:
    """A new scene whose step 0 is ``document``."""
    with transaction.atomic():
        row = Scene(studio=studio, title=document.title, document=pack_scene(document))
        row.save()
        Change.objects.create(scene=row, number=0, label=label, state=_packed(row), by=by)
    return row


def change_scene(
    studio: Studio,
    scene_id: int,
    revision: int,
    by: User | None,
    make: Callable[[model.Scene], Edit],
    found: Scene | None = None,
) -> tuple[Scene, Change, Edit, model.Scene]:
    """Apply one act to the newest state, as a step from the one that is stood on; after an undo it begins a branch. Returns the row, the
    step, the edit, the scene before.

    ``found``: the row, where it was read for this request already. Raises Scene.DoesNotExist outside the studio, StaleRevision when
    ``revision`` is not the newest, FieldError when the act or what it would lead to breaks a rule; then nothing is changed. Everything is
    worked out before the transaction begins: it only asks whether the revision is still the newest, and writes, so that nobody waits
    while another's change is computed.
    """
    row = found if found is not None and found.revision == revision else _newest(studio, scene_id, revision)
    before = core_scene(row)
    edit = make(before)
    row.document = pack_scene(edit.scene)
    row.title = _read(row.document).title  # read back: whatever made it, only a valid document is kept
    parent = row.position
    row.revision += 1
    step = Change(scene=row, parent=parent, code=edit.code, figures=edit.figures, setup=edit.setup[:120], state=_packed(row), by=by)
    with transaction.atomic():
        now = Scene.objects.filter(pk=row.pk, studio=studio).annotate(last=Max("changes__number")).values_list("revision", "last").first()
        if now is None or now[0] != revision:
            _newest(studio, scene_id, revision)
        row.position = step.number = (parent if now is None or now[1] is None else now[1]) + 1
        row.save(update_fields=["document", "title", "position", "revision", "changed_at"])
        step.save(force_insert=True)
        Change.objects.filter(scene=row, number=parent).update(onward=step.number)
    _remember(row.pk, row.revision, _read(row.document))
    return row, step, edit, before


def mark_put_away(studio: Studio, scene_id: int, *, away: bool) -> None:
    """Off the shelf, or on it again; the scene and its history stay as they are."""
    Scene.objects.filter(pk=scene_id, studio=studio).update(put_away_at=timezone.now() if away else None)


def undo(studio: Studio, scene_id: int, revision: int) -> Scene:
    """Back to the step this one was made from; at the beginning, nothing."""
    return _travel(studio, scene_id, revision, lambda here: here.parent)


def redo(studio: Studio, scene_id: int, revision: int) -> Scene:
    """On to the step one went on to from here the last time; where there is none, nothing."""
    return _travel(studio, scene_id, revision, lambda here: here.onward)


def go_to(studio: Studio, scene_id: int, revision: int, number: int) -> Scene:
    """To any step there is; redo then leads along the way to it. Raises Change.DoesNotExist where there is none."""
    return _travel(studio, scene_id, revision, lambda here: number)


def _travel(studio: Studio, scene_id: int, revision: int, way: Callable[[Change], int | None]) -> Scene:
    with transaction.atomic():
        row = _newest(studio, scene_id, revision)
        here = Change.objects.defer("state").filter(scene=row, number=row.position).first()
        number = None if here is None else way(here)
        if number is None or number == row.position:
            return row
        goal = Change.objects.get(scene=row, number=number)
        try:
            row.document = zlib.decompress(bytes(goal.state)).decode()
        except (zlib.error, UnicodeDecodeError):
            raise UnreadableScene(row, f"step {number}: what was kept of it cannot be read; the scene stays where it is") from None
        row.title = _title_in(row.document) or row.title
        _lead_to(row, goal)
        row.position = number
        row.revision += 1
        row.save()
    return row


def _lead_to(row: Scene, goal: Change) -> None:
    """Every step on the way from the beginning to ``goal`` leads on along it."""
    known = {
        number: (parent, onward) for number, parent, onward in Change.objects.filter(scene=row).values_list("number", "parent", "onward")
    }
    number, parent = goal.number, goal.parent
    while parent in known:
        if known[parent][1] != number:
            Change.objects.filter(scene=row, number=parent).update(onward=number)
        number, parent = parent, known[parent][0]


def core_scene(row: Scene) -> model.Scene:
    """The row's document as a core value; raises UnreadableScene, also for one that is too heavy to be worked out."""
    try:
        scene = _read(row.document)
        _remember(row.pk, row.revision, scene)
        return scene
    except (FieldError, ValueError, RecursionError) as error:
        fault = str(error) if isinstance(error, FieldError) else "document: must be a scene as this program writes it"
        raise UnreadableScene(row, fault) from None


def step_scene(row: Scene, number: int) -> model.Scene:
    """The scene as a step of its history left it. Raises Change.DoesNotExist, UnreadableScene."""
    step = Change.objects.get(scene=row, number=number)
    try:
        return _read(zlib.decompress(bytes(step.state)).decode())
    except (zlib.error, FieldError, ValueError, RecursionError):
        raise UnreadableScene(row, f"step {number}: what was kept of it cannot be read") from None


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


@remembered(12)  # the same document is read for every look at it
def _read(document: str) -> model.Scene:
    return scene_from_value(json.loads(document))  # our own writing: no key stands twice, nothing is nested deep


def _title_in(document: str) -> str:
    try:
        return str(json.loads(document).get("title", ""))[:120]
    except (ValueError, AttributeError):
        return ""


def steps_around(row: Scene) -> tuple[Change | None, Change | None]:
    """(the step that undo would undo, the one that redo would do again); None where there is nothing."""
    here = Change.objects.defer("state").filter(scene=row, number=row.position).first()
    if here is None:
        return None, None
    ahead = None if here.onward is None else Change.objects.defer("state").filter(scene=row, number=here.onward).first()
    return (None if here.parent is None else here), ahead


def _newest(studio: Studio, scene_id: int, revision: int) -> Scene:
    row = Scene.objects.get(pk=scene_id, studio=studio)
    if row.revision != revision:
        raise StaleRevision(Change.objects.defer("state").select_related("by").filter(scene=row, number=row.position).first())
    return row


def _packed(row: Scene) -> bytes:
    return zlib.compress(row.document.encode(), 6)
