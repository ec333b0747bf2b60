"""A process that draws light: asked a line at a time, it answers a line at a time. It knows no database, and ends with whoever began it.

A line asks with a document and the name of a set-up; pictures of skins are not needed, as light is drawn over colours.
While lights are moved, what surfaces see of each other stays, and is kept.
"""

from __future__ import annotations

import json
import os
import sys
from dataclasses import asdict, replace
from typing import Any

import numpy as np

from tideflat.core.errors import TideflatError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.light.falling import Lighting
from tideflat.core.light.mirrored import mirrored_on
from tideflat.core.light_drawn import DrawnLight, light_drawn
from tideflat.core.light_live import live_value
from tideflat.core.light_pictures import light_pictures
from tideflat.core.light_told import light_told
from tideflat.core.lit import lighting_of, lit_picture
from tideflat.core.tolerances import SEEN_AREA


class Drawer:
    """What was drawn last, and for which things."""

    def __init__(self) -> None:
        self._key: Any = None
        self._lighting: Lighting | None = None
        self._drawn: tuple[Any, DrawnLight] | None = None

    def answer(self, asked: dict[str, Any]) -> dict[str, Any]:
        """asked: document, setup, share of the places (1: all); worn: (3,) linear, the mean of what things wear, by placement. The
        pictures; where it is asked with ``told``, instead of them its readings, and what a browser draws it by (``live``); with
        ``mirrors``, those."""
        scene = read_scene(asked["document"].encode())
        picture = Picture(scene, scene.setup(asked["setup"]))
        share = asked.get("share", 1.0)
        seen = picture.scene
        key = replace(seen, lights=(), cards=() if share < 1 else seen.cards, setups=(), meant=(), title=""), picture.setup.hidden
        worn = {name: np.array(rgb) for name, rgb in asked.get("worn", {}).items()}
        known = self._lighting if key == self._key or (share < 1 and self._is_of_same_things(key)) else None
        question = asked["document"], asked["setup"], share, asked.get("worn")
        is_drawn = known is not None and self._drawn is not None and self._drawn[0] == question
        if asked.get("mirrors"):
            return {"mirrors": self._mirrors(picture, known, worn, is_drawn)}
        if known is not None and self._drawn is not None and is_drawn:
            drawn, lighting = self._drawn[1], known
        else:
            drawn, lighting = light_drawn(picture, share=share, before=known, earlier=self._lighting, worn=worn)
        if share == 1 or known is None:
            self._key, self._lighting, self._drawn = key, lighting, (question, drawn)
        if not asked.get("told"):
            return light_pictures(drawn)
        lit = lit_picture(picture)
        return {"exposed": drawn.exposed.tolist(), "told": light_told(lit, lighting), "live": live_value(lit, drawn, lighting)}

    def _mirrors(self, picture: Picture, known: Lighting | None, worn: dict[str, np.ndarray], is_drawn: bool) -> list[dict[str, Any]]:
        lit = lit_picture(picture)
        lighting = known if known is not None and is_drawn else lighting_of(lit, worn)
        if known is not None and not is_drawn:
            lighting.knowing(known)
        elif known is None and self._lighting is not None:
            lighting.following(self._lighting)
        boxes = [(i, thing.visible.bounds) for i, thing in picture.things.items() if thing.visible.area > SEEN_AREA]
        return [asdict(shown) for shown in mirrored_on(lighting, lit.view, boxes)]

    def _is_of_same_things(self, key: Any) -> bool:
        return self._key is not None and (replace(self._key[0], cards=()), self._key[1]) == key


def main() -> None:
    os.nice(5)  # whoever works on the bench goes first
    drawer = Drawer()
    for line in sys.stdin:
        try:
            answer = drawer.answer(json.loads(line))
        except TideflatError as error:
            answer = {"fault": str(error)}
        sys.stdout.write(json.dumps(answer) + "\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
