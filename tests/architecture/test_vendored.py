"""Scripts that are not ours are what their README says: every file has its line, and its hash is the one written there."""

from __future__ import annotations

import hashlib
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
FOLDERS = [ROOT / "src/tideflat/web/ui/static/tideflat/vendor", ROOT / "tests/support/vendor"]
LINE = re.compile(r"^\| (?P<file>\S+) \| (?P<package>\S+) \| (?P<version>\d+\.\d+\.\d+) \| (?P<inside>\S+) \| (?P<licence>[\w.-]+) \| (?P<hash>[0-9a-f]{64}) \|$", re.M)


@pytest.mark.parametrize("folder", FOLDERS, ids=lambda f: f.parent.name)
def test_every_vendored_file_is_written_down_and_unchanged(folder):
    told = {m["file"]: m["hash"] for m in LINE.finditer((folder / "README.md").read_text())}
    found = {p.name: hashlib.sha256(p.read_bytes()).hexdigest() for p in folder.iterdir() if p.name != "README.md"}
    assert told == found


def test_versions_that_scripts_say_of_themselves_are_those_written_down():
    folder = FOLDERS[0]
    told = {m["file"]: m["version"] for m in LINE.finditer((folder / "README.md").read_text())}
    for name in ("htmx.min.js", "alpine-csp.min.js"):
        assert f'version:"{told[name]}"' in (folder / name).read_text()
