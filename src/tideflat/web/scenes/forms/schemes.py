"""The scheme that things are laid by: chosen, taken away, and bent by its handles, what follows it moving along."""

from __future__ import annotations

from typing import Any

from tideflat.core.arrange.bending import bent, filled, reshaped
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import scheme_value
from tideflat.core.model import SCHEME_KEYS, SCHEMES, Scheme

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
    """A handle (``key``) to a place of the frame (``u``, ``v``); or, as typed or chosen, one of the scheme's own keys (``at``) to a ``value``."""
    fields = asked.fields
    if fields.has("at"):
        made, places = reshaped(_picture(asked), _set(asked))
    else:
        made, places = bent(_picture(asked), fields.text("key", 20), fields.number("u"), fields.number("v"))
    if not places:
        return {"act": "scheme", "scheme": scheme_value(made), **asked.where_own("scheme")}
    turns = {i: asked.seen.placement(i).turn for i in places}
    stands = [{"x": x, "y": y, "turn": turns[i]} for i, (x, y) in places.items()]
    value = {"act": "arrange", "placements": list(places), "places": stands, "scheme": made.kind, "laid_by": scheme_value(made)}
    return {**value, "setup": asked.setup.name, "only": asked.only}


def _set(asked: Asked) -> dict[str, Any]:
    """One of the scheme's own keys with its value; ``at`` names it, and which of its numbers."""
    fields, scheme = asked.fields, asked.seen.scheme
    if not isinstance(scheme, Scheme):
        raise FieldError("scheme", "must be laid over the picture first", show_got=False)
    key, *which = fields.text("at", 30).split(".")
    if key not in SCHEME_KEYS[scheme.kind]:
        raise FieldError("at", "must be one of " + ", ".join(SCHEME_KEYS[scheme.kind]), key)
    if key in ("opens", "from"):
        return {key: fields.text("value", 20)}
    if key == "mirrored":
        return {key: fields.text("value", 5) == "yes"}
    if key in ("columns", "rows", "planes"):
        return {key: round(fields.number("value"))}
    share = round(fields.number("value") / 100, 4)
    if not which:
        return {key: share}
    now = filled(_picture(asked), scheme).value(key)
    return {key: _with(now, [int(w) if w.isdecimal() else -1 for w in which], share)}


def _with(value: Any, which: list[int], share: float) -> Any:
    """The place, or the list of places, with one number of it put anew."""
    if not isinstance(value, tuple) or not 0 <= which[0] < len(value):
        raise FieldError("at", "must name a number of the scheme", show_got=False)
    k, *rest = which
    return (*value[:k], _with(value[k], rest, share) if rest else share, *value[k + 1 :])


FORMS: dict[str, Form] = {"scheme": scheme, "bend": bend}
