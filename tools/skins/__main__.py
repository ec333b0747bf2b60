"""Draw everything and write it where the program finds it."""

from __future__ import annotations

import json
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from tideflat.core.formats.photograph import write_picture
from tideflat.web.stores.starter import SURFACES
from tideflat.web.stores.starter_props import PROPS

from .brush import TILE_MM, finished
from .dishes import biscuit, cheese, citrus, fig_face, filled, glazed, heaped, liquor, lumps, marmalade, smooth_cream, tin_lid
from .flats import board_top, cloth_top, lacquer, stone_top
from .grounds import SURFACE_ART
from .labels import LABELS, label
from .outlines import crumb, fish, leaf, steel, wooden
from .scenes import examples, references

OUT = Path(__file__).resolve().parents[2] / "src/tideflat/web/stores"
_ROWS = {row["key"]: row for row in PROPS}


_SHREDS: dict[str, Callable[[int, str, int], np.ndarray]] = {
    "preserving-pan": marmalade, "sugar-bowl": heaped, "salt-cellar": heaped, "cream-pot": smooth_cream, "horseradish": smooth_cream,
    "beetroot-bowl": lumps, "potato-bowl": lambda n, c, s: lumps(n, c, s, 52), "tea-bowl": liquor, "tea-cup": liquor,
}  # fmt: skip
_TOPS: dict[str, Callable[[dict[str, Any], int], np.ndarray]] = {
    **dict.fromkeys(("orange-half", "orange-slice", "lime-half", "lemon-half", "lemon-slice"), citrus),
    **dict.fromkeys(("cut-fig", "fig-quarter", "fig-slice"), fig_face),
    **dict.fromkeys(("dinner-plate", "side-plate", "dark-plate", "fig-plate", "marmalade-plate", "saucer", "clay-saucer"), glazed),
    **dict.fromkeys(("smoked-fish", "smoked-fish-small"), fish),
    **dict.fromkeys(("bread-slice", "toast", "rye-slice"), crumb),
    **dict.fromkeys(("sage", "bay-leaf", "orange-leaf", "fig-leaf"), leaf),
    **dict.fromkeys(("wooden-spoon", "bamboo-scoop"), wooden),
    **dict.fromkeys(("paring-knife", "bread-knife", "fig-knife", "fork", "butter-knife", "jam-spoon", "tea-spoon", "tea-scoop", "fish-knife", "fish-fork"), steel),
    **dict.fromkeys(("chopping-board", "bread-board", "bamboo-tray"), board_top),
    **dict.fromkeys(("fish-slate", "marble-slab"), stone_top),
    **dict.fromkeys(("tea-towel", "napkin", "muslin", "linen-dark", "linen-blue", "runner", "tea-linen", "plum-napkin", "jar-cover"), cloth_top),
    **dict.fromkeys(("marmalade-jar", "marmalade-jar-small", "marmalade-jar-large", "lime-jar", "honey-pot", "tea-tin-tall", "tea-tin-low", "tea-tin-black", "tea-tin-ochre", "tea-tin-rose"), tin_lid),
    "biscuit": biscuit, "goat-cheese": cheese, "lacquer-tray": lacquer,
    **{key: (lambda row, seed: filled(row, seed, _SHREDS[row["key"]])) for key in _SHREDS},
}  # fmt: skip


def skins_of(key: str) -> list[tuple[str, np.ndarray]]:
    """(face, picture) for each face that a starter prop wears one on."""
    row, seed = _ROWS[key], zlib.crc32(key.encode())
    found = [("top", _TOPS[key](row, seed))] if key in _TOPS else []
    if key in LABELS:
        found.append(("front", label(row, seed)))
    return found


def main() -> None:
    """Draw every picture anew; the same seeds give the same bytes."""
    folder = OUT / "skins"
    for old in folder.glob("*.webp"):
        old.unlink()
    manifest: dict[str, Any] = {"props": {}, "surfaces": {}}
    for key in _ROWS:
        for face, picture in skins_of(key):
            name = f"{key}-{face}.webp"
            (folder / name).write_bytes(write_picture(picture, 68))
            manifest["props"].setdefault(key, []).append({"file": name, "face": face, "pixels": [picture.shape[1], picture.shape[0]]})
    for row in SURFACES:
        picture = finished(SURFACE_ART[row["name"]](tuple(row["colours"]), zlib.crc32(row["name"].encode())))
        name = row["name"].replace(" ", "-") + ".webp"
        (folder / name).write_bytes(write_picture(picture, 55))
        width = row["lines"]["pitch"] * 3 if row["name"] == "rose-clay tiles" and row["lines"] else TILE_MM
        manifest["surfaces"][row["name"]] = {"file": name, "width": width, "depth": width, "pixels": [picture.shape[1], picture.shape[0]]}
    (folder / "manifest.json").write_text(json.dumps(manifest, indent=1) + "\n")
    print(f"{len(list(folder.glob('*.webp')))} pictures, {sum(f.stat().st_size for f in folder.glob('*.webp')) // 1024} kB")
    examples(OUT)
    references(OUT)


if __name__ == "__main__":
    main()
