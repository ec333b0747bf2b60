"""What the demo's scenes show of the frame's tools: a loop in which one tin is another, and how a picture is exposed."""

from __future__ import annotations

from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import Scene
from tideflat.web.stores.starter import starter_prop


def framed(kind: str, scene: Scene) -> Scene:
    """The starter scene of that kind, with them."""
    first = scene.setups[0].name
    acts = {
        "tea": (
            {"act": "exposure", "setup": first, "exposure": {"iso": 100, "time_s": 0.125}},
            {"act": "add_setup", "setup": first, "name": "loop, square tin"},
            {"act": "swap", "setup": "loop, square tin", "only": True, "placement": "tall", "prop": prop_value(starter_prop("tea-tin-square"))},
        ),
        "marmalade": ({"act": "exposure", "setup": first, "exposure": {"iso": 200, "time_s": 1 / 30}},),
    }.get(kind, ())
    return tried(scene, tuple(act_from_value(act) for act in acts))
