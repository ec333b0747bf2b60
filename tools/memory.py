"""What a process remembers after many cameras of one scene: `make memory`. Prints its size before and after, and what each cache holds."""

from __future__ import annotations

import os
import tempfile
from dataclasses import replace

import psutil

CAMERAS = 200


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.demo")
    os.environ["TIDEFLAT_VAR"] = tempfile.mkdtemp(prefix="tideflat-memory-")
    import django

    django.setup()
    from tideflat.core.evaluate import Picture
    from tideflat.core.findings.registry import findings
    from tideflat.core.remember import held_by_caches
    from tideflat.web.bridge.drawing import frame_drawing, table_drawing
    from tideflat.web.bridge.geometry import geometry
    from tideflat.web.scenes.starters import starter

    scene = starter("supper")
    process = psutil.Process()
    before = process.memory_info().rss
    for k in range(CAMERAS):
        setup = scene.setups[0]
        camera = replace(setup.camera, elevation=30.0 + 0.2 * k, distance=setup.camera.distance + k)
        changed = scene.with_setup(setup.name, replace(setup, camera=camera))
        picture = Picture(changed, changed.setups[0])
        frame_drawing(picture), table_drawing(picture), geometry(picture), findings(picture)
    print(f"{CAMERAS} cameras: from {before / 1e6:.0f} to {process.memory_info().rss / 1e6:.0f} MB")
    for held in held_by_caches():
        if held.entries:
            bound = f"{held.size / 1e6:6.1f} of {held.most / 1e6:g} MB" if held.is_in_bytes else f"of {held.most} entries"
            print(f"{held.entries:7d}  {bound:>20}  {held.name}")


if __name__ == "__main__":
    main()
