"""So many tries in so many seconds: shared by all processes for what is rare and heavy, counted in each process for what is quick."""

from __future__ import annotations

import time

from django.core.cache import cache
from django.db import transaction
from django.db.models import F

from .models import Count

#: Counts that nobody added to for so long are thrown away, at most so many at once.
KEPT_S, SWEPT_AT_ONCE = 2 * 86_400, 500


def too_many(purpose: str, who: str, limit: int, seconds: int) -> bool:
    """Count one try of ``who``; True when it is over the limit for the present window of time. One write to the database."""
    now = time.time()
    window = int(now // seconds)
    with transaction.atomic():
        row, is_new = Count.objects.get_or_create(key=f"{purpose}:{who}"[:80], defaults={"window": window, "count": 1, "last_at": now})
        if is_new:
            sweep(now)
            return limit < 1
        count = row.count + 1 if row.window == window else 1
        Count.objects.filter(pk=row.pk).update(window=window, count=count, last_at=now)
    return count > limit


def too_many_here(purpose: str, who: str, limit: int, seconds: int) -> bool:
    """The same, counted in this process alone: for what happens many times a second, where each process guards itself."""
    key = f"{purpose}:{who}:{int(time.time() // seconds)}"
    cache.add(key, 0, timeout=seconds * 2)
    try:
        return cache.incr(key) > limit
    except ValueError:  # pushed out meanwhile by many others
        return False


def sweep(now: float) -> None:
    """Throw old counts away."""
    old = Count.objects.filter(last_at__lt=now - KEPT_S).values_list("pk", flat=True)[:SWEPT_AT_ONCE]
    Count.objects.filter(pk__in=list(old)).delete()


def take_back(key: str) -> None:
    """One less of a count that turned out not to count."""
    Count.objects.filter(key=key, count__gt=0).update(count=F("count") - 1)
