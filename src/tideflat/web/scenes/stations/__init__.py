"""The stations of the bench: a module a decision of the work, or a tray. The registry finds every module's ``STATION``.

A station says how its decision stands and what its tray shows; what its buttons do is an act of the core (scenes/forms/).
"""

from __future__ import annotations

from dataclasses import replace
from importlib import import_module
from pkgutil import iter_modules
from typing import Any

from tideflat.core.evaluate import Picture

from ..models import Scene
from .station import Look, Station


def _found() -> dict[str, Station]:
    modules = [import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__)]
    found = [module.STATION for module in modules if hasattr(module, "STATION")]
    return {station.tray: station for station in sorted(found, key=lambda s: (s.rank, s.tray))}


STATIONS = _found()
#: The tray that is open when none, or none that there is, is asked for.
USUAL = "things"
#: Trays of the table: which of them is shown is decided by what is in hand.
IN_HAND = ("held", "several", USUAL)


def decisions(picture: Picture, row: Scene) -> list[dict[str, Any]]:
    """What has been decided, in working order, and what is still open."""
    found = []
    for s in STATIONS.values():
        reading = s.reading(picture) if s.reading is not None else s.row_reading(row) if s.row_reading is not None else None
        if reading is not None:
            found.append({"tray": s.tray, "name": s.name, "closed": reading.closed, "words": reading.words})
    return found


def opened(look: Look) -> tuple[Station, Look]:
    """(the station whose tray is open, the look with nothing in hand that is not on the table)."""
    glance, there = look.glance, {p.id for p in look.picture.scene.placements}
    several = tuple(i for i in dict.fromkeys(glance.several) if i in there)
    several = several if len(several) > 1 else ()
    selected = glance.selected if glance.selected in there else several[0] if several else ""
    name = glance.tray if glance.tray in STATIONS else USUAL
    if name in IN_HAND:
        name = "several" if several else "held" if selected else USUAL
    return STATIONS[name], replace(look, glance=replace(glance, selected=selected, several=several, tray=name))
