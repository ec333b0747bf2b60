"""The renderer compiled for this machine's processor by LLVM, whose library is the machine's own: half the time of a proof, where it works.

A library of the wrong age ends the whole process (seen: 15 and 16), so each is tried in a process of its own before it is trusted.

    DRJIT_LIBLLVM_PATH=LIBRARY python -m tideflat.core.render.compiled     # exit 0: it renders, and the same picture
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from .giving_way import session_gives_way
from .mitsuba_scene import mitsuba

VARIANT = "llvm_ad_rgb"
#: Names the library to the renderer, which reads it once, as it is loaded; where a person has named one, only that is tried.
NAMED_BY = "DRJIT_LIBLLVM_PATH"
#: Where systems keep it.
PLACES = (
    "/usr/lib/*-linux-gnu",
    "/usr/lib64",
    "/usr/lib",
    "/usr/lib/llvm-*/lib",
    "/usr/local/lib",
    "/opt/homebrew/opt/llvm*/lib",
    "/usr/local/opt/llvm*/lib",
)
#: So many are tried, the newest first, each for so long, s: they go last of all.
_MOST, _PATIENCE_S = 4, 180.0
#: The same picture by both ways, in its mean, but for noise.
_ALIKE = 0.03


def libraries(places: tuple[str, ...] = PLACES) -> tuple[Path, ...]:
    """The libraries that are here, the newest first."""
    named = os.environ.get(NAMED_BY)
    if named:
        return (Path(named),)
    found = {
        path.resolve()
        for place in places
        for path in Path("/").glob(place.lstrip("/") + "/libLLVM*")
        if re.search(r"\.(so|dylib)", path.name)
    }
    return tuple(sorted((path for path in found if path.is_file()), key=_age, reverse=True)[:_MOST])


def _age(path: Path) -> tuple[tuple[int, ...], str]:
    return tuple(int(number) for number in re.findall(r"\d+", path.name)), str(path)


def works(library: Path) -> bool:
    """Whether the renderer draws a small scene by it as it does without: asked of a process of its own, a few seconds."""
    command = [sys.executable, "-m", __name__]
    own: dict[str, Any] = {"stdin": subprocess.DEVNULL, "stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "start_new_session": True}
    try:
        return subprocess.run(command, timeout=_PATIENCE_S, check=False, env=named(library), **own).returncode == 0  # noqa: S603
    except (subprocess.TimeoutExpired, OSError):
        return False


def named(library: Path | None) -> dict[str, str]:
    """The environment of a process that renders by this library, or without one."""
    found = {key: value for key, value in os.environ.items() if key != NAMED_BY}
    return found if library is None else {**found, NAMED_BY: str(library)}


@contextmanager
def compiled() -> Iterator[None]:
    """What is rendered meanwhile is compiled, where a library is named to this process; as usual where none is."""
    mi = mitsuba()
    usual = mi.variant()
    if os.environ.get(NAMED_BY):
        mi.set_variant(VARIANT)
    try:
        yield
    finally:
        mi.set_variant(usual)


def _small() -> np.ndarray:
    """A ball with a picture on a floor below a lamp, as a proof has them."""
    mi = mitsuba()
    squares = (np.indices((8, 8)).sum(axis=0) % 2)[..., None].repeat(3, axis=2).astype(np.float32)
    up = mi.ScalarTransform4f()
    scene = mi.load_dict({
        "type": "scene",
        "floor": {"type": "rectangle", "to_world": up.scale([4, 4, 1]), "bsdf": {"type": "twosided", "bsdf": {"type": "diffuse"}}},
        "ball": {
            "type": "sphere",
            "center": [0, 0, 1],
            "bsdf": {"type": "principled", "base_color": {"type": "bitmap", "bitmap": mi.Bitmap(squares), "raw": True}, "roughness": 0.5},
        },
        "lamp": {
            "type": "rectangle",
            "to_world": up.translate([1, 0, 5]) @ up.rotate([1, 0, 0], 180),
            "emitter": {"type": "area", "radiance": {"type": "rgb", "value": 5.0}},
        },
        "sensor": {
            "type": "thinlens", "fov": 50, "aperture_radius": 0.05, "focus_distance": 6.0,
            "to_world": up.look_at(origin=[0, -5, 4], target=[0, 0, 0.5], up=[0, 0, 1]),
            "film": {"type": "hdrfilm", "width": 48, "height": 32, "rfilter": {"type": "box"}},
        },
    }, optimize=False)  # fmt: skip
    return np.array(mi.render(scene, integrator=mi.load_dict({"type": "path", "max_depth": 6}), spp=64, seed=1))[..., :3]


def main() -> int:
    os.nice(15)  # whoever works on the bench goes first, and a proof that was asked for
    session_gives_way(19)
    plain = _small()
    with compiled():
        quick = _small()
    means = [float(picture.mean()) for picture in (plain, quick)]
    return 0 if np.isfinite(quick).all() and abs(means[0] - means[1]) <= _ALIKE * means[0] else 1


if __name__ == "__main__":
    sys.exit(main())
