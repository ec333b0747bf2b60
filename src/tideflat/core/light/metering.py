"""What an incident meter held at the subject asks for.

Source: ISO 2720:1974 (general purpose exposure meters), ``N2 / t = E S / C`` with C = 250 for a flat receptor; the constant from memory.
What a near lens loses is in the effective aperture.
"""

from __future__ import annotations

import math

#: Lux, seconds and ISO to the square of an f-number.
INCIDENT_CONSTANT = 250.0
#: With a flash 1 000 lux stands for so many lux seconds (scene document).
FLASH_S = 0.01


def time_asked_s(lux: float, iso: float, aperture: float) -> float:
    """Seconds at an effective aperture.

    >>> time_asked_s(1000.0, 100.0, 8.0)
    0.16
    """
    return INCIDENT_CONSTANT * aperture**2 / (lux * iso)


def aperture_asked(lux: float, iso: float) -> float:
    """The effective aperture for a flash that is told as so many lux.

    >>> round(aperture_asked(16_000.0, 100.0), 2)
    8.0
    """
    return math.sqrt(lux * FLASH_S * iso / INCIDENT_CONSTANT)
