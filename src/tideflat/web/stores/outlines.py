"""Outlines of made-up props, worked from a few measures: about the footprint's centroid, mm."""

from __future__ import annotations

import math

from shapely.geometry import Polygon

Points = list[list[float]]


def centred(points: list[tuple[float, float]]) -> Points:
    """The same outline with its centroid at the origin, to a tenth of a millimetre."""
    middle = Polygon(points).centroid
    return [[round(x - middle.x, 1), round(y - middle.y, 1)] for x, y in points]


def mirrored(upper: list[tuple[float, float]]) -> Points:
    """Close a run of points above the x axis with its mirror image below."""
    lower = [(x, -y) for x, y in reversed(upper) if y > 0]
    return centred(upper + lower)


def spoon(length: float, bowl_length: float, bowl_width: float, handle_width: float) -> Points:
    """Handle along -x, bowl at +x."""
    neck = length / 2 - bowl_length
    bowl = [
        (neck + bowl_length / 2 - bowl_length / 2 * math.cos(math.radians(a)), bowl_width / 2 * math.sin(math.radians(a)))
        for a in range(25, 181, 22)
    ]
    return mirrored(
        [
            (-length / 2, handle_width * 0.4),
            (-length / 2 + 6, handle_width / 2),
            (-length * 0.1, handle_width * 0.36),
            (neck - 2, handle_width * 0.33),
            *bowl,
        ]
    )


def knife(length: float, blade_width: float, handle_width: float) -> Points:
    """Handle along -x, point at +x, edge to -y."""
    half, start = length / 2, -length * 0.08
    return centred(
        [
            (-half, -handle_width * 0.45),
            (-half + 8, -handle_width / 2),
            (start, -handle_width * 0.42),
            (start + 4, -blade_width * 0.62),
            (half * 0.55, -blade_width * 0.5),
            (half * 0.86, -blade_width * 0.22),
            (half, blade_width * 0.22),
            (half * 0.7, blade_width * 0.38),
            (start, blade_width * 0.38),
            (-half + 6, handle_width / 2),
            (-half, handle_width * 0.4),
        ]
    )


def fork(length: float, head_width: float, handle_width: float) -> Points:
    """Handle along -x, three tines to +x."""
    half = length / 2
    root, crown = half - length * 0.27, half - length * 0.18
    w = head_width / 2
    t = head_width / 5
    tines = [
        (half, w),
        (half, w - t),
        (crown, w - t),
        (crown, t / 2),
        (half, t / 2),
        (half, -t / 2),
        (crown, -t / 2),
        (crown, -w + t),
        (half, -w + t),
        (half, -w),
    ]
    return centred(
        [(-half, -handle_width / 2), (0, -handle_width * 0.33), (root, -handle_width * 0.4), (root + 12, -w)]
        + list(reversed(tines))
        + [(root + 12, w), (root, handle_width * 0.4), (0, handle_width * 0.33), (-half, handle_width / 2)]
    )


def fish(length: float, depth: float) -> Points:
    """On its side, head to +x, forked tail."""
    half, d = length / 2, depth / 2
    upper = [
        (-half * 0.98, d * 0.78),
        (-half * 0.84, d * 0.3),
        (-half * 0.6, d * 0.34),
        (-half * 0.2, d * 0.82),
        (half * 0.15, d * 1.0),
        (half * 0.5, d * 0.86),
        (half * 0.8, d * 0.52),
        (half * 0.95, d * 0.2),
        (half, 0.0),
    ]
    lower = [
        (half * 0.93, -d * 0.26),
        (half * 0.76, -d * 0.6),
        (half * 0.45, -d * 0.92),
        (half * 0.1, -d * 1.0),
        (-half * 0.25, -d * 0.76),
        (-half * 0.6, -d * 0.3),
        (-half * 0.84, -d * 0.26),
        (-half, -d * 0.72),
        (-half * 0.9, 0.0),
    ]
    return centred(upper + lower)


def leaf(length: float, width: float) -> Points:
    """Pointed at both ends, along x."""
    half = length / 2
    return mirrored(
        [
            (-half, 0.0),
            (-half * 0.7, width * 0.2),
            (-half * 0.25, width * 0.46),
            (half * 0.2, width * 0.44),
            (half * 0.65, width * 0.22),
            (half, 0.0),
        ]
    )


def sprig(length: float, width: float) -> Points:
    """A stalk with feathered sides, along x, tip at +x."""
    half, steps = length / 2, 7
    upper: list[tuple[float, float]] = [(-half, width * 0.04)]
    for k in range(steps):
        x = -half * 0.45 + (half * 1.35) * k / steps
        reach = width / 2 * math.sin(math.pi * (k + 1.2) / (steps + 1.4))
        upper += [(x, width * 0.06), (x + length * 0.06, reach), (x + length * 0.075, reach * 0.9)]
    return mirrored([*upper, (half, 0.0)])


def slice_of_bread(width: float, height: float) -> Points:
    """A tin loaf's slice: square foot, two rounded shoulders."""
    w, h = width / 2, height / 2
    right = [(w * 0.82, -h), (w * 0.88, -h * 0.1), (w, h * 0.25), (w * 0.94, h * 0.62), (w * 0.66, h * 0.92), (w * 0.3, h)]
    return centred(right + [(-x, y) for x, y in reversed(right)])


def hand_and_arm(length: float, palm: float, wrist: float, *, from_left: bool) -> Points:
    """A hand at the end of a forearm that comes in from a side: the fingers at the far end, the sleeve at the edge of the picture."""
    half = length / 2
    upper = [
        (-half, wrist * 0.62), (-half * 0.1, wrist / 2), (half - palm * 1.75, wrist / 2), (half - palm * 1.3, palm * 0.62),
        (half - palm * 0.8, palm / 2), (half - palm * 0.25, palm * 0.36), (half, palm * 0.12),
    ]  # fmt: skip
    points = mirrored(upper)
    return points if from_left else [[-x, y] for x, y in reversed(points)]
