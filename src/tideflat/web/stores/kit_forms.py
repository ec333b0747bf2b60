"""What is asked of each thing of the kit that is no prop, and how it is read: one table of fields for each kind."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.db import models

from tideflat.core.camera.equivalence import equivalent_mm, focal_from_equivalent_mm
from tideflat.core.camera.lens import focus_reach_mm
from tideflat.core.colour.spaces import is_hex
from tideflat.core.errors import FieldError
from tideflat.core.formats.light_reader import BEAM, KELVIN
from tideflat.core.formats.reading import name as plain_line
from tideflat.core.model import FINISHES, Sensor
from tideflat.core.model.lens import DISTORTION_TERMS
from tideflat.web.accounts.models import Studio
from tideflat.web.ui.fields import Fields

from .models import CameraBody, StoreBackdrop, StoreCard, StoreConverter, StoreLens, StoreLight, StoreSupport, StoreSurface
from .queries import core_backdrop, core_lens, core_sensor, core_surface, zoom_lengths

_LARGEST_MM = 20_000.0
#: Of a term of distortion, as the document has it.
_MOST_TERM = 100.0


@dataclass(frozen=True)
class Asked:
    """One field. kind: text, length, angle, number, numbers, reach (a length, or none), whole, colour, yes, or choice. hint: what it is for, in plain words."""

    name: str
    words: str
    kind: str = "length"
    hint: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    is_needed: bool = True


@dataclass(frozen=True)
class Kind:
    name: str
    one: str
    many: str
    model: type[models.Model]
    asked: tuple[Asked, ...]


_FINISH = Asked("finish", "finish", "choice", choices=tuple((f, f) for f in FINISHES))
KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("surface", "surface", "surfaces", StoreSurface, (
            Asked("name", "called", "text"), Asked("width_mm", "wide, along its front"), Asked("depth_mm", "deep"),
            Asked("main", "main colour", "colour"), Asked("second", "second colour", "colour"), _FINISH,
            Asked("lines_direction", "grain runs at", "angle", "degrees from the front edge; 90 runs away from you", is_needed=False),
            Asked("lines_pitch", "boards or courses every", hint="leave empty for stone, plaster, cloth", is_needed=False),
            Asked("other_side_of", "the other side of", "side", is_needed=False), Asked("place", "kept in", "text", is_needed=False))),
        Kind("backdrop", "backdrop", "backdrops", StoreBackdrop, (
            Asked("name", "called", "text"), Asked("kind", "stands as", "choice", choices=(("upright", "an upright sheet"), ("sweep", "one sweep"))),
            Asked("width_mm", "wide"), Asked("height_mm", "high"), Asked("colour", "colour", "colour"))),
        Kind("card", "card", "cards", StoreCard, (
            Asked("name", "called", "text"), Asked("kind", "is", "choice", choices=tuple(StoreCard.KINDS)),
            Asked("width_mm", "wide"), Asked("height_mm", "high"), Asked("colour", "colour", "colour"))),
        Kind("light", "light", "lights", StoreLight, (
            Asked("name", "called", "text"), Asked("kind", "is a", "choice", choices=tuple(StoreLight.KINDS)),
            Asked("width_mm", "lit face wide"), Asked("height_mm", "lit face high"), Asked("is_round", "is round", "yes"),
            Asked("beam_deg", "shines in an angle of", "angle", "the whole angle, degrees; empty where it shines all before it", is_needed=False),
            Asked("kelvin", "colour temperature", "whole", "kelvin: about 3200 for a tungsten lamp, 5500 for a flash or a daylight lamp"))),
        Kind("body", "camera body", "camera bodies", CameraBody, (
            Asked("name", "called", "text"), Asked("sensor_width_mm", "sensor wide"), Asked("sensor_height_mm", "sensor high"),
            Asked("pixels_wide", "pixels wide", "whole"), Asked("pixels_high", "pixels high", "whole"),
            Asked("moving_width_mm", "moving pictures: of the sensor, wide", hint="what it reads when it films; leave empty for all of it", is_needed=False),
            Asked("moving_height_mm", "moving pictures: of the sensor, high", is_needed=False),
            Asked("moving_pixels_wide", "moving pictures: pixels wide", "whole", is_needed=False),
            Asked("moving_pixels_high", "moving pictures: pixels high", "whole", is_needed=False),
            Asked("equivalent", "a phone's module: equivalent focal length", "number", "as the phone names it, such as 26; leave empty for a body that takes lenses", is_needed=False),
            Asked("fixed_aperture", "a phone's module: its fixed aperture, f/", "number", is_needed=False),
            Asked("phone_focus", "a phone's module: closest focus", is_needed=False))),
        Kind("lens", "lens", "lenses", StoreLens, (
            Asked("name", "called", "text"), Asked("focal_length_mm", "focal length, or a zoom's shortest", "number", "mm"),
            Asked("longest_mm", "a zoom's longest", "number", "mm", is_needed=False), Asked("max_aperture", "widest aperture, f/", "number"),
            Asked("max_aperture_long", "widest at a zoom's long end, f/", "number", is_needed=False),
            Asked("min_aperture", "smallest aperture, f/", "number"),
            Asked("min_focus_mm", "closest focus, from the sensor", hint="this or the next; a zoom's at its long end", is_needed=False),
            Asked("max_magnification", "largest magnification", "number", "such as 1 or 0.25; a zoom's at its long end", is_needed=False),
            Asked("pupil_ratio", "pupil ratio", "number", "exit over entrance pupil; 1 when you do not know", is_needed=False),
            Asked("measured_distance_mm", "measured: from the sensor to a tape", hint="if you photographed a tape measure squarely", is_needed=False),
            Asked("measured_width_mm", "measured: the frame's long side covered", is_needed=False),
            Asked("measured_at_mm", "measured: a zoom was set to", "number", "mm; its long end when left empty", is_needed=False),
            Asked("distortion", "bends straight lines", "numbers", "k1, k2, p1, p2, k3 as measured; leave empty when you do not know", is_needed=False))),
        Kind("support", "support", "supports", StoreSupport, (
            Asked("name", "called", "text"), Asked("kind", "is a", "choice", choices=tuple(StoreSupport.KINDS)),
            Asked("lowest_mm", "lens at its lowest, above the floor"), Asked("highest_mm", "lens at its highest"),
            Asked("reach_mm", "brings it to the side of its column by", "reach", "an arm's reach over the table; 0 for legs alone, empty when not known", is_needed=False),
            Asked("inverts", "can look straight down", "yes", is_needed=False))),
        Kind("converter", "teleconverter", "teleconverters", StoreConverter, (
            Asked("name", "called", "text"), Asked("factor", "makes it larger by", "number", "such as 1.4"),
            Asked("length_mm", "is thick", "reach", "from mount to mount"),
            Asked("shortest_mm", "goes on lenses from, mm", "number", "the shortest focal length it fits", is_needed=False))),
    )
}  # fmt: skip


def values_of(kind: Kind, row: models.Model | None) -> dict[str, Any]:
    """What stands in the form for a row, or for a new one."""
    if row is None:
        return {"finish": "matte", "main": "#8b8f8c", "second": "#70746f", "colour": "#d8d5cd", "min_aperture": 22, "pupil_ratio": 1}
    values = {a.name: getattr(row, a.name, getattr(row, "further", {}).get(a.name)) for a in kind.asked}
    if isinstance(row, StoreSurface):
        lines = row.lines or {}
        values |= {"main": row.colours[0]["hex"], "second": row.colours[1]["hex"] if len(row.colours) > 1 else row.colours[0]["hex"]}
        values |= {"lines_direction": lines.get("direction"), "lines_pitch": lines.get("pitch"), "other_side_of": row.other_side_of_id}
    if isinstance(row, CameraBody) and (own := row.own_lenses.first()) is not None:
        values |= {
            "equivalent": round(equivalent_mm(own.focal_length_mm, row.sensor_width_mm, row.sensor_height_mm), 4),
            "fixed_aperture": own.max_aperture,
            "phone_focus": own.min_focus_mm,
        }
    return values


def read_values(kind: Kind, data: Mapping[str, str], unit: str, row: models.Model | None = None) -> dict[str, Any]:
    """The typed values by field; raises FieldError naming the field. ``row``: what stood there, for +20 and -20."""
    fields = Fields(data, unit)
    return {asked.name: _read(asked, fields, getattr(row, asked.name, None)) for asked in kind.asked}


def _read(asked: Asked, fields: Fields, stood: Any) -> Any:
    name = asked.name
    if asked.kind == "yes":
        return fields.has(name)
    if not fields.has(name):
        if asked.is_needed:
            raise FieldError(asked.words, "must be written", show_got=False)
        return "" if asked.kind == "text" else None
    if asked.kind == "text":
        return fields.text(name, 120)
    if asked.kind == "choice":
        return fields.choice(name, tuple(k for k, _ in asked.choices))
    if asked.kind == "colour":
        return _colour(asked, fields.text(name, 20))
    if asked.kind in ("whole", "side"):
        return _bounded(asked, fields.whole(name), 1, 10**9)
    if asked.kind == "angle":
        return _bounded(asked, fields.angle(name), -360, 360)
    if asked.kind == "numbers":
        return _numbers(asked, fields.text(name, 200))
    if asked.kind == "number":
        return _bounded(asked, fields.number(name), 0.01, 2000)
    if asked.kind == "reach":
        return _bounded(asked, round(fields.length(name, stood), 3), 0, _LARGEST_MM)
    return _bounded(asked, round(fields.length(name, stood), 3), 0.5, _LARGEST_MM)


def _bounded(asked: Asked, value: float, low: float, high: float) -> float:
    if not low <= value <= high:
        raise FieldError(asked.words, f"must be from {low:g} to {high:g}", value)
    return value


def _numbers(asked: Asked, text: str) -> list[float]:
    """The terms of a lens's distortion, those that are not written nought."""
    try:
        found = [float(part) for part in text.replace(",", " ").split()]
    except ValueError:
        raise FieldError(asked.words, "must be numbers with commas between them, such as -0.08, 0.02", text) from None
    if len(found) > DISTORTION_TERMS or not all(abs(v) <= _MOST_TERM for v in found):
        raise FieldError(asked.words, f"must be at most {DISTORTION_TERMS} numbers within {_MOST_TERM:g}", text)
    return [*found, *[0.0] * (DISTORTION_TERMS - len(found))]


