"""Two versions of the demo's marmalade: as it was laid first, and another arrangement that was proposed and tried."""

from __future__ import annotations

from django.contrib.auth.models import User

from .models import Scene, Version
from .services.acting import performed
from .services.history import change_scene, core_scene, go_to
from .services.versions import judge_version, keep_version

#: Of each thing that leads: x, y, mm, and turn, degrees, as `tideflat propose` gave them for an S-curve.
_S_CURVE = {
    "towel": (491.1, 335.9, -9.9), "board": (639.0, 681.2, 14.0), "pan": (535.8, 393.9, 0.0), "knife": (297.8, 363.5, 47.6),
    "sugar": (689.0, 243.6, 0.0), "orange-1": (711.8, 365.9, 0.0), "orange-2": (789.8, 293.9, 50.0), "jar-1": (688.4, 496.4, 0.0),
    "jar-2": (769.2, 456.4, 0.0), "jar-3": (780.6, 546.6, 0.0), "peel": (646.6, 150.3, 1.1),
}  # fmt: skip


def keep_demo_versions(row: Scene, by: User) -> Scene:
    """Both are kept; what was laid first stands again."""
    first, _ = keep_version(row, by, "the pan in the middle, as laid first")
    setup = core_scene(row).setups[0].name
    places = [{"x": x, "y": y, "turn": turn} for x, y, turn in _S_CURVE.values()]
    act = {"act": "arrange", "placements": list(_S_CURVE), "places": places, "scheme": "s-curve", "setup": setup}
    row, _, _, _ = change_scene(row.studio, row.pk, row.revision, by, lambda scene: performed(scene, act, setup))
    keep_version(row, by, "an S-curve: airier, jars near the pan")
    judge_version(row, first.number, verdict=Version.MAYBE)
    row = go_to(row.studio, row.pk, row.revision, first.number)
    row.changes.filter(number=first.number).update(onward=None)  # it was only tried: redo has nothing to offer
    return row
