"""Keep a step as a version to be chosen from, say what is thought of it, let it go again. The step itself stays in the history."""

from __future__ import annotations

from django.contrib.auth.models import User

from tideflat.core.errors import FieldError

from ..models import Scene, Version

#: So many versions of a scene are kept at the most: each is drawn whenever the list is shown.
MOST_VERSIONS = 24
_VERDICTS = tuple(value for value, _ in Version.VERDICTS)


def keep_version(row: Scene, by: User, note: str = "") -> tuple[Version, bool]:
    """The present step as a version, and whether it is new. Raises FieldError where there are too many."""
    if row.versions.count() >= MOST_VERSIONS and not row.versions.filter(number=row.position).exists():
        raise FieldError("versions", f"must be at most {MOST_VERSIONS}; let one go that is not wanted any more", show_got=False)
    return Version.objects.get_or_create(scene=row, number=row.position, defaults={"by": by, "note": _note(note)})


def judge_version(row: Scene, number: int, *, note: str | None = None, verdict: str | None = None) -> None:
    """What is thought of it; None leaves that as it is. Raises Version.DoesNotExist, FieldError."""
    version = Version.objects.get(scene=row, number=number)
    if verdict is not None:
        if verdict not in _VERDICTS:
            raise FieldError("verdict", "must be one of " + ", ".join(v or "none" for v in _VERDICTS), verdict)
        version.verdict = verdict
    if note is not None:
        version.note = _note(note)
    version.save(update_fields=["note", "verdict"])


def let_version_go(row: Scene, number: int) -> None:
    """Not a version any more; the step stays. Raises Version.DoesNotExist."""
    Version.objects.get(scene=row, number=number).delete()


def _note(text: str) -> str:
    note = " ".join(text.split())
    if len(note) > 300:
        raise FieldError("note", "must be at most 300 characters", note)
    return note
