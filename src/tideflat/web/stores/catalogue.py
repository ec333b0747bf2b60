"""A studio's props in memory, for finding among thousands at once: brought up to date by what changed since it was last asked."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from tideflat.core.colour.spaces import lab_from_rgb, rgb_from_hex
from tideflat.core.remember import counted
from tideflat.web.accounts.models import Studio

from .models import StoreProp, StoresState
from .words import Words, words_of

#: Colours of a prop past this number, the smallest shares, are not searched.
COLOURS_KEPT = 4
_READ = ("pk", "key", "name", "material", "tags", "texture", "finish", "shape", "colours", "place", "lender", "width_mm", "depth_mm", "height_mm", "usual_role", "count")  # fmt: skip


@dataclass(eq=False)
class Catalogue:
    """Columns over all props of a studio, row by row the same prop. lab (n, COLOURS_KEPT, 3), share (n, COLOURS_KEPT) with 0 where a
    prop has fewer colours; size (n, 3) mm."""

    revision: int = -1
    pk: np.ndarray = field(default_factory=lambda: np.empty(0, dtype=np.int64))
    text: list[str] = field(default_factory=list)
    tags: list[frozenset[str]] = field(default_factory=list)
    kind: np.ndarray = field(default_factory=lambda: np.empty(0, dtype="U12"))
    finish: np.ndarray = field(default_factory=lambda: np.empty(0, dtype="U12"))
    role: np.ndarray = field(default_factory=lambda: np.empty(0, dtype="U12"))
    name: list[str] = field(default_factory=list)
    key: list[str] = field(default_factory=list)
    hexes: list[tuple[str, ...]] = field(default_factory=list)
    size: np.ndarray = field(default_factory=lambda: np.empty((0, 3)))
    lab: np.ndarray = field(default_factory=lambda: np.empty((0, COLOURS_KEPT, 3)))
    share: np.ndarray = field(default_factory=lambda: np.empty((0, COLOURS_KEPT)))
    words: list[Words] = field(default_factory=list)

    @cached_property
    def index(self) -> dict[str, tuple[np.ndarray, np.ndarray]]:
        """Of every word, the rows that have it, and what it counts for in each."""
        rows: dict[str, tuple[list[int], list[int]]] = {}
        for i, words in enumerate(self.words):
            for word, (points, _) in words.items():
                at, counts = rows.setdefault(word, ([], []))
                at.append(i)
                counts.append(points)
        return {word: (np.array(at), np.array(counts)) for word, (at, counts) in rows.items()}

    def __len__(self) -> int:
        return len(self.pk)


_kept: dict[int, tuple[Catalogue, dict[int, dict[str, Any]]]] = {}
_lock = threading.Lock()


def catalogue_of(studio: Studio) -> Catalogue:
    """The newest catalogue of the studio. Kept per process; one query tells whether it is still the newest."""
    revision = StoresState.objects.filter(studio=studio).values_list("revision", flat=True).first() or 0
    with _lock:
        known, rows = _kept.get(studio.pk, (Catalogue(), {}))
        if known.revision == revision and len(known) == len(rows):
            return known
        rows = dict(rows) if 0 <= known.revision <= revision else {}
        changed = StoreProp.objects.filter(studio=studio)
        if rows:
            present = set(StoreProp.objects.filter(studio=studio).values_list("pk", flat=True))
            rows = {pk: row for pk, row in rows.items() if pk in present}
            changed = changed.filter(stamp__gt=known.revision)
        fresh = list(changed.values(*_READ))
        _add_labs(fresh)
        rows |= {row["pk"]: row for row in fresh}
        built = _built(revision, sorted(rows.values(), key=lambda r: (r["name"].lower(), r["pk"])))
        _kept[studio.pk] = (built, rows)
        return built


def _add_labs(rows: list[dict[str, Any]]) -> None:
    """Each row's largest colours in CIELAB, all rows in one go."""
    flat: list[str] = []
    for row in rows:
        colours = sorted(row["colours"], key=lambda c: -c["share"])[:COLOURS_KEPT]
        row["hexes"] = tuple(c["hex"] for c in colours)
        row["shares"] = [c["share"] for c in colours]
        flat += row["hexes"]
    labs = lab_from_rgb(rgb_from_hex(flat))
    at = 0
    for row in rows:
        row["lab"] = np.zeros((COLOURS_KEPT, 3))
        row["lab"][: len(row["hexes"])] = labs[at : at + len(row["hexes"])]
        at += len(row["hexes"])
        row["search"] = " ".join(
            (row["name"], row["material"], row["texture"], *row["tags"], row["shape"]["kind"], row["place"], row["lender"])
        ).lower()
        row["words"] = words_of(row)
        row["tagset"] = frozenset(t.lower() for t in row["tags"])


def _built(revision: int, rows: list[dict[str, Any]]) -> Catalogue:
    share = np.zeros((len(rows), COLOURS_KEPT))
    for i, row in enumerate(rows):
        share[i, : len(row["shares"])] = row["shares"]
    return Catalogue(
        revision,
        np.array([r["pk"] for r in rows], dtype=np.int64),
        [r["search"] for r in rows],
        [r["tagset"] for r in rows],
        np.array([r["shape"]["kind"] for r in rows], dtype="U12"),
        np.array([r["finish"] for r in rows], dtype="U12"),
        np.array([r["usual_role"] for r in rows], dtype="U12"),
        [r["name"] for r in rows],
        [r["key"] for r in rows],
        [r["hexes"] for r in rows],
        np.array([[r["width_mm"], r["depth_mm"], r["height_mm"]] for r in rows], dtype=float).reshape(-1, 3),
        np.stack([r["lab"] for r in rows]) if rows else np.empty((0, COLOURS_KEPT, 3)),
        share,
        [r["words"] for r in rows],
    )


@counted(8)  # a catalogue never changes: a change makes another
def tags_in_use(catalogue: Catalogue, most: int = 40) -> tuple[str, ...]:
    """The tags of the studio, the commonest first."""
    counted: dict[str, int] = {}
    for tags in catalogue.tags:
        for tag in tags:
            counted[tag] = counted.get(tag, 0) + 1
    return tuple(sorted(counted, key=lambda t: (-counted[t], t))[:most])
