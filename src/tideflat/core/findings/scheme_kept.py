"""Whether things follow the scheme that was chosen. Nothing is asked where none is."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..composition.eye import Eye, eye_of
from ..composition.layout import layout_of
from ..composition.relations import label
from ..composition.schemes import LOW, Curve, curves
from ..evaluate import Picture
from ..facts.practice import SCHEME_GAP, SCHEME_OFF
from ..model import Scheme
from .composed import segment
from .finding import Finding, Mark
from .kind import Kind, Rule

OFF = Kind(
    code="scheme.off", rank=315, severity="taste", unit="% of the frame's height", measure="distance of a thing's middle from the scheme's line or place",
    limit=SCHEME_OFF, gives="the scheme would have to be bent to it", makers=("lay it on the scheme",),
)  # fmt: skip
GAP = Kind(
    code="scheme.gap", rank=325, severity="taste", unit="times an even share",
    measure="longest stretch of the scheme's line without a thing, over an even share of it", limit=SCHEME_GAP,
    gives="one more thing, or a shorter line, would have to give", makers=("fill the stretch",),
)  # fmt: skip

#: Lines that come back to where they begin.
_CLOSED = frozenset({"centre", "triangle", "border"})


def follows(picture: Picture) -> Curve | None:
    """The scheme of the set-up as it is laid, of its variants the one that things lie nearest to; None where none is chosen, or where the
    camera is too low for a height in the frame to be a place."""
    scheme = picture.scene.scheme
    if not isinstance(scheme, Scheme):
        return None
    eye = eye_of(picture)
    layout = layout_of(picture, len(eye.ids))
    if layout.slant <= LOW or not eye.ids:
        return None
    return min(curves(layout, scheme), key=lambda c: float(sum(away(eye, c).values())), default=None)


def away(eye: Eye, curve: Curve) -> dict[str, float]:
    """How far each thing lies from where the scheme would have it, heights of the frame."""
    return {i: float(np.hypot(*(to - at))) for i, (at, to) in ways(eye, curve).items()}


def ways(eye: Eye, curve: Curve) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """Of each thing its middle, and the nearest place of the scheme: the hero's own for the hero, one each where it is places."""
    scale = np.array([eye.aspect, 1.0])
    points, middles = curve.points * scale, dict(zip(eye.ids, eye.middles, strict=True))
    found = {}
    round_it = [i for i in eye.ids if i != eye.hero or curve.is_places]
    if eye.hero is not None and not curve.is_places:
        found[eye.hero] = middles[eye.hero], np.array(curve.hero) * scale
    if round_it:
        far = np.hypot(*(np.array([middles[i] for i in round_it])[:, None] - points[None]).transpose(2, 0, 1))
        if curve.is_places and len(points) >= len(round_it):
            from scipy.optimize import linear_sum_assignment  # takes a while to load, and is seldom needed

            chosen = linear_sum_assignment(far)[1]
        else:
            chosen = far.argmin(axis=1)
        found.update({i: (middles[i], points[k]) for i, k in zip(round_it, chosen.tolist(), strict=True)})
    return found


def stretch(eye: Eye, curve: Curve) -> tuple[float, float] | None:
    """(times an even share, where its middle is along the line, 0..1) of the longest part of the line without a thing; None for places and
    for fewer than three things."""
    n, count = len(eye.ids), len(curve.points)
    if curve.is_places or curve.kind == "stagger" or n < 3:
        return None
    points = curve.points * [eye.aspect, 1.0]
    at = [i for i in eye.ids if i != eye.hero or curve.kind != "centre"]
    along = np.sort(
        [float(np.hypot(*(points - m).T).argmin()) / (count - 1) for i, m in zip(eye.ids, eye.middles, strict=True) if i in at]
    )
    if curve.kind in _CLOSED:
        ends = np.append(along, along[0] + 1.0)
        share = 1.0 / len(at)
    else:
        ends = np.concatenate([[0.0], along, [1.0]])
        share = 1.0 / (len(at) + 1)
    gaps = np.diff(ends)
    k = int(gaps.argmax())
    return float(gaps[k]) / share, float((ends[k] + gaps[k] / 2) % 1.0)


def find(picture: Picture) -> Iterator[Finding]:
    curve = follows(picture)
    if curve is None:
        return
    eye = eye_of(picture)
    for i, (at, to) in ways(eye, curve).items():
        off = float(np.hypot(*(to - at))) * 100
        if off > SCHEME_OFF.value:
            yield OFF.found(
                (i,),
                round(off, 2),
                SCHEME_OFF.value,
                f"{label(picture, i)} lies {off:.0f} % of the frame's height off {curve.said}",
                sides=(curve.kind,),
                mark=Mark(frame=(segment(eye, at, to),)),
                figures=(("hero", i == eye.hero),),
            )
    empty = stretch(eye, curve)
    if empty is not None and empty[0] > SCHEME_GAP.value:
        yield GAP.found(
            (),
            round(empty[0], 2),
            SCHEME_GAP.value,
            f"a stretch of {curve.said} is empty, {empty[0]:.1f} times an even share of it",
            sides=(curve.kind,),
            figures=(("along", round(empty[1], 3)),),
        )


RULES = (Rule(find, (OFF, GAP), cost=2),)
