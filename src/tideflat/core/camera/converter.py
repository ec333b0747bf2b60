"""A teleconverter: the lens with it, told as the camera shows it, and the lens alone again.

It makes the picture k times larger where it stands behind a lens that is focused as before. So f, m and N are k times what they are
alone, and since the effective aperture N (1 + m / P) is too, P is; the entrance pupil stays where it was, ``f (1/m + 1/P)`` from the plane
of focus.
"""

from __future__ import annotations

from dataclasses import replace

from ..model import Converter, Lens


def alone(lens: Lens, converter: Converter) -> Lens:
    """The lens without its converter: what is told of both together, taken back."""
    k, measured = converter.factor, lens.measured
    if measured is not None:
        measured = replace(measured, sensor_distance=measured.sensor_distance - converter.length, width=measured.width * k)
    return replace(
        lens,
        focal_length=lens.focal_length / k,
        min_focus=None if lens.min_focus is None else lens.min_focus - converter.length,
        max_magnification=None if lens.max_magnification is None else lens.max_magnification / k,
        measured=measured,
        converter=None,
    )


def working_extension(lens: Lens) -> float:
    """Tubes stand between lens and converter, where they work: ``m = k (s + e / f)``, which is ``k^2 e`` of both together."""
    return lens.extension if lens.converter is None else lens.extension * lens.converter.factor**2


def with_converter(lens: Lens, converter: Converter) -> Lens:
    """The lens with a converter behind it, told as the camera shows it: longer and slower by its factor, at the same closest place. The
    effective aperture N (1 + m / P) is the factor larger too, so the pupil's ratio is."""
    k, measured = converter.factor, lens.measured
    if measured is not None:
        measured = replace(measured, sensor_distance=measured.sensor_distance + converter.length, width=measured.width / k)
    return replace(
        lens,
        focal_length=lens.focal_length * k,
        max_aperture=lens.max_aperture * k,
        min_aperture=lens.min_aperture * k,
        min_focus=None if lens.min_focus is None else lens.min_focus + converter.length,
        max_magnification=None if lens.max_magnification is None else lens.max_magnification * k,
        pupil_ratio=lens.pupil_ratio * k,
        measured=measured,
        image_circle=None if lens.image_circle is None else lens.image_circle * k,
        converter=converter,
    )
