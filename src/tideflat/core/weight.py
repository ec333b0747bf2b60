"""How much there is to work out in a scene, counted before it is worked out: the budget that keeps every answer quick.

Points stand for a millisecond of an ordinary processor, measured over tables sparse and crowded (tools/weigh.py); they are counts, so the
same scene weighs the same everywhere. What costs is, in each set-up: every thing, every corner of an outline, every strewn piece, every two
things that are over each other in the frame, and every two that stand in each other on the table.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .camera.view import view_of
from .errors import DocumentError
from .model import Scene, Setup
from .remember import counted
from .solids.body import Body, pose
from .tolerances import NEAR_DEPTH_MM, SAME_NUMBER

#: What one set-up may weigh to be shown, and all set-ups together to be judged, in points.
MOST_SHOWN, MOST_JUDGED = 1500.0, 6000.0
#: Points for working out and judging one of each, and for drawing it.
_THING, _CORNER, _PIECE = 2.5, 0.12, 0.55
_THING_DRAWN, _CORNER_DRAWN, _PIECE_DRAWN = 7.0, 0.03, 0.75
#: Two things over each other in the frame; two in each other on the table, the second figure for what is no upright prism; for each corner
#: of either outline; a strewn piece against another thing; and a thing in one deliverable.
_OVER, _IN_PRISM, _IN, _PAIR_CORNER, _PIECE_PAIR, _IN_WINDOW = 0.4, 1.3, 2.4, 0.014, 0.3, 0.06


@dataclass(frozen=True)
class Weight:
    """setup: the name of the heaviest set-up. shown: its points; judged: the points of all set-ups. things, corners, pieces: in the
    heaviest; over: pairs over each other in its frame; inside: pairs that stand in each other."""

    setup: str
    shown: float
    judged: float
    things: int
    corners: int
    pieces: int
    over: int
    inside: int

    @property
    def share(self) -> float:
        """1 is as much as is worked out at once."""
        return max(self.shown / MOST_SHOWN, self.judged / MOST_JUDGED)


@counted(128)
def weigh(scene: Scene) -> Weight:
    """The scene's weight; cameras must be ones that optics can make."""
    found = [_setup_weight(scene, setup) for setup in scene.setups]
    heaviest = max(found, key=lambda pair: pair[0].shown)[0]
    return Weight(
        heaviest.setup, heaviest.shown, sum(judged for _, judged in found), heaviest.things, heaviest.corners, heaviest.pieces,
        heaviest.over, heaviest.inside,
    )  # fmt: skip


def refuse_too_heavy(scene: Scene) -> None:
    """Raises DocumentError for a scene that weighs more than the budget, saying by how much and of what."""
    weight = weigh(scene)
    if weight.share <= 1:
        return
    over = max(1, round((weight.share - 1) * 100))
    if weight.judged / MOST_JUDGED > weight.shown / MOST_SHOWN:
        what = f"{len(scene.setups)} set-ups of {weight.things} things"
        cure = "take set-ups into a scene of their own"
    else:
        parts = [
            (f"{weight.things:,} things", True),
            (f"{weight.corners:,} corners of outlines", weight.corners > 1000),
            (f"{weight.pieces:,} strewn pieces", weight.pieces > 300),
            (f"{weight.inside:,} times two things in each other", weight.inside > 60),
            (f"{weight.over:,} times two over each other in the frame", weight.over > 600),
        ]
        what = ", ".join(text for text, is_much in parts if is_much)
        cure = "take things away, or use plainer outlines and fewer pieces"
    raise DocumentError("scene", f"must be lighter: it is too heavy by {over:,} % ({what}); {cure}", show_got=False)


def _setup_weight(scene: Scene, setup: Setup) -> tuple[Weight, float]:
    """(the set-up's weight, its points without drawing)."""
    scene = scene.seen_in(setup)
    things = scene.placements_in(setup)
    shapes = [scene.prop(p.prop).shape for p in things]
    corners = np.array([s.corner_count for s in shapes], dtype=float)
    pieces = np.array([s.piece_count for s in shapes], dtype=float)
    n, all_corners, all_pieces = len(things), float(corners.sum()), float(pieces.sum())
    judged = n * (_THING + _IN_WINDOW * len(setup.deliverables)) + all_corners * _CORNER + all_pieces * _PIECE
    drawn = n * _THING_DRAWN + all_corners * _CORNER_DRAWN + all_pieces * _PIECE_DRAWN
    over = inside = 0
    if judged + drawn <= MOST_SHOWN and n > 1:  # what is too heavy already need not be counted in pairs
        bodies = [pose(p, s) for p, s in zip(things, shapes, strict=True)]
        over, over_points = _over_each_other(bodies, setup, corners, pieces)
        inside, inside_points = _in_each_other(bodies, corners)
        judged += over_points + inside_points
    return Weight(setup.name, judged + drawn, 0.0, n, int(all_corners), int(all_pieces), over, inside), judged


