"""Acts on the brief and on what surrounds the things: surface, backdrop, room."""

from __future__ import annotations

from dataclasses import replace

from tideflat.core.errors import FieldError
from tideflat.core.model import LEANINGS, Backdrop, Room, Scene, Surface
from tideflat.core.units import format_length
from tideflat.web.ui.fields import Fields

from .history import Edit


def title(scene: Scene, fields: Fields) -> Edit:
    name = fields.text("title", 120)
    return Edit(replace(scene, title=name), f"scene called {name}")


def leaning(scene: Scene, fields: Fields) -> Edit:
    """-1, 0 or 1: the first school, none, the second."""
    which = fields.choice("leaning", LEANINGS)
    value = float(fields.choice("value", ("-1", "0", "1")))
    leanings = tuple((name, value if name == which else old) for name, old in scene.brief.leanings)
    return Edit(
        replace(scene, brief=replace(scene.brief, leanings=leanings)),
        f"leaning on {which.replace('_', ' ')} {'set' if value else 'left open'}",
    )


def use_surface(scene: Scene, surface: Surface) -> Edit:
    """Another surface on the same table; the things stay where they are."""
    kept = replace(surface, height_above_floor=scene.surface.height_above_floor)
    return Edit(replace(scene, surface=kept), f"surface: {surface.name}")


def use_backdrop(scene: Scene, backdrop: Backdrop | None, name: str) -> Edit:
    """Another backdrop, standing where the old one stood, or behind the surface."""
    if backdrop is not None:
        old = scene.backdrop
        backdrop = replace(backdrop, y=old.y if old else scene.surface.depth, x=old.x if old else scene.surface.width / 2)
    return Edit(replace(scene, backdrop=backdrop), f"backdrop: {name}")


def backdrop_place(scene: Scene, fields: Fields) -> Edit:
    if scene.backdrop is None:
        raise FieldError("backdrop", "must be chosen before it can be moved", show_got=False)
    which = fields.choice("field", ("x", "y"))
    value = fields.length("value")
    moved = replace(scene.backdrop, x=value) if which == "x" else replace(scene.backdrop, y=value)
    where = "middle at" if which == "x" else "standing"
    return Edit(replace(scene, backdrop=moved), f"backdrop {where} {format_length(value, fields.unit)}")


def room(scene: Scene, fields: Fields) -> Edit:
    """Height of the ceiling or of the table's top, above the floor."""
    which = fields.choice("field", ("ceiling", "table"))
    if which == "table":
        value = fields.length("value")
        return Edit(
            replace(scene, surface=replace(scene.surface, height_above_floor=value)), f"table {format_length(value, fields.unit)} high"
        )
    height = fields.length("value") if fields.has("value") else None
    walls = scene.room.walls if scene.room else "#efeeea"
    label = f"ceiling {format_length(height, fields.unit)} high" if height else "ceiling not known"
    return Edit(replace(scene, room=Room(height, walls)), label)
