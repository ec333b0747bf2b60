"""Photographs of several things round one sheet, as ``tools.measuring_pictures`` draws them of one; and how measuring does on them.

    python -m tools.several_things draw FOLDER 0 24      # three to six things each, all of one height; the number is the seed
    python -m tools.several_things measure FOLDER [number ...]

A picture's things are all as high as each other, for one height is told of them all. Each thing that there is is looked for where it lies;
what is found elsewhere is one too many.
"""

from __future__ import annotations

import json
import sys
import time
from dataclasses import replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import shapely
from shapely.affinity import rotate, translate

from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import read_photograph
from tideflat.core.vision.measure import Measured, measure_all

from .measured_pictures import right
from .measuring_pictures import LIGHTS, SHEETS, TABLES, THINGS, Taken, another_colour, write_all
from .other_things import OTHERS, Made

SEED, SIZE = 4711, (1600, 1200)
HEIGHTS, MOST = (1.5, 3.0, 6.0, 9.0, 14.0), 6
#: What lies flat; each so much smaller or larger, but no smaller and no larger than this, mm2.
_FLAT = ("box", "cylinder", "outline", "ellipse", "cloth")
_SCALE, _AREA = (0.3, 1.1), (300.0, 14000.0)
#: How far from the sheet's middle a thing's middle lies at the most, from each other's outlines, and from the sheet's corners, mm.
_FAR, _APART, _CORNERS = (270.0, 180.0), 15.0, 12.0
#: What is found so near to a thing's middle, mm, is that thing.
_SAME_MM = 15.0


def several(number: int) -> Taken:
    """The picture of that number; the same for ever."""
    random = np.random.Generator(np.random.PCG64([SEED, number]))
    sheet = "letter" if random.random() < 0.15 else "a4"
    sheet_turn, height = float(random.uniform(-12, 12)), float(random.choice(HEIGHTS))
    wide, deep = SHEETS[sheet]
    corners = rotate(shapely.MultiPoint([(x * wide / 2, y * deep / 2) for x in (-1, 1) for y in (-1, 1)]), sheet_turn, origin=(0, 0))
    made: list[Made] = []
    placed: list[tuple[int, tuple[float, float], float]] = []
    covered = corners.buffer(_CORNERS)
    count = int(random.integers(3, MOST + 1))
    for _ in range(400):
        thing, turn = _one(random, height), float(random.uniform(0, 180))
        at = round(float(random.uniform(-_FAR[0], _FAR[0])), 1), round(float(random.uniform(-_FAR[1], _FAR[1])), 1)
        foot = translate(rotate(_foot(thing), turn, origin=(0, 0)), *at)
        if _AREA[0] < foot.area < _AREA[1] and foot.distance(covered) > _APART:
            placed.append((len(made), at, round(turn, 1)))
            made.append(thing)
            covered = covered.union(foot)
        if len(made) == count:
            break
    tilt = float(random.choice([0, 5, 10, 15, 20, 25, 30, 35]))
    azimuth = float(random.uniform(-35, 35))
    x0, y0, x1, y1 = covered.bounds
    aim = (x0 + x1) / 2, (y0 + y1) / 2
    seen = [rotate(covered, way * azimuth, origin=aim).bounds for way in (-1, 1)]
    span = 1.2 * max(max(x1 - x0, (y1 - y0) * 4 / 3) for x0, y0, x1, y1 in seen)
    return Taken(
        name=f"{number:03d}-several", table=int(random.integers(len(TABLES))), light=LIGHTS[int(random.integers(len(LIGHTS)))],
        light_from=float(random.uniform(0, 360)), tilt=tilt, azimuth=azimuth, roll=float(random.uniform(-6, 6)),
        distance=span / 9.8 * 6.9 * (1.0 + 0.006 * tilt), sheet=sheet, sheet_turn=sheet_turn, things=tuple(placed), exif=bool(random.random() < 0.6),
        quality=int(random.choice([70, 85, 94])), noise=float(random.uniform(0.8, 3.5)), sharpened=float(random.choice([0.0, 0.4, 0.9])),
        bent=float(random.uniform(-0.008, 0.012)), warm=(float(random.uniform(0.96, 1.08)), 1.0, float(random.uniform(0.86, 1.04))),
        seed=SEED + number, aim=(round(aim[0], 1), round(aim[1], 1)), size=SIZE, made=tuple(made),
    )  # fmt: skip


def _one(random: np.random.Generator, height: float) -> Made:
    """A thing of any flat kind, of another size and colour, so high."""
    flat = [m for m in (*THINGS, *OTHERS) if m.shape["kind"] in _FLAT and m.finish != "glass"]
    made, by = flat[int(random.integers(len(flat)))], float(random.uniform(*_SCALE))
    shape: dict[str, Any] = {}
    for key, value in made.shape.items():
        if key == "points":
            shape[key] = [[round(x * by, 2), round(y * by, 2)] for x, y in value]
        else:
            shape[key] = value if key == "kind" else height if key in ("height", "thickness") else round(value * by, 1)
    return replace(made, shape=shape, colours=tuple(another_colour(c, random) for c in made.colours))


