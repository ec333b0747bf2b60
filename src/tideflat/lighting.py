"""The commands `light`, `proof` and `sun`: what the light of a scene does, a picture of it by light paths, and where the sun stands."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from tideflat.command_line import bytes_of, counted_of, number_of, options_of, out_of, refuse, replace_file, setup_of

if TYPE_CHECKING:
    import numpy as np

LIGHT_USAGE = "tideflat light SCENE.tideflat.json [--setup NAME] [--at x,y,z ...]"
PROOF_USAGE = "tideflat proof SCENE.tideflat.json [--setup NAME] -o proof.png [--width 720] [--samples N] [--masks masks.png]"
SUN_USAGE = "tideflat sun --latitude DEGREES --longitude DEGREES --time 2026-06-21T16:00:00+02:00"


#: Points that may be asked for at once.
MOST_POINTS = 1000


def light(arguments: list[str]) -> int:
    """Print what the light of a scene does, one set-up or all, as one JSON object."""
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.evaluate import Picture
    from tideflat.core.formats.scene_reader import read_scene
    from tideflat.core.lit import light_value

    files: list[str] = []
    try:
        rest, points = points_of(arguments)
        files, options = options_of(rest, ("--setup",))
        if len(files) != 1:
            return refuse(f"arguments: must be one scene document; usage: {LIGHT_USAGE}")
        scene = read_scene(bytes_of(files[0]))
        setups = (setup_of(scene, options),) if "--setup" in options else scene.setups
        value = {"setups": {setup.name: light_value(Picture(scene, setup), points) for setup in setups}}
        text = json.dumps(value, ensure_ascii=False, allow_nan=False)
    except OSError as error:
        return refuse(f"{files[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return refuse(f"--{error}" if error.path in ("setup", "at", "option") else str(error))
    except TideflatError as error:
        return refuse(str(error))
    print(text)
    return 0


#: Pixels across a proof, and samples of each of them.
WIDTHS, MOST_SAMPLES = (16, 4096), 4096


def proof(arguments: list[str]) -> int:
    """Write a picture of a set-up by light paths, and masks of its things if they are asked for."""
    from tideflat.core.errors import FieldError, TideflatError

    reading, out, masks = "", None, None
    try:
        rest, out = out_of(arguments)
        files, options = options_of(rest, ("--setup", "--width", "--samples", "--masks"))
        if len(files) != 1 or not out:
            return refuse(f"arguments: must be one scene document and -o; usage: {PROOF_USAGE}")
        masks = options.get("--masks")
        for name, path in (("o", out), ("masks", masks)):
            if path is not None and not path.endswith(".png"):
                raise FieldError(name, "must be a file that ends in .png", path)
        if masks is not None and Path(masks).resolve() == Path(out).resolve():
            raise FieldError("masks", "must be another file than -o", masks)
        width, samples = counted_of(options, "--width", WIDTHS), counted_of(options, "--samples", (1, MOST_SAMPLES))
        reading = files[0]
        pictures = _proven(reading, options, width, samples, with_masks=masks is not None)
        for reading, content in zip((out, masks or ""), pictures, strict=False):
            replace_file(Path(reading), content)
    except OSError as error:
        return refuse(f"{reading}: must be a file that can be {'written' if reading in (out, masks) else 'read'} ({error.strerror or error})")
    except FieldError as error:
        own = {"setup": "--", "width": "--", "samples": "--", "masks": "--", "option": "--", "o": "-"}
        return refuse(f"{own.get(error.path, '')}{error}")
    except TideflatError as error:
        return refuse(str(error))
    except ModuleNotFoundError as error:
        return refuse(f"renderer: must be installed for a proof ({error.name} is not): make proof-parts, or pip install -r requirements/proof.txt")
    return 0


def _proven(path: str, options: dict[str, str], width: int | None, samples: int | None, *, with_masks: bool) -> list[bytes]:
    """The files' contents: the proof, and the masks if they are wanted."""
    import cv2

    from tideflat.core.evaluate import Picture
    from tideflat.core.formats.scene_reader import read_scene
    from tideflat.core.lit import lit_picture
    from tideflat.core.render.proof import USUAL_SAMPLES, USUAL_WIDTH, masks_of, proof_of

    scene = read_scene(bytes_of(path))
    asked = Picture(scene, setup_of(scene, options))
    picture = lit_picture(asked)
    if not asked.scene.lights:
        print("lights: none are decided, so the proof has a window to the back left", file=sys.stderr)
    shown = proof_of(picture, width or USUAL_WIDTH, samples or USUAL_SAMPLES).mixed()
    found = [cv2.imencode(".png", shown[..., ::-1])[1].tobytes()]
    if with_masks:
        found.append(cv2.imencode(".png", masks_of(picture, width or USUAL_WIDTH))[1].tobytes())
    return found


def points_of(arguments: list[str]) -> tuple[list[str], np.ndarray | None]:
    """(the rest, (n, 3) points after each --at, mm; None where there is none). Raises FieldError."""
    import numpy as np

    from tideflat.core.bounds import MOST_PLACE_MM
    from tideflat.core.errors import FieldError

    rest: list[str] = []
    found: list[list[float]] = []
    given = iter(arguments)
    is_open = False  # several points may follow one --at
    for argument in given:
        name, is_joined, value = argument.partition("=")
        if name == "--at":
            text = value if is_joined else next(given, "")
        elif is_open and _is_point(argument):
            text = argument
        else:
            rest.append(argument)
            is_open = False
            continue
        is_open = True
        try:
            point = [float(part) for part in text.split(",")]
        except ValueError:
            point = []
        if len(point) != 3 or not all(abs(v) <= MOST_PLACE_MM for v in point):
            raise FieldError("at", f"must be x,y,z in mm, each at most {MOST_PLACE_MM:g}, such as 450,300,0", text)
        found.append(point)
        if len(found) > MOST_POINTS:
            raise FieldError("at", f"must be given at most {MOST_POINTS} times", len(found))
    return rest, np.array(found) if found else None


def _is_point(argument: str) -> bool:
    return argument.count(",") == 2 and all(part.strip().replace(".", "", 1).lstrip("-").isdigit() for part in argument.split(","))


def sun(arguments: list[str]) -> int:
    """Print the sun's elevation and azimuth at a place and a moment, and how long shadows are, as one JSON object."""
    from tideflat.core.errors import TideflatError
    from tideflat.core.light.sun import moment_of, sun_at

    try:
        files, options = options_of(arguments, ("--latitude", "--longitude", "--time"))
        if files or len(options) < 3:
            return refuse(f"arguments: must be --latitude, --longitude and --time; usage: {SUN_USAGE}")
        latitude = number_of(options, "--latitude", -90, 90, 0.0) or 0.0
        longitude = number_of(options, "--longitude", -180, 180, 0.0) or 0.0
        found = sun_at(latitude, longitude, moment_of(options["--time"]))
    except TideflatError as error:
        return refuse(f"--{error}")
    print(json.dumps(found.value(), allow_nan=False))
    return 0
