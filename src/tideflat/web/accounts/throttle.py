"""So many tries in so many seconds, counted in the cache."""

from __future__ import annotations

import time

from django.core.cache import cache
from django.http import HttpRequest


def too_many(purpose: str, who: str, limit: int, seconds: int) -> bool:
    """Count one try of ``who``; True when it is over the limit for the present window of time."""
    window = int(time.time() // seconds)
    key = f"tries:{purpose}:{who}:{window}"
    cache.add(key, 0, timeout=seconds * 2)
    return cache.incr(key) > limit


def address(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))
