"""Whether a database is sound, of which version it is, and what it holds."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from tideflat.core.errors import TideflatError
from tideflat.core.formats.scene_reader import scene_from_value

from .database import applied_in, missing_from, newer_than_program, readable


@dataclass(frozen=True)
class Checked:
    """version: the newest migration of scenes. missing: migrations it lacks; newer: those this program does not know."""

    path: Path
    bytes: int
    version: str
    missing: tuple[str, ...]
    newer: tuple[str, ...]
    orphans: int
    counts: tuple[tuple[str, int], ...]
    unreadable: tuple[str, ...]

    @property
    def is_usable(self) -> bool:
        return not self.newer and not self.orphans


def checked(path: Path) -> Checked:
    """Everything that can be said without writing; raises UpkeepFault where it is no sound Tideflat database."""
    applied = applied_in(path)
    newer, missing = newer_than_program(applied), missing_from(applied)
    with readable(path) as found:
        orphans = len(found.execute("PRAGMA foreign_key_check").fetchall())
        counts = tuple(
            (words, found.execute(f"SELECT count(*) FROM {table}").fetchone()[0])  # noqa: S608 - names of our own
            for words, table in (
                ("studios", "accounts_studio"),
                ("people", "auth_user"),
                ("scenes", "scenes_scene"),
                ("props", "stores_storeprop"),
            )
        )
        unreadable = []
        if not newer and not missing:
            for pk, title, document in found.execute("SELECT id, title, document FROM scenes_scene ORDER BY id"):
                try:
                    scene_from_value(json.loads(document))
                except (TideflatError, ValueError) as error:
                    unreadable.append(f"scene {pk}, {title}: {error}")
    version = max((name for app, name in applied if app == "scenes"), default="none")
    return Checked(path, path.stat().st_size, version, tuple(missing), tuple(newer), orphans, counts, tuple(unreadable))


def report(found: Checked) -> str:
    """In lines, for the terminal."""
    state = "up to date with this program"
    if found.newer:
        state = f"made by a newer Tideflat (it knows {found.newer[0]}); use that version"
    elif found.missing:
        state = f"of an older version; {len(found.missing)} steps would bring it up to date when the server starts or it is restored"
    lines = [
        f"{found.path}: {'sound' if found.is_usable or found.newer else 'damaged'}, {found.bytes / 1e6:,.1f} MB",
        f"version: scenes {found.version}, {state}",
        "holds: " + ", ".join(f"{count} {words}" for words, count in found.counts),
    ]
    if found.orphans:
        lines.append(f"{found.orphans} rows point at nothing; put a backup back with: tideflat restore FILE")
    lines += [f"cannot be read: {line}" for line in found.unreadable]
    return "\n".join(lines)
