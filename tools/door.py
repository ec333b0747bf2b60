"""Draw the sign-in page's picture from the demo supper: the frame, and the same table from above. ``python -m tools.door``."""

from __future__ import annotations

from tideflat.core.camera.guides import grid_lines
from tideflat.core.evaluate import Picture
from tideflat.web.bridge.drawing import frame_drawing, table_drawing
from tideflat.web.bridge.sheets import path_data
from tideflat.web.bridge.worn import inline_address
from tideflat.web.scenes.starters import starter
from tideflat.web.stores.starter_skins import manifest, picture_bytes

from .styles import STATIC


def main() -> None:
    """Write static/tideflat/door.svg."""
    import numpy as np

    scene = starter("supper")
    picture = Picture(scene, scene.setups[0])
    frame = frame_drawing(picture, prefix="df", live=False, address=inline_address(_shipped()))
    table = table_drawing(picture, prefix="dt", live=False, address=inline_address(_shipped()))
    sheet, crop = frame["sheet"], picture.crops[0].box
    thirds = "".join(path_data(np.array(line), sheet, closed=False) for line in grid_lines("thirds", crop, picture.view.aspect))
    u0, v0, u1, v1 = crop[0] * sheet.width, crop[1] * sheet.height, crop[2] * sheet.width, crop[3] * sheet.height
    whole = next(c["d"] for c in table["coverage"] if not c["name"])
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1200 920">'
        f'<svg x="0" y="0" width="1200" height="800" viewBox="0 0 1200 800"><defs>{frame["defs"]}</defs>{frame["ground"]}{frame["things"]}'
        f'<path d="{thirds}" stroke="#fff" stroke-opacity="0.5" fill="none"/>'
        f'<rect x="{u0:.0f}" y="{v0 + 1:.0f}" width="{u1 - u0:.0f}" height="{v1 - v0 - 2:.0f}" fill="none" stroke="#fff" stroke-width="2"/></svg>'
        '<rect x="742" y="552" width="446" height="356" fill="#c8c8c8"/>'
        f'<svg x="752" y="562" width="426" height="336" viewBox="-30 -60 1160 860"><defs>{table["defs"]}</defs>{table["ground"]}{table["things"]}'
        f'<path d="{whole}" fill="none" stroke="#fff" stroke-width="5" stroke-dasharray="18 12"/></svg></svg>\n'
    )
    (STATIC / "door.svg").write_text(svg)


def _shipped() -> dict[str, bytes]:
    """The starter things' pictures by key: a picture on a page may load nothing itself."""
    every = [e for found in manifest()["props"].values() for e in found] + list(manifest()["surfaces"].values())
    return dict(picture_bytes(e["file"]) for e in every)


if __name__ == "__main__":
    main()
