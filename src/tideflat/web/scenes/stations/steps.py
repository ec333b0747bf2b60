"""The list of steps, any of which can be gone to."""

from __future__ import annotations

from typing import Any

from ..steps import steps_of
from .station import Look, Station


def _context(look: Look) -> dict[str, Any]:
    return {"steps": steps_of(look.row, look.glance.unit, with_setup=len(look.picture.scene.setups) > 1)}


STATION = Station(tray="steps", template="scenes/fragments/tray_steps.html", context=_context)
