"""What the browser is sent under hashed names fits together."""

from __future__ import annotations

import re
from pathlib import Path
from posixpath import dirname, join, normpath

from django.core.management import call_command


def test_a_module_imports_the_others_by_their_hashed_names(settings, tmp_path):
    settings.STATIC_ROOT = tmp_path
    settings.STORAGES = {**settings.STORAGES, "staticfiles": {"BACKEND": "tideflat.web.ui.storage.HashedFiles"}}
    call_command("collectstatic", verbosity=0, interactive=False)
    written = {p.name: p for p in (tmp_path / "tideflat" / "bench").glob("*.js")}
    hashed = {name: p for name, p in written.items() if re.fullmatch(r"\w+\.[0-9a-f]{12}\.js", name)}
    assert len(hashed) > 10
    imports = [(name, target) for name, p in hashed.items() for target in re.findall(r'(?:from|import\()\s*"\./([^"/]+)"', p.read_text())]
    assert len(imports) > 20
    assert all(target in hashed for _, target in imports), [i for i in imports if i[1] not in hashed]


def test_a_module_is_sent_without_its_comments_and_with_all_it_exports(settings, tmp_path):
    settings.STATIC_ROOT = tmp_path
    settings.STORAGES = {**settings.STORAGES, "staticfiles": {"BACKEND": "tideflat.web.ui.storage.HashedFiles"}}
    call_command("collectstatic", verbosity=0, interactive=False)
    source = Path(__file__).parents[2] / "src/tideflat/web/ui/static/tideflat/bench"
    sent = list((tmp_path / "tideflat" / "bench").rglob("*.js"))
    assert len(sent) >= len(list(source.rglob("*.js"))) > 20
    exports = re.compile(r"export (?:async )?(?:function|const) (\w+)")
    for path in sent:
        name = re.sub(r"\.[0-9a-f]{12}(?=\.js$)", "", path.relative_to(tmp_path / "tideflat" / "bench").as_posix())
        text, own = path.read_text(), (source / name).read_text()
        assert exports.findall(text) == exports.findall(own) and 0.4 * len(own) < len(text) < 0.99 * len(own), name
        assert not re.search(r"^\s*//", text, re.M), name


def test_every_module_is_small_has_one_subject_and_none_goes_round_in_a_circle():
    folder = Path(__file__).parents[2] / "src/tideflat/web/ui/static/tideflat"
    for path in folder.rglob("*.js"):
        if "vendor" not in path.parts:
            text = path.read_text()
            assert text.startswith("// "), f"{path.name}: the first line says what it is about"
            assert len(text.splitlines()) <= 250, path.name
    modules = {p.relative_to(folder / "bench").as_posix(): p.read_text() for p in (folder / "bench").rglob("*.js")}
    found = {name: re.findall(r'"(\.{1,2}/[^"]+\.js)"', text) for name, text in modules.items()}
    needs = {name: {normpath(join(dirname(name), other)) for other in others} for name, others in found.items()}
    done: set[str] = set()
    while len(done) < len(needs):
        ready = {name for name, others in needs.items() if name not in done and others <= done}
        assert ready, f"a circle among {sorted(set(needs) - done)}"
        done |= ready
