"""What the commands share: reading what was asked, and refusing in one line with exit 2."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tideflat.core.model import Scene, Setup


def refuse(line: str) -> int:
    print(" ".join(line.split()), file=sys.stderr)
    return 2


def bytes_of(path: str) -> bytes:
    """A document's bytes; one that is too long comes a byte too long, so that its reader refuses it."""
    from tideflat.core.formats.reading import MAX_BYTES

    with Path(path).open("rb") as file:
        return file.read(MAX_BYTES + 1)


def setup_of(scene: Scene, options: dict[str, str]) -> Setup:
    """The set-up that is named, or the first. Raises FieldError."""
    from tideflat.core.errors import FieldError

    name = options.get("--setup", scene.setups[0].name)
    setup = next((s for s in scene.setups if s.name == name), None)
    if setup is None:
        raise FieldError("setup", "must be one of " + ", ".join(s.name for s in scene.setups), name)
    return setup


def cross_of(text: str | None) -> tuple[float, float] | None:
    """Where a cross of tape is, mm, from ``x,y``. Raises FieldError."""
    from tideflat.core.bounds import MOST_PLACE_MM
    from tideflat.core.errors import FieldError

    if text is None:
        return None
    try:
        x, y = (float(part) for part in text.split(","))
    except ValueError:
        raise FieldError("cross", "must be x,y in mm, such as 300,200", text) from None
    if not (abs(x) <= MOST_PLACE_MM and abs(y) <= MOST_PLACE_MM):
        raise FieldError("cross", f"must be at most {MOST_PLACE_MM:g} mm away", text)
    return x, y


def yes_of(options: dict[str, str], name: str, usual: bool) -> bool:
    """Of an option that is yes or no. Raises FieldError."""
    from tideflat.core.errors import FieldError

    text = options.get(name, "yes" if usual else "no")
    if text not in ("yes", "no"):
        raise FieldError(name.lstrip("-"), "must be yes or no", text)
    return text == "yes"


def options_of(arguments: list[str], known: tuple[str, ...]) -> tuple[list[str], dict[str, str]]:
    """(files, options) of a command line; an option is followed by its value, or joined to it by =. Raises FieldError."""
    from tideflat.core.errors import FieldError

    files: list[str] = []
    options: dict[str, str] = {}
    rest = iter(arguments)
    for argument in rest:
        name, is_joined, value = argument.partition("=")
        if not argument.startswith("--"):
            files.append(argument)
        elif name not in known or name in options:
            raise FieldError(name.lstrip("-") or "option", "must be one of " + ", ".join(known) + ", each once", show_got=False)
        else:
            options[name] = value if is_joined else next(rest, "")
    return files, options


def whole_of(options: dict[str, str], name: str, usual: int, most: int) -> int:
    """A whole number of an option. Raises FieldError."""
    found = counted_of(options, name, (1 if name == "--count" else 0, most))
    return usual if found is None else found


def counted_of(options: dict[str, str], name: str, within: tuple[int, int]) -> int | None:
    """A whole number of an option, None where it is not given. Raises FieldError."""
    from tideflat.core.errors import FieldError

    text = options.get(name)
    if text is None:
        return None
    if not (text.isascii() and text.isdigit() and len(text) < 12 and within[0] <= int(text) <= within[1]):
        raise FieldError(name.lstrip("-"), f"must be a whole number from {within[0]} to {within[1]}", text)
    return int(text)


def out_of(arguments: list[str]) -> tuple[list[str], str | None]:
    """(the rest, what follows -o)."""
    if "-o" not in arguments:
        return arguments, None
    at = arguments.index("-o")
    return [*arguments[:at], *arguments[at + 2 :]], arguments[at + 1] if at + 1 < len(arguments) else None


def number_of(options: dict[str, str], name: str, low: float, high: float, usual: float | None) -> float | None:
    """A number of an option. Raises FieldError."""
    from tideflat.core.errors import FieldError

    text = options.get(name)
    if text is None:
        return usual
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not low <= value <= high:
        raise FieldError(name.lstrip("-"), f"must be a number from {low:g} to {high:g}", text)
    return value


def replace_file(path: Path, content: bytes) -> None:
    """The file with this content, at once or not at all: an interruption leaves the old one."""
    handle, name = tempfile.mkstemp(dir=path.resolve().parent, prefix=f".{path.name}.")
    written = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        written.chmod(path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
        written.replace(path.resolve())
    except BaseException:
        written.unlink(missing_ok=True)
        raise


def _umask() -> int:
    now = os.umask(0)
    os.umask(now)
    return now
