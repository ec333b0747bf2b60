"""What the demo's scenes show of the frame's tools: a loop in which one tin is another, how a picture is exposed, what holds it."""

from __future__ import annotations

from typing import Any

from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.formats.kit_reader import starter_kit
from tideflat.core.formats.scene_writer import prop_value, support_value
from tideflat.core.model import Scene
from tideflat.web.stores.starter import starter_prop


def _support(name: str) -> dict[str, Any]:
    return support_value(next(s for s in starter_kit().supports if s.name == name))


def framed(kind: str, scene: Scene) -> Scene:
    """The starter scene of that kind, with them."""
    first = scene.setups[0].name
    acts = {
        "tea": (
            {"act": "exposure", "setup": first, "exposure": {"iso": 100, "time_s": 0.125}},
            {"act": "add_setup", "setup": first, "name": "loop, square tin"},
            {"act": "swap", "setup": "loop, square tin", "only": True, "placement": "tall", "prop": prop_value(starter_prop("tea-tin-square"))},
        ),
        "marmalade": (
            {"act": "exposure", "setup": first, "exposure": {"iso": 200, "time_s": 1 / 30}},
            {"act": "support", "setup": first, "support": _support("rolling column")},
        ),
        "supper": ({"act": "support", "setup": first, "support": _support("studio tripod")},),
    }.get(kind, ())
    return tried(scene, tuple(act_from_value(act) for act in acts))
