"""Versions: steps that are kept to be chosen from, laid over what stands now or side by side."""

from __future__ import annotations

from typing import Any

from ..models import Scene, Version
from ..versions import MOST_BESIDE, strip
from .station import Look, Reading, Station


def _context(look: Look) -> dict[str, Any]:
    shown = strip(look.row, look.picture.setup.name, look.glance.unit)
    return {
        "versions": shown,
        "other_setups": [s.name for s in look.picture.whole.setups if s.name != look.picture.setup.name],
        "verdicts": Version.VERDICTS,
        "is_kept": any(v.is_here for v in shown),
        "most_beside": MOST_BESIDE,
    }


def _reading(row: Scene) -> Reading:
    verdicts = list(row.versions.values_list("verdict", flat=True))
    if not verdicts:
        return Reading(False, "none kept yet")
    chosen = verdicts.count(Version.YES)
    return Reading(chosen > 0, f"{len(verdicts)} kept" + (f", {chosen} chosen" if chosen else ""))


STATION = Station(
    tray="versions",
    template="scenes/fragments/tray_versions.html",
    context=_context,
    rank=70,
    name="Versions",
    row_reading=_reading,
)
