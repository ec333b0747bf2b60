"""Photographs of things beside a sheet of paper, by light transport: what measuring is held to, with true sizes beside them.

    python -m tools.measuring_pictures                # writes what is missing of tests/data/photographs (half a minute each)
    python -m tools.measuring_pictures 3 17           # these anew
    python -m tools.measuring_pictures five           # the example with five things that ships with the program
    python -m tools.measuring_pictures varied FOLDER 300 340    # forty more, of things of other sizes and colours
    python -m tools.measuring_pictures others FOLDER 612 648    # of things of other shapes (tools.other_things), their sizes varied too
    python -m tools.measuring_pictures seconds FOLDER 42 223    # of these a second photograph, from another place

Sixty, drawn by chance from lists (table, light, tilt, place, thing, phone) with a fixed seed, so that no two faults come together by
design. Every third is kept aside: whoever works on measuring does not look at those until the end. A picture is rendered by the project's own renderer
(what a proof needs must be installed; TIDEFLAT_MITSUBA_VARIANT may name a faster variant), then bent as a phone's lens bends,
sharpened, made noisy and saved as a phone would.
"""

from __future__ import annotations

import colorsys
import io
import json
import sys
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import shapely
from PIL import Image

from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.light.falling import LUMINANCE
from tideflat.core.lit import lighting_of
from tideflat.core.render.denoising import denoised
from tideflat.core.render.proof import guides_of, passes
from tideflat.core.render.staging import stage_of

from .other_things import OTHERS, Made

FOLDER = Path(__file__).parents[1] / "tests/data/photographs"
EXAMPLE = Path(__file__).parents[1] / "src/tideflat/web/stores/examples/five.jpg"
COUNT, SEED, SIZE, SAMPLES = 60, 15, (1200, 900), 16
VARIED_SEED = 77
#: One in so many is kept aside.
ASIDE = 3
#: A phone's main camera: 9.8 x 7.35 mm, 6.9 mm, about 24 mm as full frames have it.
_SENSOR = {"width": 9.8, "height": 7.35, "pixels_wide": 4000, "pixels_high": 3000}
_FOCAL, _FOCAL_35 = 6.9, 24
#: Where the sheet's middle lies on the table, mm.
_MIDDLE = (1200.0, 900.0)
SHEETS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}


def _leaf(length: float, width: float) -> list[list[float]]:
    t = np.linspace(0, np.pi, 18)
    upper = np.column_stack([-np.cos(t) * length / 2, np.sin(t) ** 1.3 * width / 2])
    return [[round(float(x), 2), round(float(y), 2)] for x, y in np.concatenate([upper, upper[-2:0:-1] * [1, -1]])[::-1]]


def _spoon(length: float, bowl: float, handle: float) -> list[list[float]]:
    half = float(np.arcsin(handle / bowl))
    t = np.linspace(half, 2 * np.pi - half, 30)
    head = np.column_stack([np.cos(t) * bowl / 2, np.sin(t) * bowl / 2]) - [length / 2 - bowl / 2, 0]
    ring = np.concatenate([[[length / 2, -handle / 2], [length / 2, handle / 2]], head])
    return [[round(float(x), 2), round(float(y), 2)] for x, y in ring]


_KNIFE = [[-95, -9], [10, -11], [95, -5], [95, 4], [0, 7], [-95, 7]]
_NOTCHED = [[-60, -45], [60, -45], [60, 0], [5, 0], [5, 45], [-60, 45]]
_CROISSANT = [[-70, -18], [-46, -34], [-10, -40], [30, -38], [62, -22], [74, 6], [58, 12], [36, -2], [0, -8], [-34, -2], [-52, 14], [-72, 8]]

