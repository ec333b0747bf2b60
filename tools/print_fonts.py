"""Make the upright text font that printed sheets embed from the one that the screen uses: one weight, as TTF.

Needs fontTools and brotli, which nothing else does: `pip install fonttools brotli` into an environment of its own, then run this file.
"""

from __future__ import annotations

from pathlib import Path

from fontTools.ttLib import TTFont  # type: ignore[import-not-found]
from fontTools.varLib import instancer  # type: ignore[import-not-found]

UI = Path(__file__).parents[1] / "src/tideflat/web/ui"
FAMILY = "Tideflat Print"


def main() -> None:
    font = TTFont(UI / "static/tideflat/fonts/instrument-sans.woff2")
    if "fvar" in font:
        font = instancer.instantiateVariableFont(font, {axis.axisTag: axis.defaultValue for axis in font["fvar"].axes})
    for record in list(font["name"].names):
        if record.nameID in (1, 16, 4):
            font["name"].setName(FAMILY, record.nameID, record.platformID, record.platEncID, record.langID)
        elif record.nameID in (2, 17):
            font["name"].setName("Regular", record.nameID, record.platformID, record.platEncID, record.langID)
    font.flavor = None
    font.save(UI / "print/instrument-sans.ttf")


if __name__ == "__main__":
    main()
