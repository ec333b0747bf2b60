"""Forms for set-ups: what they deliver, what they have of their own."""

from __future__ import annotations

from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import copy_space_value
from tideflat.core.model import SIDES

from .asked import Asked, Form, Value, whole_share

#: Keys that are given back or taken over together, by the word that the bench says of them.
TOGETHER: dict[str, tuple[str, ...]] = {
    "place": ("x", "y", "z", "on"),
    "turn": ("turn",),
    "lean": ("lean", "lean_toward"),
    "role": ("role",),
    "held by": ("held_by",),
    "prop": ("prop",),
}
#: Room for words when no share is typed.
_COPY_SHARE = 0.25


def deliverable(asked: Asked) -> Value:
    """Asked for anew, or the one called ``was`` changed."""
    fields, setup = asked.fields, asked.setup
    was = fields.text("was", 120)
    old = next((d for d in setup.deliverables if d.name == was), None) if was else None
    name = fields.text("name", 120) or fields.text("ratio", 20) or "deliverable"
    value = asked.of_setup("deliverable", name=name)
    ratio = fields.text("ratio", 20).replace("x", ":").replace("×", ":").replace(" ", "")
    if ratio:
        value["ratio"] = ratio
    if fields.has("pixels_wide") and fields.has("pixels_high"):
        value["pixels"] = [fields.whole("pixels_wide"), fields.whole("pixels_high")]
    value["scale"] = fields.number("scale") / 100 if fields.has("scale") else (old.scale if old else 1.0)
    if not 0 < value["scale"] <= 1:
        raise FieldError("scale", "must be over 0 and at most 100 %", value["scale"] * 100)
    if fields.has("copy_side"):
        share = fields.number("copy_share") / 100 if fields.has("copy_share") else _COPY_SHARE
        value["copy_space"] = {"side": fields.choice("copy_side", SIDES), "share": share}
        if fields.has("text_share"):
            value["copy_space"]["text_share"] = whole_share(fields, "text_share") or None
    elif old is not None and old.copy_space is not None and old.copy_space.rect is not None:
        value["copy_space"] = copy_space_value(old.copy_space)
    for key in ("bleed", "safe"):
        value[key] = whole_share(fields, key) if fields.has(key) else 0.0 if fields.given(key) or old is None else getattr(old, key)
    value["moves"] = fields.number("moves") if fields.has("moves") else None if fields.given("moves") or old is None else old.moves
    if old is not None:
        value["was"] = old.name
    return value


def _hero_props(picture: Picture) -> list[str]:
    return [picture.props[i].id for i in picture.hero_ids() if i in picture.silhouettes]


def series(asked: Asked) -> Value:
    """Every other set-up that shows another article in the hero's place framed as this one; details and close-ups stay."""
    whole = asked.picture.whole
    here = _hero_props(asked.picture)
    others = [s.name for s in whole.setups if len(shown := _hero_props(Picture(whole, s))) == 1 and shown != here]
    if not others:
        raise FieldError("series", "must have set-ups with another article in the hero's place; begin one and swap it in", show_got=False)
    return asked.of_setup("series", others=others)


def crop(asked: Asked) -> Value:
    """A crop's middle moved to u, v; past the frame it is kept inside."""
    centre = [min(max(asked.fields.number(key), 0.0), 1.0) for key in "uv"]
    return asked.of_setup("crop", name=asked.fields.text("name", 120), centre=centre)


def remove_deliverable(asked: Asked) -> Value:
    return asked.of_setup("remove_deliverable", name=asked.fields.text("name", 120))


def add_setup(asked: Asked) -> Value:
    return asked.of_setup("add_setup", **({"name": asked.fields.text("name", 120)} if asked.fields.has("name") else {}))


def rename_setup(asked: Asked) -> Value:
    return asked.of_setup("rename_setup", name=asked.fields.text("name", 120))


def remove_setup(asked: Asked) -> Value:
    return asked.of_setup("remove_setup")


def give_back(asked: Asked) -> Value:
    """What the set-up has of its own of the thing ``id``, or with ``what`` of itself, is as on the shared table again."""
    return _own(asked, "give_back")


def take_over(asked: Asked) -> Value:
    """It becomes the shared table's."""
    return _own(asked, "take_over")


def _own(asked: Asked, act: str) -> Value:
    what = asked.fields.text("what", 20)
    if not asked.fields.has("id"):
        return asked.of_setup(act, **({"keys": [what]} if what else {}))
    value = asked.of_setup(act, placement=asked.thing.id)
    if what:
        own = asked.setup.differing(asked.thing.id).keys() | ({"prop"} if asked.thing.id in dict(asked.setup.swap) else set())
        value["keys"] = [key for key in TOGETHER.get(what, (what,)) if key in own] or [what]
    return value


def details(asked: Asked) -> Value:
    """A set-up for each named place of the thing."""
    return asked.of_setup("details", placement=asked.thing.id)


FORMS: dict[str, Form] = {
    "details": details,
    "deliverable": deliverable,
    "crop": crop,
    "deliverable-remove": remove_deliverable,
    "setup-add": add_setup,
    "setup-rename": rename_setup,
    "setup-remove": remove_setup,
    "give-back": give_back,
    "series": series,
    "sequence": lambda asked: asked.of_setup("sequence"),
    "take-over": take_over,
}