def _foot(made: Made) -> shapely.Polygon:
    s = made.shape
    if s["kind"] == "outline":
        return shapely.Polygon(s["points"])
    if s["kind"] == "cylinder":
        return shapely.Point(0, 0).buffer(s["diameter"] / 2)
    return shapely.box(-s["width"] / 2, -s["depth"] / 2, s["width"] / 2, s["depth"] / 2)


def _is_right(measured: Measured, want: dict[str, Any], made: Made) -> bool:
    """As of one thing; of a heart or a star two rectangles are nearly as small, and either will do."""
    points = np.array(_foot(made).exterior.coords, dtype=np.float32)
    rectangles = [tuple(np.ptp(points, axis=0).tolist()), cv2.minAreaRect(points)[1]]
    sides = [(want["width_mm"], want["depth_mm"]), *(r for r in rectangles if r[0] * r[1] < 1.06 * want["width_mm"] * want["depth_mm"])]
    return any(right((measured.width_mm, measured.depth_mm), {"width_mm": max(r), "depth_mm": min(r)}) for r in sides)


def _turned(places: np.ndarray, degrees: float) -> np.ndarray:
    by = np.radians(degrees)
    return np.asarray(places @ np.array([[np.cos(by), np.sin(by)], [-np.sin(by), np.cos(by)]]))


def tried(entry: dict[str, Any], folder: Path) -> tuple[list[str], int, float]:
    """(a line for each thing: right, wrong, unsure or missing first; how many were found that are not there; seconds)."""
    data, shot = (folder / entry["file"]).read_bytes(), several(int(entry["file"][:3]))
    began = time.perf_counter()
    try:
        found: tuple[Measured, ...] = measure_all(read_photograph(data), entry["sheet"], entry["things"][0]["height_mm"])
    except FieldError as error:
        return [f"missing {t['name']}: {error}" for t in entry["things"]], 0, time.perf_counter() - began
    seconds = time.perf_counter() - began
    there, got = np.array([t["at"] for t in entry["things"]]), np.array([m.place_mm for m in found])
    far = [np.linalg.norm(got[:, None] - _turned(there, side - shot.sheet_turn)[None], axis=2) for side in (0, 90, 180, 270)]
    near = min(far, key=lambda f: float(np.minimum(f, 4 * _SAME_MM).min(axis=0).sum()))  # which end of a sheet is its far one, nobody knows
    lines, used = [], set()
    for k, want in enumerate(entry["things"]):
        n = int(near[:, k].argmin())
        if near[n, k] > max(_SAME_MM, 0.3 * want["width_mm"]) or n in used:
            lines.append(f"missing {want['name']} {want['area_mm2']:.0f} mm2")
            continue
        used.add(n)
        m = found[n]
        state = ("right" if _is_right(m, want, shot.made[k]) else "wrong") if m.is_sure else "unsure"
        lines.append(f"{state:7} {want['name']:14} {want['area_mm2']:6.0f} mm2 {m.width_mm - want['width_mm']:+6.1f} {m.depth_mm - want['depth_mm']:+6.1f} "
                     f"{m.shape.kind if m.shape else 'free':9} {'; '.join(m.why)[:90]}")  # fmt: skip
    return lines, len(found) - len(used), seconds


def main() -> None:
    folder = Path(sys.argv[2])
    numbers = [int(a) for a in sys.argv[3:]]
    if sys.argv[1] == "draw":
        write_all(folder, [several(n) for n in range(*numbers)])
        return
    lines: list[str] = []
    many, taken = 0, []
    for entry in json.loads((folder / "truth.json").read_text()):
        if (numbers and int(entry["file"][:3]) not in numbers) or not (folder / entry["file"]).exists():
            continue
        told, more, seconds = tried(entry, folder)
        print(
            f"{entry['file']} {entry['tilt']:.0f} {entry['light']} {entry['table']}, {entry['things'][0]['height_mm']} high: {seconds:.1f} s, {more} too many"
        )
        print(*(f"    {line}" for line in told), sep="\n", flush=True)
        lines, many, taken = lines + told, many + more, [*taken, seconds]
    states = [line.split()[0] for line in lines]
    print(f"{len(lines)} things in {len(taken)}: " + ", ".join(f"{s} {states.count(s)}" for s in ("right", "wrong", "unsure", "missing"))
          + f"; too many {many}; {np.median(taken):.1f} s at the median, {max(taken):.1f} at the most")  # fmt: skip


if __name__ == "__main__":
    main()