#: What is measured: flat, tall, round, notched, thin, white, dark, of glass, glossy, striped.
THINGS: tuple[Made, ...] = (
    Made("biscuit", {"kind": "cylinder", "diameter": 66, "height": 6}, ("#b07a3e",)),
    Made("box lid", {"kind": "box", "width": 112, "depth": 72, "height": 8}, ("#963028",)),
    Made("jar", {"kind": "cylinder", "diameter": 76, "height": 95}, ("#c4641e",), "satin"),
    Made("tin", {"kind": "box", "width": 84, "depth": 64, "height": 110}, ("#2c5c60",), "satin"),
    Made("cup", {"kind": "cone", "top_diameter": 84, "base_diameter": 58, "height": 72}, ("#82362c",)),
    Made("orange", {"kind": "sphere", "diameter": 74}, ("#d9762a",), "satin"),
    Made("notched board", {"kind": "outline", "points": _NOTCHED, "height": 9}, ("#7a5638",)),
    Made("paring knife", {"kind": "outline", "points": _KNIFE, "height": 3}, ("#5b3a28",), "satin"),
    Made("steel spoon", {"kind": "outline", "points": _spoon(186, 42, 9), "height": 3}, ("#8f9598",), "metal"),
    Made("wooden spoon", {"kind": "outline", "points": _spoon(230, 48, 12), "height": 6}, ("#a97a48",)),
    Made("leaf", {"kind": "outline", "points": _leaf(96, 42), "height": 1.2}, ("#5d7a38",)),
    Made("white plate", {"kind": "bowl", "diameter": 200, "base_diameter": 130, "height": 20}, ("#eceae4",), "satin"),
    Made("dark slate", {"kind": "box", "width": 104, "depth": 104, "height": 7}, ("#34383a",)),
    Made("glass tumbler", {"kind": "cylinder", "diameter": 74, "height": 92}, ("#cfdcdc",), "glass"),
    Made("glossy tin", {"kind": "cylinder", "diameter": 92, "height": 58}, ("#1f4a34",), "gloss"),
    Made("striped napkin", {"kind": "cloth", "width": 160, "depth": 150, "thickness": 4}, ("#e6e0d2", "#8c3a40"), "matte", "stripes"),
    Made("white saucer", {"kind": "bowl", "diameter": 140, "base_diameter": 84, "height": 16}, ("#f0efea",), "gloss"),
    Made("oval dish", {"kind": "ellipse", "width": 180, "depth": 116, "height": 30}, ("#40648a",), "satin"),
    Made("croissant", {"kind": "outline", "points": _CROISSANT, "height": 38}, ("#b5793a",)),
    Made("printed card", {"kind": "box", "width": 148, "depth": 105, "height": 1.0}, ("#d8c9a8", "#3e5a64"), "matte", "blocks"),
)  # fmt: skip
#: Tables: light, dark, grained, patterned, glossy. A starter surface's picture, or plain colour and finish.
TABLES: tuple[tuple[str, str, str], ...] = (
    ("pale oak boards", "#c8a878", "matte"), ("walnut boards", "#4d3a2a", "matte"), ("limestone", "#c4beb1", "matte"), ("slate", "#3c4244", "matte"),
    ("rose-clay tiles", "#9a6a57", "matte"), ("blue-grey plaster", "#536068", "matte"), ("checks", "#8fa3b0", "matte"), ("", "#20242a", "gloss"),
    ("", "#b9b4a6", "gloss"), ("", "#6c7a5c", "matte"),
)  # fmt: skip
LIGHTS = ("window", "soft window", "lamp", "two lamps", "sun", "mixed")


@dataclass(frozen=True)
class Taken:
    """How one is taken. tilt: degrees from straight above; things: (number in ``made``, place of its middle from the sheet's, turn)."""

    name: str
    table: int
    light: str
    light_from: float
    tilt: float
    azimuth: float
    roll: float
    distance: float
    sheet: str
    sheet_turn: float
    things: tuple[tuple[int, tuple[float, float], float], ...]
    exif: bool
    quality: int
    noise: float
    sharpened: float
    bent: float
    warm: tuple[float, float, float]
    seed: int
    aim: tuple[float, float] = field(default=(0.0, 0.0))
    size: tuple[int, int] = SIZE
    made: tuple[Made, ...] = THINGS


