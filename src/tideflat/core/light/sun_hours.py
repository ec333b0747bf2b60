"""When direct sun reaches a place on the table, on the day of a sun's own clock."""

from __future__ import annotations

from datetime import datetime, timedelta

import numpy as np

from ..model import Sun
from ..tolerances import LIFTED_MM
from .falling import Lighting
from .rays import passing
from .sources import Opening, way_of
from .sun import moment_of, sun_at

#: The day is looked at in such steps, and each change found to half a minute.
_STEP_MIN, _FOUND_MIN = 4.0, 0.5
_DAY_MIN = 24 * 60


def sun_hours(lighting: Lighting, sun: Sun, opening: Opening | None, place: np.ndarray, but: frozenset[int]) -> list[tuple[str, str]]:
    """(from, to), clock times ``HH:MM`` by the sun's own offset, between which the sun's middle is seen from ``place`` (3,)."""
    when = moment_of(sun.time)
    midnight = when.replace(hour=0, minute=0, second=0, microsecond=0)
    north = lighting.scene.room.north if lighting.scene.room is not None and lighting.scene.room.north is not None else 0.0

    def ways(minutes: np.ndarray) -> np.ndarray:
        found = [sun_at(sun.latitude, sun.longitude, midnight + timedelta(minutes=float(m))) for m in minutes]
        return np.array([way_of(p.elevation, p.azimuth, north) for p in found])

    def reaches(minutes: np.ndarray) -> np.ndarray:
        way = ways(minutes)
        start = place + np.array([0.0, 0.0, LIFTED_MM])
        starts = np.tile(start, (len(minutes), 1))
        seen = way[:, 2] > 0
        if opening is not None:
            seen &= opening.passes(starts, way)
        seen[seen] = passing(lighting.casters, starts[seen], way[seen], np.full(int(seen.sum()), np.inf), but=but) > 0
        return seen

    steps = np.arange(0, _DAY_MIN + _STEP_MIN / 2, _STEP_MIN)
    seen = reaches(steps)
    found, begun = [], 0.0 if seen[0] else None
    for k in np.nonzero(seen[1:] != seen[:-1])[0]:
        low, high = float(steps[k]), float(steps[k + 1])
        while high - low > _FOUND_MIN:
            middle = (low + high) / 2
            if bool(reaches(np.array([middle]))[0]) == bool(seen[k]):
                low = middle
            else:
                high = middle
        if seen[k + 1]:
            begun = high
        elif begun is not None:
            found.append((_clock(midnight, begun), _clock(midnight, low)))
            begun = None
    if begun is not None:
        found.append((_clock(midnight, begun), "24:00"))
    return found


def _clock(midnight: datetime, minutes: float) -> str:
    whole = round(minutes)
    return f"{whole // 60:02d}:{whole % 60:02d}"