def _colour(asked: Asked, text: str) -> str:
    text = text.lower()
    if not is_hex(text):
        raise FieldError(asked.words, "must be a colour such as #c4621a", text)
    return text


def keep_item(studio: Studio, kind: Kind, row: Any, values: dict[str, Any]) -> Any:
    """A new row of the kind, or ``row`` changed. Raises FieldError where values contradict each other. Inside the caller's transaction."""
    row = row or kind.model(studio=studio)  # type: ignore[call-arg]
    match kind.name:
        case "surface":
            _surface(studio, row, values)
        case "body":
            return _body(studio, row, values)
        case "lens":
            _checked_lens(values)
        case "converter":
            values["shortest_mm"] = values["shortest_mm"] or 0.0
            if not 1.05 <= values["factor"] <= 4:
                raise FieldError("makes it larger by", "must be from 1.05 to 4", values["factor"])
    if kind.name == "support" and values["highest_mm"] <= values["lowest_mm"]:
        raise FieldError("lens at its highest", "must be above its lowest", values["highest_mm"])
    columns = {f.name for f in kind.model._meta.get_fields()}
    for name, value in values.items():
        if name in columns or kind.name != "lens":
            setattr(row, name, value)
        else:  # a key of the document's lens that has no column of its own
            row.further = {**row.further, name: value} if value is not None else {k: v for k, v in row.further.items() if k != name}
    _accepted(kind, row)
    row.save()
    return row


