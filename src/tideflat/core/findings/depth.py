"""What stands before what, seen aslant: nothing over the hero, nothing tall before what is low, not all in one plane."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..composition.eye import eye_of
from ..composition.relations import is_catalogue, label, related
from ..delivered import hero_outline, hero_things
from ..evaluate import Picture
from ..facts.practice import HERO_HIDDEN, HERO_HIDDEN_GATHERED, LOWER_HIDDEN, LOWER_HIDDEN_GATHERED, ONE_PLANE
from ..model import Scheme
from ..plane.areas import common, together
from .finding import Finding
from .kind import Kind, Rule

HIDDEN = Kind(
    code="hero.hidden", rank=35, severity="mend", unit="%", measure="% of the hero's outline, with what lies on it, that things before it hide",
    limit=HERO_HIDDEN, limit_note=f"{HERO_HIDDEN_GATHERED.value:g} for gathered", leaning="spacing",
    gives="what stands before it, or the camera, would have to move", makers=("step aside",),
)  # fmt: skip
BEFORE = Kind(
    code="height.before", rank=318, severity="taste", unit="%", measure="% of a lower thing that a taller one before it hides",
    limit=LOWER_HIDDEN, limit_note=f"{LOWER_HIDDEN_GATHERED.value:g} for gathered", leaning="spacing",
    gives="the tall thing would have to go behind", makers=("change places", "step aside"),
)  # fmt: skip
FLAT = Kind(
    code="depth.flat", rank=328, severity="taste", unit="% of the distance", measure="depth from the nearest to the furthest of four or more",
    limit=ONE_PLANE, limit_note="not asked of a line-up or a catalogue", gives="some of them would have to step back", makers=("step back",),
)  # fmt: skip

#: A thing this much higher than another is taller.
_TALLER = 1.15
#: Sines of elevations between which depth is seen as such.
_LEVEL, _ABOVE = 0.12, 0.9
#: What holds a thing into the picture on purpose: it may pass before the hero.
_HELD = ("hand", "arm", "thread")


def hides(picture: Picture, near: str, far: str) -> float:
    """Share of a thing's outline that another before it covers, 0..1; nothing where they belong together or the first is glass."""
    if picture.props[near].finish == "glass" or related(picture, near, far):
        return 0.0
    whole = hero_outline(picture, far)
    if whole is None or whole.area <= 0:
        return 0.0
    return float(common(whole, picture.silhouettes[near].outline).area / whole.area)


def _may_hide(picture: Picture, near: str) -> bool:
    body = picture.bodies[near]
    return not (body.is_soft or body.shape.is_strewn or body.placement.held_by in _HELD)


def find_hidden(picture: Picture) -> Iterator[Finding]:
    limit = (HERO_HIDDEN_GATHERED if picture.scene.brief.leaning("spacing") > 0 else HERO_HIDDEN).value
    for hero in picture.hero_ids():
        own = set(hero_things(picture, hero))
        before = [n for n, far in picture.hiding.in_front if far == hero and n not in own and _may_hide(picture, n)]
        shares = {near: hides(picture, near, hero) for near in before}
        whole, hiding = hero_outline(picture, hero), [picture.silhouettes[n].outline for n, share in shares.items() if share > 0]
        if whole is None or not hiding:
            continue
        share = float(common(whole, together(hiding)).area / whole.area) * 100  # several small ones hide as much as one
        if share > limit:
            worst = max(shares, key=lambda n: shares[n])
            others = " with others" if len(hiding) > 1 else ""
            yield HIDDEN.found(
                (hero, worst),
                round(share, 2),
                limit,
                f"{label(picture, worst)} stands{others} before {share:.0f} % of the hero {label(picture, hero)}",
                figures=(("things", len(hiding)),),
            )


def find_depth(picture: Picture) -> Iterator[Finding]:
    slant = abs(float(picture.view.forward[2]))
    if slant > _ABOVE:
        return
    yield from _before(picture)
    if slant > _LEVEL:
        yield from _flat(picture)


def _before(picture: Picture) -> Iterator[Finding]:
    limit = (LOWER_HIDDEN_GATHERED if picture.scene.brief.leaning("spacing") > 0 else LOWER_HIDDEN).value
    shaping = set(eye_of(picture).ids) - set(picture.hero_ids())
    for near, far in picture.hiding.in_front:
        if near not in shaping or far not in shaping or picture.bodies[near].z_max <= _TALLER * picture.bodies[far].z_max:
            continue
        share = hides(picture, near, far) * 100
        if share > limit and _may_hide(picture, near):
            yield BEFORE.found(
                (near, far),
                round(share, 2),
                limit,
                f"{label(picture, near)} stands before the lower {label(picture, far)} and hides {share:.0f} % of it",
            )


def _flat(picture: Picture) -> Iterator[Finding]:
    scheme, eye = picture.scene.scheme, eye_of(picture)
    is_line = isinstance(scheme, Scheme) and scheme.kind in ("arc", "squared")
    if is_line or is_catalogue(picture) or len(eye.ids) < 4:
        return
    depths = [float((picture.bodies[i].centroid - picture.view.position) @ picture.view.forward) for i in eye.ids]
    spread = float(np.ptp(depths)) / picture.setup.camera.distance * 100
    if spread < ONE_PLANE.value:
        yield FLAT.found(
            tuple(eye.ids),
            round(spread, 2),
            ONE_PLANE.value,
            f"all {len(eye.ids)} things stand in one plane, {spread:.1f} % of the camera's distance deep; planes one behind the other give depth",
        )


RULES = (Rule(find_hidden, (HIDDEN,), cost=1), Rule(find_depth, (BEFORE, FLAT), cost=2))
