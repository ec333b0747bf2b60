"""The renderer compiled by this machine's own library: found, tried in a process of its own, and the same picture."""

from __future__ import annotations

import pytest

from tideflat.core.render import compiled
from tideflat.core.render.compiled import NAMED_BY, libraries, named, works


def test_the_newest_library_comes_first_and_links_count_once(tmp_path, monkeypatch):
    monkeypatch.delenv(NAMED_BY, raising=False)
    for name in ("libLLVM-9.so.1", "libLLVM-15.so.1", "libLLVM.so.19.1", "libLLVM.a", "libclang.so.21"):
        (tmp_path / name).write_text("")
    (tmp_path / "libLLVM-19.so").symlink_to(tmp_path / "libLLVM.so.19.1")
    assert [path.name for path in libraries((str(tmp_path),))] == ["libLLVM.so.19.1", "libLLVM-15.so.1", "libLLVM-9.so.1"]
    for age in range(20, 26):
        (tmp_path / f"libLLVM-{age}.so.1").write_text("")
    assert [path.name for path in libraries((str(tmp_path),))] == [f"libLLVM-{age}.so.1" for age in (25, 24, 23, 22)]
    assert libraries((str(tmp_path / "nowhere"),)) == ()


def test_one_that_a_person_named_is_the_only_one(tmp_path, monkeypatch):
    monkeypatch.setenv(NAMED_BY, str(tmp_path / "mine.so"))
    (tmp_path / "libLLVM-19.so.1").write_text("")
    assert [path.name for path in libraries((str(tmp_path),))] == ["mine.so"]
    assert NAMED_BY not in named(None)
    assert named(tmp_path / "other.so")[NAMED_BY] == str(tmp_path / "other.so")


def test_what_is_no_library_does_not_work(tmp_path):
    pytest.importorskip("mitsuba")
    (tmp_path / "libLLVM-19.so.1").write_text("no library")
    assert not works(tmp_path / "libLLVM-19.so.1")
    assert not works(tmp_path / "libLLVM-20.so.1")


def test_one_that_never_ends_does_not_work(tmp_path, monkeypatch):
    monkeypatch.setattr(compiled, "_PATIENCE_S", 0.01)
    assert not works(tmp_path / "libLLVM-19.so.1")


def test_without_a_library_nothing_changes(monkeypatch):
    mi = pytest.importorskip("mitsuba")
    monkeypatch.delenv(NAMED_BY, raising=False)
    compiled.mitsuba()
    before = mi.variant()
    with compiled.compiled():
        assert mi.variant() == before


def test_compiled_it_is_the_same_picture(monkeypatch):
    """In a process of its own: the renderer reads its library once."""
    pytest.importorskip("mitsuba")
    found = next((path for path in libraries() if works(path)), None)
    if found is None:
        pytest.skip("no library of this machine works")
    import subprocess
    import sys

    code = (
        "import numpy as np\n"
        "from tests.support.lit import LAMP, picture, table\n"
        "from tideflat.core.render.compiled import compiled\n"
        "from tideflat.core.render.proof import proof_of\n"
        "seen = picture(table(lights=[LAMP]))\n"
        "plain = proof_of(seen, 96, 16).light['all']\n"
        "with compiled():\n    quick = proof_of(seen, 96, 16).light['all']\n"
        "print(float(np.abs(plain - quick).mean() / plain.mean()), float(quick.mean() / plain.mean()))"
    )
    told = subprocess.run([sys.executable, "-c", code], env=named(found), capture_output=True, text=True, check=True).stdout.split()
    apart, mean = (float(value) for value in told)
    assert apart < 0.03 and mean == pytest.approx(1, abs=0.005)
