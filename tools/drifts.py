"""Whether every thing of the demo scenes may drift just as far as is told: `make drifts`. Prints; asserts nothing.

In each of eight directions: at what is told nothing new is found above the line; a hair further, something is.
"""

from __future__ import annotations

import os

import numpy as np

#: Told a hundredth short, and found to the last halving of a step: past this, mm for each mm of a step, it has ended.
_HAIR = 1 / 64


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.test")
    from tideflat.core.arrange.building import build_order
    from tideflat.core.arrange.drift import STEP, WAYS, drift, found_anew
    from tideflat.core.evaluate import Picture
    from tideflat.web.scenes.starters import starter

    for kind in ("marmalade", "supper", "tea", "fig"):
        scene = starter(kind)
        for setup in scene.setups:
            picture = Picture(scene, setup)
            hair = STEP * picture.size_at_aim[0] * _HAIR + 0.02
            counts = [0, 0, 0, 0]  # directions, those that end, early, late
            for step in build_order(picture):
                found = drift(picture, step.id)
                for way, reach in zip(WAYS, found.ways, strict=True):
                    c, s = np.cos(np.radians(way)), np.sin(np.radians(way))
                    counts[0] += 1
                    counts[2] += found_anew(picture, step.id, reach.far * c, reach.far * s) is not None
                    if reach.ends_with is not None:
                        counts[1] += 1
                        past = reach.far + hair
                        counts[3] += found_anew(picture, step.id, past * c, past * s) is None
            print(f"{kind}, {setup.name}: {counts[0]} directions, {counts[1]} end; {counts[2]} do not hold as far as told, {counts[3]} hold further")


if __name__ == "__main__":
    main()
