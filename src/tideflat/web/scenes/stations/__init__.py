"""The stations of the bench: a module a decision of the work, or a tray. The registry finds every module's ``STATION``.

A station says how its decision stands and what its tray shows; what its buttons do is an act of the core (scenes/forms/).
"""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules
from typing import Any

from tideflat.core.evaluate import Picture

from .station import Look, Station


def _found() -> dict[str, Station]:
    modules = [import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__)]
    found = [module.STATION for module in modules if hasattr(module, "STATION")]
    return {station.tray: station for station in sorted(found, key=lambda s: (s.rank, s.tray))}


STATIONS = _found()
#: The tray that is open when none, or none that there is, is asked for.
USUAL = "things"


def decisions(picture: Picture) -> list[dict[str, Any]]:
    """What has been decided, in working order, and what is still open."""
    stations = [(s, s.reading(picture)) for s in STATIONS.values() if s.reading is not None]
    return [{"tray": s.tray, "name": s.name, "closed": reading.closed, "words": reading.words} for s, reading in stations]


def opened(look: Look) -> tuple[Station, str]:
    """(the station whose tray is open, the thing in hand or ""): nothing can be shown in hand that is not on the table."""
    glance = look.glance
    selected = glance.selected if glance.selected in {p.id for p in look.picture.scene.placements} else ""
    name = glance.tray if glance.tray in STATIONS and (glance.tray != "held" or selected) else USUAL
    return STATIONS[name], selected
