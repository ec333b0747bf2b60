"""Forms for several things in hand at once, and for a row made of one."""

from __future__ import annotations

from tideflat.core.errors import FieldError
from tideflat.core.table.rows import FORMS as ROW_FORMS
from tideflat.core.table.together import THROUGH

from .asked import Asked, Form, Value

#: What several of a studio's things are kept together under, when no name is given.
_UNNAMED = "kept together"


def ids_of(asked: Asked) -> list[str]:
    """The ids under ``ids``, parted by blanks; raises FieldError where there is none."""
    ids = asked.fields.text("ids", 33_000).split()
    if not ids:
        raise FieldError("placements", "must name a thing: take some in hand first", show_got=False)
    return ids


def _of_them(asked: Asked, act: str, **more: object) -> Value:
    only = {"only": True} if asked.only else {}
    return asked.of_setup(act, placements=ids_of(asked), **more, **only)


def _through(asked: Asked) -> str:
    return asked.fields.choice("through", THROUGH) if asked.fields.has("through") else "frame"


def shift(asked: Asked) -> Value:
    return _of_them(asked, "shift", dx=asked.fields.mm("dx"), dy=asked.fields.mm("dy"))


def spin(asked: Asked) -> Value:
    return _of_them(asked, "spin", by=round(asked.fields.angle("by"), 1))


def line_up(asked: Asked) -> Value:
    return _of_them(asked, "line_up", through=_through(asked))


def share_out(asked: Asked) -> Value:
    what = asked.fields.choice("what", ("gaps", "middles")) if asked.fields.has("what") else "gaps"
    return _of_them(asked, "share_out", through=_through(asked), what=what)


def square_up(asked: Asked) -> Value:
    return _of_them(asked, "square_up", through=_through(asked))


def mirror(asked: Asked) -> Value:
    return _of_them(asked, "mirror", through=_through(asked))


def face_lens(asked: Asked) -> Value:
    return _of_them(asked, "face_lens")


def turn_toward(asked: Asked) -> Value:
    return _of_them(asked, "turn_toward", at=asked.fields.text("at", 64) or None)


def lock_all(asked: Asked) -> Value:
    """Locked when any of them is free, else free."""
    ids = ids_of(asked)
    return {"act": "lock_all", "placements": ids, "locked": any(not p.locked for p in asked.seen.placements if p.id in ids)}


def remove_all(asked: Asked) -> Value:
    return {"act": "remove_all", "placements": ids_of(asked)}


def duplicate_all(asked: Asked) -> Value:
    return {"act": "duplicate_all", "setup": asked.setup.name, "placements": ids_of(asked)}


def together(asked: Asked) -> Value:
    """They move together from now on, under a name."""
    return {"act": "group", "name": asked.fields.text("name", 120) or _UNNAMED, "placements": ids_of(asked)}


def apart(asked: Asked) -> Value:
    """The first group that one of them is in moves together no longer."""
    group = next((g for i in ids_of(asked) if (g := asked.scene.group_of(i)) is not None), None)
    if group is None:
        raise FieldError("placements", "must be kept together to be let go from each other", show_got=False)
    return {"act": "ungroup", "group": group.id}


def repeat(asked: Asked) -> Value:
    """A row of the thing in hand; lengths as typed, in the person's unit."""
    fields = asked.fields
    value = {
        "act": "repeat",
        "placement": asked.thing.id,
        "setup": asked.setup.name,
        "count": fields.whole("count"),
        "form": fields.choice("form", ROW_FORMS),
        "through": _through(asked),
        "turned": fields.text("turned", 5) == "1",
        "around": fields.text("around", 64) or None,
    }
    for key in ("step", "radius", "width", "depth"):
        if fields.has(key):
            value[key] = fields.length(key)
    if fields.has("angle"):
        value["angle"] = fields.angle("angle")
    return value


FORMS: dict[str, Form] = {
    "shift": shift,
    "spin": spin,
    "line-up": line_up,
    "share-out": share_out,
    "square-up": square_up,
    "mirror": mirror,
    "face-lens": face_lens,
    "turn-toward": turn_toward,
    "lock-all": lock_all,
    "remove-all": remove_all,
    "duplicate-all": duplicate_all,
    "together": together,
    "apart": apart,
    "repeat": repeat,
}
