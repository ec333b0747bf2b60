"""The server: gunicorn's pre-forking arbiter on a socket of ours, several processes on one database."""

from __future__ import annotations

import ctypes
import errno
import os
import signal
import socket
import struct
import sys
import time
from typing import Any

from gunicorn.app.base import BaseApplication

#: Requests that one process answers at a time. Few compute at once (scenes/turns.py); the others wait for a body, a lock or a picture.
THREADS = 16
#: Seconds that a kept connection may idle, and that a client may take for its next bytes.
KEEPALIVE_S, SLOWEST_READ_S = 75, 20
#: What was killed a moment ago may still be letting go of the port.
_PORT_TRIES, _PORT_WAIT_S = 30, 0.1
_PR_SET_PDEATHSIG = 1


class PortFault(Exception):
    """The address cannot be listened at: one sentence with its cure."""


def listening_sockets(host: str, port: int, count: int) -> list[socket.socket]:
    """A socket for each process, all bound to the one address: the system deals new connections out among them evenly, where processes that
    wait at one socket would leave most of them to whoever wakes first. Raises PortFault."""
    with _bound(host, port) as probe:  # without sharing: whoever has the port already is found out
        port = probe.getsockname()[1]
    found = [_bound(host, port, is_shared=count > 1) for _ in range(count)]
    for each in found:
        each.listen(512)
        # Accepted connections inherit it: a client that stops in the middle of what it sends does not keep a thread for ever.
        each.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", SLOWEST_READ_S, 0))
    return found


def _bound(host: str, port: int, *, is_shared: bool = False) -> socket.socket:
    """A server that was killed just now does not keep the port from the next one: it is tried for a few seconds."""
    for attempt in range(_PORT_TRIES):
        try:
            family, kind, protocol, _, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
            found = socket.socket(family, kind, protocol)
        except OSError as error:
            raise PortFault(_no_address(host, error)) from None
        found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        if is_shared:
            found.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
        try:
            found.bind(address)
        except OSError as error:
            found.close()
            if error.errno == errno.EADDRINUSE and attempt + 1 < _PORT_TRIES:
                time.sleep(_PORT_WAIT_S)
                continue
            if error.errno == errno.EADDRINUSE:
                raise PortFault(
                    f"Port {port} is taken by another program. Choose another, for example: make demo PORT={port % 65535 + 1}"
                ) from None
            if error.errno == errno.EACCES:
                raise PortFault(
                    f"Port {port} is kept for the system. Choose one from 1024 on, and let the proxy listen at {port}."
                ) from None
            raise PortFault(_no_address(host, error)) from None
        return found
    raise AssertionError("the loop returns or raises")


def _no_address(host: str, error: OSError) -> str:
    return f"TIDEFLAT_LISTEN must be an address of this machine, such as 127.0.0.1 (got {host!r}: {error.strerror})"


class Server(BaseApplication):
    """One application, a worker forked from it for each listening socket after it was loaded."""

    def __init__(self, application: Any, listeners: list[socket.socket], greeting: str) -> None:
        self.application, self.listeners, self.greeting = application, listeners, greeting
        super().__init__()

    def load_config(self) -> None:
        for name, value in {
            "bind": [f"fd://{listener.fileno()}" for listener in self.listeners],
            "workers": len(self.listeners),
            "worker_class": "gthread",
            "threads": THREADS,
            "worker_connections": 1000,
            "preload_app": True,  # forked after loading: what never changes is in memory once
            "keepalive": KEEPALIVE_S,
            "timeout": 120,
            "graceful_timeout": 10,
            "loglevel": "warning",
            "control_socket_disable": True,
            "forwarded_allow_ips": "",  # whom to believe is ours to decide (serving/proxy.py)
            "worker_tmp_dir": "/dev/shm" if os.path.isdir("/dev/shm") else None,  # noqa: S108 - gunicorn's heartbeat, off the disk
            "pre_fork": _before_fork,
            "post_fork": _after_fork,
            "when_ready": self._greet,
        }.items():
            self.cfg.set(name, value)

    def load(self) -> Any:
        return self.application

    def _greet(self, _server: Any) -> None:
        print(self.greeting, flush=True)


def _before_fork(server: Any, worker: Any) -> None:
    """The worker gets the first socket that no living one serves; and no connection to the database may be shared between processes."""
    from django.db import connections

    connections.close_all()
    taken = {other.place for other in server.WORKERS.values() if hasattr(other, "place")}
    worker.place = next(place for place in range(len(worker.sockets) + 1) if place not in taken)


def _after_fork(_server: Any, worker: Any) -> None:
    """Its own socket only; and a worker ends at once with the process that started it, also when that one was killed, so that the port is free."""
    if worker.place < len(worker.sockets):
        worker.sockets = [worker.sockets[worker.place]]
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
        if os.getppid() != worker.ppid:
            os._exit(1)
