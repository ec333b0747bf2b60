"""Work in the background gives way to whoever works on the bench."""

from __future__ import annotations

import os
from contextlib import suppress
from pathlib import Path

#: Where Linux keeps how much a session gives way to others. It weighs that before how much a process gives way within its own: see
#: sched(7), autogroup.
_OF_THE_SESSION = Path("/proc/self/autogroup")


def session_gives_way(steps: int, told_at: Path = _OF_THE_SESSION) -> None:
    """The session that this process began gives way by so many steps of 0 to 19, all its threads at once; a session of others is left
    alone.

    Without it a process in a session of its own is worth as much as the whole server, however much it gives way within that session.
    """
    if os.getsid(0) == os.getpid():
        with suppress(OSError):  # not every system weighs sessions against each other
            told_at.write_text(str(steps))
