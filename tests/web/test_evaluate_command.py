"""`tideflat evaluate` from outside: a process of its own, exit codes, one line, no traceback, no partial output."""

from __future__ import annotations

import json
import os
import subprocess
import sys

import pytest

from tests.support.malformed import MALFORMED
from tests.support.scenes import raw, scene_value
from tideflat.cli import main

KEYS = {"code", "severity", "placements", "crop", "measure", "limit", "unit", "message", "leaning", "remedy"}


@pytest.mark.parametrize("name", MALFORMED)
def test_malformed_documents_exit_two_with_one_line(name, tmp_path, capsys):
    document, path = MALFORMED[name]
    file = tmp_path / "bad.tideflat.json"
    file.write_bytes(document)
    assert main(["evaluate", str(file)]) == 2
    said = capsys.readouterr()
    assert said.out == ""
    (line,) = said.err.splitlines()
    assert line.startswith(f"{path}: ")


def test_a_process_of_its_own_prints_the_public_keys_and_needs_no_django(tmp_path):
    file = tmp_path / "s.tideflat.json"
    file.write_bytes(raw(scene_value(elevation=45)))
    code = f"import sys; from tideflat.cli import main; status = main(['evaluate', {str(file)!r}]); assert 'django' not in sys.modules; sys.exit(status)"
    result = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120)
    assert result.returncode == 0, result.stderr
    setup = json.loads(result.stdout)["setups"]["main"]
    camera = setup["camera"]
    assert set(camera) >= {
        "position", "height_above_surface", "height_above_floor", "ceiling_clearance", "principal_distance", "magnification", "sensor_to_aim",
        "field_of_view", "coverage", "depth_of_field", "backdrop",
    }  # fmt: skip
    assert set(camera["depth_of_field"]) >= {"near", "far", "total", "circle_of_confusion", "effective_aperture", "airy_diameter"}
    assert set(setup["placements"]["p1"]) >= {"centre", "box", "inside_frame_share", "visible_share", "frame_area_share", "blur"}
    assert set(setup["crops"]["feed"]) >= {"box", "pixels", "share_of_frame", "enlargement"}
    assert setup["findings"] and all(set(f) >= KEYS for f in setup["findings"])
    assert result.stderr == ""


@pytest.mark.parametrize(("own", "told"), [(None, "1"), ("3", "3")])
def test_matrices_have_one_thread_unless_told_otherwise(own, told):
    """Asked for before NumPy is loaded: later it is not heard."""
    ask = "import os, sys, tideflat.cli as c; early = 'numpy' not in sys.modules; c.main(['--help']); print(early, os.environ['OPENBLAS_NUM_THREADS'])"
    env = {k: v for k, v in os.environ.items() if k != "OPENBLAS_NUM_THREADS"} | ({} if own is None else {"OPENBLAS_NUM_THREADS": own})
    run = subprocess.run([sys.executable, "-c", ask], capture_output=True, text=True, env=env, check=True)
    assert run.stdout.splitlines()[-1] == f"True {told}"
