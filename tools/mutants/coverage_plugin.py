"""A pytest plugin that tells coverage which test is running, with every cache of the core empty, and notes how long each takes.

What one test had computed must not hide from coverage that the next depends on it too.
"""

from __future__ import annotations

import json
import os
import time
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import coverage
import pytest

from tideflat.core.remember import forget_all

_seconds: dict[str, float] = defaultdict(float)


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_call(item: pytest.Item) -> Iterator[None]:
    forget_all()
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
