"""What is asked of the process that draws light: by a window that shows a scene, and ahead of it as soon as something was changed."""

from __future__ import annotations

from typing import Any

from django.conf import settings

from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import pack_scene
from tideflat.core.lit import worn_colours
from tideflat.web.work.light_keeper import KEEPER

from .models import Scene
from .queries import picture_of


def question(picture: Picture, *, told: bool = False, share: float = 1.0) -> dict[str, Any]:
    """told: for its readings, and what a browser draws it by, instead of pictures; share: of the places of a view that are looked at."""
    return {
        "document": pack_scene(picture.whole),
        "setup": picture.setup.name,
        "told": told,
        "share": share,
        "worn": {name: rgb.tolist() for name, rgb in worn_colours(picture).items()},
    }


def ask_ahead(row: Scene, setup: str) -> None:
    """Begins what the window asks for once it shows the scene as it is now, while that is still put together."""
    if settings.DRAWS_LIGHT:
        KEEPER.expect(row.pk, question(picture_of(row, setup)))
