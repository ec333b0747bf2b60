"""The starter store's own photographs, drawn in code by ``tools/skins.py``: what its props and surfaces wear."""

from __future__ import annotations

import hashlib
import json
from functools import lru_cache
from importlib.resources import files
from typing import Any

from tideflat.web.accounts.models import Studio

from .models import StorePicture

_FOLDER = files("tideflat.web.stores").joinpath("skins")


@lru_cache(maxsize=1)
def manifest() -> dict[str, Any]:
    """{"props": {key: [{file, face, width, depth}]}, "surfaces": {name: {file, width, depth}}}, with the size in pixels of each file."""
    found: dict[str, Any] = json.loads(_FOLDER.joinpath("manifest.json").read_text())
    return found


@lru_cache(maxsize=256)
def _bytes(name: str) -> tuple[str, bytes]:
    data = _FOLDER.joinpath(name).read_bytes()
    return hashlib.sha256(data).hexdigest()[:32], data


def prop_skins(studio: Studio, key: str) -> list[dict[str, Any]]:
    """The skins of a starter prop, their pictures kept for the studio."""
    return [_kept(studio, entry) for entry in manifest()["props"].get(key, [])]


def surface_skin(studio: Studio, name: str) -> dict[str, Any] | None:
    entry = manifest()["surfaces"].get(name)
    return None if entry is None else _kept(studio, {**entry, "face": "tile"})


def starter_skins_of_prop(key: str) -> list[dict[str, Any]]:
    """The same as a scene document names them."""
    return [_skin(entry) for entry in manifest()["props"].get(key, [])]


def starter_skin_of_surface(name: str) -> dict[str, Any] | None:
    entry = manifest()["surfaces"].get(name)
    return None if entry is None else _skin({**entry, "face": "tile"})


def _skin(entry: dict[str, Any]) -> dict[str, Any]:
    return {"picture": _bytes(entry["file"])[0], "face": entry["face"], "width": entry.get("width"), "depth": entry.get("depth")}


def _kept(studio: Studio, entry: dict[str, Any]) -> dict[str, Any]:
    key, data = _bytes(entry["file"])
    width, height = entry["pixels"]
    StorePicture.objects.get_or_create(studio=studio, key=key, defaults={"data": data, "width_px": width, "height_px": height})
    return _skin(entry)
