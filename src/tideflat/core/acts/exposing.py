"""How a set-up is exposed, what holds its camera, and what moves meanwhile."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import FieldError
from ..formats.camera_reader import support_of
from ..formats.scene_writer import exposure_value, motion_value, support_value
from ..formats.setup_reader import exposure_of, motion_of
from ..model import LEFT_OUT, Exposure, Motion, Scene, Support
from .act import Act, Done
from .arguments import ID, arg, maybe, valued
from .set_ups import SetupAct

EXPOSURE = valued(exposure_of, exposure_value, {"$ref": "#/$defs/exposure"})
SUPPORT = valued(support_of, support_value, {"$ref": "#/$defs/support"})
MOTION = valued(motion_of, motion_value, {"$ref": "#/$defs/motion"})


@dataclass(frozen=True, kw_only=True)
class SetExposure(SetupAct):
    """The set-up is exposed so; null: not decided."""

    act = "exposure"
    exposure: Exposure | None = arg(maybe(EXPOSURE))

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        made = replace(setup, exposure=LEFT_OUT if self.exposure is None else self.exposure)
        figures = (
            () if self.exposure is None else (("time_s", self.exposure.time_s), ("iso", self.exposure.iso), ("flash", self.exposure.flash))
        )
        return Done(scene.with_setup(setup.name, made), self.act, (("decided", self.exposure is not None), *figures))


@dataclass(frozen=True, kw_only=True)
class SetSupport(SetupAct):
    """The set-up's camera is held by that; null: not decided."""

    act = "support"
    support: Support | None = arg(maybe(SUPPORT))

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        if setup.support == self.support:
            raise FieldError("support", "must be another than it has", show_got=False)
        name = None if self.support is None else self.support.name
        return Done(scene.with_setup(setup.name, replace(setup, support=self.support)), self.act, (("name", name),))


@dataclass(frozen=True, kw_only=True)
class SetMotion(Act):
    """The thing moves so while the picture is taken; null: it stands still."""

    act = "motion"
    placement: str = arg(ID)
    motion: Motion | None = arg(maybe(MOTION))

    def done(self, scene: Scene) -> Done:
        placement = scene.placement(self.placement)
        if placement.motion == self.motion:
            raise FieldError("motion", "must be another than it has", show_got=False)
        speed = None if self.motion is None else self.motion.speed
        after = scene.with_placement(replace(placement, motion=self.motion))
        return Done(after, self.act, (("name", scene.prop(placement.prop).name), ("speed", speed)), placement.id)
