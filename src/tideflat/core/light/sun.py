"""Where the sun stands, by place, date and clock.

Source: the astral library, after the NOAA solar calculator (J. Meeus, *Astronomical Algorithms*). Elevation is that of the sun's middle
with refraction by a standard atmosphere. Valid from 1900 to 2100; within 0.05 degree of the solar position algorithm of I. Reda and A.
Andreas (NREL/TP-560-34302), with which tests/reference/test_sun.py compares it, but for the last fifth of a degree before the poles, which
astral leaves out (a quarter of a degree there). Degrees; azimuth from north over east.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from ..errors import FieldError

#: Years in which the algorithm is told to hold.
FIRST_YEAR, LAST_YEAR = 1900, 2100
#: A sun lower than this throws no shadow that ends on a table, degrees.
_LEAST_ELEVATION = 0.05


@dataclass(frozen=True, slots=True)
class SunPlace:
    """elevation, azimuth: degrees; shadow_per_height: how long the shadow of an upright thing is for each mm of its height, None where the
    sun is down or nearly."""

    elevation: float
    azimuth: float
    shadow_per_height: float | None

    def value(self) -> dict[str, Any]:
        """As plain JSON values, to a thousandth of a degree."""
        shadow = None if self.shadow_per_height is None else round(self.shadow_per_height, 6)
        return {"elevation": round(self.elevation, 4), "azimuth": round(self.azimuth, 4), "shadow_per_height": shadow}


def sun_at(latitude: float, longitude: float, when: datetime) -> SunPlace:
    """The sun at a place (degrees, north and east positive) and a moment that knows its offset. Raises FieldError.

    >>> from datetime import timezone
    >>> sun_at(0.0, 0.0, datetime(2026, 3, 20, 12, 7, 30, tzinfo=timezone.utc)).elevation > 89.5
    True
    """
    if not -90 <= latitude <= 90:
        raise FieldError("latitude", "must be from -90 to 90 degrees", latitude)
    if not -180 <= longitude <= 180:
        raise FieldError("longitude", "must be from -180 to 180 degrees", longitude)
    if when.tzinfo is None:
        raise FieldError("time", "must have its offset from UTC, such as 2026-06-21T16:00:00+02:00", when.isoformat())
    if not FIRST_YEAR <= when.year <= LAST_YEAR:
        raise FieldError("time", f"must be in the years {FIRST_YEAR} to {LAST_YEAR}", when.isoformat())
    from astral import Observer  # loads time zones; only where the sun is asked for
    from astral.sun import azimuth, elevation

    observer = Observer(latitude, longitude)
    up = float(elevation(observer, when, with_refraction=True))
    shadow = 1 / math.tan(math.radians(up)) if up > _LEAST_ELEVATION else None
    return SunPlace(up, float(azimuth(observer, when)) % 360, shadow)


def moment_of(text: str) -> datetime:
    """A moment in ISO 8601 with its offset. Raises FieldError.

    >>> moment_of("2026-06-21T16:00:00+02:00").utcoffset().total_seconds()
    7200.0
    """
    try:
        when = datetime.fromisoformat(text.strip())
    except ValueError:
        raise FieldError("time", "must be ISO 8601 with its offset, such as 2026-06-21T16:00:00+02:00", text) from None
    if when.tzinfo is None:
        raise FieldError("time", "must have its offset from UTC, such as 2026-06-21T16:00:00+02:00", text)
    return when
