"""Kinds of findings are declared once, and everything that lists them derives from that."""

from __future__ import annotations

from pathlib import Path

from tests.support.scenes import picture
from tideflat.core.findings.registry import KINDS, RULES, each_finding, findings, findings_beside
from tideflat.core.remedies.search import MAKERS
from tools.findings import PAGE, written


def test_the_table_of_the_documentation_is_written_from_the_kinds():
    assert written(PAGE.read_text()) == PAGE.read_text(), "the table is stale: run make findings"


def test_every_kind_is_complete_and_none_stands_in_anothers_place():
    assert len({kind.rank for kind in KINDS.values()}) == len(KINDS) == sum(len(rule.kinds) for rule in RULES)
    for code, kind in KINDS.items():
        assert kind.code == code and kind.measure and kind.unit and kind.gives and kind.limit.source
        assert not kind.fits or "stand-in" in kind.makers


def test_every_maker_that_a_kind_names_is_there_and_every_maker_is_named():
    assert {name for kind in KINDS.values() for name in kind.makers} == set(MAKERS)


def test_every_rule_yields_only_the_kinds_it_declares_and_the_dear_ones_come_last():
    shown = picture()
    for rule in RULES:
        assert {f.code for f in rule.find(shown)} <= {kind.code for kind in rule.kinds}
    assert [rule.cost for rule in RULES] == sorted(rule.cost for rule in RULES)
    assert {f.severity for f in each_finding(shown, "mend")} <= {"mend", "stop"}
    for finding in findings(shown):
        assert finding in findings_beside(shown, finding.code)


def test_a_new_module_of_findings_is_found_without_being_listed_anywhere():
    """Modules are looked up in the folder: nothing but the module and its words has to be written."""
    text = (Path(__file__).parents[2] / "src/tideflat/core/findings/registry.py").read_text()
    assert "iter_modules" in text and "import hero" not in text
