"""Values that earlier versions of the program took, brought under the present rules: for migrations, never for what is sent in anew.

Until November 2026 what was meant was kept beside the document, by crop, too; before that, ids could hold letters of any script and most
signs, and sizes ran from anything above nought to a hundred metres.
"""

from __future__ import annotations

import copy
import re
import unicodedata
from collections.abc import Callable, Iterable
from typing import Any

from ..bounds import LEAST_PART, LEAST_SIZE_MM, MOST_PLACE_MM, MOST_SIZE_MM
from ..errors import FieldError
from .camera_reader import camera_of
from .reading import Node

_NO_ID = re.compile(r"[^A-Za-z0-9_-]+")


def mended_id(text: str, most: int = 64) -> str:
    """``text`` as an id: accents dropped, every run of other signs one hyphen. An id that is one already stays as it is.

    >>> mended_id("crème.2"), mended_id("jar-2")
    ('creme-2', 'jar-2')
    """
    plain = "".join(ch for ch in unicodedata.normalize("NFKD", text) if not unicodedata.combining(ch))
    return _NO_ID.sub("-", plain)[:most] or "x"


def mended_ids(ids: Iterable[str], most: int = 64) -> dict[str, str]:
    """Every id with the one it becomes, each different: where two would become the same, a number tells them apart."""
    known = list(dict.fromkeys(ids))
    taken = {i for i in known if mended_id(i, most) == i}
    found = {}
    for old in known:
        new = mended_id(old, most)
        if new != old:
            stem, number = new[: most - 5], 2
            while new in taken:
                new, number = f"{stem}-{number}", number + 1
            taken.add(new)
        found[old] = new
    return found


def mended_name(text: str) -> str:
    """A name as one plain line: markup and control characters become spaces."""
    line = "".join(" " if ch in "<>" or ord(ch) < 32 or ord(ch) == 127 or ord(ch) & 0xFFFE == 0xFFFE else ch for ch in text)
    return re.sub(r" {2,}", " ", line).strip() or "unnamed"


def mended_size(value: Any, least: float = LEAST_SIZE_MM, most: float = MOST_SIZE_MM) -> Any:
    """A length within what a thing may measure; what is no number stays as it is."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return value
    return min(max(value, least), most) if not least <= value <= most else value


def mended_shape(shape: dict[str, Any]) -> dict[str, Any]:
    """A shape with every length within bounds, and what hangs on one another still in order."""
    found = {
        key: mended_size(value) if key not in ("kind", "pieces", "seed", "points") and not (key == "top_diameter" and value == 0) else value
        for key, value in shape.items()
    }
    if found.get("kind") == "bottle" and found["neck_height"] >= found["height"]:
        found["height"] = max(found["height"], 2 * LEAST_SIZE_MM)
        found["neck_height"] = found["height"] / 2
    if found.get("kind") == "bottle":
        found["neck_diameter"] = min(found["neck_diameter"], found["diameter"])
    if found.get("kind") == "scatter":
        found["piece_diameter"] = min(found["piece_diameter"], found["width"], found["depth"])
    points = found.get("points")
    if points:
        wide, deep = (max(p[k] for p in points) - min(p[k] for p in points) for k in (0, 1))
        longest, shortest = max(wide, deep), min(wide, deep)
        scale = MOST_SIZE_MM / longest if longest > MOST_SIZE_MM else LEAST_SIZE_MM / shortest if 0 < shortest < LEAST_SIZE_MM else 1
        if scale != 1:
            found["points"] = [[round(x * scale, 6), round(y * scale, 6)] for x, y in points]
    return found


def mended_skin(skin: dict[str, Any], pictures: Callable[[str], str] = mended_id) -> dict[str, Any]:
    return {**skin, "picture": pictures(skin["picture"]), **{k: mended_size(skin[k]) for k in ("width", "depth") if k in skin}}


def mended_document(document: dict[str, Any], accepted: list[dict[str, Any]]) -> tuple[dict[str, Any], list[dict[str, Any]]]:
    """A scene's document, and the findings that are meant in it, under the present rules. Both come back equal where nothing was amiss."""
    value = copy.deepcopy(document)
    props = mended_ids(p["id"] for p in value.get("props", ()))
    placements = mended_ids(p["id"] for p in value.get("placements", ()))
    for prop in value.get("props", ()):
        prop["id"] = props[prop["id"]]
        prop["shape"] = mended_shape(prop["shape"])
        if prop.get("skins"):
            prop["skins"] = [mended_skin(s) for s in prop["skins"]]
    for p in value.get("placements", ()):
        p["id"], p["prop"] = placements[p["id"]], props.get(p["prop"], p["prop"])
        if p.get("on"):
            p["on"] = placements.get(p["on"], p["on"])
    _mend_ground(value)
    for setup in value.get("setups", ()):
        if setup.get("hidden"):
            setup["hidden"] = [placements.get(i, i) for i in setup["hidden"]]
        if setup.get("swap"):
            setup["swap"] = {placements.get(at, at): props.get(prop, prop) for at, prop in setup["swap"].items()}
        _mend_camera(setup["camera"])
        for deliverable in setup.get("deliverables", ()):
            _mend(deliverable, "scale", LEAST_PART, 1)
            if deliverable.get("copy_space"):
                _mend(deliverable["copy_space"], "share", LEAST_PART, 1)
    meant = []
    for entry in accepted:
        code, crop, *things = entry["key"].split("|")
        meant.append({**entry, "key": "|".join((code, crop, *(placements.get(i, i) for i in things)))})
    return value, meant


