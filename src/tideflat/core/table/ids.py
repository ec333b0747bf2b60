"""Ids of what is put into a scene."""

from __future__ import annotations

from collections.abc import Set

#: An id has 64 characters at most; so many are left for the number that tells it from others.
_STEM = 56


def stem_of(taken_id: str) -> str:
    """The id without the number that ``free_id`` put after it.

    >>> stem_of("jar-2"), stem_of("jar")
    ('jar', 'jar')
    """
    stem, _, tail = taken_id.rpartition("-")
    return stem if stem and tail.isdigit() else taken_id


def free_id(wish: str, taken: Set[str]) -> str:
    """``wish``, or its stem with the first number that makes it free."""
    if wish not in taken:
        return wish
    stem = stem_of(wish)[:_STEM]
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in range(2, len(taken) + 3) if f"{stem}-{n}" not in taken)
