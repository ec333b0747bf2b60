"""The command `tideflat`: `evaluate` and `measure` need no database; the rest runs the web application."""

from __future__ import annotations

import json
import sys
from pathlib import Path

MEASURE_USAGE = "tideflat measure PHOTO [--sheet a4|letter] [--height MM]"
#: They run the web application; web/command.py has one function for each.
WEB_COMMANDS = ("begin", "password", "demo", "serve", "check", "backup", "restore", "manage")
USAGE = f"usage: tideflat evaluate SCENE.tideflat.json | {MEASURE_USAGE} | tideflat begin | password NAME | demo | serve [--processes N] | check [FILE] | backup FILE | restore FILE | manage ..."


def main(argv: list[str] | None = None) -> int:
    """Run one command; returns the exit code (2 for input that cannot be used)."""
    arguments = sys.argv[1:] if argv is None else argv
    if not arguments or arguments[0] in ("-h", "--help"):
        print(USAGE, file=sys.stdout if arguments else sys.stderr)
        return 0 if arguments else 2
    command, rest = arguments[0], arguments[1:]
    if command == "evaluate":
        return evaluate(rest)
    if command == "measure":
        return measure(rest)
    if command in WEB_COMMANDS:
        from tideflat.web.command import run

        return run(command, rest)
    return _refuse(f"command: must be one of evaluate, measure, {', '.join(WEB_COMMANDS)} (got {command!r})")


def evaluate(arguments: list[str]) -> int:
    """Print everything the core computes of a scene document as one JSON object."""
    from tideflat.core.errors import TideflatError
    from tideflat.core.formats.reading import MAX_BYTES
    from tideflat.core.formats.scene_reader import read_scene
    from tideflat.core.report import evaluation

    if len(arguments) != 1:
        return _refuse("arguments: must be one scene document; usage: tideflat evaluate SCENE.tideflat.json")
    try:
        with Path(arguments[0]).open("rb") as file:
            raw = file.read(MAX_BYTES + 1)
        text = json.dumps(evaluation(read_scene(raw)), ensure_ascii=False, allow_nan=False)
    except OSError as error:
        return _refuse(f"{arguments[0]}: must be a file that can be read ({error.strerror or error})")
    except TideflatError as error:
        return _refuse(str(error))
    print(text)
    return 0


def measure(arguments: list[str]) -> int:
    """Print the size, outline and colours of the thing beside a sheet of paper in a photograph as one JSON object."""
    from tideflat.core.errors import FieldError, TideflatError

    options = {"--sheet": "a4", "--height": "0"}
    photos = []
    rest = iter(arguments)
    for argument in rest:
        name, is_joined, value = argument.partition("=")
        if name in options:
            options[name] = value if is_joined else next(rest, "")
        elif argument.startswith("--"):
            return _refuse(f"{name}: must be --sheet or --height; usage: {MEASURE_USAGE}")
        else:
            photos.append(argument)
    if len(photos) != 1:
        return _refuse(f"arguments: must be one photograph; usage: {MEASURE_USAGE}")
    try:
        from tideflat.core.formats.photograph import MOST_BYTES, read_photograph
        from tideflat.core.units import parse_length_mm
        from tideflat.core.vision.measure import measure as measured

        height = parse_length_mm(options["--height"], "mm")
        with Path(photos[0]).open("rb") as file:
            raw = file.read(MOST_BYTES + 1)
        text = json.dumps(measured(read_photograph(raw, "photograph"), options["--sheet"].lower(), height).as_value(), allow_nan=False)
    except OSError as error:
        return _refuse(f"{photos[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return _refuse(
            f"--{error}".replace("--length", "--height")
            if error.path in ("height", "length") or "a4 or letter" in error.rule
            else str(error)
        )
    except TideflatError as error:
        return _refuse(str(error))
    print(text)
    return 0


def _refuse(line: str) -> int:
    print(" ".join(line.split()), file=sys.stderr)
    return 2


if __name__ == "__main__":
    sys.exit(main())