def taken(number: int, things: tuple[Made, ...] = THINGS) -> Taken:
    """The picture of that number, of one of those things; the same for ever."""
    random = np.random.Generator(np.random.PCG64([SEED, number]))
    made = things[number % len(things)]
    wide = max(made.shape.get(k, 0.0) for k in ("width", "diameter", "top_diameter")) or 190.0
    place = ("on", "beside", "across")[int(random.integers(3))]
    if wide > 150 and place == "on":
        place = "across"
    side = float(random.choice([-1, 1]))
    if place == "on":
        at = (float(random.uniform(-20, 20)), float(random.uniform(-60, 60)))
    elif place == "beside":
        at = (side * (115 + wide / 2 + float(random.uniform(10, 40))), float(random.uniform(-80, 80)))
    else:
        at = (side * (105 + float(random.uniform(-0.2, 0.25)) * wide), float(random.uniform(-60, 60)))
    turn = float(random.uniform(0, 180))
    tilt = float(random.choice([0, 5, 10, 15, 20, 25, 30, 35, 40, 45]))
    reach = abs(at[0]) + wide / 2
    span = 1.25 * max(330.0, 105 + reach if place != "on" else 330.0)
    distance = max(420.0, span / _SENSOR["width"] * _FOCAL * (1.0 + 0.006 * tilt))
    return Taken(
        name=f"{number:02d}-{made.name.replace(' ', '-')}-{place}",
        table=int(random.integers(len(TABLES))),
        light=LIGHTS[int(random.integers(len(LIGHTS)))],
        light_from=float(random.uniform(0, 360)),
        tilt=tilt,
        azimuth=float(random.uniform(-35, 35)),
        roll=float(random.uniform(-8, 8)),
        distance=distance,
        sheet="letter" if random.random() < 0.15 else "a4",
        sheet_turn=float(random.uniform(-12, 12)),
        things=((number % len(things), (round(at[0], 1), round(at[1], 1)), round(turn, 1)),),
        exif=bool(random.random() < 0.5),
        quality=int(random.choice([70, 85, 94])),
        noise=float(random.uniform(0.8, 3.5)),
        sharpened=float(random.choice([0.0, 0.4, 0.9])),
        bent=float(random.uniform(-0.008, 0.012)),
        warm=(float(random.uniform(0.96, 1.08)), 1.0, float(random.uniform(0.86, 1.04))),
        seed=number,
        aim=(round(at[0] * 0.4, 1), round(at[1] * 0.2, 1)),
        made=things,
    )


#: Five things round one sheet, by a window: the example that ships, and what the stores are filled from in the tests.
FIVE = Taken(
    name="five", table=0, light="window", light_from=150.0, tilt=16.0, azimuth=8.0, roll=-3.0, distance=660.0, sheet="a4", sheet_turn=4.0,
    things=((0, (-25.0, 78.0), 0.0), (10, (18.0, -62.0), 35.0), (1, (208.0, 72.0), 12.0), (19, (212.0, -84.0), -8.0), (7, (-176.0, -8.0), 84.0)),
    exif=True, quality=88, noise=1.4, sharpened=0.4, bent=0.003, warm=(1.02, 1.0, 0.97), seed=5001, aim=(16.0, 0.0), size=(2000, 1500),
)  # fmt: skip


def _around(degrees: float, far: float, high: float) -> tuple[list[float], list[float]]:
    """(a place so far round the sheet's middle, the way back)."""
    a = np.radians(degrees)
    at = [_MIDDLE[0] + far * float(np.cos(a)), _MIDDLE[1] + far * float(np.sin(a)), high]
    return at, [_MIDDLE[0] - at[0], _MIDDLE[1] - at[1], 30.0 - high]


def _lights(shot: Taken) -> list[dict[str, Any]]:
    """Each with the even light of a room, stronger or weaker."""
    at, way = _around(shot.light_from, 1500, 900)
    window = {"id": "window", "kind": "window", "at": at, "toward": way, "width": 1200, "height": 1300, "kelvin": 6000}
    at, way = _around(shot.light_from, 900, 1000)
    lamp = {"id": "lamp", "kind": "lamp", "at": at, "toward": way, "width": 220, "height": 220, "round": True, "kelvin": 3300}
    at, way = _around(shot.light_from + 130, 1100, 1100)
    other = {**lamp, "id": "other", "at": at, "toward": way, "stops": -0.6}
    sun = {"id": "sun", "kind": "sun", "latitude": 48, "longitude": 8, "time": "2026-06-21T16:30:00+02:00", "stops": -4.5}
    room = {"id": "room", "kind": "room", "stops": 1.2}
    dim = {**room, "stops": -0.6}
    return {
        "window": [window, dim],
        "soft window": [{**window, "width": 2200, "height": 1900}, {**room, "stops": 0.5}],
        "lamp": [lamp, dim],
        "two lamps": [lamp, other, dim],
        "sun": [sun, {**room, "stops": 2.0}],
        "mixed": [window, {**lamp, "at": other["at"], "toward": other["toward"], "stops": -0.5}, dim],
    }[shot.light]


