"""The commands `fit`, `lenses`, `overlay` and `measure-lens`: where the camera could be, with what, and the plan over its picture."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import TYPE_CHECKING

from tideflat.command_line import bytes_of, number_of, options_of, out_of, refuse, replace_file, setup_of

if TYPE_CHECKING:
    from tideflat.core.evaluate import Picture

FIT_USAGE = "tideflat fit SCENE.tideflat.json [--setup NAME] --group p1,p2 [--crop NAME] [--share 0.8] [--elevation DEGREES]"
LENSES_USAGE = "tideflat lenses SCENE.tideflat.json [--setup NAME] [--kit KIT.json]"
OVERLAY_USAGE = (
    "tideflat overlay SCENE.tideflat.json [--setup NAME] [--crop NAME] --pixels 6000x4000 [--parts LIST] -o overlay.png|overlay.svg"
)

MEASURE_LENS_USAGE = "tideflat measure-lens PHOTO --sensor 36x24 --distance MM [--sheet a4|letter] [--focal-length MM] [--pupil-ratio 1]"


def _picture(path: str, options: dict[str, str]) -> Picture:
    from tideflat.core.evaluate import Picture
    from tideflat.core.formats.scene_reader import read_scene

    scene = read_scene(bytes_of(path))
    return Picture(scene, setup_of(scene, options))


def fit(arguments: list[str]) -> int:
    """Print the nearest camera that frames a group at a share of a crop, by the document's keys; where it cannot be, the nearest that can,
    with its reason."""
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.formats.scene_writer import camera_value
    from tideflat.core.frame.fit import fit as fitted

    files: list[str] = []
    try:
        files, options = options_of(arguments, ("--setup", "--group", "--crop", "--share", "--elevation"))
        if len(files) != 1 or "--group" not in options:
            return refuse(f"arguments: must be one scene document and a --group; usage: {FIT_USAGE}")
        share = number_of(options, "--share", 0.01, 1.0, 0.8)
        elevation = number_of(options, "--elevation", -10, 90, None)
        group = tuple(part for part in options["--group"].split(",") if part)
        found = fitted(_picture(files[0], options), group, share or 0.8, options.get("--crop"), elevation)
        value = camera_value(found.camera)
    except OSError as error:
        return refuse(f"{files[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return refuse(f"--{error}" if error.path in ("setup", "group", "crop", "share", "elevation", "option") else str(error))
    except TideflatError as error:
        return refuse(str(error))
    if found.reason is not None:
        value = {**value, "reason": found.reason, "code": found.code, "share": found.share}
    print(json.dumps(value, ensure_ascii=False, allow_nan=False))
    return 0


def lenses(arguments: list[str]) -> int:
    """Print what every lens of a kit does from where it covers what is covered today, as one JSON object."""
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.formats.kit_reader import read_kit, starter_kit
    from tideflat.core.frame.lens_chart import lens_chart

    reading = ""
    try:
        files, options = options_of(arguments, ("--setup", "--kit"))
        if len(files) != 1:
            return refuse(f"arguments: must be one scene document; usage: {LENSES_USAGE}")
        reading = files[0]
        picture = _picture(reading, options)
        kit = starter_kit()
        if "--kit" in options:
            reading = options["--kit"]
            kit = read_kit(bytes_of(reading))
        text = json.dumps({"rows": [row.value() for row in lens_chart(picture, kit)]}, ensure_ascii=False, allow_nan=False)
    except OSError as error:
        return refuse(f"{reading}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return refuse(f"--{error}" if error.path in ("setup", "kit", "option") else str(error))
    except TideflatError as error:
        return refuse(str(error))
    print(text)
    return 0


def overlay(arguments: list[str]) -> int:
    """Write the plan as a transparent picture of exactly so many pixels, or as SVG."""
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.frame.overlay import PARTS, USUAL_PARTS, overlay_png, overlay_svg

    reading, out = "", None
    try:
        rest, out = out_of(arguments)
        files, options = options_of(rest, ("--setup", "--crop", "--pixels", "--parts"))
        if len(files) != 1 or not out or "--pixels" not in options:
            return refuse(f"arguments: must be one scene document, --pixels and -o; usage: {OVERLAY_USAGE}")
        wide, high = _pixels(options["--pixels"])
        parts = tuple(options.get("--parts", ",".join(USUAL_PARTS)).split(","))
        for part in parts:
            if part not in PARTS:
                raise FieldError("parts", "must be of " + ", ".join(PARTS), part)
        if not out.endswith((".png", ".svg")):
            raise FieldError("o", "must be a file that ends in .png or .svg", out)
        reading = files[0]
        picture = _picture(reading, options)
        drawn = overlay_svg if out.endswith(".svg") else overlay_png
        content = drawn(picture, wide, high, options.get("--crop"), parts=parts)
        reading = out
        replace_file(Path(out), content.encode() if isinstance(content, str) else content)
    except OSError as error:
        return refuse(f"{reading}: must be a file that can be {'written' if reading == out else 'read'} ({error.strerror or error})")
    except FieldError as error:
        own = {"setup": "--", "crop": "--", "pixels": "--", "parts": "--", "option": "--", "o": "-"}
        return refuse(f"{own.get(error.path, '')}{error}")
    except TideflatError as error:
        return refuse(str(error))
    return 0


def measure_lens(arguments: list[str]) -> int:
    """Print what a lens covers at a distance and how it bends straight lines, from a photograph of a sheet of paper, as one JSON object."""
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.formats.photograph import MOST_BYTES, read_photograph
    from tideflat.core.model import Sensor
    from tideflat.core.vision.lens_from_sheet import FURTHEST_MM, NEAREST_MM
    from tideflat.core.vision.lens_from_sheet import measure_lens as measured

    known = ("--sensor", "--distance", "--sheet", "--focal-length", "--pupil-ratio")
    photos: list[str] = []
    try:
        photos, options = options_of(arguments, known)
        if len(photos) != 1 or "--sensor" not in options or "--distance" not in options:
            return refuse(f"arguments: must be one photograph, --sensor and --distance; usage: {MEASURE_LENS_USAGE}")
        wide, high = _sides(options["--sensor"])
        distance = number_of(options, "--distance", NEAREST_MM, FURTHEST_MM, None) or 0.0
        marked = number_of(options, "--focal-length", 0.5, 3000, None)
        ratio = number_of(options, "--pupil-ratio", 0.05, 20, 1.0) or 1.0
        with Path(photos[0]).open("rb") as file:
            raw = file.read(MOST_BYTES + 1)
        photograph = read_photograph(raw, "photograph")
        sheet = options.get("--sheet", "a4").lower()
        found = measured(photograph, Sensor(wide, high, 1, 1), distance, sheet, pupil_ratio=ratio, marked_mm=marked)
    except OSError as error:
        return refuse(f"{photos[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        of_sheet = error.path == "sheet" and "a4 or letter" in error.rule
        is_option = of_sheet or error.path in ("sensor", "distance", "focal-length", "pupil-ratio", "option")
        return refuse(f"--{error}" if is_option else str(error))
    except TideflatError as error:
        return refuse(str(error))
    print(json.dumps(found.as_value(), ensure_ascii=False, allow_nan=False))
    return 0


def _sides(text: str) -> tuple[float, float]:
    """The sensor's sides, mm, the longer first."""
    from tideflat.core.errors import FieldError

    match = re.fullmatch(r"([0-9]{1,3}(?:\.[0-9]{1,4})?)x([0-9]{1,3}(?:\.[0-9]{1,4})?)", text)
    sides = (float(match[1]), float(match[2])) if match else (0.0, 0.0)
    if not all(sides):
        raise FieldError("sensor", "must be WIDTHxHEIGHT in mm, such as 36x24", text)
    return max(sides), min(sides)


def _pixels(text: str) -> tuple[int, int]:
    from tideflat.core.errors import FieldError

    match = re.fullmatch(r"([0-9]{1,6})x([0-9]{1,6})", text)
    if match is None or not int(match[1]) or not int(match[2]):
        raise FieldError("pixels", "must be WIDTHxHEIGHT, such as 6000x4000", text)
    return int(match[1]), int(match[2])
