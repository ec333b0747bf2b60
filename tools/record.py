"""Write anew what the core says of many tables (tests/support/record.py), after a change that was meant: `make record`, then read the difference."""

from __future__ import annotations

import json
from typing import Any

from tests.support.record import FOLDER, HANDS, PROVEN, TABLES, acts_done, judged_table, proven_remedies


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    _write("judged", {str(seed): judged_table(seed) for seed in TABLES})
    _write("proven", {kind: proven_remedies(kind) for kind in PROVEN})
    _write("acts", {str(seed): acts_done(seed) for seed in HANDS})


def _write(name: str, rows: dict[str, Any]) -> None:
    """A table a line, so that a difference is read by table."""
    lines = ",\n".join(f"{json.dumps(key)}: {json.dumps(value, separators=(',', ':'))}" for key, value in rows.items())
    (FOLDER / f"{name}.json").write_text(f"{{\n{lines}\n}}\n", encoding="utf-8")


if __name__ == "__main__":
    main()