def _surface(shot: Taken) -> dict[str, Any]:
    name, colour, finish = TABLES[shot.table]
    found = {"name": name or "plain", "width": 2400, "depth": 1800, "colours": [{"hex": colour, "share": 1.0}], "finish": finish}
    if name == "checks":
        found["skin"] = {"picture": "checks", "face": "tile", "width": 80, "depth": 80}
    elif name:
        from tideflat.web.stores.starter_skins import entries_of_surface, skin_of_entry

        found["skin"] = skin_of_entry(entries_of_surface(name)[0])
    return found


def _pictures(shot: Taken) -> dict[str, np.ndarray]:
    from tideflat.web.stores.starter_skins import entries_of_surface, picture_bytes

    checks = np.full((160, 160, 3), (143, 163, 176), np.uint8)
    checks[:80, :80], checks[80:, 80:] = (236, 232, 222), (236, 232, 222)
    stripes = np.full((240, 256, 3), (230, 224, 210), np.uint8)
    for k in range(0, 240, 60):
        stripes[k : k + 22] = (140, 58, 64)
    blocks = np.full((210, 296, 3), (216, 201, 168), np.uint8)
    blocks[30:120, 24:150], blocks[140:180, 160:280] = (62, 90, 100), (62, 90, 100)
    found = {"checks": checks, "stripes": stripes, "blocks": blocks}
    for entry in entries_of_surface(TABLES[shot.table][0]):
        key, data = picture_bytes(entry["file"])
        found[key] = cv2.cvtColor(np.asarray(cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)), cv2.COLOR_BGR2RGB)
    return found


def document(shot: Taken, *, second: bool = False) -> dict[str, Any]:
    """The scene. second: from another place beside the same sheet."""
    wide, deep = SHEETS[shot.sheet]
    sheet = {"id": "sheet", "name": "sheet", "shape": {"kind": "box", "width": wide, "depth": deep, "height": 0.2}, "colours": [{"hex": "#f3f2ee", "share": 1.0}]}
    props, placements = [sheet], [{"id": "sheet", "prop": "sheet", "x": _MIDDLE[0], "y": _MIDDLE[1], "turn": shot.sheet_turn, "role": "support"}]
    for k, (which, at, turn) in enumerate(shot.things):
        made = shot.made[which]
        share = 1 / len(made.colours)
        worn = [{"picture": made.worn, "face": "top"}] if made.worn else []
        props.append({
            "id": f"t{k}", "name": made.name, "shape": made.shape, "finish": made.finish, "skins": worn,
            "colours": [{"hex": c, "share": share} for c in made.colours],
        })  # fmt: skip
        on_sheet = abs(at[0]) < wide / 2 and abs(at[1]) < deep / 2
        placements.append({
            "id": f"p{k}", "prop": f"t{k}", "x": _MIDDLE[0] + at[0], "y": _MIDDLE[1] + at[1], "turn": turn, "z": 0.2 if on_sheet else 0.0,
            "role": "hero" if k == 0 else "support",
        })  # fmt: skip
    tilt, azimuth = (max(30.0, 60.0 - shot.tilt), shot.azimuth + 75) if second else (shot.tilt, shot.azimuth)
    camera = {
        "sensor": _SENSOR, "orientation": "landscape",
        "lens": {"focal_length": _FOCAL, "max_aperture": 1.8, "min_aperture": 22, "min_focus": 100},
        "aperture": 22, "aim": [_MIDDLE[0] + shot.aim[0], _MIDDLE[1] + shot.aim[1], 0], "distance": shot.distance * (1.1 if second else 1.0),
        "elevation": 90 - tilt, "azimuth": azimuth, "roll": shot.roll,
    }  # fmt: skip
    room = {"ceiling_height": None, "walls": "#e4e2dc", "north": (shot.light_from * 7) % 360}
    return {
        "format": "tideflat-scene", "version": 1, "title": shot.name, "surface": _surface(shot), "room": room, "props": props,
        "placements": placements, "lights": _lights(shot), "setups": [{"name": "main", "camera": camera}],
    }  # fmt: skip


