"""Posts over every verb and form, made up from a seed: values that forms expect, and values that nobody should send.

What is found is told as (seed, number) so that the one post can be made again.
"""

from __future__ import annotations

import copy
import io
import json
import random
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from tests.support.scenes import scene_value
from tideflat.core.formats.prop_columns import COLUMNS
from tideflat.core.shapes import SHAPES
from tideflat.web.scenes.views.changes import VERBS
from tideflat.web.stores.kit_forms import KINDS

ROOT = Path(__file__).resolve().parents[2] / "src" / "tideflat" / "web"
#: Every name that a form of the scenes or stores is read by, found where it is read.
NAMES = sorted(
    {
        name
        for app in ("scenes", "stores")
        for path in (ROOT / app).rglob("*.py")
        for name in re.findall(r"(?:fields|f|POST)\.(?:text|length|mm|angle|number|whole|choice|has|get)\(\"([a-z_]+)\"", path.read_text())
    }
    | {a.name for kind in KINDS.values() for a in kind.asked}
)
NASTY: tuple[str, ...] = (
    "", " ", "0", "-1", "1", "2", "3.5", "1e308", "-1e308", "1e-300", "1e999", "nan", "inf", "-inf", "NaN", "²", "³½", "१२", "１２", "1_000", "0x10", "+5", "--5",
    "9" * 19, "9" * 30, "9" * 400, "1" + "0" * 5000, "1/0", "1/3 in", "1 1/2", "12,5 cm", "5'", "1,148", "f/2.8", "100%", "null", "true", "[]", "{}", "[[]]",
    "[[0,0]]", "[[1e308,1],[2,3],[4,5]]", '{"a":[1,2', "[" * 2000, '"' * 3, "a.b", "a b", "a/b", "../../x", "x" * 65, "x" * 200, "x" * 5000, "jar", "p1", "p2",
    "main", "hero", "A <b> board", "tab\there", "line\nbreak", "nul\0l", "\x01\x02", "\x7f", "\ufffe", "\u202e", "\u200b", "é", "naïve", "ﬁg", "日本", "🍊", "<script>alert(1)</script>",
    "&amp;", "'; DROP TABLE scenes_scene; --", "{{ 7|add:7 }}", "{% now %}", "#c4621a", "#GGGGGG", "#fff", "red", "4:5", "0:0", "1:0", "16:9:4", "1e9:1", "1080x1350",
    "matte", "glass", "cylinder", "cone", "outline", "surface", "cloth", "prop", "a4", "top", "left", "50%", "0.5", "90", "-90", "45°", "360000", "2026-12-01", "0000-00-00",
    "9999-12-31", "31.12.2026", "overhead", "eye", "empty", "tea", "support", "riser", "board", "image/svg+xml", "https://example.invalid/", "2147483648", "9223372036854775808",
)  # fmt: skip


@dataclass(frozen=True)
class Post:
    number: int
    path: str
    values: dict[str, Any]

    def __str__(self) -> str:
        return f"post {self.number}: {self.path} {str(self.values)[:400]}"


def posts(seed: int, count: int, scene_id: int, prop_id: int, members: list[int]) -> Iterator[Post]:
    """``count`` posts; ``scene_id``, ``prop_id``, ``members``: things of the studio that addresses name."""
    hand = random.Random(seed)
    makers = (_verb, _verb, _verb, _verb, _kit, _prop, _table, _measuring, _beside, _scene, _people, _bulk)
    for number in range(count):
        path, values = hand.choice(makers)(hand, scene_id, prop_id, members)
        yield Post(number, path, values)


def _some(hand: random.Random, names: list[str], most: int = 8) -> dict[str, str]:
    return {name: hand.choice(NASTY) for name in hand.sample(names, min(len(names), hand.randint(0, most)))}


