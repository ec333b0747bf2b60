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
from tideflat.core.light_pictures import light_pictures
from tideflat.core.light_told import light_told
from tideflat.core.lit import lighting_of, lit_picture
from tideflat.core.tolerances import SEEN_AREA


class Drawer:
    """What was drawn last, and for which things."""

    def __init__(self) -> None:
        self._key: Any = None
        self._lighting: Lighting | None = None

    def answer(self, asked: dict[str, Any]) -> dict[str, Any]:
        """asked: document, setup, share of the places (1: all), told: whether its readings are wanted; live: what a browser draws it
        by; worn: (3,) linear, the mean of what things wear, by placement."""
        scene = read_scene(asked["document"].encode())
        picture = Picture(scene, scene.setup(asked["setup"]))
        share = asked.get("share", 1.0)
        seen = picture.scene
        key = replace(seen, lights=(), cards=() if share < 1 else seen.cards, setups=(), meant=(), title=""), picture.setup.hidden
        worn = {name: np.array(rgb) for name, rgb in asked.get("worn", {}).items()}
        known = self._lighting if key == self._key or (share < 1 and self._is_of_same_things(key)) else None
        if asked.get("mirrors"):
            return {"mirrors": self._mirrors(picture, known, worn)}
        earlier, is_live = self._lighting, bool(asked.get("live"))
        found, lighting = light_pictures(picture, share=share, before=known, earlier=earlier, worn=worn, live=is_live)
        if asked.get("told"):
            found["told"] = light_told(lit_picture(picture), lighting)
        if share == 1 or known is None:
            self._key, self._lighting = key, lighting
        return found

    def _mirrors(self, picture: Picture, known: Lighting | None, worn: dict[str, np.ndarray]) -> list[dict[str, Any]]:
        lit = lit_picture(picture)
        lighting = lighting_of(lit, worn)
        if known is not None:
            lighting.knowing(known)
        elif self._lighting is not None:
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
