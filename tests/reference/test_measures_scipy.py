"""Ranks and groups of what the eye weighs, against SciPy's (stats.rankdata, sparse.csgraph.connected_components): it is not loaded for them."""

from __future__ import annotations

import subprocess
import sys

import numpy as np
import pytest
from scipy.sparse.csgraph import connected_components
from scipy.stats import rankdata

from tideflat.core.composition.measures import _groups, _ranks


@pytest.mark.parametrize("seed", range(40))
def test_ranks_and_groups_are_scipys(seed):
    rng = np.random.default_rng(seed)
    count = int(rng.integers(1, 40))
    values = rng.integers(0, 12, count).astype(float)  # many are alike
    assert _ranks(values).tolist() == rankdata(values).tolist()
    far = rng.random((count, count))
    is_near = far + far.T < rng.uniform(0.0, 0.8)
    assert _groups(is_near) == connected_components(is_near)[0]


@pytest.mark.parametrize("count", [1, 2, 64])
def test_a_chain_is_one_group_however_long(count):
    is_near = np.abs(np.subtract.outer(np.arange(count), np.arange(count))) == 1
    assert _groups(is_near) == 1
    is_near[count // 2 :, : count // 2] = is_near[: count // 2, count // 2 :] = False
    assert _groups(is_near) == (1 if count == 1 else 2)


@pytest.mark.parametrize("module", ["tideflat.core.report", "tideflat.web.urls"])
def test_what_takes_long_to_load_is_not_loaded_at_the_start(module):
    """SciPy's statistics, optimisation and graphs took more than a second of every command and every server."""
    code = (
        "import os, sys; os.environ['DJANGO_SETTINGS_MODULE'] = 'tideflat.web.settings.test'; import django; django.setup(); "
        f"import {module}; print([name for name in sys.modules if name.split('.')[0] == 'scipy'])"
    )
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip() == "[]"
