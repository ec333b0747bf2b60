"""What is typed in one cell of a table of props, read as what it stands for. All raise ValueError or FieldError for what cannot be read."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from typing import Any

from ..bounds import MOST_SIZE_MM
from ..facts.cautions import CAUTIONS
from ..units import Marks, parse_length_mm
from .reading import name as line_of

#: Plain names of colours, for who has no hex at hand; values from memory.
COLOUR_NAMES: dict[str, str] = {
    "white": "#f4f2ec", "cream": "#efe5cf", "ivory": "#eee6d0", "black": "#1c1c1c", "grey": "#808080", "gray": "#808080", "silver": "#b8bcbe", "brown": "#6b4a32",
    "wood": "#a87e52", "oak": "#b9945f", "walnut": "#54412f", "red": "#b22a26", "pink": "#d9949c", "orange": "#dd7a22", "yellow": "#e3b93a", "gold": "#b8953f",
    "brass": "#b08d4a", "copper": "#b87345", "green": "#5d7d46", "olive": "#76793f", "blue": "#3f6a9a", "navy": "#27374f", "teal": "#2b6a6c", "purple": "#6d4a86",
    "clear": "#dfe7e6", "glass": "#dfe7e6", "terracotta": "#b5653f", "beige": "#d3c3a3", "slate": "#4b5052",
}  # fmt: skip


#: The cure for what is no plain text on one line.
PLAIN_CURE = "write plain text on one line, without < or >"


def key_of(text: str) -> str:
    """A key of the stores. Raises ValueError."""
    if not re.fullmatch(r"[A-Za-z0-9_-]{1,60}", text):
        raise ValueError(text)
    return text


def plain_line(text: str, path: str) -> str:
    return line_of(text[:120], path, empty=True)


def size_mm(text: str, unit: str, marks: Marks | None = None) -> float:
    """A length of a thing, in mm; bare numbers are in ``unit``. Raises ValueError, DoubtfulLength where ``marks`` does not settle it."""
    value = parse_length_mm(text, unit, marks)
    if not 0 <= value <= MOST_SIZE_MM:
        raise ValueError(text)
    return value


def one_of(text: str, choices: Sequence[str]) -> str:
    """One of the choices, whatever its case. Raises ValueError."""
    if text.lower() not in choices:
        raise ValueError(text)
    return text.lower()


def count_of(text: str) -> int:
    """How many there are of a thing. Raises ValueError."""
    value = int(text)
    if not 0 <= value <= 9999:
        raise ValueError(text)
    return value


def day_of(text: str) -> date:
    match = re.fullmatch(r"(\d{1,2})[./](\d{1,2})[./](\d{4})", text)
    return date(int(match.group(3)), int(match.group(2)), int(match.group(1))) if match else date.fromisoformat(text)


def cautions_of(text: str) -> tuple[str, ...]:
    return tuple(one_of(part.strip().replace(" ", "-"), tuple(CAUTIONS)) for part in re.split(r"[;,|]", text) if part.strip())


def colours_of_cell(text: str) -> list[dict[str, Any]]:
    """Colours with shares, as the scene document writes them. Raises ValueError."""
    found = []
    for part in re.split(r"[;|]|,(?!\d)", text):
        match = re.fullmatch(r"\s*(#[0-9a-fA-F]{6}|[a-zA-Z]+)\s*(?:(\d{1,3}(?:[.,]\d+)?)\s*%)?\s*", part)
        if match is None:
            raise ValueError(part)
        colour = match.group(1).lower()
        found.append((COLOUR_NAMES[colour] if not colour.startswith("#") and colour in COLOUR_NAMES else colour, match.group(2)))
        if not found[-1][0].startswith("#"):
            raise ValueError(part)
    given = [float(s.replace(",", ".")) / 100 for _, s in found if s]
    left = max(0.0, 1 - sum(given)) / max(1, len(found) - len(given))
    return [{"hex": c, "share": round(float(s.replace(",", ".")) / 100, 6) if s else round(left, 6)} for c, s in found]


def corners_of(text: str) -> list[list[float]]:
    return [[float(v.replace(",", ".")) for v in pair.split()] for pair in text.split(";") if pair.strip()]


def skins_of(text: str) -> list[dict[str, Any]]:
    found = []
    for part in text.split(";"):
        face, picture, *size = part.strip().split(":")
        entry: dict[str, Any] = {"picture": picture, "face": face}
        if size:
            width, depth = size
            entry |= {"width": float(width), "depth": float(depth)}
        found.append(entry)
    return found
