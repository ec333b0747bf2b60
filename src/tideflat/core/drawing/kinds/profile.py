"""The wall of a round thing: its half-widths by height, from the circles of its solid."""

from __future__ import annotations

from ...solids.body import Body

Profile = list[tuple[float, float, float]]


def profile_of(body: Body) -> Profile:
    """(height, half-width, half-depth) up the wall."""
    return [(float(c[0, 2]), float(c[1, 0]), float(c[2, 1])) for c in body.local.circles]


def radius_at(profile: Profile, height: float) -> tuple[float, float]:
    """Half-width and half-depth at a height, the top ones above it."""
    for (z0, a0, b0), (z1, a1, b1) in zip(profile, profile[1:], strict=False):
        if z0 <= height <= z1:
            share = (height - z0) / (z1 - z0) if z1 > z0 else 0.0
            return a0 + (a1 - a0) * share, b0 + (b1 - b0) * share
    return profile[-1][1:]
