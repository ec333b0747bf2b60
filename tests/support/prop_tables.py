"""A made-up table of props with faults of every sort at known rows."""

from __future__ import annotations

#: (column that is wrong, what is written there).
FAULTS: tuple[tuple[str, str], ...] = (
    ("name", ""), ("diameter", "wide"), ("height", "-4"), ("diameter", ""), ("colours", "#12345"), ("colours", "no such colour"), ("finish", "shiny"),
    ("role", "star"), ("count", "some"), ("count", "-1"), ("return_on", "next week"), ("cautions", "tiger"), ("shape", "blob"), ("height", "3 feet tall"),
    ("return_on", "31.02.2026"), ("diameter", "0"),
)  # fmt: skip
_HEADINGS = ("name", "shape", "diameter", "height", "colours", "finish", "role", "count", "return_on", "cautions")


def faulty_table(rows: int, wrong: int = 37) -> tuple[str, dict[int, str]]:
    """(CSV with ``rows`` rows, the faulty ones as row and column): jars and tins, quotes and separators in their names."""
    step = rows // wrong
    faulty = {2 + k * step: FAULTS[k % len(FAULTS)] for k in range(wrong)}
    lines = [";".join(_HEADINGS)]
    for row in range(2, rows + 2):
        values = {
            "name": f'"Jar {row}; the ""good"" one"' if row % 7 == 0 else f"Jar {row}",
            "shape": "cylinder",
            "diameter": f"{60 + row % 40},5" if row % 2 else f"{2 + row % 3} 1/2 in",
            "height": "9,5 cm",
            "colours": '"#c4621a 70%; #efe3c8 30%"' if row % 3 else "brown",
            "finish": "gloss",
            "role": "support",
            "count": str(row % 12),
            "return_on": "",
            "cautions": "glass" if row % 5 == 0 else "",
        }
        if row in faulty:
            column, text = faulty[row]
            values[column] = text
        lines.append(";".join(values[h] for h in _HEADINGS))
    return "\ufeff" + "\r\n".join(lines) + "\r\n", {row: column for row, (column, _) in faulty.items()}