def rendered(shot: Taken, *, second: bool = False) -> np.ndarray:
    """(h, w, 3) linear light, 1 for white paper in the sheet's middle."""
    scene = scene_from_value(document(shot, second=second))
    picture = Picture(scene, scene.setups[0], _pictures(shot))
    stage = stage_of(picture, pinhole=True)
    wide, high = shot.size
    raw = np.zeros((high, wide, 3), np.float32)
    done = 0
    for more, share in passes(stage, stage.groups, wide, high, SAMPLES):
        raw, done = (raw * done + more * share) / (done + share), done + share
    lighting = lighting_of(picture)
    middle, up = np.array([[*_MIDDLE, 2.0]]), np.array([[0.0, 0, 1]])
    falling = lighting.falling(middle, up, but=frozenset(range(len(lighting.casters.owners))) - lighting.owners("light")).sum(axis=0)[0]
    light = float(falling @ LUMINANCE)
    balance = falling / light
    raw = denoised(raw * np.pi / light, guides_of(stage, wide, high, 4))
    return np.asarray(raw / np.maximum(0.8 * balance + 0.2, 0.2), dtype=np.float32)


def _bent(picture: np.ndarray, k1: float) -> np.ndarray:
    """As a lens bends it, the corners' distance from the middle being 1."""
    high, wide = picture.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32) + 0.5
    half = np.hypot(wide, high) / 2
    u, v = (x - wide / 2) / half, (y - high / 2) / half
    by = 1 + k1 * (u * u + v * v)
    across, down = ((a * by * half + side / 2 - 0.5).astype(np.float32) for a, side in ((u, wide), (v, high)))
    return cv2.remap(picture, across, down, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)


def photographed(shot: Taken, light: np.ndarray) -> bytes:
    """A JPEG as a phone saves it: bent, toned, sharpened, noisy."""
    random = np.random.Generator(np.random.PCG64([SEED, shot.seed, 1]))
    picture = np.maximum(_bent(light, shot.bent), 0) * np.array(shot.warm, np.float32)
    bright = float(np.percentile(picture.mean(axis=2), 97))
    picture = picture * (0.86 / max(bright, 0.35))
    over = np.maximum(picture - 0.8, 0)
    picture = np.where(picture > 0.8, 0.8 + 0.2 * over / (over + 0.2), picture)
    encoded = np.where(picture <= 0.0031308, picture * 12.92, 1.055 * np.maximum(picture, 1e-6) ** (1 / 2.4) - 0.055) * 255
    if shot.sharpened:
        encoded = encoded + shot.sharpened * (encoded - cv2.GaussianBlur(encoded, (0, 0), 1.2))
    grain = cv2.GaussianBlur(random.normal(0, 1, encoded.shape).astype(np.float32), (0, 0), 0.6)
    encoded = encoded + grain / grain.std() * shot.noise
    data = io.BytesIO()
    saved = Image.fromarray(np.clip(np.rint(encoded), 0, 255).astype(np.uint8))
    if shot.exif:
        exif = Image.Exif()
        exif.get_ifd(0x8769)[0xA405] = _FOCAL_35
        saved.save(data, "JPEG", quality=shot.quality, exif=exif)
    else:
        saved.save(data, "JPEG", quality=shot.quality)
    return data.getvalue()


def _sides(made: Made, foot: shapely.Polygon) -> tuple[float, float]:
    """Of the smallest rectangle round it; of the one that it is given in, where that is as small but for a little: a triangle has three."""
    (_, smallest, _) = cv2.minAreaRect(np.array(shapely.convex_hull(foot).exterior.coords, dtype=np.float32))
    if made.shape["kind"] == "outline":
        given = shapely.Polygon(made.shape["points"])
        x0, y0, x1, y1 = given.bounds
        a, b = np.array([x1 - x0, y1 - y0]) * np.sqrt(foot.area / given.area)
        if a * b < 1.03 * smallest[0] * smallest[1]:
            return float(a), float(b)
    return smallest


def truth(shot: Taken) -> dict[str, Any]:
    """What there is to be found: of each thing its footprint's smallest rectangle, its footprint round its own middle, height, colours."""
    scene = scene_from_value(document(shot))
    picture = Picture(scene, scene.setups[0], _pictures(shot))
    things = []
    for k, (which, at, _) in enumerate(shot.things):
        made, body = shot.made[which], picture.bodies[f"p{k}"]
        foot = body.footprint
        sides = _sides(made, foot)
        things.append({
            "name": made.name, "at": list(at), "width_mm": round(max(sides), 2), "depth_mm": round(min(sides), 2),
            "height_mm": round(float(body.z_max - body.placement.z), 2), "area_mm2": round(float(foot.area), 1),
            "colours": list(made.colours), "finish": made.finish, "kind": made.shape["kind"],
        })  # fmt: skip
    return {
        "file": f"{shot.name}.jpg", "sheet": shot.sheet, "tilt": shot.tilt, "light": shot.light, "table": TABLES[shot.table][0] or TABLES[shot.table][2],
        "exif": shot.exif, "things": things,
    }  # fmt: skip


