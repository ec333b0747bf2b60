"""Few requests of one process compute at a time, the others wait in line: together they would only slow each other down.

Python runs one thread at a time. Ten stages computed at once all come last; computed in line, half of them are answered in half the time,
and the many small questions in between find the processor free. Scenes that took long the last time wait in a line of their own, so that
whoever works on a heavy one does not stop everybody else.
"""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpResponse

#: Seconds of processor time from which on an answer counts as long.
LONG_S = 0.3
#: Scenes whose last time is remembered.
_MOST_REMEMBERED = 1000
_quick, _long = threading.Lock(), threading.Lock()
_taken: OrderedDict[int, float] = OrderedDict()
_remembering = threading.Lock()


def _remember(scene_id: int, taken_s: float) -> None:
    with _remembering:
        _taken[scene_id] = taken_s
        _taken.move_to_end(scene_id)
        while len(_taken) > _MOST_REMEMBERED:
            _taken.popitem(last=False)


def in_turn(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """For views that compute a set-up of the scene ``scene_id``. Such a view must not call another one."""

    @wraps(view)
    def waiting(request: Any, scene_id: int, *args: Any, **kwargs: Any) -> HttpResponse:
        with _long if _taken.get(scene_id, 0.0) > LONG_S else _quick:
            start = time.thread_time()
            try:
                return view(request, scene_id, *args, **kwargs)
            finally:
                _remember(scene_id, time.thread_time() - start)

    return waiting
