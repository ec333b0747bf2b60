"""Typed reading of JSON values, each error naming the path, the rule and what was got."""

from __future__ import annotations

import json
import math
import re
from typing import Any

from ..bounds import LEAST_SIZE_MM, MOST_PLACE_MM, MOST_SIZE_MM
from ..errors import DocumentError

MAX_BYTES = 2_000_000
MAX_DEPTH = 24
MAX_ITEMS = 500
MAX_NAME = 120
MAX_TEXT = 2000
_ID = re.compile(r"[A-Za-z0-9_-]{1,64}")
_HEX = re.compile(r"#[0-9a-fA-F]{6}")
_MISSING: Any = object()


def parse_json(raw: bytes, what: str = "document") -> Any:
    """The JSON value in ``raw`` (UTF-8); ``what`` it is, for errors. Refuses NaN, infinities, keys used twice, deep nesting and oversize documents."""
    if len(raw) > MAX_BYTES:
        raise DocumentError(what, f"must be at most {MAX_BYTES:,} bytes", len(raw))
    try:
        text = raw.decode("utf-8")
    except UnicodeDecodeError as error:
        raise DocumentError(what, f"must be UTF-8 (byte {error.start} is not)", show_got=False) from None
    _check_depth(text, what)
    try:
        value = json.loads(text, object_pairs_hook=_marked_twice)
    except json.JSONDecodeError as error:
        rule = f"must be JSON: {error.msg.lower()} at line {error.lineno}, column {error.colno}"
        raise DocumentError(what, rule, show_got=False) from None
    except ValueError:  # an integer of thousands of digits
        raise DocumentError(what, "must hold no number of more than 20 digits", show_got=False) from None
    _refuse_twice(value, "" if what == "document" else what)
    return value


_TOKEN = re.compile(r'"(?:[^"\\]|\\.)*"?|[\[{]|[\]}]', re.DOTALL)


def _check_depth(text: str, what: str) -> None:
    """Before the parser recurses: brackets outside strings, counted."""
    depth = 0
    for token in _TOKEN.finditer(text):
        first = text[token.start()]
        if first in "[{":
            depth += 1
            if depth > MAX_DEPTH:
                raise DocumentError(what, f"must be nested at most {MAX_DEPTH} deep", show_got=False)
        elif first in "]}":
            depth -= 1


class _Twice:
    """Stands in for the value of a key that its object holds twice, until its path is known."""


def _marked_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        found[key] = _Twice() if key in found else value
    return found


def _refuse_twice(value: Any, path: str) -> None:
    if isinstance(value, _Twice):
        raise DocumentError(path, "must be given once in its object, not twice", show_got=False)
    if isinstance(value, dict):
        for key, item in value.items():
            step = key if _ID.fullmatch(key) else "key"
            _refuse_twice(item, f"{path}.{step}" if path else step)
    elif isinstance(value, list):
        for i, item in enumerate(value):
            _refuse_twice(item, f"{path}[{i}]")


class Node:
    """An object of the document being read. Every key asked for is marked; ``close`` refuses the rest."""

    def __init__(self, value: Any, path: str) -> None:
        if not isinstance(value, dict):
            raise DocumentError(path or "document", "must be an object", value)
        self._value: dict[str, Any] = value
        self._asked: set[str] = set()
        self.path = path

    def where(self, key: str) -> str:
        return f"{self.path}.{key}" if self.path else key

    def fail(self, key: str, rule: str) -> DocumentError:
        return DocumentError(self.where(key), rule, self._value.get(key))

    def get(self, key: str, default: Any = _MISSING) -> Any:
        """The value under ``key``, which is then known to be asked for; ``default`` where it is left out. Raises DocumentError."""
        self._asked.add(key)
        if key in self._value:
            return self._value[key]
        if default is _MISSING:
            raise DocumentError(self.where(key), "must be given", show_got=False)
        return default

    def has(self, key: str) -> bool:
        """Whether the key is given with something other than null."""
        self._asked.add(key)
        return self._value.get(key) is not None

    def given(self, key: str) -> bool:
        """Whether the key is there at all, be it with null."""
        self._asked.add(key)
        return key in self._value

    def close(self) -> None:
        """No key is left that was not asked for. Raises DocumentError."""
        for key in self._value:
            if key not in self._asked:
                known = ", ".join(sorted(self._asked))
                name = key if _ID.fullmatch(key) else "key"
                raise DocumentError(self.where(name), f"must be one of the known keys: {known}", key)

    def without(self, *keys: str) -> Node:
        """The same object as if it had not these keys."""
        return Node({key: value for key, value in self._value.items() if key not in keys}, self.path)

    def child(self, key: str, default: Any = _MISSING) -> Node:
        return Node(self.get(key, default), self.where(key))

    def items(self, key: str, default: Any = _MISSING, most: int = MAX_ITEMS) -> list[tuple[Any, str]]:
        """The items under ``key``, each with its path. Raises DocumentError."""
        value = self.get(key, default)
        path = self.where(key)
        if not isinstance(value, list | tuple):
            raise DocumentError(path, "must be a list", value)
        if len(value) > most:
            raise DocumentError(path, f"must hold at most {most} items", value)
        return [(item, f"{path}[{i}]") for i, item in enumerate(value)]

    def number(self, key: str, low: float, high: float, default: Any = _MISSING) -> float:
        return number(self.get(key, default), self.where(key), low, high)

    def length(self, key: str, default: Any = _MISSING) -> float:
        """A place along an axis, either sign, mm."""
        return self.number(key, -MOST_PLACE_MM, MOST_PLACE_MM, default)

    def size(self, key: str, default: Any = _MISSING) -> float:
        """A length of a thing, mm."""
        return self.number(key, LEAST_SIZE_MM, MOST_SIZE_MM, default)

    def reach(self, key: str, default: Any = _MISSING) -> float:
        """A distance from the lens, mm."""
        return self.number(key, LEAST_SIZE_MM, MOST_PLACE_MM, default)

    def maybe(self, key: str, low: float, high: float) -> float | None:
        value = self.get(key, None)
        return None if value is None else number(value, self.where(key), low, high)

    def whole(self, key: str, low: int, high: int, default: Any = _MISSING) -> int:
        value = self.get(key, default)
        return whole(value, self.where(key), low, high)

    def choice(self, key: str, choices: tuple[str, ...], default: Any = _MISSING) -> str:
        """One of the choices. Raises DocumentError."""
        value = self.get(key, default)
        if not isinstance(value, str) or value not in choices:
            raise DocumentError(self.where(key), "must be one of " + ", ".join(choices), value)
        return value

    def flag(self, key: str, default: bool) -> bool:
        """True or false. Raises DocumentError."""
        value = self.get(key, default)
        if not isinstance(value, bool):
            raise DocumentError(self.where(key), "must be true or false", value)
        return value

    def ident(self, key: str, default: Any = _MISSING) -> str:
        return ident(self.get(key, default), self.where(key))

    def name(self, key: str, default: Any = _MISSING, *, empty: bool = False) -> str:
        return name(self.get(key, default), self.where(key), empty=empty)

    def text(self, key: str, default: Any = _MISSING) -> str:
        return text(self.get(key, default), self.where(key), MAX_TEXT)

    def colour(self, key: str, default: Any = _MISSING) -> str:
        """A colour, in lower case. Raises DocumentError."""
        value = self.get(key, default)
        if not isinstance(value, str) or not _HEX.fullmatch(value):
            raise DocumentError(self.where(key), "must be a colour such as #c9641b", value)
        return value.lower()


