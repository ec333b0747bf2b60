"""One energy for many arrangements at once: what is wrong counts apart from what is weak.

Every term is a definition in the frame (heights of the frame, x to the right, y down) or on the table (mm); all weights are practice, set
on the demo scenes, no source. An arrangement of chain b is (x, y, turn) of each unit; its outlines are known by their reach in WAYS
directions, so that a gap is never told larger than it is.
"""

from __future__ import annotations

import numpy as np

from ..camera.crops import FULL_FRAME
from ..composition.schemes import Curve
from ..facts.practice import HERO_CLEAR, LIGHT_ONE_SIDED, LINES_PARALLEL
from ..facts.practice import ISLAND as ISLAND_FACT
from .elsewhere import Sight
from .looks import DOWN, LEAST_AREA, LEFT, OPPOSITE, RIGHT, UP, Looks, between, gaps, in_words, inside, over
from .problem import ANGLES, DIRECTIONS, WAYS, Problem, Unit

#: Cells of the raster that distances from a scheme are looked up in, over the frame and so much round it.
_CELLS, _ROUND = (72, 54), 0.1
#: Clear air round the hero and gaps that read as a kiss, in heights of the frame; islands are further than this from all others.
CLEAR, KISS, ISLAND = HERO_CLEAR.value / 100, 0.008, ISLAND_FACT.value / 100
#: Two echoes of an accent nearer than this are one spot; lightness that differs more from side to side; cosine of lines that run alike.
ECHO, _LIGHT, _ALIKE = 0.3, LIGHT_ONE_SIDED.value * 0.8, float(np.cos(np.radians(LINES_PARALLEL.value)))
#: Of a thing, and of one with others on it that have to be seen too, so much is in the frame at the least.
_ALONE, _LADEN = 0.15, 0.5
#: What may stay out of the frame costs so much for each 100 mm that it is moved.
_STAYS = 0.8
#: What a fault weighs, and by how much it grows with its size.
FAULT = 6.0


