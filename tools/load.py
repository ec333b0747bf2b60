"""Fifty people at work at once: ``make bench-load``, or ``python -m tools.load --processes 2``.

A server of its own on the loopback address, on a fresh database with the demo's settings (every answer on disk before it is sent). Each
person changes their own scene of 15 to 30 things every five seconds; as many windows look at these scenes and ask every two seconds whether
something changed, taking the stage anew when it did, as the bench does. Connections are kept, as browsers keep them. Bounded in people, time
and count; ``--dragging 2``: so many of them drag a thing all the while, and readings and findings follow their hands. Prints percentiles, processor and memory, and whether every answered change is there afterwards.
"""

from __future__ import annotations

import argparse
import asyncio
import gzip
import json
import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

CHANGE_EVERY_S, ASK_EVERY_S = 5.0, 2.0
#: As bench/live.js: an answer that took longer is given as long a rest.
SLOW_S = 0.11
SECRET = "a" * 32
_REVISION = re.compile(rb'data-revision="(\d+)"')


@dataclass
class Seat:
    """One person with their scene, and one window that looks at it."""

    cookie: str
    watching: str
    scene: int
    things: list[dict[str, Any]]
    setup: str
    revision: int
    seen: int
    answered: int = 0
    last_x: tuple[str, float] | None = None


@dataclass
class Told:
    changes: list[float] = field(default_factory=list)
    stages: list[float] = field(default_factory=list)
    quiet: list[float] = field(default_factory=list)
    follows: list[float] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--processes", type=int, default=2)
    parser.add_argument("--people", type=int, default=50)
    parser.add_argument("--seconds", type=float, default=60)
    parser.add_argument("--dragging", type=int, default=0)
    parser.add_argument("--source", default="", help="the src folder of another checkout to measure instead, which serves with one process")
    asked = parser.parse_args()
    people, seconds = min(asked.people, 200), min(asked.seconds, 600)
    with tempfile.TemporaryDirectory(prefix="tideflat-load-") as folder:
        environment = {k: v for k, v in os.environ.items() if not k.startswith(("DJANGO_", "TIDEFLAT_"))}
        environment |= {"TIDEFLAT_VAR": folder, "PORT": str(free_port())}
        if asked.source:
            environment["PYTHONPATH"] = os.pathsep.join((asked.source, os.getcwd()))
        laid = subprocess.run([sys.executable, "-m", "tools.load_laid", str(people)], env=environment, capture_output=True, text=True, check=True)
        seats = [Seat(**entry) for entry in json.loads(laid.stdout)]
        command = [sys.executable, "-m", "tideflat.cli", "serve", *([] if asked.source else ["--processes", str(asked.processes)])]
        server = subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout is not None and "Tideflat is at" in server.stdout.readline()
            told = asyncio.run(work(seats, int(environment["PORT"]), seconds, min(asked.dragging, people)))
            used = usage(server.pid)
        finally:
            server.send_signal(signal.SIGINT)
            try:
                server.wait(timeout=20)
            except subprocess.TimeoutExpired:
                server.kill()
        report(asked, told, used, seconds, lost(seats, Path(folder) / "tideflat.sqlite3"))


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


async def work(seats: list[Seat], port: int, seconds: float, dragging: int = 0) -> Told:
    """Everybody looks once; then the changes and questions begin, spread evenly, and are counted."""
    told, warm = Told(), Told()
    connections = [Connection(port) for _ in range(2 * len(seats))]
    for k, seat in enumerate(seats):
        for cookie, connection in ((seat.cookie, connections[2 * k]), (seat.watching, connections[2 * k + 1])):
            await ask(connection, cookie, "GET", f"/scenes/{seat.scene}/", None, warm.stages, warm)
    if warm.faults:
        raise SystemExit(f"the benches do not open: {warm.faults[0]}")
    end = time.monotonic() + seconds
    await asyncio.gather(
        *(person(seat, connections[2 * k], told, end, k / len(seats)) for k, seat in enumerate(seats)),
        *(window(seat, connections[2 * k + 1], told, end, k / len(seats)) for k, seat in enumerate(seats)),
        *(hand(seat, Connection(port), told, end) for seat in seats[:dragging]),
    )
    return told


async def person(seat: Seat, connection: Connection, told: Told, end: float, phase: float) -> None:
    due = time.monotonic() + phase * CHANGE_EVERY_S
    while due < end:
        await asyncio.sleep(max(0.0, due - time.monotonic()))
        due += CHANGE_EVERY_S
        thing = seat.things[seat.answered % len(seat.things)]
        x = round(thing["x"] + 1.3 * (1 + seat.answered % 7), 1)
        values = {"id": thing["id"], "x": x, "y": thing["y"], "setup": seat.setup, "selected": thing["id"], "tray": "held", "revision": seat.revision}
        if await ask(connection, seat.cookie, "POST", f"/scenes/{seat.scene}/do/move/", values, told.changes, told):
            seat.revision, seat.answered, seat.last_x = seat.revision + 1, seat.answered + 1, (thing["id"], x)


async def hand(seat: Seat, connection: Connection, told: Told, end: float) -> None:
    """A thing dragged to and fro, as the bench follows it: one question under way, and a rest as long as a slow answer took."""
    thing, asked = seat.things[-1], 0
    while time.monotonic() < end:
        asked += 1
        place = f"id={thing['id']}&x={thing['x'] + asked % 40}&y={thing['y'] + asked % 25}"
        path = f"/scenes/{seat.scene}/follow/let-go/?{place}&setup={seat.setup.replace(' ', '+')}&revision={seat.revision}"
        taken: list[float] = []
        if isinstance(await ask(connection, seat.cookie, "GET", path, None, taken, told), bytes):
            told.follows.extend(taken)
        took = taken[0] if taken else 0.1
        await asyncio.sleep(took if took > SLOW_S else 0.016)