def varied(number: int, things: tuple[Made, ...] = THINGS) -> tuple[Made, ...]:
    """The things, the one of that number of another size and colour: what is learnt from the sixty may be those twenty things."""
    random = np.random.Generator(np.random.PCG64([VARIED_SEED, number]))
    made = things[number % len(things)]
    across, upward = float(random.uniform(0.7, 1.3)), float(random.uniform(0.75, 1.35))
    shape = dict(made.shape)
    for key, value in made.shape.items():
        if key == "points":
            shape[key] = [[round(x * across, 2), round(y * across, 2)] for x, y in value]
        elif key not in ("kind", "thickness"):
            shape[key] = round(value * (upward if key == "height" else across), 1)

    mine = replace(made, shape=shape, colours=tuple(another_colour(c, random) for c in made.colours))
    return tuple(mine if k == number % len(things) else thing for k, thing in enumerate(things))


def another_colour(colour: str, random: np.random.Generator) -> str:
    """One not far from it."""
    hue, light, rich = colorsys.rgb_to_hls(*(int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)))
    hue = (hue + float(random.uniform(-0.12, 0.12))) % 1
    light = min(0.93, max(0.08, light * float(random.uniform(0.75, 1.25)) if light < 0.8 else light))
    return "#" + "".join(f"{round(255 * c):02x}" for c in colorsys.hls_to_rgb(hue, light, rich))


def write_varied(folder: Path, numbers: range, things: tuple[Made, ...]) -> None:
    """Pictures of these numbers, of those things in other sizes and colours, and their truth beside them as for the sixty."""
    write_all(folder, [taken(number, varied(number, things)) for number in numbers])


def write_all(folder: Path, shots: Iterable[Taken]) -> None:
    """Each picture that is not there, and the truth of all beside them."""
    every = []
    folder.mkdir(parents=True, exist_ok=True)
    for shot in shots:
        every.append(truth(shot) | {"aside": False})
        if not (folder / f"{shot.name}.jpg").exists():
            (folder / f"{shot.name}.jpg").write_bytes(photographed(shot, rendered(shot)))
            print(shot.name, flush=True)
    (folder / "truth.json").write_text(json.dumps(every, indent=1) + "\n")


def write_seconds(folder: Path, numbers: list[int]) -> None:
    """Of each of the sixty, or from their number on of the varied, a second photograph, from another place beside the same sheet, named as the
    first."""
    folder.mkdir(parents=True, exist_ok=True)
    for number in numbers:
        shot = taken(number, THINGS if number < COUNT else varied(number))
        (folder / f"{shot.name}.jpg").write_bytes(photographed(shot, rendered(shot, second=True)))
        print(shot.name, flush=True)


def main() -> None:
    if "seconds" in sys.argv:
        folder, *numbers = sys.argv[sys.argv.index("seconds") + 1 :]
        write_seconds(Path(folder), [int(a) for a in numbers])
        return
    for which, things in (("varied", THINGS), ("others", OTHERS)):
        if which in sys.argv:
            folder, first, end = sys.argv[sys.argv.index(which) + 1 :][:3]
            write_varied(Path(folder), range(int(first), int(end)), things)
            return
    FOLDER.mkdir(parents=True, exist_ok=True)
    asked = [int(a) for a in sys.argv[1:] if a.isdigit()]
    if "five" in sys.argv:
        EXAMPLE.write_bytes(photographed(FIVE, rendered(FIVE)))
        (FOLDER / "five.json").write_text(json.dumps(truth(FIVE), indent=1) + "\n")
        return
    for number in asked or range(COUNT):
        shot = taken(number)
        file = FOLDER / f"{shot.name}.jpg"
        if asked or not file.exists():
            file.write_bytes(photographed(shot, rendered(shot)))
            print(file.name, flush=True)
    every = [truth(taken(n)) | {"aside": n % ASIDE == 2} for n in range(COUNT)]
    (FOLDER / "truth.json").write_text(json.dumps(every, indent=1) + "\n")


if __name__ == "__main__":
    main()
