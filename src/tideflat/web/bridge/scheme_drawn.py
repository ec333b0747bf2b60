"""The scheme over both views: its line in the frame and on the table, its handles, and whether things have room along it."""

from __future__ import annotations

from typing import Any

import numpy as np

from tideflat.core.arrange.bending import Laid, laid_scheme
from tideflat.core.evaluate import Picture
from tideflat.core.model import SCHEME_KEYS, SIDES, Scheme

from .sheets import frame_sheet, path_data, table_sheet

#: A step so many times as long as most parts two lines of one scheme; shorter than this share of the frame nothing is.
_BREAK, _LEAST = 4.0, 0.001
_HANDLE_WORDS = {"at": "where it is", "radius": "how wide it is", "height": "how high it lies", "bow": "how far it bows", "margin": "how far from the edges"}


def scheme_drawn(picture: Picture) -> dict[str, Any] | None:
    """None where no scheme is laid over the set-up."""
    laid = laid_scheme(picture)
    if laid is None:
        return None
    frame, table = frame_sheet(picture.view), table_sheet(picture.scene.surface)
    handles = []
    for key, place in laid.handles.items():
        ((x, y),) = frame.put(np.array([place]))
        handles.append({"key": key, "x": round(float(x), 1), "y": round(float(y), 1), "words": _HANDLE_WORDS.get(key, key)})
    lines = _lines(laid)
    return {
        "kind": laid.curve.kind,
        "frame": "".join(path_data(laid.points[a:b], frame, closed=False) for a, b in lines),
        "table": "".join(path_data(laid.table[a:b], table, closed=False) for a, b in lines),
        "spots": [tuple(round(float(c), 1) for c in p) for p in frame.put(laid.points)] if laid.curve.is_places else [],
        "handles": handles,
        "controls": _controls(laid.curve.scheme),
        "room": room_words(laid),
        "followers": len(laid.followers),
    }


_CHOICES: dict[str, tuple[tuple[str, str], ...]] = {
    "opens": tuple((side, side) for side in SIDES),
    "mirrored": (("no", "no"), ("yes", "yes")),
}
_FROM = {"diagonal": ("top-left", "top-right"), "depth-diagonal": ("far-left", "far-right")}
_COUNTED = ("columns", "rows", "planes")
_KEY_WORDS = {"opens": "open to the", "from": "from the", "centre": "middle", "at": "at", "radius": "radius", "v": "height", "bow": "bow", "margin": "margin"}


def _controls(scheme: Scheme) -> list[dict[str, Any]]:
    """What of the scheme is typed or chosen: its own keys as the document has them, shares of the frame in per cent."""
    found: list[dict[str, Any]] = []
    for key in SCHEME_KEYS[scheme.kind]:
        value, words = scheme.value(key), _KEY_WORDS.get(key, key)
        if key in _CHOICES or key == "from":
            choices = _CHOICES.get(key) or tuple((c, c.replace("-", " ")) for c in _FROM[scheme.kind])
            now = {True: "yes", False: "no"}.get(value, value)
            found.append({"at": key, "words": words, "choices": choices, "value": now})
        elif key in _COUNTED:
            found.append({"at": key, "words": words, "value": str(value)})
        elif isinstance(value, tuple):
            corners = value if isinstance(value[0], tuple) else (value,)
            for k, corner in enumerate(corners):
                of, name = (f"{key}.{k}", f"corner {k + 1}") if corners is value else (key, words)
                found.append({"at": f"{of}.0", "words": f"{name} across", "value": _percent(corner[0])})
                found.append({"at": f"{of}.1", "words": "down", "label": f"{name} down", "value": _percent(corner[1])})
        elif value is not None:
            found.append({"at": key, "words": words, "value": _percent(value)})
    return found


def _percent(share: float) -> str:
    return f"{100 * share:.3g} %"


def _lines(laid: Laid) -> list[tuple[int, int]]:
    """Where each unbroken part begins and ends; places have none."""
    if laid.curve.is_places:
        return []
    steps = np.hypot(*np.diff(laid.points, axis=0).T)
    breaks = [int(k) + 1 for k in np.flatnonzero(steps > _BREAK * max(float(np.median(steps)), _LEAST))]
    ends = [0, *breaks, len(laid.points)]
    return [(a, b) for a, b in zip(ends, ends[1:], strict=False) if b - a > 1]


def room_words(laid: Laid) -> str:
    """Whether what lies along it has room, in words."""
    if laid.curve.is_places:
        return f"{len(laid.points)} places"
    if laid.needs <= laid.has:
        return "there is room along it"
    return f"things along it are {laid.needs / max(laid.has, _LEAST):.1f} times as wide as it is long: they will stand beside each other"