def _accepted(kind: Kind, row: Any) -> None:
    """Nothing is kept that the core would not take: names, sizes, colours and glass as a scene would hold them. Raises FieldError."""
    try:
        for asked in kind.asked:
            if asked.kind == "text" and (text := getattr(row, asked.name, None)) is not None:
                setattr(row, asked.name, plain_line(text, asked.name, empty=not asked.is_needed))
        match row:
            case StoreSurface():
                core_surface(row)
            case StoreBackdrop():
                core_backdrop(row)
            case StoreLight():
                _lamp(row)
            case CameraBody():
                core_sensor(row)
            case StoreLens():
                for length in zoom_lengths(row):
                    focus_reach_mm(core_lens(row, length), Sensor(36.0, 24.0, 6000, 4000))
    except FieldError as error:
        last = error.path.rpartition(".")[2]
        words = next((a.words for a in kind.asked if a.name in (last, f"{last}_mm", f"sensor_{last}_mm", f"moving_{last}_mm")), last.replace("_", " "))
        raise FieldError(words, error.rule, error.got) from None


def _lamp(row: StoreLight) -> None:
    for name, value, (low, high) in (("kelvin", row.kelvin, KELVIN), ("beam_deg", row.beam_deg, BEAM)):
        if value is not None and not low <= value <= high:
            raise FieldError(name, f"must be from {low:g} to {high:g}", value)


