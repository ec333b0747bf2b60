"""Rows of scenes, always inside one studio."""

from __future__ import annotations

from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import write_scene
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.images import SkinBook

from .models import Scene
from .services.history import UnreadableScene, core_scene


def scene_in(studio: Studio, scene_id: int) -> Scene:
    """The scene; Scene.DoesNotExist when it is not this studio's."""
    return Scene.objects.get(pk=scene_id, studio=studio)


#: Scenes that are offered at once to copy things into.
_MOST_OFFERED = 60


def other_scenes(row: Scene) -> list[tuple[int, str]]:
    """(pk, title) of the studio's other scenes, those worked on last first."""
    rows = Scene.objects.filter(studio_id=row.studio_id, put_away_at=None).exclude(pk=row.pk)
    return list(rows.values_list("pk", "title")[:_MOST_OFFERED])


def revision_of(studio: Studio, scene_id: int) -> int | None:
    """The newest revision, without the scene; None outside the studio."""
    return Scene.objects.filter(pk=scene_id, studio=studio).values_list("revision", flat=True).first()


def picture_of(row: Scene, setup_name: str) -> Picture:
    """The set-up with this name, or the first, with the skins that the studio keeps."""
    scene = core_scene(row)
    setup = next((s for s in scene.setups if s.name == setup_name), scene.setups[0])
    return Picture(scene, setup, SkinBook(row.studio_id))


def export_bytes(row: Scene) -> bytes:
    """The scene document of the present state; one that cannot be read goes out as it is kept."""
    try:
        return write_scene(core_scene(row))
    except UnreadableScene:
        return row.document.encode("utf-8", "replace")
