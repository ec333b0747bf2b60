"""The catalogue school: square to the frame, centred, with even margins. Nothing is asked of a picture that is not of it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from ..camera.crops import Rect
from ..composition.relations import LARGE_ROLES, is_catalogue, label, range_of
from ..evaluate import Picture
from ..facts.practice import CROOKED, CROOKED_MOST, UNEVEN, UNEVEN_MOST
from .edges import frame_percent_mm
from .finding import Finding, Mark
from .kind import Kind, Rule

CROOKED_KIND = Kind(
    code="order.crooked", rank=165, severity="mend", unit="degrees", measure="degrees off square to the frame", limit=CROOKED,
    limit_note=f"up to {CROOKED_MOST.value:g}: more is turned on purpose", leaning="order",
    gives="what stands around it would have to make room", makers=("square it",),
    retouch_minutes=3,
)  # fmt: skip
OFF_CENTRE = Kind(
    code="order.off_centre", rank=166, severity="mend", unit="% of the crop's short side",
    measure="middle of the article's outline off the middle of the crop, % of its short side", limit=UNEVEN, leaning="order",
    gives="the crop or the camera would have to give", makers=("centre it",),
    retouch_minutes=3,
)  # fmt: skip
MARGINS = Kind(
    code="order.margins", rank=167, severity="mend", unit="% of the crop's short side",
    measure="widest margin or gap of a range over its narrowest, % of the crop's short side", limit=UNEVEN, leaning="order",
    gives="the articles would have to be set anew", makers=("even out",),
)  # fmt: skip


def find(picture: Picture) -> Iterator[Finding]:
    if not is_catalogue(picture):
        return
    yield from _crooked(picture)
    heroes = picture.hero_ids()
    if len(heroes) != 1 or heroes[0] not in picture.silhouettes:
        return
    articles = range_of(picture)
    for crop, window in picture.windows:
        if articles:
            yield from _uneven(picture, articles, crop, window)
        else:
            yield from _off_centre(picture, heroes[0], crop, window)


def _crooked(picture: Picture) -> Iterator[Finding]:
    for i, body in picture.bodies.items():
        if body.placement.role not in LARGE_ROLES or i not in picture.silhouettes:
            continue
        angle = off_square_deg(picture, i)
        if angle is None or not CROOKED.value < abs(angle) < CROOKED_MOST.value:
            continue
        yield CROOKED_KIND.found(
            (i,),
            round(abs(angle), 2),
            CROOKED.value,
            f"{label(picture, i)} is {abs(angle):.1f} degrees off square to the frame; square, or plainly turned, reads as meant",
            sides=("clockwise" if angle > 0 else "counter-clockwise",),
            figures=(("turned_by", round(angle, 2)),),
        )


def off_square_deg(picture: Picture, placement_id: str) -> float | None:
    """How far (degrees, positive clockwise in the frame) the nearest of a thing's straight edges is off the frame's; None for what has
    none.

    A level edge of its base is looked at as the frame sees it: along it where the lens looks down, else its foremost one.
    """
    body = picture.bodies[placement_id]
    if body.shape.form != "straight" or body.shape.is_soft or body.placement.lean:
        return None
    turn = np.radians(body.placement.turn)
    place = body.base + [0.0, 0.0, body.local.height / 2]
    best = None
    for way in (turn, turn + np.pi / 2):
        along = np.array([np.cos(way), np.sin(way), 0.0])
        ends = picture.view.project(np.stack([place - along, place + along]))
        du, dv = (ends[1, :2] - ends[0, :2]) * [picture.view.frame_width, picture.view.frame_height]
        if abs(float(along @ picture.view.forward)) > _TOWARD_THE_LENS:
            continue
        off = float((np.degrees(np.arctan2(dv, du)) + 45) % 90 - 45)
        best = off if best is None or abs(off) < abs(best) else best
    return best


#: An edge that runs more toward the lens than this (cosine) converges in the frame and has no angle of its own there.
_TOWARD_THE_LENS = 0.35


def _box_in(picture: Picture, ids: tuple[str, ...]) -> Rect:
    u0, v0, u1, v1 = shapely.total_bounds(np.array([picture.silhouettes[i].outline for i in ids], dtype=object))
    return float(u0), float(v0), float(u1), float(v1)


def _off_centre(picture: Picture, hero: str, crop: str | None, window: Rect) -> Iterator[Finding]:
    u0, v0, u1, v1 = _box_in(picture, (hero,))
    across, down, per_mm, per_px = _measures(picture, hero, crop, window)
    du, dv = ((u0 + u1) - (window[0] + window[2])) / 2 * across, ((v0 + v1) - (window[1] + window[3])) / 2 * down
    short = _short(picture, window)
    is_free = picture.setup.deliverables and any(d.name == crop and d.copy_space is not None for d in picture.setup.deliverables)
    off = max(abs(du), abs(dv)) / short * 100
    if not UNEVEN.value < off or is_free or (not _is_alone(picture, hero) and off > UNEVEN_MOST.value):
        return
    side = ("right" if du > 0 else "left") if abs(du) >= abs(dv) else ("bottom" if dv > 0 else "top")
    length = max(abs(du), abs(dv))
    yield OFF_CENTRE.found(
        (hero,),
        round(off, 2),
        UNEVEN.value,
        f"{label(picture, hero)} stands {length * per_mm:.1f} mm, {length * per_px:.0f} px as delivered, off the middle of "
        f"{'the frame' if crop is None else crop} (to the {side})",
        crop=crop,
        sides=(side,),
        mark=Mark(frame=((((u0 + u1) / 2, (v0 + v1) / 2), ((window[0] + window[2]) / 2, (window[1] + window[3]) / 2)),)),
        figures=(("mm", round(length * per_mm, 1)), ("px", round(length * per_px, 1)), ("du", du / across), ("dv", dv / down)),
    )


def _uneven(picture: Picture, articles: tuple[str, ...], crop: str | None, window: Rect) -> Iterator[Finding]:
    """The gaps between neighbours of a row, and its two outer margins, each kind among itself."""
    seen = sorted((i for i in articles if i in picture.silhouettes), key=lambda i: picture.silhouettes[i].box[0])
    boxes = [picture.silhouettes[i].box for i in seen]
    if len(seen) < 2 or any(a[2] > b[0] for a, b in zip(boxes, boxes[1:], strict=False)):
        return
    across, _, per_mm, per_px = _measures(picture, seen[0], crop, window)
    gaps = [b[0] - a[2] for a, b in zip(boxes, boxes[1:], strict=False)]
    outer = [boxes[0][0] - window[0], window[2] - boxes[-1][2]]
    uneven = {"gaps": max(gaps) - min(gaps), "margins": abs(outer[0] - outer[1])}
    which = max(uneven, key=lambda k: uneven[k] * (0.5 if k == "margins" else 1.0))
    length = uneven[which] * across
    off = length / _short(picture, window) * 100
    if off <= UNEVEN.value:
        return
    words = "one gap is" if which == "gaps" else "one outer margin is"
    yield MARGINS.found(
        tuple(sorted(seen, key=list(picture.bodies).index)),
        round(off, 2),
        UNEVEN.value,
        f"{words} {length * per_mm:.1f} mm, {length * per_px:.0f} px as delivered, wider than another in {'the frame' if crop is None else crop}",
        crop=crop,
        sides=(which,),
        mark=Mark(frame=tuple(((a[2], (a[1] + a[3]) / 2), (b[0], (b[1] + b[3]) / 2)) for a, b in zip(boxes, boxes[1:], strict=False))),
        figures=(("mm", round(length * per_mm, 1)), ("px", round(length * per_px, 1))),
    )


def _is_alone(picture: Picture, hero: str) -> bool:
    return not any(b.placement.role in LARGE_ROLES and i != hero for i, b in picture.bodies.items())


def _short(picture: Picture, window: Rect) -> float:
    view = picture.view
    return min((window[2] - window[0]) * view.frame_width, (window[3] - window[1]) * view.frame_height)


def _measures(picture: Picture, placement_id: str, crop: str | None, window: Rect) -> tuple[float, float, float, float]:
    """(mm on the sensor across and down the frame, mm at the thing and delivered pixels for one of them)."""
    view = picture.view
    per_mm = frame_percent_mm(picture, placement_id) * 100 / max(view.frame_width, view.frame_height)
    own = next((c for c in picture.crops if c.name == crop), None)
    pixels = picture.setup.camera.frame_pixels[0] if own is None else own.pixels[0] * own.enlargement
    return view.frame_width, view.frame_height, per_mm, pixels / ((window[2] - window[0]) * view.frame_width)


RULES = (Rule(find, (CROOKED_KIND, OFF_CENTRE, MARGINS)),)