def _surface(studio: Studio, row: StoreSurface, values: dict[str, Any]) -> None:
    main, second = values.pop("main"), values.pop("second")
    row.colours = [{"hex": main, "share": 0.7}, {"hex": second, "share": 0.3}] if second != main else [{"hex": main, "share": 1}]
    direction, pitch = values.pop("lines_direction"), values.pop("lines_pitch")
    row.lines = {"direction": direction or 0, "pitch": pitch} if pitch else None
    other = values.pop("other_side_of")
    found = StoreSurface.objects.filter(studio=studio, pk=other).exclude(pk=row.pk).first() if other else None
    if other and (found is None or StoreSurface.objects.filter(other_side_of=found).exclude(pk=row.pk).exists() or found.other_side_of_id):
        raise FieldError("the other side of", "must be a surface of yours whose other side is not known yet", show_got=False)
    row.other_side_of = found


def _checked_lens(values: dict[str, Any]) -> None:
    if values["longest_mm"] is not None and values["longest_mm"] <= values["focal_length_mm"]:
        raise FieldError("a zoom's longest", "must be longer than its shortest", values["longest_mm"])
    if values["min_aperture"] < values["max_aperture"]:
        raise FieldError("smallest aperture, f/", "must be a larger number than the widest", values["min_aperture"])
    if values["min_focus_mm"] is None and values["max_magnification"] is None:
        raise FieldError("closest focus, from the sensor", "must be written, or the largest magnification", show_got=False)
    longest = values["longest_mm"] or values["focal_length_mm"]
    if values["max_magnification"] is None and values["min_focus_mm"] < 4 * longest:
        raise FieldError(
            "closest focus, from the sensor",
            f"must be at least four focal lengths ({4 * longest:g} mm), or the largest magnification be written (the lens focuses inside)",
            values["min_focus_mm"],
        )
    if (values["measured_distance_mm"] is None) != (values["measured_width_mm"] is None):
        raise FieldError("measured", "must have both the distance and the width, or neither", show_got=False)
    measured_at = values["measured_at_mm"]
    if measured_at is not None and not values["focal_length_mm"] <= measured_at <= longest:
        raise FieldError("measured: a zoom was set to", f"must be from {values['focal_length_mm']:g} to {longest:g} mm", measured_at)
    values["pupil_ratio"] = values["pupil_ratio"] or 1.0


def _body(studio: Studio, row: CameraBody, values: dict[str, Any]) -> CameraBody:
    """A phone's module brings a lens of its own: told by its equivalent focal length."""
    equivalent, aperture, focus = (values.pop(k) for k in ("equivalent", "fixed_aperture", "phone_focus"))
    if (equivalent is None) != (aperture is None):
        raise FieldError("a phone's module", "must have both its equivalent focal length and its aperture, or neither", show_got=False)
    for name, value in values.items():
        setattr(row, name, value)
    told = [row.moving_width_mm, row.moving_height_mm, row.moving_pixels_wide, row.moving_pixels_high]
    if any(v is not None for v in told) and None in told:
        raise FieldError("moving pictures", "must have its width, height and both counts of pixels, or none", show_got=False)
    row.is_phone = equivalent is not None
    _accepted(KINDS["body"], row)
    row.save()
    if equivalent is None:
        row.own_lenses.all().delete()
        return row
    focal = round(focal_from_equivalent_mm(equivalent, row.sensor_width_mm, row.sensor_height_mm), 3)
    StoreLens.objects.update_or_create(
        studio=studio, fixed_on=row,
        defaults={"name": f"lens of {row.name}"[:120], "focal_length_mm": focal, "max_aperture": aperture, "min_aperture": aperture, "min_focus_mm": focus or 100.0},
    )  # fmt: skip
    return row
