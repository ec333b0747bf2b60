"""Few requests of one process compute at a time, the others wait in line: together they would only slow each other down.

Python runs one thread at a time. Ten stages computed at once all come last; computed in line, half of them are answered in half the time, and
the many small questions in between find the processor free.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpResponse

#: A heavy scene must not stop everybody: while it is worked out, one other request at a time gets on beside it.
COMPUTING = 2
_turns = threading.BoundedSemaphore(COMPUTING)


def in_turn(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """For views that compute a set-up."""

    @wraps(view)
    def waiting(*args: Any, **kwargs: Any) -> HttpResponse:
        with _turns:
            return view(*args, **kwargs)

    return waiting
