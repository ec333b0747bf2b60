"""Forms that put a prop of the stores on the table, or in the place of another."""

from __future__ import annotations

from tideflat.core.errors import FieldError
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import ROLES
from tideflat.web.stores.queries import FoundProp, prop_in

from ..offers import offered
from .asked import Asked, Form, Value


def add(asked: Asked) -> Value:
    """A prop of the stores, where there is room for it; or at x, y, mm, on what can carry it there."""
    return _added(asked, prop_in(asked.studio, asked.fields.whole("item")))


def add_found(asked: Asked) -> Value:
    """The first prop that answers the words ``q``, as the drawer lists them."""
    text = asked.fields.text("q", 80)
    picture = asked.picture
    found = offered(asked.row, picture, text, asked.fields.text("want", 10) or "goes", asked.fields.text("selected", 64)).offers
    if not found:
        raise FieldError("q", "must name something in the stores", text)
    return _added(asked, prop_in(asked.studio, found[0].row.pk))


def again(asked: Asked) -> Value:
    """One more of what was put on the table last."""
    if not asked.scene.placements:
        raise FieldError("placement", "must be something on the table; nothing was put there yet", show_got=False)
    last = asked.scene.placements[-1]
    return {**_where(asked), "prop": last.prop, "role": "support" if last.role == "hero" else last.role}


def _added(asked: Asked, item: FoundProp) -> Value:
    fields = asked.fields
    place = {"x": fields.mm("x"), "y": fields.mm("y"), "settled": True} if fields.has("x") and fields.has("y") else {}
    role = fields.choice("role", ROLES) if fields.has("role") else item.role
    return {**_where(asked), "prop": prop_value(item.prop), "role": role, **place}


def _where(asked: Asked) -> Value:
    return asked.of_setup("add", **({"only": True} if asked.only else {}))


def swap(asked: Asked) -> Value:
    """A prop of the stores in the place of the thing."""
    item = prop_in(asked.studio, asked.fields.whole("item"))
    is_own = asked.only or asked.thing.id in dict(asked.setup.swap)
    where = {"setup": asked.setup.name, "only": True} if is_own else {"setup": asked.setup.name}
    keep = asked.fields.text("keep", 20) or "base"
    return {"act": "swap", "placement": asked.thing.id, "prop": prop_value(item.prop), "keep": keep, **where}


FORMS: dict[str, Form] = {"add": add, "add-found": add_found, "again": again, "swap": swap}
