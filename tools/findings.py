"""The table of docs/findings.md, written from the kinds of findings as they are declared: `make findings`."""

from __future__ import annotations

from pathlib import Path

from tideflat.core.findings.kind import Kind
from tideflat.core.findings.registry import KINDS

PAGE = Path(__file__).resolve().parents[1] / "docs" / "findings.md"
BEGIN, END = "<!-- table: make findings -->", "<!-- end of table -->"


def table() -> str:
    """One line a kind, in the order of those that are equally grave."""
    lines = ["| code | severity | measure | limit | source of the limit | remedies tried |", "|---|---|---|---|---|---|"]
    return "\n".join([*lines, *(_line(kind) for kind in KINDS.values())])


def _line(kind: Kind) -> str:
    severity = (kind.severities or kind.severity) + (f"; leaning {kind.leaning.replace('_', ' ')}" if kind.leaning else "")
    limit = (kind.limit_words or f"{kind.limit.value:g}") + (f"; {kind.limit_note}" if kind.limit_note else "")
    source = kind.limit.source.replace("common practice, no source", "practice")
    return f"| {kind.code} | {severity} | {kind.measure} | {limit} | {source} | {', '.join(kind.makers) or 'none'} |"


def written(page: str) -> str:
    """The page with the table as it is now."""
    before, _, rest = page.partition(BEGIN)
    return f"{before}{BEGIN}\n{table()}\n{END}{rest.partition(END)[2]}"


if __name__ == "__main__":
    PAGE.write_text(written(PAGE.read_text()))
