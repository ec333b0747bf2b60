"""Give the shipped fonts a narrow no-break space (U+202F), which parts thousands: the cut lacked it.

Needs fontTools and brotli, which nothing else does: `pip install fonttools brotli` into an environment of its own, then run this file. Running
it again changes nothing.
"""

from __future__ import annotations

from pathlib import Path

from fontTools.ttLib import TTFont  # type: ignore[import-not-found]
from fontTools.ttLib.tables._g_l_y_f import Glyph  # type: ignore[import-not-found]

FONTS = Path(__file__).parents[1] / "src/tideflat/web/ui/static/tideflat/fonts"
NARROW, NAME = 0x202F, "uni202F"
#: Of the width of a word space [practice].
SHARE = 0.85


def widen(path: Path) -> bool:
    """Whether the font had to be given the space."""
    font = TTFont(path)
    if NARROW in font.getBestCmap():
        return False
    for tag in ("glyf", "hmtx", *(t for t in ("gvar", "HVAR", "GDEF", "GPOS", "GSUB") if t in font)):
        font[tag]  # read with the glyphs there are, before there is one more
    width = round(font["hmtx"][font.getBestCmap()[0x20]][0] * SHARE)
    font.setGlyphOrder([*font.getGlyphOrder(), NAME])
    font["glyf"][NAME] = Glyph()
    font["hmtx"][NAME] = (width, 0)
    if "gvar" in font:
        font["gvar"].variations[NAME] = []
    if "HVAR" in font:
        table = font["HVAR"].table
        if table.AdvWidthMap is None:
            data = table.VarStore.VarData[0]
            data.Item.append([0] * len(data.VarRegionIndex))
            data.ItemCount = len(data.Item)
        else:
            table.AdvWidthMap.mapping[NAME] = 0xFFFFFFFF  # no variation
    for table in font["cmap"].tables:
        if table.isUnicode():
            table.cmap[NARROW] = NAME
    font.flavor = "woff2"
    font.save(path)
    return True


if __name__ == "__main__":
    for path in sorted(FONTS.glob("*.woff2")):
        print(path.name, "widened" if widen(path) else "has it")
