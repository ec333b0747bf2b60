"""Whether this machine's renderer may be compiled (core/render/compiled.py): tried once for each library, renderer and processor, beside
other work, and kept in a file, so that whichever process of the server asks next knows it.
"""

from __future__ import annotations

import json
import os
import platform
import threading
from contextlib import suppress
from hashlib import sha256
from importlib.metadata import PackageNotFoundError, version
from importlib.util import find_spec
from pathlib import Path

from django.conf import settings

from tideflat.core.render.compiled import libraries, works

_turn = threading.Lock()
_asked: list[threading.Thread] = []


def library() -> Path | None:
    """The library that passed here, if any did."""
    kept = _kept()
    return next((path for path in libraries() if kept.get(_key(path))), None)


def look() -> None:
    """Try what was not tried yet, once in this process and beside it."""
    if not settings.TRIES_COMPILING or find_spec("mitsuba") is None:
        return
    with _turn:
        if not _asked:
            _asked.append(threading.Thread(target=try_all, daemon=True, name="quicker"))
            _asked[0].start()


def try_all() -> None:
    """The newest that works is enough."""
    for path in libraries():
        kept = _kept()
        if _key(path) not in kept:
            _keep({**kept, _key(path): works(path)})
        if _kept().get(_key(path)):
            return


def distrust() -> None:
    """A proof failed in earnest: what passed is not used again."""
    path = library()
    if path is not None:
        _keep({**_kept(), _key(path): False})


def _key(path: Path) -> str:
    """Another file, renderer or processor is asked anew."""
    try:
        file = path.stat()
        about = (str(path), file.st_size, int(file.st_mtime), version("mitsuba"), _processor())
    except (OSError, PackageNotFoundError):
        about = (str(path), 0, 0, "", "")
    return sha256(repr(about).encode()).hexdigest()[:20]


def _processor() -> str:
    try:
        lines = Path("/proc/cpuinfo").read_text().splitlines()
    except OSError:
        return platform.processor()
    return "\n".join(dict.fromkeys(line for line in lines if line.startswith(("model name", "flags", "Features"))))


def _file() -> Path:
    return Path(settings.VAR) / "compiling.json"


def _kept() -> dict[str, bool]:
    try:
        found = json.loads(_file().read_text())
    except (OSError, ValueError):
        return {}
    return {key: value is True for key, value in found.items()} if isinstance(found, dict) else {}


def _keep(kept: dict[str, bool]) -> None:
    part = _file().with_suffix(f".{os.getpid()}.part")
    try:
        _file().parent.mkdir(parents=True, exist_ok=True)
        part.write_text(json.dumps(kept))
        part.replace(_file())
    except OSError:  # a folder that cannot be written: it is tried again next time
        with suppress(OSError):
            part.unlink(missing_ok=True)
