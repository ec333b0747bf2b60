"""Things measured in two photographs from two places beside the same sheet: their height is solved, and what one does not tell the other
may.

A level top of height h whose middle is seen at t on the sheet's plane stands at ``e + (t - e) (1 - h / z)``, e being the foot of the lens
and z its height: two pictures of one thing give two equations for h. A sheet looks the same turned by half a turn: of the ways to lay one
picture on the other that is taken in which the things agree.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product

import numpy as np
import shapely
from shapely.affinity import rotate

from ..camera.equivalence import FULL_DIAGONAL_MM
from ..errors import FieldError
from ..formats.photograph import Photograph
from .edge_doubts import CLEAR, OF_SHADOW
from .ground import tell_apart
from .measure import BESIDE_MM, Measured, measure_in, sheet_in
from .outlined import parts_of, stood_down
from .rectified import flatten, reach_mm
from .sheet import FoundSheet
from .things_seen import flat_solids

#: Heights are tried up to this, mm, in such steps; rounds of solving afterwards.
_HIGHEST_MM, _STEP_MM, _ROUNDS = 260.0, 4.0, 3
#: A height is settled when a round changes it by less, mm; and told when the two places agree so well, mm.
_SETTLED_MM, _AGREE_MM = 1.0, 3.0
#: Two pictures that differ by less, mm, are one answer; so many heights are tried; a shift of so little (square of mm for one mm) tells
#: none.
_WELL_MM, _MOST_HEIGHTS, _TELLING = 1.5, 3, 0.01
#: One thing in both pictures: so near, mm, and of sizes so like (share).
_NEAR_MM, _LIKE = 20.0, 0.35
#: Sizes that two pictures tell so nearly alike, mm or share, are sure.
_SAME_MM, _SAME_SHARE = 1.5, 0.01
#: Faint circles that lie so near each other, mm, in both are of one glass.
_CLEAR_MM = 4.0
#: Sizes that are told so nearly alike, mm or share, were seen by one lens.
_LENT_MM, _LENT_SHARE = 2.0, 0.02
#: What has less than this of another's side may be a piece of it.
_PIECE = 0.75
#: Grid of the first look, pixels a mm.
_PER_MM = 1.0

_AGREES_NOT = "the two photographs do not agree on it; take both beside the same sheet, with nothing moved between them"
_NO_SHEET = "the second photograph does not show all four edges of the sheet and was left out; take it again with the whole sheet in it"
_ZOOMED = "only one of the two photographs tells the camera's focal length, and they do not agree; take both without zooming, tilted some ten degrees"


@dataclass(frozen=True, eq=False)
class _One:
    photograph: Photograph
    found: FoundSheet


def measure_both(first: Photograph, second: Photograph, sheet: str = "a4", height_mm: float | None = None) -> tuple[Measured, ...]:
    """The things of ``measure.measure_all`` in the first, with what the second tells of them; their height solved where it is not given.
    Where the second shows no sheet, what the first tells alone. Raises FieldError as ``measure_all`` does for the first."""
    own_sheet = sheet_in(first, sheet)
    try:
        pictures = (_One(first, own_sheet), _One(second, sheet_in(second, sheet)))
    except FieldError:
        alone = measure_in(first, own_sheet, sheet, height_mm)
        return tuple(thing if thing.is_sure else replace(thing, why=(*thing.why, _NO_SHEET)) for thing in alone)
    pictures, lent = _with_one_lens(pictures, sheet)
    turns = (0.0, 180.0) if pictures[0].found.size_mm == pictures[1].found.size_mm else (90.0, 270.0)
    is_solved = True
    if height_mm is None:
        height_mm, is_solved = _solved(pictures, sheet, turns)
    own, others = _things(pictures[0], sheet, height_mm), _things(pictures[1], sheet, height_mm)
    if not own:  # nothing to lay over the first photograph: it says why
        return measure_in(first, pictures[0].found, sheet, height_mm)
    turn = min(turns, key=lambda t: _mismatch(own, others, t))
    told = tuple(_combined(thing, _twin(thing, others, turn), lent=lent, turn=turn) for thing in own)
    if not is_solved:
        told = tuple(replace(thing, why=(*thing.why, _AGREES_NOT), error_mm=None) for thing in told)
    return told


def _with_one_lens(pictures: tuple[_One, _One], sheet: str) -> tuple[tuple[_One, _One], int | None]:
    """The two, and the number of the one that was lent the focal length of the other, having been taken too level to tell its own: what is
    as large in pixels is of the same camera."""
    sizes = [sorted(p.photograph.rgb.shape[:2]) for p in pictures]
    known = [p.found.pose.focal_from != "usual" for p in pictures]
    if sizes[0] != sizes[1] or known[0] == known[1]:
        return pictures, None
    pose = pictures[known.index(True)].found.pose
    noted = pose.focal_px / float(np.hypot(*sizes[0])) * FULL_DIAGONAL_MM
    lent = replace(pictures[known.index(False)].photograph, focal_35mm=noted)
    both = [p if k else _One(lent, sheet_in(lent, sheet)) for p, k in zip(pictures, known, strict=True)]
    return (both[0], both[1]), known.index(False)


def _things(picture: _One, sheet: str, height_mm: float) -> tuple[Measured, ...]:
    try:
        return measure_in(picture.photograph, picture.found, sheet, height_mm)
    except FieldError:
        return ()


def _solved(pictures: tuple[_One, _One], sheet: str, turns: tuple[float, float]) -> tuple[float, bool]:
    """(the largest thing's height, mm; whether both pictures agree on its place and size then). Heights at which tops of one shape in both
    come together are tried first, then what the parts that are not the ground tell."""
    best = (float("inf"), 0.0)
    tried: list[float] = []
    for height in [*_heights_of_tops(pictures, turns), _first_guess(pictures, turns)]:
        if any(abs(height - other) < _SETTLED_MM for other in tried):
            continue
        tried.append(height)
        off, height = _tried(pictures, sheet, height, turns)
        best = min(best, (off, height))
        if best[0] < _WELL_MM:
            break
    return best[1], best[0] < _AGREE_MM


def _tried(pictures: tuple[_One, _One], sheet: str, height: float, turns: tuple[float, float]) -> tuple[float, float]:
    """(by how much the two pictures differ about the largest thing, mm, and its height), once solved from there."""
    off = float("inf")
    for _ in range(_ROUNDS):
        own, others = (_things(p, sheet, height) for p in pictures)
        if not own or not others:
            break
        turn = min(turns, key=lambda t: _mismatch(own, others, t))
        twin = _twin(own[0], others, turn)
        if twin is None:
            break
        solved, apart = _height_between(pictures, own[0], twin, turn)
        off = (
            apart + abs(own[0].width_mm - twin.width_mm) + abs(own[0].depth_mm - twin.depth_mm) + (not own[0].is_sure) + (not twin.is_sure)
        )
        if abs(solved - height) < _SETTLED_MM:
            return off, solved
        height, off = solved, off + _SETTLED_MM
    return off, height


def _heights_of_tops(pictures: tuple[_One, _One], turns: tuple[float, float]) -> list[float]:
    """Heights, mm, the likeliest first, at which a level shape seen in one picture and one in the other are of one size, in one place."""
    seen = []
    for picture in pictures:
        rgb, found = picture.photograph.rgb, picture.found
        seen.append(flat_solids(rgb, found, reach_mm(found.pose, (rgb.shape[1], rgb.shape[0]), found.size_mm, BESIDE_MM)))
    (e0, z0), (e1, z1) = ((np.array(p.found.pose.eye[:2]), float(p.found.pose.eye[2])) for p in pictures)
    found_so: list[tuple[float, float]] = []
    for one, other, turn in product(seen[0], seen[1], turns):
        if one.kind != other.kind:
            continue
        eye = _turned(e1, turn)
        t0, t1 = one.values[:2], _turned(other.values[:2], turn)
        slope = (t0 - e0) / z0 - (t1 - eye) / z1
        length = float(slope @ slope)
        if length < _TELLING:
            continue
        height = float(slope @ (t0 - t1)) / length
        if not -_STEP_MM < height < _HIGHEST_MM:
            continue
        height = max(height, 0.0)
        sizes = [np.sort(s.values[2:4]) * (1 - height / z) for s, z in ((one, z0), (other, z1))]
        off = float(np.linalg.norm(t0 - t1 - height * slope) + np.abs(sizes[0] - sizes[1]).max())
        if off < _AGREE_MM:
            found_so.append((off - 0.01 * float(sizes[0].mean()) - 2.0 * (one.seen + other.seen), height))
    heights: list[float] = []
    for _, height in sorted(found_so):
        if all(abs(height - other) > 2 * _SETTLED_MM for other in heights):
            heights.append(height)
    return heights[:_MOST_HEIGHTS]


def _height_between(pictures: tuple[_One, _One], own: Measured, twin: Measured, turn: float) -> tuple[float, float]:
    """(height, mm, and how far apart the two places are then, mm): where it was seen at its top, in both pictures, brought together."""
    lenses, tops = [], []
    for picture, thing, by in ((pictures[0], own, 0.0), (pictures[1], twin, turn)):
        pose = picture.found.pose if picture.found.lens is None else picture.found.lens.pose  # as the places are told
        eye, z = np.array(pose.eye[:2]), float(pose.eye[2])
        k = pose.enlargement_at(thing.height_mm or 0.0)
        lenses.append((_turned(eye, by), z))
        tops.append(_turned(eye + k * (np.array(thing.place_mm) - eye), by))
    (e0, z0), (e1, z1) = lenses
    slope = (tops[0] - e0) / z0 - (tops[1] - e1) / z1
    apart = tops[0] - tops[1]
    length = float(slope @ slope)
    height = float(np.clip(slope @ apart / length, 0.0, _HIGHEST_MM)) if length > 0 else 0.0
    return height, float(np.linalg.norm(apart - height * slope))


def _first_guess(pictures: tuple[_One, _One], turns: tuple[float, float]) -> float:
    """The height, mm, at which the largest parts of both pictures that are not the ground stand in one place, as far as they do."""
    seen = [_parts(p) for p in pictures]
    best = (float("inf"), 0.0)
    for height in np.arange(0.0, _HIGHEST_MM, _STEP_MM):
        if any(height > 0.7 * p.found.pose.eye[2] for p in pictures):
            break
        feet = [[stood_down(part, p.found, float(height)) for part in parts] for p, parts in zip(pictures, seen, strict=True)]
        for turn in turns:
            for one in feet[0]:
                for other in feet[1]:
                    if one.is_empty or other.is_empty:
                        continue
                    there = rotate(other, turn, origin=(0, 0))
                    both = one.union(there).area
                    off = 1 - one.intersection(there).area / max(both, 1.0)
                    best = min(best, (float(off), float(height)))
    return best[1]


def _parts(picture: _One) -> list[shapely.Polygon]:
    rgb, found = picture.photograph.rgb, picture.found
    box = reach_mm(found.pose, (rgb.shape[1], rgb.shape[0]), found.size_mm, BESIDE_MM)
    flat = flatten(rgb, found.pose.plane_to_pixel, box, _PER_MM)
    return [part.simplify(0.5) for part in parts_of(tell_apart(flat, found.size_mm).bare, flat)[:2]]


def _turned(place: np.ndarray, degrees: float) -> np.ndarray:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return np.array([c * place[0] - s * place[1], s * place[0] + c * place[1]])


def _mismatch(own: Sequence[Measured], others: Sequence[Measured], turn: float) -> float:
    if not own or not others:
        return 0.0
    largest = own[0]
    return min(
        float(np.linalg.norm(_turned(np.array(o.place_mm), turn) - largest.place_mm)) + abs(o.width_mm - largest.width_mm) for o in others
    )


def _twin(thing: Measured, others: Sequence[Measured], turn: float) -> Measured | None:
    near = [
        (float(np.linalg.norm(_turned(np.array(o.place_mm), turn) - thing.place_mm)), k)
        for k, o in enumerate(others)
        if abs(np.log(o.width_mm / thing.width_mm)) < _LIKE or abs(np.log(o.depth_mm / thing.depth_mm)) < _LIKE
    ]
    near = [one for one in near if one[0] < max(_NEAR_MM, 0.5 * thing.width_mm)]
    return others[min(near)[1]] if near else None


def _combined(thing: Measured, twin: Measured | None, *, lent: int | None = None, turn: float = 0.0) -> Measured:
    """The surer of the two; where both doubt its edges and tell the same, that is an answer. A sheet of another size than was said makes
    both alike wrong: doubts of sheet and camera stay. lent: which of them, 0 or 1, was worked out with the other's focal length; that holds
    where both come out alike: between them someone may have zoomed; else the second counts, where it is sure by its own."""
    if lent == 1 and thing.is_sure:
        return thing  # by its own focal length
    is_of_own_lens = twin is not None and twin.is_sure and lent == 0
    if lent is not None and not is_of_own_lens and (twin is None or not _are_alike(thing, twin, _LENT_MM, _LENT_SHARE)):
        return replace(thing, why=(*thing.why, _ZOOMED), error_mm=None)
    if twin is None or (thing.is_sure and (lent is None or _are_alike(thing, twin, _LENT_MM, _LENT_SHARE))):
        return thing
    if twin.is_sure and not _is_no_piece(twin, thing):
        return replace(thing, why=(*thing.why, _AGREES_NOT), error_mm=None)
    if twin.is_sure:
        return replace(twin, corners=thing.corners, traced=thing.traced, place_mm=thing.place_mm, shadow=thing.shadow)
    apart_mm = float(np.linalg.norm(_turned(np.array(twin.place_mm), turn) - thing.place_mm))
    if CLEAR in thing.why and (CLEAR not in twin.why or apart_mm > _CLEAR_MM):
        return thing  # a glass is told by faint circles: only where they are again is it one
    if all(any(why in OF_SHADOW for why in told.why) for told in (thing, twin)):
        return thing  # a shadow on the table is alike from everywhere: that both tell the same does not make it the thing
    if _are_alike(thing, twin, _SAME_MM, _SAME_SHARE):
        error = max(_SAME_MM, abs(thing.width_mm - twin.width_mm), abs(thing.depth_mm - twin.depth_mm))
        return replace(thing, why=thing.of_camera, error_mm=None if thing.of_camera else error)
    return thing


def _is_no_piece(one: Measured, other: Measured) -> bool:
    """Whether neither side of it is far smaller than the other's: as of a spoon that was taken without its handle."""
    return one.width_mm > _PIECE * other.width_mm and one.depth_mm > _PIECE * other.depth_mm


def _are_alike(thing: Measured, twin: Measured, most_mm: float, most_share: float) -> bool:
    pairs = ((thing.width_mm, twin.width_mm), (thing.depth_mm, twin.depth_mm))
    return all(abs(a - b) <= max(most_mm, most_share * a) for a, b in pairs)
