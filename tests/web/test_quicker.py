"""Whether the renderer may be compiled here is tried once, kept, asked anew of another file, and forgotten where it failed in earnest."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from tideflat.web.work import quicker, services


@pytest.fixture
def tried(tmp_path, settings, monkeypatch) -> list[str]:
    """Two libraries, of which the older works; which were tried."""
    settings.VAR = tmp_path / "var"
    found: list[str] = []
    files = [tmp_path / "libLLVM-15.so.1", tmp_path / "libLLVM-19.so.1"]
    for file in files:
        file.write_text("a library")

    def works(path: Path) -> bool:
        found.append(path.name)
        return "15" in path.name

    monkeypatch.setattr(quicker, "libraries", lambda: tuple(reversed(files)))
    monkeypatch.setattr(quicker, "works", works)
    return found


def test_it_is_tried_once_and_kept(tried, tmp_path):
    assert quicker.library() is None
    quicker.try_all()
    assert tried == ["libLLVM-19.so.1", "libLLVM-15.so.1"]
    assert quicker.library() == tmp_path / "libLLVM-15.so.1"
    quicker.try_all()
    assert len(tried) == 2
    (tmp_path / "libLLVM-19.so.1").write_text("another, larger library")  # a newer build of it
    quicker.try_all()
    assert tried[2:] == ["libLLVM-19.so.1"]


def test_what_failed_in_earnest_is_not_used_again(tried, tmp_path):
    quicker.try_all()
    quicker.distrust()
    assert quicker.library() is None
    quicker.try_all()
    assert len(tried) == 2
    quicker.distrust()  # nothing is left to distrust


@pytest.mark.parametrize("kept", ["", "no JSON", "[1, 2]", '{"a": "yes"}'])
def test_a_file_that_says_nothing_is_asked_no_more(tried, settings, kept):
    Path(settings.VAR).mkdir()
    (Path(settings.VAR) / "compiling.json").write_text(kept)
    assert quicker.library() is None
    quicker.try_all()
    assert quicker.library() is not None
    assert all(value in (True, False) for value in json.loads((Path(settings.VAR) / "compiling.json").read_text()).values())


def test_a_folder_that_cannot_be_written_is_no_fault(tried, settings, tmp_path):
    (tmp_path / "var").write_text("a file in its place")
    quicker.try_all()
    assert quicker.library() is None


def test_only_a_proof_is_told_of_it(tried, tmp_path):
    quicker.try_all()
    assert (services._environment("proof") or {})["DRJIT_LIBLLVM_PATH"] == str(tmp_path / "libLLVM-15.so.1")
    assert services._environment("") is None
