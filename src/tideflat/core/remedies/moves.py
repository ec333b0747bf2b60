"""Candidates that move things on the table: apart, off an edge, out of the words, down to what is under them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..acts.things import Move
from ..camera.crops import Rect
from ..composition.relations import label
from ..evaluate import Picture
from ..facts.practice import TANGENT
from ..findings.edges import long_side
from ..findings.finding import Finding
from ..findings.spacing import collision
from ..table.carrying import moving_with
from .camera_moves import nudges, shift_crop
from .candidate import Candidate, Stores, where

#: No remedy carries a thing further than this (mm) or turns the picture into another one.
LONGEST_MOVE_MM = 160.0
#: A move up to this long (mm) is tried before a crop or the camera is shifted; a longer one after.
SMALL_MOVE_MM = 60.0
#: A move a shade longer than the bare need, so that the limit is cleared and not just met.
SHADE_MM = 0.5


def is_free(picture: Picture, placement_id: str) -> bool:
    """Whether nothing locked would move with it."""
    return not any(picture.scene.placement(i).locked for i in moving_with(picture.scene, placement_id))


def move(picture: Picture, placement_id: str, dx: float, dy: float) -> Candidate:
    """The thing, and what moves with it, shifted on the table, to tenths of a millimetre."""
    length = float(np.hypot(dx, dy))
    return Candidate(
        "move",
        (("placement", placement_id), ("dx", round(dx, 1)), ("dy", round(dy, 1)), ("mm", round(length, 1))),
        f"move {label(picture, placement_id)} {length:.0f} mm",
        (moved(picture, placement_id, dx, dy),),
    )


def moved(picture: Picture, placement_id: str, dx: float, dy: float) -> Move:
    """The act that shifts a thing on the table, to tenths of a millimetre."""
    p = picture.scene.placement(placement_id)
    return Move(placement=p.id, x=round(p.x + dx, 1), y=round(p.y + dy, 1), **where(picture, p.id, "x", "y"))


def _with_carriers(picture: Picture, placement_id: str) -> list[str]:
    """The thing, and what carries it, from the nearest down to what stands on the table: any of them takes it along."""
    placed = {p.id: p for p in picture.scene.placements}
    found = [placement_id]
    while (below := placed[found[-1]].on) is not None and below in placed and below not in found:
        found.append(below)
    return [i for i in found if i in picture.bodies and not picture.bodies[i].is_soft]


def lesser_first(picture: Picture, ids: tuple[str, ...]) -> list[str]:
    """Free ones only; the hero is moved last, small things before large ones."""
    free = [i for i in ids if is_free(picture, i)]
    return sorted(free, key=lambda i: (picture.bodies[i].placement.role == "hero", picture.bodies[i].footprint.area))


def _fan(direction: np.ndarray) -> list[np.ndarray]:
    """The direction, then others ever further to both sides of it."""
    return turned(direction, 0, 30, -30, 60, -60, 90, -90, 135, -135, 180)


def turned(way: np.ndarray, *degrees: float) -> list[np.ndarray]:
    """A way, turned by each."""
    t = np.radians(degrees)
    return list(np.column_stack([np.cos(t) * way[0] - np.sin(t) * way[1], np.sin(t) * way[0] + np.cos(t) * way[1]]))


def _spread(picture: Picture, ids: tuple[str, ...], away: dict[str, np.ndarray], need: float) -> Iterator[Candidate]:
    for stretch in (1.0, 1.6, 2.5, 4.0, 7.0):
        for i in lesser_first(picture, ids):
            for k, direction in enumerate(_fan(away[i])):
                length = (need * stretch) + SHADE_MM
                if length <= LONGEST_MOVE_MM and (k < 5 or stretch > 1):
                    yield move(picture, i, *(direction * length))


def part(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    a, b = finding.placements
    first, second = picture.bodies[a], picture.bodies[b]
    if finding.code == "spacing.overlap":
        direction = np.array(collision(first, second)[1])
    else:
        (ax, ay), (bx, by) = finding.mark.table[0]
        direction = np.array([bx - ax, by - ay])
        direction /= np.linalg.norm(direction)
    need = abs(finding.limit - finding.measure) if finding.code == "spacing.tight" else finding.measure + 8.0
    yield from _spread(picture, (a, b), {b: direction, a: -direction}, need)


def part_in_frame(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    a, b = finding.placements
    view = picture.view
    centres = {i: picture.silhouettes[i].outline.centroid for i in (a, b)}
    toward = np.array([centres[b].x - centres[a].x, centres[b].y - centres[a].y])
    toward = toward / (np.linalg.norm(toward * [view.aspect, 1]) or 1.0)
    frame_long = max(view.frame_width, view.frame_height)
    gap = finding.limit - finding.measure if finding.sides == ("apart",) else finding.limit + finding.measure
    gap *= long_side(picture, _window(picture, finding))
    for i in lesser_first(picture, (a, b)):
        sign = 1 if i == b else -1
        depth = float((picture.bodies[i].centroid - view.position) @ view.forward)
        need = gap / 100 * frame_long * depth / view.principal_distance
        for share in (1.0, 1.4, 2.0, 3.5):
            for du, dv in ((toward[0], toward[1]), (toward[0], 0.0), (0.0, toward[1]), (-toward[0], -toward[1])):
                shift = table_shift(picture, i, sign * du * share * gap / 100 * 1.1, sign * dv * share * gap / 100 * 1.1)
                for mover in _with_carriers(picture, i) if shift is not None else ():
                    if is_free(picture, mover) and not {a, b} <= {mover, *picture.scene.carried_by(mover)}:
                        yield move(picture, mover, *(shift or (0.0, 0.0)))
        # Deeper into each other, or further round: what overlaps plainly is as good as what is clear.
        for direction in _fan(np.array([1.0, 0.0])):
            yield move(picture, i, *(direction * (need * 1.5 + SHADE_MM)))


def _window(picture: Picture, finding: Finding) -> Rect:
    return next(box for name, box in picture.windows if name == finding.crop)


def table_shift(picture: Picture, placement_id: str, du: float, dv: float) -> tuple[float, float] | None:
    """The move on the table (mm) that shifts a thing by du, dv in the frame; None when no move within reach does."""
    body = picture.bodies[placement_id]
    u, v, _ = picture.view.project(body.centroid)
    there = picture.view.on_plane(float(u) + du, float(v) + dv, float(body.centroid[2]))
    if there is None:
        return None
    shift = (there[0] - float(body.centroid[0]), there[1] - float(body.centroid[1]))
    return shift if np.hypot(*shift) <= LONGEST_MOVE_MM else None


def off_the_edge(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Further in, or further out, whichever is shorter and does no harm; or the crop steps aside."""
    (i,) = finding.placements
    window = _window(picture, finding)
    box = picture.silhouettes[i].box
    margin = TANGENT.value / 100 * long_side(picture, window) * 1.15
    margin_u, margin_v = margin * max(1.0, 1 / picture.view.aspect), margin * max(picture.view.aspect, 1.0)
    shifts: list[tuple[float, float]] = []
    for side in finding.sides:
        inward, outward = {
            "left": (window[0] + margin_u - box[0], window[0] - margin_u - (box[2] if finding.code == "edge.sliver" else box[0])),
            "right": (window[2] - margin_u - box[2], window[2] + margin_u - (box[0] if finding.code == "edge.sliver" else box[2])),
            "top": (window[1] + margin_v - box[1], window[1] - margin_v - (box[3] if finding.code == "edge.sliver" else box[1])),
            "bottom": (window[3] - margin_v - box[3], window[3] + margin_v - (box[1] if finding.code == "edge.sliver" else box[3])),
        }[side]
        reaches = [inward, outward]
        if finding.code == "edge.sliver":  # or show a good part of it
            size = (box[2] - box[0]) if side in ("left", "right") else (box[3] - box[1])
            reaches += [inward * 0.5, inward * 0.35] if size else []
        for reach in reaches:
            shifts.append((reach, 0.0) if side in ("left", "right") else (0.0, reach))
    shifts.sort(key=lambda s: abs(s[0]) + abs(s[1]))
    reached = [table_shift(picture, i, du * stretch, dv * stretch) for stretch in (1.0, 1.3, 1.8) for du, dv in shifts]
    moves = [(mover, shift) for shift in reached if shift is not None for mover in _with_carriers(picture, i) if is_free(picture, mover)]
    yield from (move(picture, mover, *shift) for mover, shift in moves if np.hypot(*shift) <= SMALL_MOVE_MM)
    if finding.crop is not None:
        for du, dv in shifts:
            yield from shift_crop(picture, finding.crop, -du, -dv)
    yield from nudges(picture)
    yield from (move(picture, mover, *shift) for mover, shift in moves if np.hypot(*shift) > SMALL_MOVE_MM)


