"""The examples in docstrings run and are right."""

from __future__ import annotations

import doctest
import importlib
import pkgutil

import pytest

import tideflat.core

MODULES = [m.name for m in pkgutil.walk_packages(tideflat.core.__path__, "tideflat.core.")]


@pytest.mark.parametrize("name", MODULES)
def test_the_examples_of_a_module_are_right(name):
    assert doctest.testmod(importlib.import_module(name)).failed == 0


def test_there_are_examples_to_run():
    count = sum(len(t.examples) for n in MODULES for t in doctest.DocTestFinder().find(importlib.import_module(n)))
    assert count >= 12