def _corners_of_boxes(bodies: list[Body]) -> np.ndarray:
    """(n, 8, 3) the corners of the upright box round each body."""
    low, high = np.empty((len(bodies), 3)), np.empty((len(bodies), 3))
    for k, body in enumerate(bodies):
        points = np.concatenate(body.parts) if body.parts else body.spheres[:, :3]
        reach = body.spheres[:, 3:].max() if len(body.spheres) else 0.0
        low[k], high[k] = points.min(axis=0) - reach, points.max(axis=0) + reach
    pick = np.array([[(k >> axis) & 1 for axis in range(3)] for k in range(8)], dtype=bool)
    return np.where(pick[None], high[:, None], low[:, None])


def _pairs(low: np.ndarray, high: np.ndarray) -> list[np.ndarray]:
    """Pairs (i, j), i < j, of boxes (n, axes) that overlap."""
    apart = np.maximum(low[:, None] - high[None], low[None] - high[:, None]).max(axis=2)
    return list(np.nonzero(np.triu(apart < 0, k=1)))


def _over_each_other(bodies: list[Body], setup: Setup, corners: np.ndarray, pieces: np.ndarray) -> tuple[int, float]:
    """(pairs whose boxes overlap in the frame, their points)."""
    seen = view_of(setup.camera).project(_corners_of_boxes(bodies))
    shown = np.asarray((seen[..., 2] > NEAR_DEPTH_MM).all(axis=1))
    if shown.sum() < 2:
        return 0, 0.0
    flat = seen[shown][..., :2]
    low, high, corners, pieces = flat.min(axis=1), flat.max(axis=1), corners[shown], pieces[shown]
    i, j = _pairs(low, high)
    shared = np.minimum(high[i], high[j]) - np.maximum(low[i], low[j])
    area, common = (high - low).prod(axis=1), shared.prod(axis=1)
    # Of what is strewn, the pieces within the common part; between two strewn things, those pairs of them that are likely to meet.
    part_i, part_j = np.minimum(1, common / area[i]), np.minimum(1, common / area[j])
    units_i, units_j = np.maximum(1, pieces[i] * part_i), np.maximum(1, pieces[j] * part_j)
    meeting = np.where(
        (pieces[i] > 0) & (pieces[j] > 0), np.maximum(1, units_i * units_j * _likely(bodies, shown, i, j, common, area)), units_i * units_j
    )
    strewn = (pieces[i] > 0) | (pieces[j] > 0)
    points = np.where(strewn, meeting * _PIECE_PAIR, _OVER + (corners[i] + corners[j]) * _PAIR_CORNER)
    return len(i), float(points.sum())


def _likely(bodies: list[Body], shown: np.ndarray, i: np.ndarray, j: np.ndarray, common: np.ndarray, area: np.ndarray) -> np.ndarray:
    """Chance that a piece of one strewn thing meets a piece of another in the part of the frame they share."""
    seen = [body for body, is_shown in zip(bodies, shown, strict=True) if is_shown]
    own = np.array([b.shape.piece_share for b in seen]) * area  # the box of one piece in the frame, about
    return np.minimum(1, (own[i] ** 0.5 + own[j] ** 0.5) ** 2 / np.maximum(common, SAME_NUMBER))


def _in_each_other(bodies: list[Body], corners: np.ndarray) -> tuple[int, float]:
    """(pairs whose boxes overlap on the table at some height they share, their points)."""
    solid = [k for k, body in enumerate(bodies) if not body.is_soft]
    if len(solid) < 2:
        return 0, 0.0
    boxes = _corners_of_boxes([bodies[k] for k in solid])
    i, j = _pairs(boxes.min(axis=1), boxes.max(axis=1))
    prism = np.array([bodies[k].is_upright_prism for k in solid])
    corners = corners[solid]
    points = np.where(prism[i] & prism[j], _IN_PRISM, _IN) + (corners[i] + corners[j]) * _PAIR_CORNER
    return len(i), float(points.sum())
