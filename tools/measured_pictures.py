"""How measuring does on tests/data/photographs: each picture's error, and the sums that the issue asks for; --aside tells those kept aside.

    python -m tools.measured_pictures [--aside] [number ...]
    python -m tools.measured_pictures --in FOLDER     # of those that tools.measuring_pictures varied wrote
    python -m tools.measured_pictures --as WAY       # as if taken otherwise: mirrored, dark, warm ... (tools.taken_otherwise)
    python -m tools.measured_pictures --second FOLDER number ...    # with the second photographs that tools.measuring_pictures seconds wrote
"""

from __future__ import annotations

import json
import sys
import time
from pathlib import Path
from typing import Any

import numpy as np

from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import read_photograph
from tideflat.core.vision.measure import measure_all
from tideflat.core.vision.two_pictures import measure_both

from .measuring_pictures import FOLDER
from .taken_otherwise import taken


def right(got: tuple[float, float], want: dict[str, Any]) -> bool:
    """Within 2 mm or 2 per cent, both sides."""
    return all(abs(g - w) <= max(2.0, 0.02 * w) for g, w in zip(got, (want["width_mm"], want["depth_mm"]), strict=True))


def tried(entry: dict[str, Any], folder: Path = FOLDER, second: Path | None = None, way: str | None = None) -> dict[str, Any]:
    """One picture measured, as if it were taken that way, with the one of its name in ``second`` if that is given: ``state`` (right, unsure,
    wrong), off (mm), why, colour (CIEDE2000), s."""
    want = entry["things"][0]
    height = want["height_mm"]
    photograph = read_photograph((folder / entry["file"]).read_bytes())
    photograph = taken(photograph, way) if way else photograph
    began = time.perf_counter()
    try:
        other = second and read_photograph((second / entry["file"]).read_bytes())
        every = measure_both(photograph, other, entry["sheet"], height) if other else measure_all(photograph, entry["sheet"], height)
        found = every[0]
    except FieldError as error:
        return {"state": "unsure", "off": (99.0, 99.0), "why": str(error), "colour": 99.0, "s": time.perf_counter() - began}
    seconds = time.perf_counter() - began
    off = found.width_mm - want["width_mm"], found.depth_mm - want["depth_mm"]
    is_right = right((found.width_mm, found.depth_mm), want)
    state = ("right" if is_right else "wrong") if found.is_sure else ("unsure, right" if is_right else "unsure")
    colour = min(difference(h, want["colours"][0]) for h, _ in found.colours)
    return {"state": state, "off": off, "why": "; ".join(found.why), "colour": colour, "s": seconds, "error": found.error_mm, "things": len(every)}


def main() -> None:
    aside = "--aside" in sys.argv
    given = {key: Path(sys.argv[sys.argv.index(key) + 1]) for key in ("--in", "--second") if key in sys.argv}
    folder, second = given.get("--in", FOLDER), given.get("--second")
    way = sys.argv[sys.argv.index("--as") + 1] if "--as" in sys.argv else None
    asked = [int(a) for a in sys.argv[1:] if a.isdigit()]
    entries = json.loads((folder / "truth.json").read_text())
    found = []
    for number, entry in enumerate(entries):
        if (asked and number not in asked) or (not asked and entry["aside"] != aside) or not (folder / entry["file"]).exists():
            continue
        one = tried(entry, folder, second, way)
        found.append(one)
        w, d = one["off"]
        print(f"{entry['file'][:34]:34} {entry['tilt']:3.0f} {entry['light'][:11]:11} {entry['table'][:12]:12} {one['state']:13} {w:+6.1f} {d:+6.1f}  dE {one['colour']:4.1f}  {one['s']:.1f} s  {one['why'][:110]}")  # fmt: skip
    states = [f["state"] for f in found]
    print(f"{len(found)}: sure and right {states.count('right')}, sure and wrong {states.count('wrong')}, unsure {len(found) - states.count('right') - states.count('wrong')} "
          f"(of them right {states.count('unsure, right')}); colours {np.median([f['colour'] for f in found]):.1f} at the median")  # fmt: skip


if __name__ == "__main__":
    main()
