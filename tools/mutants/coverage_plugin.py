"""A pytest plugin that tells coverage which test is running, with every cache of the core empty, and notes how long each takes.

What one test had computed must not hide from coverage that the next depends on it too.
"""

from __future__ import annotations

import functools
import gc
import json
import os
import time
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import coverage
import pytest

_seconds: dict[str, float] = defaultdict(float)


def _of_the_program(cached: object) -> bool:
    return str(getattr(cached, "__module__", "")).startswith("tideflat.")


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_call(item: pytest.Item) -> Iterator[None]:
    for thing in gc.get_objects():
        if isinstance(thing, functools._lru_cache_wrapper) and _of_the_program(thing):
            thing.cache_clear()
    name = item.nodeid.partition("[")[0]
    measuring = coverage.Coverage.current()
    if measuring is not None:
        measuring.switch_context(name)
    began = time.perf_counter()
    yield
    _seconds[name] += time.perf_counter() - began
    if measuring is not None:
        measuring.switch_context("")


def pytest_sessionfinish() -> None:
    Path(os.environ["TIDEFLAT_TEST_SECONDS"]).write_text(json.dumps(_seconds), encoding="utf-8")
