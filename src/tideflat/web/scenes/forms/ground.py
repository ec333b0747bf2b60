"""Forms for what surrounds the things: surface, backdrop, room."""

from __future__ import annotations

from dataclasses import replace

from tideflat.core.formats.scene_writer import backdrop_value, surface_value
from tideflat.web.stores.queries import backdrop_in, surface_in

from .asked import Asked, Form, Value


def surface(asked: Asked) -> Value:
    """A surface of the stores on the same table."""
    found = surface_in(asked.studio, asked.fields.whole("item"))
    laid = replace(found, height_above_floor=asked.seen.surface.height_above_floor)
    return {"act": "surface", "surface": surface_value(laid), **asked.where_own("surface")}


def backdrop(asked: Asked) -> Value:
    """A backdrop of the stores where the old one stood, or behind the surface; none where no ``item`` is given."""
    where = asked.where_own("backdrop")
    if not asked.fields.has("item"):
        return {"act": "backdrop", "backdrop": None, **where}
    found, name = backdrop_in(asked.studio, asked.fields.whole("item"))
    old, top = asked.seen.backdrop, asked.seen.surface
    placed = replace(found, y=old.y if old else top.depth, x=old.x if old else top.width / 2)
    return {"act": "backdrop", "backdrop": backdrop_value(placed), "called": name, **where}


def place_backdrop(asked: Asked) -> Value:
    which = asked.fields.choice("field", ("x", "y"))
    stood = None if asked.seen.backdrop is None else getattr(asked.seen.backdrop, which)
    return {"act": "place_backdrop", which: asked.fields.length("value", stood), **asked.where_own("backdrop")}


def room(asked: Asked) -> Value:
    """Height of the ceiling (empty: not known) or of the table's top, above the floor."""
    fields = asked.fields
    if fields.choice("field", ("ceiling", "table")) == "table":
        return {
            "act": "table_height",
            "height_above_floor": fields.length("value", asked.seen.surface.height_above_floor),
            **asked.where_own("surface"),
        }
    stood = None if asked.scene.room is None else asked.scene.room.ceiling_height
    return {"act": "room", "ceiling_height": fields.length("value", stood) if fields.has("value") else None}


FORMS: dict[str, Form] = {"surface": surface, "backdrop": backdrop, "backdrop-place": place_backdrop, "room": room}