def clear_words(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """All that stands in the words out of them, each by its shortest way; or the crop shifted, or the camera carried."""
    crop = next(c for c in picture.crops if c.name == finding.crop)
    assert crop.copy_box is not None
    room = crop.copy_box
    margin = 0.012
    moves: list[tuple[str, float, float]] = []
    for i in finding.placements:
        box = picture.silhouettes[i].box
        ways = [
            (room[0] - margin - box[2], 0.0),
            (room[2] + margin - box[0], 0.0),
            (0.0, room[1] - margin - box[3]),
            (0.0, room[3] + margin - box[1]),
        ]
        shifts = [s for s in (table_shift(picture, i, du, dv) for du, dv in ways) if s is not None]
        if not shifts or not is_free(picture, i):
            break
        shifts.sort(key=lambda s: float(np.hypot(*s)))
        moves.append((i, *shifts[0]))
        if len(finding.placements) == 1:
            for shift in shifts:
                for stretch in (1.0, 1.2):
                    yield move(picture, i, shift[0] * stretch, shift[1] * stretch)
    if len(moves) == len(finding.placements) > 1:
        furthest = max(float(np.hypot(dx, dy)) for _, dx, dy in moves)
        yield Candidate(
            "move_several",
            (("placements", [i for i, _, _ in moves]), ("mm", round(furthest, 1))),
            f"move {len(moves)} things out of the words, at most {furthest:.0f} mm",
            tuple(moved(picture, *m) for m in moves),
        )
    for du, dv in ((0.05, 0), (-0.05, 0), (0, 0.05), (0, -0.05), (0.12, 0), (-0.12, 0), (0, 0.12), (0, -0.12)):
        yield from shift_crop(picture, crop.name, du, dv)
    yield from nudges(picture)


MAKERS = {
    "part": part,
    "part in the frame": part_in_frame,
    "off the edge": off_the_edge,
    "clear the words": clear_words,
}
