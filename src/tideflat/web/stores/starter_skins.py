"""The starter store's own photographs, drawn in code by ``tools/skins``: what its props and surfaces wear."""

from __future__ import annotations

import hashlib
import json
from importlib.resources import files
from typing import Any

from tideflat.core.remember import counted, remembered

_FOLDER = files("tideflat.web.stores").joinpath("skins")


@counted(1)
def manifest() -> dict[str, Any]:
    """{"props": {key: [{file, face, width, depth}]}, "surfaces": {name: {file, width, depth}}}, with the size in pixels of each file."""
    found: dict[str, Any] = json.loads(_FOLDER.joinpath("manifest.json").read_text())
    return found


@remembered(16)
def picture_bytes(name: str) -> tuple[str, bytes]:
    """The key that a studio keeps the file's picture under, and its bytes."""
    data = _FOLDER.joinpath(name).read_bytes()
    return hashlib.sha256(data).hexdigest()[:32], data


def entries_of_prop(key: str) -> list[dict[str, Any]]:
    """The manifest's entries for a starter prop."""
    return list(manifest()["props"].get(key, []))


def entries_of_surface(name: str) -> list[dict[str, Any]]:
    """One entry, or none."""
    entry = manifest()["surfaces"].get(name)
    return [] if entry is None else [{**entry, "face": "tile"}]


def skin_of_entry(entry: dict[str, Any]) -> dict[str, Any]:
    """The skin as scene documents write it."""
    return {"picture": picture_bytes(entry["file"])[0], "face": entry["face"], "width": entry.get("width"), "depth": entry.get("depth")}
