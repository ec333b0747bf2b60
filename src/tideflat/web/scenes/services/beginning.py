"""How a new scene begins: with its brief, the studio's usual leanings, and a surface that the studio has."""

from __future__ import annotations

from dataclasses import replace

from tideflat.core.model import LeftOut, Scene
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.models import StoreSurface
from tideflat.web.stores.queries import core_surface
from tideflat.web.stores.services import keep_starter_pictures
from tideflat.web.ui.fields import Fields

from .acting import performed
from .naming import free_title, title_from


def begun(studio: Studio, empty: Scene, fields: Fields) -> Scene:
    """An empty table with what the picture is for, one sentence, and what the studio usually leans to, on a surface of its own if it has one."""
    leanings = tuple((name, float(studio.leanings.get(name, value))) for name, value in empty.brief.leanings)
    told = {"act": "begin", "use": fields.text("use", 120), "story": fields.text("story", 2000)}
    scene = performed(replace(empty, brief=replace(empty.brief, leanings=leanings)), told).scene
    told_title = title_from(scene.brief.story) or (f"For {scene.brief.use}" if scene.brief.use else scene.title)
    owned = StoreSurface.objects.filter(studio=studio)
    row = owned.filter(name=scene.surface.name).first() or owned.first()
    if row is not None:
        scene = replace(scene, surface=replace(core_surface(row), height_above_floor=scene.surface.height_above_floor))
    return replace(scene, title=free_title(studio, told_title))


def with_pictures(studio: Studio, scene: Scene) -> Scene:
    """The scene as it is, once the studio keeps those of its skins that ship with the program."""
    surfaces = (scene.surface, *(s.surface for s in scene.setups if not isinstance(s.surface, LeftOut)))
    skins = [s for p in scene.props for s in p.skins] + [s.skin for s in surfaces if s.skin]
    keep_starter_pictures(studio, {skin.picture for skin in skins})
    return scene
