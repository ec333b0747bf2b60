"""How near a settled proof is to one of 1,024 samples: rms of CIE L* over the picture, `make settled`. A quarter of an hour a scene.

    python -m tools.proof_settled SCENE.tideflat.json [WIDTH]
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

import numpy as np

from tideflat.core.colour.spaces import lab_from_rgb
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.lit import lit_picture
from tideflat.core.render.developing import shown_of
from tideflat.core.render.proof import USUAL_SAMPLES, exposure_of, passes, proof_of, size_of
from tideflat.core.render.staging import stage_of

MANY, WIDTH = 1024, 480


def main() -> None:
    scene = read_scene(Path(sys.argv[1]).read_bytes())
    picture = lit_picture(Picture(scene, scene.setups[0]))
    width = int(sys.argv[2]) if len(sys.argv) > 2 else WIDTH
    began = time.time()
    settled = shown_of(proof_of(picture, width).light["all"])
    took = time.time() - began
    stage = stage_of(picture)
    wide, high = size_of(picture, width)
    total = np.zeros((high, wide, 3))
    for radiance, count in passes(stage, stage.groups, wide, high, MANY):
        total += radiance * count
    true = shown_of(total / MANY * exposure_of(picture))
    off = lab_from_rgb(settled)[..., 0] - lab_from_rgb(true)[..., 0]
    rms, most = float(np.sqrt((off**2).mean())), float(np.percentile(np.abs(off), 99))
    print(f"{scene.title}, {wide} x {high}: {USUAL_SAMPLES} samples denoised in {took:.1f} s against {MANY}: {rms:.2f} L* rms, 99 % within {most:.1f}")


if __name__ == "__main__":
    main()
