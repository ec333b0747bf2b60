"""The command `tideflat`: `evaluate`, `apply`, `propose`, `build`, `fit`, `lenses`, `overlay`, `measure-lens`, `measure`, `light`, `proof` and `sun` need no database; the rest runs the web application."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from tideflat.arranging import BUILD_USAGE, PROPOSE_USAGE, build, propose
from tideflat.command_line import bytes_of, refuse, replace_file
from tideflat.framing import FIT_USAGE, LENSES_USAGE, MEASURE_LENS_USAGE, OVERLAY_USAGE, fit, lenses, measure_lens, overlay
from tideflat.lighting import LIGHT_USAGE, PROOF_USAGE, SUN_USAGE, light, proof, sun

if TYPE_CHECKING:
    from tideflat.core.formats.photograph import Photograph

EVALUATE_USAGE = "tideflat evaluate SCENE.tideflat.json [--no-remedies]"
APPLY_USAGE = "tideflat apply SCENE.tideflat.json ACTS.json [-o OUT] | tideflat apply --list"
MEASURE_USAGE = "tideflat measure PHOTO [--second PHOTO2] [--sheet a4|letter] [--height MM]"
#: They run the web application; web/command.py has one function for each.
WEB_COMMANDS = ("begin", "password", "demo", "serve", "check", "backup", "restore", "manage")
USAGE = f"usage: {EVALUATE_USAGE} | {APPLY_USAGE} | {PROPOSE_USAGE} | {BUILD_USAGE} | {FIT_USAGE} | {LENSES_USAGE} | {OVERLAY_USAGE} | {MEASURE_LENS_USAGE} | {MEASURE_USAGE} | {LIGHT_USAGE} | {PROOF_USAGE} | {SUN_USAGE} | tideflat begin | password NAME | demo | serve [--processes N] | check [FILE] | backup FILE | restore FILE | manage ..."


def main(argv: list[str] | None = None) -> int:
    """Run one command; returns the exit code (2 for input that cannot be used)."""
    arguments = sys.argv[1:] if argv is None else argv
    # before NumPy is loaded: its matrices are small here, and more threads wait busily for each other, at the cost of what else works
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    if not arguments or arguments[0] in ("-h", "--help"):
        print(USAGE, file=sys.stdout if arguments else sys.stderr)
        return 0 if arguments else 2
    command, rest = arguments[0], arguments[1:]
    if command == "evaluate":
        return evaluate(rest)
    if command == "apply":
        return apply(rest)
    if command in OTHERS:
        return OTHERS[command](rest)
    if command in WEB_COMMANDS:
        from tideflat.web.command import run

        return run(command, rest)
    return refuse(f"command: must be one of evaluate, apply, {', '.join(OTHERS)}, {', '.join(WEB_COMMANDS)} (got {command!r})")


def evaluate(arguments: list[str]) -> int:
    """Print everything the core computes of a scene document as one JSON object."""
    from tideflat.core.errors import TideflatError
    from tideflat.core.formats.scene_reader import read_scene
    from tideflat.core.report import evaluation

    files = [a for a in arguments if a != "--no-remedies"]
    if len(files) != 1 or len(arguments) > 2 or files[0].startswith("--"):
        return refuse(f"arguments: must be one scene document, and --no-remedies or not; usage: {EVALUATE_USAGE}")
    try:
        value = evaluation(read_scene(bytes_of(files[0])), with_remedies=len(arguments) == 1)
        text = json.dumps(value, ensure_ascii=False, allow_nan=False)
    except OSError as error:
        return refuse(f"{files[0]}: must be a file that can be read ({error.strerror or error})")
    except TideflatError as error:
        return refuse(str(error))
    print(text)
    return 0


def apply(arguments: list[str]) -> int:
    """Perform a list of acts on a scene document, all or none, and print or write the new document; or list the acts there are."""
    from tideflat.core.acts.registry import acts_from_value, perform_all, schemas
    from tideflat.core.errors import TideflatError
    from tideflat.core.formats.reading import parse_json
    from tideflat.core.formats.scene_reader import read_scene
    from tideflat.core.formats.scene_writer import write_scene

    if arguments == ["--list"]:
        print(json.dumps(schemas(), ensure_ascii=False, indent=1))
        return 0
    files, out = list(arguments), None
    if "-o" in files:
        at = files.index("-o")
        out = files[at + 1] if at + 1 < len(files) else ""
        del files[at : at + 2]
    if len(files) != 2 or out == "" or any(name.startswith("-") for name in files):
        return refuse(f"arguments: must be a scene document and a list of acts; usage: {APPLY_USAGE}")
    reading = files[0]
    try:
        scene = read_scene(bytes_of(reading))
        reading = files[1]
        document = write_scene(perform_all(scene, acts_from_value(parse_json(bytes_of(reading), "acts"))))
        if out is not None:
            reading = out
            replace_file(Path(out), document)
    except OSError as error:
        kind = "written" if reading == out else "read"
        return refuse(f"{reading}: must be a file that can be {kind} ({error.strerror or error})")
    except TideflatError as error:
        return refuse(str(error))
    if out is None:
        sys.stdout.buffer.write(document)
        sys.stdout.flush()
    return 0


def measure(arguments: list[str]) -> int:
    """Print the sizes, outlines and colours of the things beside a sheet of paper in a photograph, or in two, as one JSON object."""
    from concurrent.futures import ThreadPoolExecutor

    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.vision.tables import make_tables

    options = {"--sheet": "a4", "--height": "", "--second": ""}
    photos: list[str] = []
    given: set[str] = set()
    rest = iter(arguments)
    for argument in rest:
        name, is_joined, value = argument.partition("=")
        if name in options:
            options[name] = value if is_joined else next(rest, "")
            given.add(name)
        elif argument.startswith("--"):
            return refuse(f"{name}: must be --second, --sheet or --height; usage: {MEASURE_USAGE}")
        else:
            photos.append(argument)
    if len(photos) != 1:
        return refuse(f"arguments: must be one photograph; usage: {MEASURE_USAGE}")
    files = {"photograph": photos[0], **({"second": options["--second"]} if "--second" in given else {})}
    try:
        with ThreadPoolExecutor() as beside:  # what measures is loaded meanwhile
            making, reading = beside.submit(make_tables), beside.submit(_photographs, files)
            from tideflat.core.units import parse_length_mm
            from tideflat.core.vision.measure import measure_all
            from tideflat.core.vision.measured import value_of
            from tideflat.core.vision.two_pictures import measure_both

            height = parse_length_mm(options["--height"], "mm") if "--height" in given else None
            pictures = reading.result()
            making.result()
        sheet = options["--sheet"].lower()
        things = measure_both(pictures[0], pictures[1], sheet, height) if len(pictures) > 1 else measure_all(pictures[0], sheet, height)
        text = json.dumps(value_of(things), allow_nan=False)
    except OSError as error:
        return refuse(f"{error.filename or photos[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return refuse(
            f"--{error}".replace("--length", "--height")
            if error.path in ("height", "length") or "a4 or letter" in error.rule
            else str(error)
        )
    except TideflatError as error:
        return refuse(str(error))
    print(text)
    return 0


def _photographs(files: dict[str, str]) -> list[Photograph]:
    """files: paths by what each is called in errors."""
    from tideflat.core.formats.photograph import MOST_BYTES, read_photograph

    pictures = []
    for name, path in files.items():
        with Path(path).open("rb") as file:
            pictures.append(read_photograph(file.read(MOST_BYTES + 1), name))
    return pictures


#: The commands that are told apart by their name alone.
OTHERS = {"propose": propose, "build": build, "fit": fit, "lenses": lenses, "overlay": overlay, "measure-lens": measure_lens, "measure": measure, "light": light, "proof": proof, "sun": sun}


if __name__ == "__main__":
    sys.exit(main())