async def window(seat: Seat, connection: Connection, told: Told, end: float, phase: float) -> None:
    due = time.monotonic() + phase * ASK_EVERY_S
    while due < end:
        await asyncio.sleep(max(0.0, due - time.monotonic()))
        due += ASK_EVERY_S
        path = f"/scenes/{seat.scene}/stage/?if_newer_than={seat.seen}&setup={seat.setup.replace(' ', '+')}&tray=things"
        taken: list[float] = []
        body = await ask(connection, seat.watching, "GET", path, None, taken, told)
        (told.stages if isinstance(body, bytes) else told.quiet).extend(taken)
        if isinstance(body, bytes) and (found := _REVISION.search(body)):
            seat.seen = int(found[1])


class Connection:
    """One kept connection, opened anew when the server has closed it."""

    def __init__(self, port: int) -> None:
        self.port, self.streams = port, None

    async def ask(self, request: bytes) -> tuple[int, bytes]:
        """(status, body); raises OSError, ValueError or IncompleteReadError for no sound answer."""
        is_kept = self.streams is not None
        if self.streams is None:
            self.streams = await asyncio.open_connection("127.0.0.1", self.port, limit=1 << 22)
        reader, writer = self.streams
        writer.write(request)
        await writer.drain()
        line = await reader.readline()
        if not line:
            self.close()
            if is_kept:
                return await self.ask(request)
            raise ConnectionResetError("closed without an answer")
        length, is_last, is_packed = 0, False, False
        while (header := (await reader.readline()).strip().lower()):
            if header.startswith(b"content-length:"):
                length = int(header.split(b":")[1])
            is_last |= header == b"connection: close"
            is_packed |= header == b"content-encoding: gzip"
        body = await reader.readexactly(length)
        body = gzip.decompress(body) if is_packed else body
        if is_last:
            self.close()
        return int(line.split()[1]), body

    def close(self) -> None:
        if self.streams is not None:
            self.streams[1].close()
            self.streams = None


async def ask(connection: Connection, cookie: str, method: str, path: str, values: dict[str, Any] | None, taken: list[float], told: Told) -> bytes | bool:
    """One request on a kept connection; its time in seconds goes to ``taken``. The body (True when there is none), False for a fault."""
    from urllib.parse import urlencode

    body = urlencode(values or {}).encode()
    head = f"{method} {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: sessionid={cookie}; csrftoken={SECRET}\r\nX-CSRFToken: {SECRET}\r\nHX-Request: true\r\n"
    head += "Accept-Encoding: gzip\r\n"
    if values is not None:
        head += f"Content-Type: application/x-www-form-urlencoded\r\nContent-Length: {len(body)}\r\n"
    start = time.perf_counter()
    try:
        status, content = await connection.ask(head.encode() + b"\r\n" + (body if values is not None else b""))
    except (OSError, ValueError, asyncio.IncompleteReadError) as error:
        connection.close()
        told.faults.append(f"{method} {path}: {error!r}")
        return False
    taken.append(time.perf_counter() - start)
    if status not in (200, 204):
        told.faults.append(f"{method} {path}: {status} {content[:200]!r}")
        return False
    return content or True


def usage(pid: int) -> tuple[float, float]:
    """(processor seconds, megabytes that are its own) of the server's processes together."""
    import psutil

    family = [psutil.Process(pid)]
    family += family[0].children(recursive=True)
    times = [p.cpu_times() for p in family]
    return sum(t.user + t.system for t in times), sum(p.memory_full_info().pss for p in family) / 1e6


def lost(seats: list[Seat], database: Path) -> int:
    """Seats whose scene is not as it was last answered."""
    import sqlite3
    from contextlib import closing

    with closing(sqlite3.connect(database)) as found:
        rows = {pk: (document, revision) for pk, document, revision in found.execute("SELECT id, document, revision FROM scenes_scene")}
    wrong = 0
    for seat in seats:
        document, revision = rows[seat.scene]
        places = {p["id"]: p["x"] for p in json.loads(document)["placements"]}
        wrong += revision != seat.revision or (seat.last_x is not None and places[seat.last_x[0]] != seat.last_x[1])
    return wrong


def report(asked: Any, told: Told, used: tuple[float, float], seconds: float, wrong: int) -> None:
    where = "one process, other checkout" if asked.source else f"{asked.processes} process{'es' if asked.processes > 1 else ''}"
    print(f"{where}, {asked.people} people, {seconds:g} s")
    for words, taken in (("changes", told.changes), ("stages taken anew", told.stages), ("questions, nothing new", told.quiet), ("followed a hand", told.follows)):
        taken.sort()
        if taken:
            p50, p95, p99 = (taken[min(len(taken) - 1, int(len(taken) * q))] * 1000 for q in (0.5, 0.95, 0.99))
            print(f"  {words:<24} p50 {p50:6.0f} ms   p95 {p95:6.0f} ms   p99 {p99:6.0f} ms   n {len(taken)}")
    print(f"  processor {used[0]:.0f} s ({used[0] / seconds:.2f} of a core, start and first looks included), memory {used[1]:.0f} MB")
    print(f"  failed {len(told.faults)}, scenes not as answered {wrong}")
    for fault in told.faults[:3]:
        print(f"    {fault}")


if __name__ == "__main__":
    main()
