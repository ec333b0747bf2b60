"""Servers and commands in processes of their own, and a small proxy before them, for tests that need the real thing."""

from __future__ import annotations

import atexit
import http.client
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
from functools import cache
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

SECRET = "tests-only-" + "s3cret" * 8
PRODUCTION = {"DJANGO_SETTINGS_MODULE": "tideflat.web.settings.production", "TIDEFLAT_SECRET_KEY": SECRET, "TIDEFLAT_HOSTS": "studio.example,127.0.0.1"}


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def environment(var: Path, port: int = 0, **more: str) -> dict[str, str]:
    clean = {k: v for k, v in os.environ.items() if not k.startswith(("DJANGO_", "TIDEFLAT_"))}
    return {**clean, "TIDEFLAT_VAR": str(var), "PORT": str(port or free_port()), "PYTHONUNBUFFERED": "1", **more}


def tideflat(var: Path, *arguments: str, typed: str | None = None, **more: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "tideflat.cli", *arguments], env={**environment(var), **more}, capture_output=True, text=True, timeout=120, input=typed or ""
    )


@cache
def _demo_laid_out() -> Path:
    """A folder with the demo's database as the program itself lays it out, made once for all tests of a process."""
    var = Path(tempfile.mkdtemp(prefix="tideflat-demo-"))
    atexit.register(shutil.rmtree, var, ignore_errors=True)
    Serving(var, "demo", fresh=True).kill(signal.SIGTERM)
    return var


class Serving:
    """`tideflat serve` (or `demo`) until it is stopped. A demo begins from a copy of what an earlier one laid out, unless it is to be fresh."""

    def __init__(self, var: Path, *arguments: str, port: int = 0, fresh: bool = False, **more: str) -> None:
        if arguments[0] == "demo" and not fresh and not any(var.glob("*.sqlite3")):
            shutil.copytree(_demo_laid_out(), var, dirs_exist_ok=True)
        self.port = port or free_port()
        self.started_in = time.monotonic()
        self.process = subprocess.Popen(
            [sys.executable, "-m", "tideflat.cli", *arguments],
            env=environment(var, self.port, **more), stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
        )  # fmt: skip
        assert self.process.stdout is not None
        self.said = ""
        while "Stop it with" not in self.said:
            line = self.process.stdout.readline()
            assert line, self.said
            self.said += line
        self.started_in = time.monotonic() - self.started_in

    def workers(self, wanted: int) -> list[int]:
        """Process ids of the workers, once there are so many, or after five seconds."""
        deadline = time.monotonic() + 5
        while len(found := self._workers()) != wanted and time.monotonic() < deadline:
            time.sleep(0.05)
        return found

    def _workers(self) -> list[int]:
        found = subprocess.run(["ps", "-o", "pid=", "--ppid", str(self.process.pid)], capture_output=True, text=True, check=False)
        return [int(pid) for pid in found.stdout.split()]

    def kill(self, sign: int = signal.SIGKILL) -> None:
        if self.process.poll() is None:
            self.process.send_signal(sign)
        self.process.wait(timeout=30)
        assert self.process.stdout is not None
        if not self.process.stdout.closed:
            self.said += self.process.stdout.read()
            self.process.stdout.close()


def ask(port: int, method: str, path: str, body: bytes | None = None, **headers: str) -> tuple[int, dict[str, str], bytes]:
    """(status, headers with lower-case names, body) of one request."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    try:
        connection.request(method, path, body, {k.replace("_", "-"): v for k, v in headers.items()})
        answer = connection.getresponse()
        return answer.status, {k.lower(): v for k, v in answer.getheaders()}, answer.read()
    finally:
        connection.close()


class Person:
    """Somebody at a browser behind the proxy: keeps cookies, sends tokens and the page they came from."""

    def __init__(self, port: int, origin: str) -> None:
        self.port, self.origin, self.cookies = port, origin, {}  # type: int, str, dict[str, str]

    def ask(self, method: str, path: str, values: dict[str, Any] | None = None) -> tuple[int, dict[str, str], str]:
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()), "Host": self.origin.split("//")[1]}
        body = None
        if values is not None:
            body = urllib.parse.urlencode(values).encode()
            headers |= {"Content-Type": "application/x-www-form-urlencoded", "X-CSRFToken": self.cookies.get("csrftoken", ""), "Origin": self.origin, "Referer": self.origin + path}
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        connection.request(method, path, body, headers)
        answer = connection.getresponse()
        text = answer.read().decode("utf-8", "replace")
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        connection.close()
        return answer.status, {k.lower(): v for k, v in answer.getheaders()}, text

    def sign_in(self, name: str, password: str) -> int:
        _, _, page = self.ask("GET", "/sign-in/")
        token = re.search(r'csrfmiddlewaretoken" value="([^"]+)"', page)
        assert token is not None, page[:400]
        return self.ask("POST", "/sign-in/", {"username": name, "password": password, "csrfmiddlewaretoken": token[1]})[0]


class Proxy:
    """What stands before the server in production: takes HTTPS (here told, not spoken) and passes on, saying from whom and over what."""

    def __init__(self, upstream: int, scheme: str = "https", client: str = "203.0.113.7") -> None:
        class Handler(BaseHTTPRequestHandler):
            def pass_on(self) -> None:
                body = self.rfile.read(int(self.headers.get("Content-Length") or 0))
                headers = {k: v for k, v in self.headers.items() if k.lower() not in ("connection", "x-forwarded-for", "x-forwarded-proto")}
                headers |= {"X-Forwarded-For": client, "X-Forwarded-Proto": scheme, "Connection": "close"}
                connection = http.client.HTTPConnection("127.0.0.1", upstream, timeout=60)
                connection.request(self.command, self.path, body or None, headers)
                answer = connection.getresponse()
                content = answer.read()
                self.send_response(answer.status)
                for name, value in answer.getheaders():
                    if name.lower() not in ("transfer-encoding", "connection", "content-length", "server", "date"):
                        self.send_header(name, value)
                self.send_header("Content-Length", str(len(content)))
                self.end_headers()
                self.wfile.write(content)
                connection.close()

            do_GET = do_POST = pass_on

            def log_message(self, *_: Any) -> None:
                return

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.port = int(self.server.server_address[1])
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def close(self) -> None:
        self.server.shutdown()
        self.server.server_close()
