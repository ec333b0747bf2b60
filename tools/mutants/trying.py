"""Try faults in a copy of the tree: each in a child forked from a process that has everything but the program imported."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from .sites import Mutant

#: What a copy needs to run the tests.
_COPIED = ("src", "tests", "tools", "docs", "pyproject.toml", "README.md", "Makefile")
#: A fault that makes a test run this much longer than the chosen tests take is noticed too.
_PATIENCE_S, _TIMES = 20.0, 4.0


@dataclass(frozen=True)
class Tried:
    """outcome: ``killed``, ``slow`` (noticed since the tests did not end), or ``survived``."""

    mutant: Mutant
    outcome: str
    tests: int
    seconds: float


def copied_tree(root: Path, to: Path) -> Path:
    """A copy of the tree without its caches of compiled code, so that none is stale."""
    for name in _COPIED:
        source = root / name
        if source.is_dir():
            shutil.copytree(source, to / name, ignore=shutil.ignore_patterns("__pycache__", "screenshots", "node_modules"))
        elif source.exists():
            shutil.copy2(source, to / name)
    return to


def prepare(tree: Path) -> None:
    """Import into this process what every test needs and no fault touches; the program itself comes from ``tree``."""
    sys.dont_write_bytecode = True
    sys.path.insert(0, str(tree / "src"))
    sys.path.insert(0, str(tree))
    os.chdir(tree)
    import colour  # noqa: F401
    import cv2  # noqa: F401
    import django.test  # noqa: F401
    import hypothesis  # noqa: F401
    import jsonschema  # noqa: F401
    import numpy  # noqa: F401
    import PIL.Image  # noqa: F401
    import pytest_django.plugin  # noqa: F401
    import shapely.ops  # noqa: F401


def try_one(tree: Path, mutant: Mutant, tests: list[str], expected_s: float) -> Tried:
    """Whether any of ``tests`` (node ids) fails with the fault in."""
    began = time.monotonic()
    if not tests:
        return Tried(mutant, "survived", 0, 0.0)
    with _put_in(tree / mutant.path, mutant.source):
        child = os.fork()
        if child == 0:
            _run_and_leave(tests)
        outcome = _awaited(child, _PATIENCE_S + _TIMES * expected_s)
    return Tried(mutant, outcome, len(tests), time.monotonic() - began)


@contextlib.contextmanager
def _put_in(path: Path, source: str) -> Iterator[None]:
    kept = path.read_bytes()
    path.write_text(source, encoding="utf-8")
    try:
        yield
    finally:
        path.write_bytes(kept)


def _run_and_leave(tests: list[str]) -> None:
    os.setsid()
    hole = os.open(os.devnull, os.O_WRONLY)
    os.dup2(hole, 1)
    os.dup2(hole, 2)
    code = 3
    try:
        import pytest

        code = int(pytest.main(["-x", "-q", "-p", "no:logging", "-p", "no:cacheprovider", "--no-header", *tests]))
    finally:
        os._exit(code)


def _awaited(child: int, most_s: float) -> str:
    deadline = time.monotonic() + most_s
    while time.monotonic() < deadline:
        pid, status = os.waitpid(child, os.WNOHANG)
        if pid:
            return "survived" if os.waitstatus_to_exitcode(status) == 0 else "killed"
        time.sleep(0.02)
    os.killpg(child, signal.SIGKILL)
    os.waitpid(child, 0)
    return "slow"
