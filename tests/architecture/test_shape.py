"""What import-linter cannot say: the stylesheet is fresh, tools are imported by nobody, no address leaves the machine."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

from tools import styles

ROOT = Path(__file__).resolve().parents[2]
SOURCES = sorted((ROOT / "src").rglob("*.py"))


def test_the_stylesheet_was_built_from_what_is_here():
    first = styles.SHEET.read_text().splitlines()[0]
    assert first == f"/* built from {styles.fingerprint()} */", "the stylesheet is stale: run make styles"


def test_the_sprite_holds_every_icon_that_templates_use():
    sprite = styles.SPRITE.read_text()
    assert [name for name in styles.icons() if f'id="{name}"' not in sprite] == []


def test_tools_and_tests_are_imported_by_no_program_code():
    for path in SOURCES:
        for node in ast.walk(ast.parse(path.read_text())):
            names = (
                [a.name for a in node.names]
                if isinstance(node, ast.Import)
                else [node.module or ""]
                if isinstance(node, ast.ImportFrom) and not node.level
                else []
            )
            assert not any(n.split(".")[0] in ("tools", "tests") for n in names), path


def test_nothing_the_program_ships_asks_for_another_address():
    allowed = ("http://www.w3.org/", "https://json-schema.org/", "http://127.0.0.1", "http://{HOST}", "https://tailwindcss.com")
    for path in (ROOT / "src").rglob("*"):
        if path.suffix in {".py", ".html", ".css", ".js", ".svg", ".json"} and "vendor" not in path.parts:
            for address in re.findall(r"https?://[^\s\"'<>)]+", path.read_text()):
                assert address.startswith(allowed), f"{path}: {address}"


def test_every_grey_of_the_interface_is_neutral():
    css = styles.SOURCE.read_text()
    for name in ("ground", "raised", "sunk", "ink", "soft", "hair"):
        for value in re.findall(rf"--{name}: #([0-9a-f]{{6}})", css):
            assert value[:2] == value[2:4] == value[4:], f"--{name}: #{value}"


#: Tables of data: rows to be read as such, as long as they are.
TABLES = {"starters.py", "starter_props.py", "starter_props_by_scenario.py", "starter.py", "leaning_pictures.py"}


@pytest.mark.parametrize("path", SOURCES, ids=lambda p: p.relative_to(ROOT / "src").as_posix())
def test_modules_stay_of_one_subject(path):
    lines = path.read_text().splitlines()
    assert len(lines) <= 300 or path.name in TABLES, "what second subject moved in?"
    assert path.read_text().startswith('"""') or not path.read_text().strip() or "migrations" in path.parts, "say what the module is for"


def _imported(path: Path) -> set[str]:
    """Every module that a file imports, by its full name, names taken out of a module included."""
    found: set[str] = set()
    package = path.relative_to(ROOT / "src").with_suffix("").parts[:-1]
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {a.name for a in node.names}
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else ()
            module = ".".join([*base, *([node.module] if node.module else [])])
            found |= {module} | {f"{module}.{a.name}" for a in node.names}
    return found


def test_the_web_reaches_acts_only_through_their_registry():
    """So that page, command line, remedies and proposals change a scene in one and the same way."""
    seen = False
    for path in (ROOT / "src" / "tideflat" / "web").rglob("*.py"):
        used = {name for name in _imported(path) if name.startswith("tideflat.core.acts")}
        assert all(name.startswith("tideflat.core.acts.registry") for name in used), f"{path}: {used}"
        seen = seen or bool(used)
    assert seen


def test_every_change_of_a_scene_in_the_web_is_an_act():
    """Nothing in the web makes one scene of another but by acts: what begins a scene (beginning, starters) and what only looks are named."""
    may = {"scenes/services/beginning.py"}
    for path in (ROOT / "src" / "tideflat" / "web").rglob("*.py"):
        text = path.read_text()
        if path.relative_to(ROOT / "src" / "tideflat" / "web").as_posix() not in may:
            assert not re.search(r"with_placement|with_setup\(|replace\((self\.)?scene,", text), path


def test_neither_acts_nor_findings_know_remedies_and_words_are_nobodys_business_below_the_web():
    for path in (ROOT / "src" / "tideflat" / "core").rglob("*.py"):
        part = path.relative_to(ROOT / "src" / "tideflat" / "core").parts[0]
        if part in ("acts", "findings", "table"):
            assert not any(name.startswith("tideflat.core.remedies") for name in _imported(path)), path


def test_nine_functions_of_ten_are_under_twenty_five_lines():
    lengths = [
        (node.end_lineno or 0) - node.lineno + 1
        for path in SOURCES
        if "migrations" not in path.parts
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
    ]
    assert sum(length < 25 for length in lengths) >= 0.9 * len(lengths)


def test_no_line_of_code_is_longer_than_the_formatter_allows():
    """Tables of data, and sentences that stay on one line, aside."""
    long = [
        f"{path.relative_to(ROOT)}:{k}"
        for path in SOURCES
        if "migrations" not in path.parts and path.name not in TABLES
        for k, line in enumerate(path.read_text().splitlines(), 1)
        if len(line) > 140 and not re.search(r"[\"'].{60,}[\"']", line)
    ]
    assert long == []


def test_no_tolerance_is_typed_in_where_it_is_used():
    """Each has its name and its reason in tolerances.py."""
    strays = [
        f"{path.relative_to(ROOT)}: {found}"
        for path in (ROOT / "src/tideflat/core").rglob("*.py")
        if path.name not in ("tolerances.py", "bounds.py")
        for found in re.findall(r"(?<![\w.])1e-\d+", path.read_text())
    ]
    assert strays == []


def test_every_package_says_what_belongs_in_it():
    for path in (ROOT / "src").rglob("__init__.py"):
        if "migrations" not in path.parts and any(p.suffix == ".py" and p.name != "__init__.py" for p in path.parent.iterdir()):
            text = ast.get_docstring(ast.parse(path.read_text())) or ""
            assert len(text) > 90, f"{path.relative_to(ROOT)}: what belongs here, and what does not?"


def test_a_stations_template_posts_the_verbs_it_names_and_no_others():
    from tideflat.web.scenes.services.acting import FORMS
    from tideflat.web.scenes.stations import STATIONS

    for station in STATIONS.values():
        text = (ROOT / "src/tideflat/web/scenes/templates" / station.template).read_text()
        posted = set(re.findall(r'data-(?:do|do-typed|do-choice|do-file|form)="([a-z-]+)"', text))
        assert posted == set(station.verbs), station.tray
        assert posted <= set(FORMS)


def test_whoever_raises_says_so():
    """Public functions of the core; an act's ``done`` is documented where acts are."""
    silent = []
    for path in (ROOT / "src/tideflat/core").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef) and not node.name.startswith("_") and node.name != "done":
                raised = [n.exc for n in ast.walk(node) if isinstance(n, ast.Raise) and n.exc is not None]
                named = [e for e in raised if not (isinstance(e, ast.Name) and e.id == "NotImplementedError")]
                if named and not re.search(r"[Rr]aises|[Ee]rror|[Rr]efuse", ast.get_docstring(node) or ""):
                    silent.append(f"{path.relative_to(ROOT)}: {node.name}")
    assert silent == []