def number(value: Any, path: str, low: float, high: float) -> float:
    """A finite number within low..high. Booleans and text are no numbers. Raises DocumentError."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise DocumentError(path, "must be a number", value)
    if not math.isfinite(value) if isinstance(value, float) else abs(value) > 10**20:
        raise DocumentError(path, "must be a finite number", value)
    if value < low or value > high:
        raise DocumentError(path, f"must be at least {low:g} and at most {high:g}", value)
    return float(value) + 0.0


def whole(value: Any, path: str, low: int, high: int) -> int:
    """A whole number within low..high. Raises DocumentError."""
    exact = number(value, path, low, high)
    if exact != int(exact):
        raise DocumentError(path, "must be a whole number", value)
    return int(exact)


def numbers(value: Any, path: str, length: int, low: float, high: float) -> tuple[float, ...]:
    """So many numbers, each within low..high. Raises DocumentError."""
    if not isinstance(value, list | tuple) or len(value) != length:
        raise DocumentError(path, f"must be a list of {length} numbers", value)
    return tuple(number(item, f"{path}[{i}]", low, high) for i, item in enumerate(value))


def pair(value: Any, path: str, low: float, high: float) -> tuple[float, float]:
    a, b = numbers(value, path, 2, low, high)
    return a, b


def point(value: Any, path: str) -> tuple[float, float, float]:
    """A place in space, mm."""
    x, y, z = numbers(value, path, 3, -MOST_PLACE_MM, MOST_PLACE_MM)
    return x, y, z


def ident(value: Any, path: str) -> str:
    """An id. Raises DocumentError."""
    if not isinstance(value, str) or not _ID.fullmatch(value):
        raise DocumentError(path, "must be an id of 1 to 64 letters a to z, digits, hyphens and underscores", value)
    return value


def name(value: Any, path: str, *, empty: bool = False) -> str:
    """A short text on one line, without markup. Raises DocumentError."""
    found = text(value, path, MAX_NAME)
    if not empty and not found.strip():
        raise DocumentError(path, "must not be empty", value)
    if "<" in found or ">" in found or "\n" in found or "\t" in found:
        raise DocumentError(path, "must be plain text on one line, without < or >", value)
    return found


def text(value: Any, path: str, most: int) -> str:
    """A text of at most so many characters. Raises DocumentError."""
    if not isinstance(value, str):
        raise DocumentError(path, "must be text", value)
    if len(value) > most:
        raise DocumentError(path, f"must be at most {most} characters", value)
    return _clean(value, path)


def _clean(value: str, path: str) -> str:
    for ch in value:
        code = ord(ch)
        if (code < 32 and ch not in "\n\t") or code == 127 or 0xD800 <= code <= 0xDFFF or code & 0xFFFE == 0xFFFE:
            raise DocumentError(path, "must hold no control characters", value)
    return value


def unique(path: str, key: str, values: list[str]) -> frozenset[str]:
    """The values, none of which may stand twice in the list at ``path``; ``key`` says where in each item. Raises DocumentError."""
    seen: set[str] = set()
    for i, value in enumerate(values):
        if value in seen:
            raise DocumentError(f"{path}[{i}]" + (f".{key}" if key else ""), "must be used once only", value)
        seen.add(value)
    return frozenset(seen)