def _verb(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    verb = hand.choice(VERBS)
    where = {"setup": hand.choice(["main", "main", "set-up 2"]), "only": hand.choice(["", "", "1"]), "number": str(hand.randint(0, 60))}
    values = {"revision": "NOW", **where, "id": hand.choice(["p1", "p2", "p7", "p10"]), "item": str(hand.randint(1, 400)), "unit": "mm"}
    values |= _some(hand, NAMES, 7)
    for name in ("x", "y", "z", "turn", "width", "name", "text", "value", "key"):
        if hand.random() < 0.3:
            values[name] = hand.choice(NASTY)
    if hand.random() < 0.9:
        values["revision"] = "NOW"
    if hand.random() < 0.03:
        verb = hand.choice(["undo", "redo", "go-to"])
        return f"/scenes/{scene_id}/{verb}/", values
    return f"/scenes/{scene_id}/do/{verb}/", values


def _kit(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    kind = KINDS[hand.choice(list(KINDS))]
    plain = {
        "text": "a good name",
        "length": "500",
        "angle": "10",
        "number": "50",
        "numbers": "-0.1, 0.02",
        "reach": "0",
        "whole": "4000",
        "colour": "#c4621a",
        "yes": "on",
        "side": "",
        "choice": "",
    }
    values = {a.name: (a.choices[0][0] if a.choices else plain[a.kind]) for a in kind.asked if a.is_needed or hand.random() < 0.3}
    values |= {"min_aperture": "22", "max_aperture": "2.8", "min_focus_mm": "800", "lowest_mm": "100", "highest_mm": "1800"}
    for name in hand.sample(list(values), min(len(values), hand.randint(0, 3))):
        values[name] = hand.choice(NASTY)
    item = hand.choice(["new", str(hand.randint(1, 40)), "9" * 18])
    return f"/stores/kit/{kind.name}/{item}/", values


def _prop(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    values = {
        "name": "a thing",
        "shape": hand.choice(list(SHAPES)),
        "diameter": "80",
        "width": "90",
        "depth": "60",
        "height": "40",
        "length": "150",
        "count": "2",
    }
    values |= {
        "base_diameter": "50",
        "top_diameter": "70",
        "neck_diameter": "20",
        "neck_height": "10",
        "thickness": "2",
        "piece_diameter": "8",
        "pieces": "12",
    }
    values |= {"colours": "#c4621a 70%; #efe3c8", "finish": "matte", "role": "support", "points": "0 0; 50 0; 20 40"}
    for name in hand.sample(list(COLUMNS), hand.randint(0, 4)):
        values[name] = hand.choice(NASTY)
    return f"/stores/props/{hand.choice(['new', str(prop_id)])}/", values


def _table(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    headings = hand.sample(list(COLUMNS), hand.randint(2, 10)) + ["name", "shape", "diameter", "height"]
    rows = []
    for _ in range(hand.randint(1, 4)):
        cells = [hand.choice(NASTY).replace("\n", " ") if hand.random() < 0.4 else "" for _ in headings[:-4]]
        rows.append(cells + [hand.choice(["a jar", *NASTY]), "cylinder", hand.choice(["80", *NASTY]), "90"])
    out = io.StringIO()
    import csv

    csv.writer(out).writerows([headings, *rows])
    raw = out.getvalue().encode("utf-8", "replace")
    if hand.random() < 0.15:
        raw = bytes(hand.randrange(256) for _ in range(200))
    if hand.random() < 0.2:
        return "/stores/import/", {
            "waiting": hand.choice([*NASTY, "WAITING"]),
            "import": "1",
            "faulty": "leave",
            **_some(hand, ["column0", "column1", "column2"]),
        }
    return "/stores/import/", {"table": SimpleUploadedFile("t.csv", raw)}


def _measuring(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    values: dict[str, Any] = {
        "what": "prop",
        "sheet": "a4",
        "name": "lid",
        "kind": "square",
        "finish": "satin",
        "count": "1",
        "height_mm": "5",
    }
    values |= {
        "skin": "PICTURE",
        "outline": "[[0,0],[50,0],[50,40]]",
        "colours": '[{"hex": "#c4621a", "share": 1}]',
        "tile_width": "90",
        "tile_depth": "90",
    }
    for name in hand.sample(sorted({*values, "width", "depth", "place", "photo", "corners", "traced", "focal"}), hand.randint(0, 4)):
        values[name] = hand.choice(NASTY)
    if hand.random() < 0.6:
        return "/stores/measure/keep/", values
    raw = bytes(hand.randrange(256) for _ in range(60))
    values["photograph"] = SimpleUploadedFile(
        "p.jpg", hand.choice([b"", b"\xff\xd8\xff\xe0" + raw, b"\x89PNG\r\n\x1a\n" + raw, b"\0\0\0\x18ftypheic" + raw, raw])
    )
    return "/stores/measure/", values


def _beside(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    place = hand.choice(
        [
            "references/1/",
            "day/",
            "reserve/",
            "usual-leanings/",
            "what-if/",
            "put-away/",
            "bring-back/",
            "references/",
            "references/999999999999999999999/",
        ]
    )
    return f"/scenes/{scene_id}/{place}", _some(hand, ["day", "note", "way", "item", "revision", "setup", "tray", "selected", "crop"], 6)


def _scene(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    if hand.random() < 0.15:
        return "/scenes/new/", {"from": hand.choice(["empty", *NASTY]), **_some(hand, ["use", "story", "title"])}
    value = copy.deepcopy(scene_value())
    for _ in range(hand.randint(1, 3)):
        _spoil(hand, value)
    raw = json.dumps(value).encode("utf-8", "surrogatepass")
    return "/scenes/import/", {"document": SimpleUploadedFile("s.json", raw)}


def _spoil(hand: random.Random, value: Any) -> None:
    """One value somewhere in the document becomes another."""
    spoilt: tuple[Any, ...] = (None, True, 0, -1, 1e308, 1e-300, 0.1, 20_000, 99_999, 10**30, "", "x" * 300, [], {}, [[]], *NASTY)
    while True:
        key = hand.choice(list(value)) if isinstance(value, dict) else hand.randrange(len(value))
        below = value[key]
        if isinstance(below, dict | list) and below and hand.random() < 0.85:
            value = below
            continue
        number = hand.choice([0, 0.1, 1, 7, 90, 1000, 20_000, 90_000, -50])
        value[key] = (
            number if isinstance(below, int | float) and not isinstance(below, bool) and hand.random() < 0.6 else hand.choice(spoilt)
        )
        return


def _people(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    place = hand.choice(
        ["/people/", "/preferences/", "/password/", "/studios/1/", "/invitations/1/", "/people/former/1/", "/people/asked/1/", "/sign-in/"]
    )
    if hand.random() < 0.2 and members:
        place = f"/people/{hand.choice(members)}/password/"
    values = _some(
        hand, ["username", "password", "role", "unit", "ground", "old_password", "new_password1", "new_password2", "answer", "next"]
    )
    return place, {k: v for k, v in values.items() if not (k == "role" and v == "none")}


def _bulk(hand: random.Random, scene_id: int, prop_id: int, members: list[int]) -> tuple[str, dict[str, Any]]:
    fields = ["place", "lender", "return_on", "count", "add_tag", "drop_tag", "add_caution", *NASTY]
    return "/stores/bulk/", {
        "prop": hand.choice([str(prop_id), *NASTY]),
        "field": hand.choice(fields),
        "value": hand.choice(NASTY),
        "back": hand.choice(NASTY),
    }
