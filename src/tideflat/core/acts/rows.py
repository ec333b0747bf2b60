"""A row made of one thing: as many as asked for, along a line, an arc, a circle, or strewn."""

from __future__ import annotations

from dataclasses import dataclass

from ..camera.view import view_of
from ..errors import FieldError
from ..model import Scene
from ..solids.body import Body, pose
from ..table import rows
from ..table.together import THROUGH, Plane
from .act import Done
from .arguments import FLAG, ID, REACH, arg, maybe, numbered, one_of, whole
from .putting_in import Duplicate
from .several import Shift
from .things import ThingAct

#: A row has no more than this.
MOST_IN_ROW = 60


@dataclass(frozen=True, kw_only=True)
class Repeat(ThingAct):
    """More of a thing, with what it carries, until there are ``count``. ``step``: mm from middle to middle, of the first two; ``angle``:
    which way a line or an arc sets out, 0 right, 90 up or away; ``radius``: of the arc, mm, below 0 bending right; ``around``: the thing in
    the middle of the circle, null for where the camera aims; ``width``, ``depth``: of the area strewn over; ``turned``: each turned along.
    Even ``through`` the frame, as the lens sees it, or on the table."""

    act = "repeat"
    count: int = arg(whole(2, MOST_IN_ROW))
    form: str = arg(one_of(rows.FORMS), "line")
    step: float = arg(REACH, 80.0)
    angle: float = arg(numbered(-360, 360), 0.0)
    radius: float = arg(numbered(-20_000, 20_000), 300.0)
    around: str | None = arg(maybe(ID), None)
    width: float = arg(REACH, 300.0)
    depth: float = arg(REACH, 200.0)
    turned: bool = arg(FLAG, False)
    through: str = arg(one_of(THROUGH), "frame")
    seed: int = arg(whole(0, 2**31 - 1), 1)

    def done(self, scene: Scene) -> Done:
        setup = scene.setups[0] if self.setup is None else scene.setup(self.setup)
        seen = scene.seen_in(setup)
        _, name = self.called(scene)
        first = seen.placement(self.placement)
        body = pose(first, seen.prop(first.prop).shape)
        spots = self._spots(scene, body)
        twins: list[str] = []
        for _ in spots:
            done = Duplicate(placement=self.placement, setup=self.setup, only=self.only).done(scene)
            assert done.held is not None
            scene = done.scene
            twins.append(done.held)
        turns = {i: first.turn + by for i, (_, _, by) in zip(twins, spots, strict=True)} if self.turned else {}
        places = {i: (x, y) for i, (x, y, _) in zip(twins, spots, strict=True)}
        after = Shift(placements=tuple(twins), setup=self.setup, dx=0.0, dy=0.0).put(scene, twins, (places, turns))
        return self.told(after.scene, name, count=self.count, form=self.form)

    def _spots(self, scene: Scene, body: Body) -> list[rows.Spot]:
        setup = scene.setups[0] if self.setup is None else scene.setup(self.setup)
        plane = Plane(view_of(setup.camera) if self.through == "frame" else None)
        row = rows.Row(self.count, self.step, self.angle)
        if self.form == "line":
            return rows.in_line(plane, body, row)
        if self.form == "arc":
            if abs(self.radius) < self.step / 3:
                raise FieldError("radius", "must be a third of the step or more", self.radius)
            return rows.in_arc(plane, body, row, self.radius)
        if self.form == "strewn":
            return rows.strewn(body, self.count, self.step, self.width, self.depth, self.seed)
        if self.around is None:
            x, y, _ = setup.camera.aim
        else:
            seen = scene.seen_in(setup)
            if self.around not in {p.id for p in seen.placements} or self.around == self.placement:
                raise FieldError("around", "must be another of the scene's placements", self.around)
            x, y = seen.placement(self.around).x, seen.placement(self.around).y
        return rows.in_circle(plane, body, self.count, (x, y))