def _seen(sight: Sight, points: np.ndarray, x: np.ndarray, y: np.ndarray, turn: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(reach in the frame (n, WAYS), depth (n,)) of a cloud of points at n places."""
    t = np.radians(turn)[:, None]
    c, s = np.cos(t), np.sin(t)
    px, py, pz = points.T
    m, aspect = sight
    at_x, at_y = x[:, None] + c * px - s * py, y[:, None] + s * px + c * py
    across, down, deep = (row[0] * at_x + row[1] * at_y + (row[2] * pz + row[3]) for row in m)
    depth = np.maximum(deep, 1.0)
    flat = np.stack([across / depth * aspect, down / depth], axis=-1)
    return (flat.reshape(-1, 2) @ DIRECTIONS.T).reshape(*flat.shape[:2], WAYS).max(axis=1), depth.mean(axis=1)


class Judge:
    """What it costs, for the units of one problem and the curves of its chains."""

    def __init__(self, problem: Problem, chains: tuple[Curve, ...]) -> None:
        self.problem, self.chains = problem, chains
        view = problem.view
        self.aspect = view.aspect
        self._sight: Sight = view.matrix, view.aspect
        units = problem.units
        self.solid = np.array([u.reach is not None for u in units])
        self.large = np.array([u.is_hero or u.role in ("support", "accent") for u in units])
        self.shaping = np.array([u.is_shaping for u in units])
        self.hero = np.array([u.is_hero for u in units])
        self.strewn = np.array([u.is_strewn for u in units])
        self.top = np.array([u.top for u in units])
        share = np.sqrt(np.array([u.area for u in units]))
        self.size = share / max(share.max(), 1.0)
        seen = ~np.array([u.is_outside for u in units], dtype=bool)
        self.weight = self.size * np.where(np.array([u.is_laid or u.is_strewn for u in units]), 0.35, 1.0) * seen
        self._share = self.weight / max(self.weight.sum(), LEAST_AREA)
        self.targets = np.array([c.hero for c in chains]).reshape(-1, 2) * [self.aspect, 1.0]
        self._raster, self._along = self._rasters()
        self.flat = min(max(2 * problem.slant, 0.15), 1.0)  # at eye level a height in the frame is no place on the table
        self._line, self._round = np.flatnonzero((self.shaping | self.hero) & seen), np.flatnonzero(self.shaping & ~self.hero & seen)
        self.balance_at = self._balance()
        shade = share**2 * seen * ~np.array([u.is_laid for u in units], dtype=bool)
        self._shade, self._toned = shade, shade * np.array([u.tone for u in units])
        self._long = np.array([u.role == "linear" for u in units])
        boxes = np.array(problem.windows) * [self.aspect, 1.0, self.aspect, 1.0]
        self._windows = boxes[:, :2].T, boxes[:, 2:].T

    # ---- looks

    def looks(self, u: int, x: np.ndarray, y: np.ndarray, turn: np.ndarray) -> Looks:
        """How unit ``u`` looks at n places, turned by degrees from how it stands now."""
        unit = self.problem.units[u]
        place = x, y, turn
        frame, depth = _seen(self._sight, unit.points, *place)
        core = frame if unit.core is unit.points else _seen(self._sight, unit.core, *place)[0]
        middle = np.column_stack([(core[:, RIGHT] - core[:, LEFT]) / 2, (core[:, DOWN] - core[:, UP]) / 2])
        table = self._reach(unit, *place)
        weak, wrong = self._out_of_frame(unit, frame, core)
        wrong = wrong + self._off_table(table) + self._elsewhere(unit, *place)
        if not unit.is_laid:
            solid = core if unit.solid is unit.core else frame if unit.solid is unit.points else _seen(self._sight, unit.solid, *place)[0]
            wrong += in_words(solid, self.problem.copies, self.aspect)
        if unit.is_outside:
            weak = _STAYS * np.hypot(x - unit.x, y - unit.y) / 100.0
        else:
            weak = weak + self._edges(unit, frame)
            weak += self._off_scheme(u, middle) if self.chains else 0.0
        return Looks(table, frame, middle, depth, weak, wrong)

    def core_at(self, u: int, x: float, y: float) -> np.ndarray:
        """(WAYS,) reach in the frame of what counts of unit ``u``, stood at one place as it is turned now."""
        return np.asarray(_seen(self._sight, self.problem.units[u].core, np.array([x]), np.array([y]), np.zeros(1))[0][0])

    def _elsewhere(self, unit: Unit, x: np.ndarray, y: np.ndarray, turn: np.ndarray) -> np.ndarray:
        """A hero that another set-up would cut, and words of it that would be stood on."""
        wrong = np.zeros(len(x))
        for e in self.problem.beside:
            if unit.lead in e.shown:
                if unit.is_hero:
                    core = _seen(e.sight, unit.core, x, y, turn)[0]
                    wrong += sum(over(core, w, e.sight[1], 0.012) for w in e.windows)
                if e.copies and not unit.is_laid:
                    wrong += in_words(_seen(e.sight, unit.solid, x, y, turn)[0], e.copies, e.sight[1])
        return wrong

    def _reach(self, unit: Unit, x: np.ndarray, y: np.ndarray, turn: np.ndarray) -> np.ndarray:
        there = np.column_stack([x, y]) @ DIRECTIONS.T
        if unit.reach is None:
            radius = np.hypot(unit.points[:, 0], unit.points[:, 1]).max()
            return there + radius
        at = (np.degrees(ANGLES).round().astype(int)[None] - np.rint(turn).astype(int)[:, None]) % 360
        return there + unit.reach[at]

    # ---- what one unit costs

    def cost(self, u: int, own: Looks, table: np.ndarray, frame: np.ndarray, depth: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """(weak, wrong) of unit ``u``, (n,) each, beside all others: ``table`` (n, units, WAYS) and so on as they stand."""
        unit = self.problem.units[u]
        others = np.arange(len(self.problem.units)) != u
        gap_table, gap_frame = gaps(own.table, table), gaps(own.frame, frame)
        weak, wrong = own.weak.copy(), own.wrong.copy()
        if unit.reach is not None:
            need = np.where(self.large & self.large[u], self.problem.gap_mm, 1.0)
            short = np.maximum(0.0, need - gap_table) * (others & self.solid)
            wrong += ((short > 0) * 0.4 + short / 25.0).sum(axis=1)
            weak += 0.4 * (np.maximum(0.0, 15.0 - gap_table) / 15.0 * (others & self.strewn)).sum(axis=1)
        elif unit.is_strewn:
            weak += 0.6 * (np.maximum(0.0, 12.0 - gap_table) / 40.0 * (others & self.solid)).sum(axis=1)
        else:  # a cloth lies under something
            nearest = np.where(others & self.solid, gap_table, np.inf).min(axis=1)
            weak += 0.8 * between((nearest + 40.0) / 100.0, 0.0, 2.0)
        weak += self._beside(u, own, gap_frame, depth, frame, wrong, others)
        if unit.role == "linear" and self.hero.any():
            weak += self._pointing(u, own, frame)
        return weak, wrong

    def _beside(
        self, u: int, own: Looks, gap: np.ndarray, depth: np.ndarray, frame: np.ndarray, wrong: np.ndarray, others: np.ndarray
    ) -> np.ndarray:
        """Kisses, overlaps in the picture, clear air about the hero, islands, tall before low. What hides the hero is wrong."""
        shaping = others & self.shaping
        if not self.shaping[u]:
            near = np.where(others & self.solid, gap, np.inf).min(axis=1)
            return 0.4 * between((near - ISLAND) / ISLAND, 0.0, 2.0)
        kiss = np.maximum(0.0, KISS - np.abs(gap - KISS / 3)) / KISS * shaping
        lap = np.maximum(0.0, -gap) * shaping
        allowed = 0.0 if self.problem.slant > 0.9 else 0.03 * (1 + max(0.0, self.problem.leanings["spacing"]))
        weak = 0.9 * kiss.sum(axis=1) + 1.2 * np.minimum(1.0, np.maximum(0.0, lap - allowed) / 0.08).sum(axis=1)
        in_front = own.depth[:, None] < depth
        hides = lap * (self.hero & others) * in_front if not self.hero[u] else lap * ~in_front
        wrong += (np.maximum(0.0, hides - 0.004) / 0.03).sum(axis=1)
        clear = (np.maximum(0.0, CLEAR - gap) / CLEAR) * ((self.hero & others) if not self.hero[u] else shaping)
        weak += 0.5 * np.minimum(2.0, clear).sum(axis=1)
        near = np.where(shaping, gap, np.inf).min(axis=1)
        weak += 0.6 * np.where(np.isfinite(near), between((near - ISLAND) / ISLAND, 0.0, 2.0), 0.0)
        if self.problem.slant < 0.9:
            meets = (own.frame[:, None, RIGHT] > -frame[:, :, LEFT]) & (frame[:, :, RIGHT] > -own.frame[:, None, LEFT])
            taller = self.top[u] > 1.15 * self.top
            lower_front = meets & shaping & np.where(in_front, taller, (self.top > 1.15 * self.top[u]))
            weak += 0.7 * lower_front.sum(axis=1)
        return weak

    def _pointing(self, u: int, own: Looks, frame: np.ndarray) -> np.ndarray:
        """What is long points at the hero, to half of a step of the directions; square to the frame where order leans to squared."""
        way = DIRECTIONS[(own.frame + own.frame[:, OPPOSITE]).argmax(axis=1)]
        if self.problem.leanings["order"] < -0.3:
            return 2.0 * (1 - np.abs(way).max(axis=1))
        weak = np.zeros(len(way))
        if self.problem.leanings["order"] > 0 and self._long.sum() > 1:  # a loose picture has no lines that run alike
            others = frame[:, self._long & (np.arange(len(self._long)) != u)]
            ways = DIRECTIONS[(others + others[..., OPPOSITE]).argmax(axis=2)]
            weak = 0.5 * (np.abs((ways * way[:, None]).sum(axis=2)) > _ALIKE).sum(axis=1)
        hero = frame[:, int(np.flatnonzero(self.hero)[0])]
        toward = np.column_stack([hero[:, RIGHT] - hero[:, LEFT], hero[:, DOWN] - hero[:, UP]]) / 2 - own.middle
        return weak + 0.6 * (1 - np.abs((way * toward).sum(axis=1)) / np.maximum(np.hypot(toward[:, 0], toward[:, 1]), LEAST_AREA))

    def _off_table(self, table: np.ndarray) -> np.ndarray:
        x0, y0, x1, y1 = self.problem.table
        past = [table[:, RIGHT] - x1, x0 + table[:, LEFT], table[:, DOWN] - y1, y0 + table[:, UP]]
        return sum(np.maximum(0.0, o) for o in past) / 40.0  # type: ignore[return-value]

    def _out_of_frame(self, unit: Unit, frame: np.ndarray, core: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """(weak: how far of others; wrong: how far of what must be whole): a hero in every crop, the others in the frame."""
        none = np.zeros(len(frame))
        if unit.is_outside:
            return none, none
        if unit.is_hero:
            wrong = sum((over(core, w, self.aspect, 0.012) for w in self.problem.windows), none)
            return (none if core is frame else 0.1 * over(frame, FULL_FRAME, self.aspect, 0.0)), wrong
        seen = inside(frame, (0.0, 0.0, self.aspect, 1.0))
        loose = 0.8 if self.problem.leanings["edges"] > 0.3 or unit.is_laid else 2.6
        return loose * (1 - seen), np.maximum(0.0, (_ALONE if len(unit.ids) == 1 else _LADEN) - seen) * 20

    def _edges(self, unit: Unit, frame: np.ndarray) -> np.ndarray:
        """Edges of crops that only just touch, or show a sliver."""
        if not unit.is_shaping:
            return np.zeros(len(frame))
        low, high = -frame[:, (LEFT, UP), None], frame[:, (RIGHT, DOWN), None]  # (n, 2, 1) across, down
        first, last = self._windows  # (2, windows) each
        beside = (low < last) & (high > first)  # (n, 2, windows): level with a window, for the edges that run across it
        near = np.minimum(np.abs(low - first), np.abs(high - first)), np.minimum(np.abs(low - last), np.abs(high - last))
        reach = KISS * (last - first).max(axis=0)
        kiss = np.maximum(0.0, reach - near[0]) + np.maximum(0.0, reach - near[1])
        found = 0.5 * (kiss / reach * beside[:, ::-1]).sum(axis=(1, 2))
        inside = (np.maximum(0.0, np.minimum(high, last) - np.maximum(low, first)) / np.maximum(high - low, LEAST_AREA)).prod(axis=1)
        return found + (0.9 * ((inside > 0.002) & (inside < 0.22)) + 0.35 * ((inside > 0.22) & (inside < 0.985))).sum(axis=1)

    # ---- the scheme

    def _rasters(self) -> tuple[np.ndarray, np.ndarray]:
        """(chains, rows, columns) distance from the scheme, and how far along it, 0..1."""
        from scipy.spatial import cKDTree  # takes a while to load, and is needed where something is proposed

        columns, rows = _CELLS
        u = np.linspace(-_ROUND, 1 + _ROUND, columns)
        v = np.linspace(-_ROUND, 1 + _ROUND, rows)
        cells = np.stack(np.meshgrid(u, v), axis=-1).reshape(-1, 2) * [self.aspect, 1.0]
        by_curve = {}
        for curve in {id(c): c for c in self.chains}.values():
            far, nearest = cKDTree(curve.points * [self.aspect, 1.0]).query(cells)
            by_curve[id(curve)] = far.reshape(rows, columns), (nearest / max(1, len(curve.points) - 1)).reshape(rows, columns)
        both = [by_curve[id(c)] for c in self.chains]
        return np.array([b[0] for b in both]), np.array([b[1] for b in both])

    def _cell(self, middle: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        columns, rows = _CELLS
        k = np.rint((middle[:, 0] / self.aspect + _ROUND) / (1 + 2 * _ROUND) * (columns - 1)).astype(int)
        m = np.rint((middle[:, 1] + _ROUND) / (1 + 2 * _ROUND) * (rows - 1)).astype(int)
        return between(m, 0, rows - 1), between(k, 0, columns - 1)

    def _chain(self, n: int) -> np.ndarray:
        return np.arange(n) % len(self.chains)

    def _off_scheme(self, u: int, middle: np.ndarray) -> np.ndarray:
        chain = self._chain(len(middle))
        if self.hero[u]:
            away = (middle - self.targets[chain]) * [1.0, self.flat]
            return 1.6 * np.minimum(4.0, np.hypot(away[:, 0], away[:, 1]) / 0.12)
        row, column = self._cell(middle)
        pull = 0.25 if self.problem.units[u].is_laid or self.problem.units[u].is_strewn else 0.9 + 0.7 * self.size[u]
        return pull * self.flat * np.minimum(4.0, self._raster[chain, row, column] / 0.09)

    # ---- what only the whole tells

    def whole(self, middle: np.ndarray) -> np.ndarray:
        """(n,) of middles (n, units, 2): balance of weights, the longest empty stretch of the scheme, sizes falling away from the hero."""
        n = len(middle)
        chain = self._chain(n)
        total = self._share @ middle
        off = np.hypot(*(total - self.balance_at).T)
        cost = 1.4 * np.minimum(2.0, np.maximum(0.0, off - 0.04) / 0.15)
        if len(self._line) > 2:
            m = len(self._line)
            row, column = self._cell(middle[:, self._line].reshape(-1, 2))
            along = np.zeros((n, m + 2))
            along[:, -1] = 1.0
            along[:, 1:-1] = np.sort(self._along[np.repeat(chain, m), row, column].reshape(n, m), axis=1)
            empty = (along[:, 1:] - along[:, :-1]).max(axis=1)
            cost += 1.2 * np.minimum(2.0, np.maximum(0.0, (empty - 2.2 / (m + 1)) * 2.5))
        if self.hero.any() and len(self._line) > 3:
            hero = middle[:, self.hero].mean(axis=1)
            away = middle[:, self._round] - hero[:, None]
            cost += 0.5 * (np.hypot(away[..., 0], away[..., 1]) @ self.size[self._round]) / len(self._round) / 0.3
        for a, b in self.problem.echoes:
            cost += 0.8 * np.maximum(0.0, 1 - np.hypot(*(middle[:, a] - middle[:, b]).T) / ECHO)
        return cost + self._one_sided(middle[..., 0])

    def _one_sided(self, across: np.ndarray) -> np.ndarray:
        """(n,) all that is light at one side, all that is dark at the other; ``across`` (n, units)."""
        left = (across < self.balance_at[0]).astype(float)
        area, toned = left @ self._shade, left @ self._toned
        rest = self._shade.sum() - area
        off = np.abs(toned / np.maximum(area, LEAST_AREA) - (self._toned.sum() - toned) / np.maximum(rest, LEAST_AREA))
        return 0.6 * between((off - _LIGHT) / 20.0, 0.0, 1.0) * ((area > LEAST_AREA) & (rest > LEAST_AREA))

    def _balance(self) -> np.ndarray:
        u0, v0, u1, v1 = self.problem.field
        return np.array([(u0 + u1) / 2 * self.aspect, (v0 + v1) / 2])
