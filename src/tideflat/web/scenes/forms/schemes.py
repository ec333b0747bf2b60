"""The scheme that things are laid by: chosen, taken away, and bent by its handles, what follows it moving along."""

from __future__ import annotations

from tideflat.core.arrange.bending import bent, filled
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import scheme_value
from tideflat.core.model import SCHEMES, Scheme

from .asked import Asked, Form, Value


def _picture(asked: Asked) -> Picture:
    return Picture(asked.scene, asked.setup)


def scheme(asked: Asked) -> Value:
    """One of the kinds, what it leaves open chosen; none for an empty ``kind``."""
    kind = asked.fields.text("kind", 20)
    where = asked.where_own("scheme")
    if not kind:
        return {"act": "scheme", "scheme": None, **where}
    if kind not in SCHEMES:
        raise FieldError("kind", "must be one of " + ", ".join(SCHEMES), kind)
    return {"act": "scheme", "scheme": scheme_value(filled(_picture(asked), Scheme(kind))), **where}


def bend(asked: Asked) -> Value:
    """A handle (``key``) to a place of the frame (``u``, ``v``)."""
    fields = asked.fields
    made, places = bent(_picture(asked), fields.text("key", 20), fields.number("u"), fields.number("v"))
    if not places:
        return {"act": "scheme", "scheme": scheme_value(made), **asked.where_own("scheme")}
    turns = {i: asked.seen.placement(i).turn for i in places}
    stands = [{"x": x, "y": y, "turn": turns[i]} for i, (x, y) in places.items()]
    value = {"act": "arrange", "placements": list(places), "places": stands, "scheme": made.kind, "laid_by": scheme_value(made)}
    return {**value, "setup": asked.setup.name, "only": asked.only}


FORMS: dict[str, Form] = {"scheme": scheme, "bend": bend}
