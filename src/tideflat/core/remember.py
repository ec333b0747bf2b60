"""The one home of everything that is remembered: what was worked out of frozen values is kept by those values, bounded, and can be listed.

A changed value is another key, so nothing is ever made invalid. What is large (outlines, drawn markup) is bounded in bytes; what is small
and alike (a colour in Lab) is bounded by count. `tools/memory.py` prints what each holds.
"""

from __future__ import annotations

import functools
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from typing import Any, ParamSpec, Protocol, TypeVar, cast

import numpy as np
import shapely

P = ParamSpec("P")
T = TypeVar("T")
MB = 1_000_000

#: What an entry takes beside its value: its key's tuple, two slots of a table.
_PER_ENTRY = 300
#: A coordinate of an outline (three numbers as GEOS keeps them), and what an outline takes beside them.
_PER_COORDINATE, _PER_OUTLINE = 24, 400
#: Of values that hold others every so many is looked into; the average is over about so many of them.
_LOOKED_INTO, _AVERAGED = 4, 8
#: Values are looked into so deep; what lies deeper is held by another cache.
_DEPTH = 4


@dataclass(frozen=True)
class Held:
    """What one cache holds now. most: bytes, or entries where it is bounded by count; size: bytes, measured for those bounded in bytes."""

    name: str
    entries: int
    size: int
    most: int
    is_in_bytes: bool


class _Cache(Protocol):
    def held(self) -> Held: ...
    def cache_clear(self) -> None: ...


_CACHES: list[_Cache] = []


def held_by_caches() -> list[Held]:
    """Every cache of this process, the largest first."""
    return sorted((c.held() for c in _CACHES), key=lambda h: (-h.size, -h.entries))


def forget_all(of: str = "") -> None:
    """Empty every cache; or those whose name begins so."""
    for cache in _CACHES:
        if cache.held().name.startswith(of):
            cache.cache_clear()


def bytes_of(value: Any, depth: int = _DEPTH) -> int:
    """About how many bytes a value takes. What says ``is_remembered`` (a posed body in its silhouette) counts as nothing inside another
    value: a cache of its own holds it."""
    kind = type(value)
    if kind in _PLAIN:
        return 32
    if kind is str or kind is bytes:
        return len(value) + 60
    if kind is np.ndarray:
        return int(value.nbytes) + 120
    if kind in _CONTAINERS:
        return 64 + (sum([bytes_of(v, depth - 1) for v in value]) if depth else 0)
    if isinstance(value, shapely.Geometry):
        return int(shapely.get_num_coordinates(value)) * _PER_COORDINATE + _PER_OUTLINE
    if depth == 0:
        return 64
    if kind is dict:
        return 240 + sum(bytes_of(k, depth - 1) + bytes_of(v, depth - 1) for k, v in value.items())
    if depth < _DEPTH and getattr(value, "is_remembered", False):
        return 0
    return 64 + sum(bytes_of(getattr(value, name), depth - 1) for name in _field_names(kind))  # type: ignore[arg-type, misc]


_PLAIN: frozenset[type] = frozenset({bool, int, float, type(None), np.float64, np.int64, np.bool_})
_CONTAINERS = frozenset({tuple, list, set, frozenset})
_QUICK = frozenset({str, bytes, np.ndarray})


@functools.cache
def _field_names(kind: type) -> tuple[str, ...]:
    return tuple(f.name for f in fields(kind)) if is_dataclass(kind) else ()


class _InBytes:
    """Two generations: what is asked for goes into the young one; when that holds half of ``most`` bytes it becomes the old one, and the
    old one is dropped. So what was not asked for during that time is forgotten, and nothing is moved about while it is only looked up."""

    def __init__(self, work: Callable[..., Any], most: int) -> None:
        self._work, self._half = work, most // 2
        self.young: dict[Any, tuple[Any, int]] = {}
        self._old: dict[Any, tuple[Any, int]] = {}
        self._size = self._old_size = self._asked = 0
        self._usual = 0.0

    def missed(self, args: tuple[Any, ...]) -> Any:
        entry = self._old.get(args)
        if entry is None:
            value = self._work(*args)
            entry = value, self._size_of(value) + _PER_ENTRY
        # Threads may do this at once: the sizes are then a little off, the answers never.
        if self._size + entry[1] > self._half:
            self._old, self._old_size = self.young, self._size
            self.young, self._size = {}, 0
        self.young[args] = entry
        self._size += entry[1]
        return entry[0]

    def _size_of(self, value: Any) -> int:
        """Its bytes: looked into where that is quick, and every so many times; else as much as those that were looked into, on the average."""
        self._asked += 1
        if type(value) in _QUICK or self._asked % _LOOKED_INTO == 1:
            size = bytes_of(value)
            self._usual += (size - self._usual) / min(self._asked, _AVERAGED)
            return size
        return int(self._usual)

    def held(self) -> Held:
        return Held(_name(self._work), len(self.young) + len(self._old), self._size + self._old_size, self._half * 2, True)

    def cache_clear(self) -> None:
        self.young, self._old, self._size, self._old_size = {}, {}, 0, 0


class _Counted:
    def __init__(self, work: Callable[..., Any], cached: Any, most: int) -> None:
        self._work, self._cached, self._most = work, cached, most

    def held(self) -> Held:
        return Held(_name(self._work), self._cached.cache_info().currsize, 0, self._most, False)

    def cache_clear(self) -> None:
        self._cached.cache_clear()


def _name(work: Callable[..., Any]) -> str:
    return f"{work.__module__.removeprefix('tideflat.')}.{work.__qualname__}"


def remembered(megabytes: float) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Keep what the function gives by its (positional, hashable) arguments, in about so many megabytes."""

    def decorate(work: Callable[P, T]) -> Callable[P, T]:
        cache = _InBytes(work, int(megabytes * MB))
        _CACHES.append(cache)

        @functools.wraps(work)
        def kept(*args: Any) -> Any:  # a plain function, as it is asked thousands of times a release
            found = cache.young.get(args)
            return found[0] if found is not None else cache.missed(args)

        return cast("Callable[P, T]", kept)

    return decorate


def counted(most: int) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Keep what the function gives for the last ``most`` arguments: for values that are small, or few."""

    def decorate(work: Callable[P, T]) -> Callable[P, T]:
        cached = functools.lru_cache(maxsize=most)(work)
        _CACHES.append(_Counted(work, cached, most))
        return cast("Callable[P, T]", cached)

    return decorate


class Pixels:
    """An array that is known by being itself, so that answers can be kept by it."""

    def __init__(self, values: np.ndarray) -> None:
        self.values = values

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Pixels) and other.values is self.values

    def __hash__(self) -> int:
        return id(self.values)