def with_meant(document: dict[str, Any], accepted: list[dict[str, Any]]) -> dict[str, Any]:
    """The document with what was meant in it, which was kept beside it as ``{"setup", "key": "code|crop|placements", "reason"}``.

    Findings that differed by their crop alone become one, with both reasons; those of set-ups or things that are gone are left out.
    """
    setups = {s["name"] for s in document["setups"]}
    things = {p["id"] for p in document.get("placements", ())}
    reasons: dict[tuple[str, str, tuple[str, ...]], list[str]] = {}
    for entry in accepted:
        code, _, *ids = entry["key"].split("|")
        ids = [i for i in ids if i]
        if entry["setup"] in setups and things.issuperset(ids):
            given = reasons.setdefault((entry["setup"], code, tuple(ids)), [])
            if entry.get("reason") and entry["reason"] not in given:
                given.append(entry["reason"])
    meant = [
        {"setup": setup, "code": code, "placements": list(ids), "reason": "; ".join(given)[:300]}
        for (setup, code, ids), given in reasons.items()
    ]
    return {**document, "meant": [*document.get("meant", ()), *meant]}


def _mend(value: dict[str, Any], key: str, least: float = LEAST_SIZE_MM, most: float = MOST_SIZE_MM) -> None:
    if value.get(key) is not None:
        value[key] = mended_size(value[key], least, most)


def _mend_ground(value: dict[str, Any]) -> None:
    surface, backdrop, room = value["surface"], value.get("backdrop"), value.get("room")
    for key in ("width", "depth"):
        _mend(surface, key)
    if surface.get("lines"):
        _mend(surface["lines"], "pitch")
    if surface.get("skin"):
        surface["skin"] = mended_skin(surface["skin"])
    if backdrop:
        for key in ("width", "height"):
            _mend(backdrop, key)
    if room:
        _mend(room, "ceiling_height", LEAST_SIZE_MM, MOST_PLACE_MM)


def _mend_camera(camera: dict[str, Any]) -> None:
    lens = camera["lens"]
    for key in ("width", "height"):
        _mend(camera["sensor"], key, LEAST_SIZE_MM, 1000)
    _mend(camera, "distance", LEAST_SIZE_MM, MOST_PLACE_MM)
    _mend(camera, "circle_of_confusion", LEAST_PART, 10)
    _mend(lens, "min_focus", LEAST_SIZE_MM, MOST_PLACE_MM)
    _mend(lens, "max_magnification", LEAST_PART, 20)
    if lens.get("measured"):
        for key in ("sensor_distance", "width"):
            _mend(lens["measured"], key, LEAST_SIZE_MM, MOST_PLACE_MM)


def _number(value: Any) -> float | None:
    return value if isinstance(value, int | float) and not isinstance(value, bool) and value > 0 else None


def without_impossible_focus(lens: dict[str, Any]) -> dict[str, Any]:
    """A lens of a document, or a row of the stores under the same keys, without a closest focus that its magnification cannot go with.

    Until November 2026 the largest magnification stood beside any closest focus; now the two make the focal length there, which must lie
    from 0.4 to 1.15 of the marked one. The lens then moves as a whole, up to its magnification.
    """
    f, most, near = (_number(lens.get(key)) for key in ("focal_length", "max_magnification", "min_focus"))
    if lens.get("measured") or f is None or most is None or near is None:
        return lens
    shortened = near * most / (1 + most) ** 2
    return lens if 0.4 * f <= shortened <= 1.15 * f else {**lens, "min_focus": None}


def focusing_mended(document: dict[str, Any]) -> dict[str, Any]:
    """A scene's document with every lens as it may be; it comes back equal where nothing was amiss."""
    if "setups" not in document:
        return document
    setups = [{**s, "camera": {**s["camera"], "lens": _focusing_lens(s["camera"])}} for s in document.get("setups", ())]
    return {**document, "setups": setups}


def _focusing_lens(camera: dict[str, Any]) -> dict[str, Any]:
    lens = without_impossible_focus(camera["lens"])
    if lens.get("min_focus") is None or lens.get("max_magnification") is None:
        return lens
    try:
        camera_of(Node({**camera, "lens": lens}, "camera"))
    except FieldError:  # a lens that grows longer near comes no nearer than this camera stands
        return {**lens, "min_focus": None}
    return lens
