"""Acts on several things at once, each one step: moved, turned about their middle, put in order as the lens sees them or on the table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..camera.view import view_of
from ..errors import FieldError
from ..model import Scene, Setup, shares_all
from ..solids.body import Body, pose
from ..table import together
from ..table.carrying import wrapped
from .act import Done, TableAct
from .arguments import FLAG, ID, IDS, PLACE, arg, maybe, numbered, one_of
from .putting_in import Duplicate
from .things import Lock, Move, Remove, Turn

#: Where things are to be and how turned: what is not named stays.
Goals = tuple[dict[str, together.Place], dict[str, float]]


@dataclass(frozen=True, kw_only=True)
class SeveralAct(TableAct):
    """An act on some placements; what one of them carries goes along with it, and is not moved for itself."""

    placements: tuple[str, ...] = arg(IDS)

    def leads(self, scene: Scene) -> tuple[str, ...]:
        """The things, each once, without those that another of them carries. Raises FieldError."""
        known = {p.id for p in scene.placements}
        for k, i in enumerate(self.placements):
            if i not in known:
                raise FieldError(f"placements[{k}]", "must be one of the scene's placements", i)
        if not self.placements:
            raise FieldError("placements", "must name a thing", show_got=False)
        seen = scene if self.setup is None else scene.seen_in(scene.setup(self.setup))
        carried = {j for i in self.placements for j in seen.carried_by(i)}
        return tuple(i for i in dict.fromkeys(self.placements) if i not in carried)

    def looked_at(self, scene: Scene) -> Setup:
        return scene.setups[0] if self.setup is None else scene.setup(self.setup)

    def bodies(self, scene: Scene, ids: Sequence[str]) -> list[Body]:
        """As they stand in the set-up that is looked at."""
        seen = scene.seen_in(self.looked_at(scene))
        return [pose(seen.placement(i), seen.prop(seen.placement(i).prop).shape) for i in ids]

    def each(self, scene: Scene, ids: Sequence[str], one: Callable[[Scene, str], Scene]) -> Done:
        for i in ids:
            scene = one(scene, i)
        return self.told_of(scene, ids)

    def told_of(self, scene: Scene, ids: Sequence[str]) -> Done:
        named = [scene.prop(p.prop).name for p in scene.placements if p.id in ids] if len(ids) == 1 else []
        name = named[0] if named else ""
        only = (("only", self.setup),) if self.only else ()
        return Done(scene, self.act, (("count", len(ids)), ("name", name), *only))

    def _where(self, scene: Scene, placement_id: str, *keys: str) -> dict[str, object]:
        """In the set-up alone where that is meant, or where the thing has one of these keys of its own there."""
        if self.setup is None or (shares_all(self.looked_at(scene)) and not self.only):
            return {"setup": self.setup}
        own = self.looked_at(scene).differing(placement_id)
        return {"setup": self.setup, "only": self.only or any(key in own for key in keys)}

    def put(self, scene: Scene, ids: Sequence[str], goals: Goals) -> Done:
        """Each of them there and turned so; together they are one group's own affair, so none drags its group along."""
        where, turns = goals

        def one(now: Scene, i: str) -> Scene:
            p = now.seen_in(self.looked_at(now)).placement(i)
            if i in where:
                x, y = (round(v, 1) for v in where[i])
                if (x, y) != (p.x, p.y):
                    now = Move(placement=i, x=x, y=y, alone=True, **self._where(now, i, "x", "y")).done(now).scene  # type: ignore[arg-type]
            if i in turns:
                turn = round(wrapped(turns[i]), 1)
                if turn != p.turn:
                    now = Turn(placement=i, turn=turn, **self._where(now, i, "turn")).done(now).scene  # type: ignore[arg-type]
            return now

        return self.each(scene, ids, one)


@dataclass(frozen=True, kw_only=True)
class Shift(SeveralAct):
    """All of them moved alike on the table, mm."""

    act = "shift"
    dx: float = arg(PLACE)
    dy: float = arg(PLACE)

    def done(self, scene: Scene) -> Done:
        ids = self.leads(scene)
        return self.put(scene, ids, ({b.id: (b.placement.x + self.dx, b.placement.y + self.dy) for b in self.bodies(scene, ids)}, {}))


@dataclass(frozen=True, kw_only=True)
class Spin(SeveralAct):
    """All of them turned about their middle, degrees counter-clockwise, each with the rest."""

    act = "spin"
    by: float = arg(numbered(-3600, 3600))

    def done(self, scene: Scene) -> Done:
        ids = self.leads(scene)
        bodies = self.bodies(scene, ids)
        x0, y0 = together.middle_of(bodies)
        c, s = np.cos(np.radians(self.by)), np.sin(np.radians(self.by))
        places = {}
        for b in bodies:
            dx, dy = b.placement.x - x0, b.placement.y - y0
            places[b.id] = (float(x0 + c * dx - s * dy), float(y0 + s * dx + c * dy))
        return self.put(scene, ids, (places, {b.id: b.placement.turn + self.by for b in bodies}))


