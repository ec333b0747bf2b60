"""Palettes in and out: palette files (.gpl), JSON, and CSS custom properties."""

from __future__ import annotations

import json
import re
from typing import Any

from ..errors import FieldError
from ..facts.practice import PALETTE_SHARES
from ..model import PARTS, Palette, PaletteColour

KINDS: tuple[str, ...] = ("gpl", "json", "css")
MOST_COLOURS = 12
_GPL_LINE = re.compile(r"^\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?$")
_CSS_LINE = re.compile(r"--([a-z0-9_-]{1,80})\s*:\s*(#[0-9a-f]{6}|#[0-9a-f]{3})\b", re.IGNORECASE)
_NAMED = re.compile(r"^(base|second|accent)\b(?:[ -]*\d+(?![\d.]*\s*%))?\s*(?:(\d{1,3}(?:\.\d+)?)\s*%)?", re.IGNORECASE)


def write_palette(palette: Palette, kind: str, name: str) -> str:
    """The palette's text. Names say the part and the share, so that it comes back whole; ``name`` is cleaned of line ends.
    Raises FieldError."""
    title = re.sub(r"[^\w ,.()-]", "", name).strip()[:80] or "palette"
    entries = [(c, f"{c.part} {c.share * 100:g}%") for c in palette.colours]
    if kind == "gpl":
        lines = ["GIMP Palette", f"Name: {title}", "Columns: 0", "#"]
        for c, label in entries:
            red, green, blue = (int(c.hex[i : i + 2], 16) for i in (1, 3, 5))
            lines.append(f"{red:3d} {green:3d} {blue:3d}\t{label}")
        return "\n".join(lines) + "\n"
    if kind == "json":
        return json.dumps({"name": title, "colours": [{"hex": c.hex, "part": c.part, "share": c.share} for c in palette.colours]}, indent=2, ensure_ascii=False) + "\n"  # fmt: skip
    if kind == "css":
        counted: dict[str, int] = {}
        lines = [f"/* {title} */", ":root {"]
        for c in palette.colours:
            counted[c.part] = counted.get(c.part, 0) + 1
            lines.append(f"  --{c.part}-{counted[c.part]}: {c.hex}; /* {c.share * 100:g}% */")
        return "\n".join(lines) + "\n}\n"
    raise FieldError("kind", "must be gpl, json or css", kind)


def read_palette(text: str) -> Palette:
    """The palette in a .gpl, JSON or CSS text, told by its content. Raises FieldError when it holds no colours."""
    stripped = text.lstrip("\ufeff \t\r\n")
    if stripped.startswith("GIMP Palette"):
        found = _from_gpl(stripped)
    elif stripped.startswith(("{", "[")):
        found = _from_json(stripped)
    else:
        found = _from_css(stripped)
    if not found:
        raise FieldError("palette", "must be a palette file (.gpl), JSON with colours, or CSS custom properties", show_got=False)
    return Palette(tuple(_parted(found[:MOST_COLOURS])))


Entry = tuple[str, str | None, float | None]


def _parted(entries: list[Entry]) -> list[PaletteColour]:
    """Colours without a part: the first is the base, the next the second, the others accents."""
    parts = [part or ("base" if i == 0 else "second" if i == 1 else "accent") for i, (_, part, _) in enumerate(entries)]
    return [
        PaletteColour(h.lower(), part, share if share is not None else round(PALETTE_SHARES[part] / parts.count(part), 3))
        for (h, _, share), part in zip(entries, parts, strict=True)
    ]


def _labelled(colour: str, label: str) -> Entry:
    match = _NAMED.match(label.strip())
    if match is None:
        return colour, None, None
    share = min(1.0, float(match.group(2)) / 100) if match.group(2) else None
    return colour, match.group(1).lower(), share


def _from_gpl(text: str) -> list[Entry]:
    found = []
    for number, line in enumerate(text.splitlines(), 1):
        match = _GPL_LINE.match(line)
        if match is None:
            continue
        levels = [int(v) for v in match.groups()[:3]]
        if max(levels) > 255:
            raise FieldError(f"line {number}", "must hold three numbers from 0 to 255", line.strip())
        found.append(_labelled("#{:02x}{:02x}{:02x}".format(*levels), match.group(4) or ""))
    return found


def _from_json(text: str) -> list[Entry]:
    try:
        value = json.loads(text)
    except (ValueError, RecursionError):
        raise FieldError("palette", "must be JSON that can be read", show_got=False) from None
    items = value.get("colours", value.get("colors", [])) if isinstance(value, dict) else value
    if not isinstance(items, list):
        raise FieldError("colours", "must be a list", items)
    return [_json_entry(item, f"colours[{i}]") for i, item in enumerate(items)]


def _json_entry(item: Any, path: str) -> Entry:
    colour = item.get("hex") if isinstance(item, dict) else item
    if not isinstance(colour, str) or not re.fullmatch(r"#[0-9a-fA-F]{6}", colour):
        raise FieldError(f"{path}.hex", "must be a colour such as #c4621a", colour)
    part = item.get("part") if isinstance(item, dict) else None
    share = item.get("share") if isinstance(item, dict) else None
    if share is not None and (isinstance(share, bool) or not isinstance(share, int | float) or not 0 <= share <= 1):
        raise FieldError(f"{path}.share", "must be a number from 0 to 1", share)
    return colour, part if part in PARTS else None, share


def _from_css(text: str) -> list[Entry]:
    matches = list(_CSS_LINE.finditer(text))
    found = []
    for match, following in zip(matches, [*matches[1:], None][: len(matches)], strict=True):
        colour = match.group(2)
        if len(colour) == 4:
            colour = "#" + "".join(ch * 2 for ch in colour[1:])
        between = text[match.end() : following.start() if following else match.end() + 40]
        share = re.search(r"(\d{1,3}(?:\.\d+)?)\s*%", between)
        entry = _labelled(colour, match.group(1))
        found.append((entry[0], entry[1], min(1.0, float(share.group(1)) / 100) if share else None))
    return found