@dataclass(frozen=True, kw_only=True)
class OrderingAct(SeveralAct):
    """An act that puts things in order ``through`` the frame, as the lens of the set-up sees them, or on the table."""

    through: str = arg(one_of(together.THROUGH), "frame")

    def plane(self, scene: Scene) -> together.Plane:
        return together.Plane(view_of(self.looked_at(scene).camera) if self.through == "frame" else None)


@dataclass(frozen=True, kw_only=True)
class LineUp(OrderingAct):
    """On the one straight line that lies nearest to them; level or upright where they nearly are."""

    act = "line_up"

    def done(self, scene: Scene) -> Done:
        ids = self.leads(scene)
        return self.put(scene, ids, (together.on_one_line(self.plane(scene), self.bodies(scene, ids)), {}))


@dataclass(frozen=True, kw_only=True)
class ShareOut(OrderingAct):
    """The gaps between them, or the steps from middle to middle, made alike; the first and the last of the row stay."""

    act = "share_out"
    what: str = arg(one_of(("gaps", "middles")), "gaps")

    def done(self, scene: Scene) -> Done:
        ids = self.leads(scene)
        goals = together.shared_out(self.plane(scene), self.bodies(scene, ids), middles=self.what == "middles")
        return self.put(scene, ids, (goals, {}))


@dataclass(frozen=True, kw_only=True)
class SquareUp(OrderingAct):
    """Each turned to the nearest way in which its sides run level and upright."""

    act = "square_up"

    def done(self, scene: Scene) -> Done:
        ids, plane = self.leads(scene), self.plane(scene)
        return self.put(scene, ids, ({}, {b.id: together.squared(plane, b) for b in self.bodies(scene, ids)}))


@dataclass(frozen=True, kw_only=True)
class Mirror(OrderingAct):
    """Left for right about their middle."""

    act = "mirror"

    def done(self, scene: Scene) -> Done:
        ids = self.leads(scene)
        return self.put(scene, ids, together.mirrored(self.plane(scene), self.bodies(scene, ids)))


@dataclass(frozen=True, kw_only=True)
class FaceLens(SeveralAct):
    """Each turned until its front looks at the lens."""

    act = "face_lens"

    def done(self, scene: Scene) -> Done:
        ids, view = self.leads(scene), view_of(self.looked_at(scene).camera)
        return self.put(scene, ids, ({}, {b.id: together.facing(view, b) for b in self.bodies(scene, ids)}))


@dataclass(frozen=True, kw_only=True)
class TurnToward(SeveralAct):
    """Each turned until it points at another thing, or, where that is null, at where the camera aims."""

    act = "turn_toward"
    at: str | None = arg(maybe(ID), None)

    def done(self, scene: Scene) -> Done:
        ids, setup = self.leads(scene), self.looked_at(scene)
        if self.at is None:
            x, y, _ = setup.camera.aim
        else:
            seen = scene.seen_in(setup)
            if self.at not in {p.id for p in seen.placements} or self.at in ids:
                raise FieldError("at", "must be another of the scene's placements", self.at)
            x, y = seen.placement(self.at).x, seen.placement(self.at).y
        return self.put(scene, ids, ({}, {b.id: together.toward(b, x, y) for b in self.bodies(scene, ids)}))


@dataclass(frozen=True, kw_only=True)
class LockAll(SeveralAct):
    """All of them locked where they are, in every set-up, or free again."""

    act = "lock_all"
    locked: bool = arg(FLAG, True)

    def done(self, scene: Scene) -> Done:
        done = self.each(scene, self.leads(scene), lambda now, i: Lock(placement=i, locked=self.locked, only=self.only).done(now).scene)
        return replace(done, figures=(*done.figures, ("locked", self.locked)))


@dataclass(frozen=True, kw_only=True)
class RemoveAll(SeveralAct):
    """All of them off the table, with what they carry coming down."""

    act = "remove_all"

    def done(self, scene: Scene) -> Done:
        every = tuple(dict.fromkeys(self.placements))
        self.leads(scene)
        return self.each(scene, every, lambda now, i: Remove(placement=i, only=self.only).done(now).scene)


@dataclass(frozen=True, kw_only=True)
class DuplicateAll(SeveralAct):
    """A second of each, all as they stand to each other, beside them."""

    act = "duplicate_all"

    def done(self, scene: Scene) -> Done:
        ids = self.leads(scene)
        bounds = np.array([b.footprint_bounds for b in self.bodies(scene, ids)])
        left, right = bounds[:, 0].min(), bounds[:, 2].max()
        step = round(float(right - left) + 15.0, 1)
        dx = step if right + step <= scene.surface.width or left - step < 0 else -step

        def one(now: Scene, i: str) -> Scene:
            done = Duplicate(placement=i, only=self.only).done(now)
            assert done.held is not None
            now, first, twin = done.scene, now.placement(i), done.scene.placement(done.held)
            by = round(first.x + dx - twin.x, 1)
            return Shift(placements=(twin.id,), dx=by, dy=0.0).done(now).scene if by else now

        return self.each(scene, ids, one)
