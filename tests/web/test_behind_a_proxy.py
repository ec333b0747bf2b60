"""Production: behind a named proxy, from an empty machine to a restored database; and who is believed."""

from __future__ import annotations

import json
import sqlite3
import subprocess
import sys
import time
from contextlib import closing

import pytest

from tests.support.serving import PRODUCTION, Person, Proxy, Serving, ask, environment, tideflat
from tideflat.web.serving.proxy import TrustedProxy, read_proxies

PASSWORD = "kelp-and-lantern-9"


def test_a_fresh_machine_begins_serves_changes_is_killed_starts_at_once_and_is_restored(tmp_path):
    var, database = tmp_path / "var", tmp_path / "var" / "tideflat.sqlite3"
    production = {**PRODUCTION, "TIDEFLAT_PROXY": "127.0.0.1"}
    begun = tideflat(var, "begin", TIDEFLAT_STUDIO="Quay studio", TIDEFLAT_NAME="mara", TIDEFLAT_PASSWORD=PASSWORD, **production)
    assert begun.returncode == 0 and "mara is its owner" in begun.stdout, begun.stderr

    server = Serving(var, "serve", "--processes", "2", **production)
    proxy = Proxy(server.port)
    try:
        assert len(server.workers(2)) == 2
        person = Person(proxy.port, "https://studio.example")
        status, headers, _ = person.ask("GET", "/sign-in/")
        assert status == 200 and headers["strict-transport-security"].startswith("max-age=31536000")
        assert person.sign_in("mara", PASSWORD) == 302
        status, headers, _ = person.ask("POST", "/scenes/new/", {"from": "tea"})
        assert status == 302
        scene = headers["location"]
        status, _, page = person.ask("GET", scene)
        assert status == 200 and 'id="stage"' in page
        backup = tideflat(var, "backup", str(tmp_path / "copy.sqlite3"), **production)
        assert backup.returncode == 0, backup.stderr
        with closing(sqlite3.connect(database)) as found:
            document, revision = found.execute("SELECT document, revision FROM scenes_scene").fetchone()
        thing = json.loads(document)["placements"][0]
        setup = json.loads(document)["setups"][0]["name"]
        values = {"id": thing["id"], "x": thing["x"] + 3, "y": thing["y"], "revision": revision, "setup": setup}
        assert person.ask("POST", f"{scene}do/move/", values)[0] == 200

        idle = tideflat(var, "restore", str(tmp_path / "copy.sqlite3"), **production)  # nobody is writing, and yet
        assert idle.returncode == 2 and "in use; stop the server first" in idle.stderr

        server.kill()
        again = Serving(var, "serve", "--processes", "2", port=server.port, **production)
        try:
            assert again.started_in < 30
            status, _, page = person.ask("GET", scene)
            assert status == 200 and f'data-revision="{revision + 1}"' in page  # the change is there, and the person still signed in
        finally:
            again.kill()
    finally:
        proxy.close()
        server.kill()
    restored = tideflat(var, "restore", str(tmp_path / "copy.sqlite3"), **production)
    assert restored.returncode == 0, restored.stderr
    with closing(sqlite3.connect(database)) as found:
        assert found.execute("SELECT revision FROM scenes_scene").fetchone()[0] == revision


def test_without_a_proxy_production_serves_only_when_told_to_and_says_why(tmp_path):
    refused = tideflat(tmp_path, "serve", **PRODUCTION)
    assert refused.returncode == 2 and "TIDEFLAT_PROXY" in refused.stderr and "TIDEFLAT_INSECURE=1" in refused.stderr
    assert len(refused.stderr.strip().splitlines()) == 1
    server = Serving(tmp_path, "serve", **PRODUCTION, TIDEFLAT_INSECURE="1")
    try:
        assert "can read passwords" in server.said
        status, headers, _ = ask(server.port, "GET", "/sign-in/", Host="studio.example")
        assert status == 200 and "strict-transport-security" not in headers
        assert "secure" not in headers.get("set-cookie", "").lower()
    finally:
        server.kill()


def test_who_is_no_named_proxy_cannot_say_that_it_was_https(tmp_path):
    server = Serving(tmp_path, "serve", **PRODUCTION, TIDEFLAT_PROXY="10.9.8.7")
    try:
        status, headers, _ = ask(server.port, "GET", "/sign-in/", Host="studio.example", X_Forwarded_Proto="https")
        assert status == 301 and headers["location"] == "https://studio.example/sign-in/"
        assert ask(server.port, "GET", "/", Host="elsewhere.example", X_Forwarded_Proto="https")[0] == 400
    finally:
        server.kill()


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"TIDEFLAT_SECRET_KEY": ""}, "TIDEFLAT_SECRET_KEY must be set"),
        ({"TIDEFLAT_SECRET_KEY": "k" * 39}, "TIDEFLAT_SECRET_KEY must be set"),
        ({"TIDEFLAT_PROXY": "the front door"}, "TIDEFLAT_PROXY must be addresses"),
        ({"TIDEFLAT_PROXY": "127.0.0.1", "TIDEFLAT_LISTEN": "no such place"}, "TIDEFLAT_LISTEN must be"),
        ({"TIDEFLAT_PROXY": "127.0.0.1", "TIDEFLAT_PROCESSES": "many"}, "--processes must be"),
    ],
)
def test_a_wrong_setting_is_one_line(tmp_path, more, says):
    refused = tideflat(tmp_path, "serve", **{**PRODUCTION, **more})
    assert refused.returncode == 2 and says in refused.stderr and len(refused.stderr.strip().splitlines()) == 1, refused.stderr


def test_the_demo_does_not_run_in_production(tmp_path):
    refused = tideflat(tmp_path, "demo", **PRODUCTION, TIDEFLAT_PROXY="127.0.0.1")
    assert refused.returncode == 2 and "tideflat begin" in refused.stderr and not (tmp_path / "tideflat.sqlite3").exists()


def test_django_finds_nothing_to_say_of_the_production_settings(tmp_path):
    result = subprocess.run(
        [sys.executable, "-m", "tideflat.cli", "manage", "check", "--deploy", "--fail-level", "INFO"],
        env=environment(tmp_path, **{**PRODUCTION, "TIDEFLAT_PROXY": "127.0.0.1"}), capture_output=True, text=True, timeout=60,
    )  # fmt: skip
    assert result.returncode == 0 and "no issues" in result.stdout, result.stdout + result.stderr


def seen_by(proxies: str, **environ: str) -> dict[str, str]:
    found: dict[str, str] = {}
    TrustedProxy(lambda e, _: found.update(e) or [], read_proxies(proxies))({"wsgi.url_scheme": "http", **environ}, None)  # type: ignore[func-returns-value]
    return found


@pytest.mark.parametrize(
    ("proxies", "peer", "chain", "address"),
    [
        ("", "10.0.0.2", "198.51.100.4", "10.0.0.2"),  # nobody is believed
        ("10.0.0.2", "10.0.0.2", "198.51.100.4", "198.51.100.4"),
        ("10.0.0.2", "10.0.0.3", "198.51.100.4", "10.0.0.3"),
        ("10.0.0.0/8", "10.0.0.2", "1.2.3.4, 198.51.100.4, 10.1.1.1", "198.51.100.4"),  # what stands before it the client wrote itself
        ("10.0.0.2", "10.0.0.2", "", "10.0.0.2"),
        ("10.0.0.2", "10.0.0.2", "nonsense", "10.0.0.2"),
        ("10.0.0.2", "10.0.0.2", "198.51.100.4:5512", "198.51.100.4"),
        ("::1", "::1", "[2001:db8::7]:443", "2001:db8::7"),
        ("127.0.0.1", "::ffff:127.0.0.1", "198.51.100.4", "198.51.100.4"),
    ],
)
def test_the_real_address_is_the_last_one_that_is_no_named_proxy(proxies, peer, chain, address):
    seen = seen_by(proxies, REMOTE_ADDR=peer, HTTP_X_FORWARDED_FOR=chain, HTTP_X_FORWARDED_PROTO="https", HTTP_X_FORWARDED_HOST="evil.example")
    assert seen["REMOTE_ADDR"] == address
    assert not any(name.startswith("HTTP_X_FORWARDED") for name in seen)
    is_believed = peer.replace("::ffff:", "") in ("10.0.0.2", "::1", "127.0.0.1") and proxies != ""
    assert seen["wsgi.url_scheme"] == ("https" if is_believed else "http")


def test_a_server_that_was_killed_or_stopped_leaves_its_port_at_once(tmp_path):
    """Also with connections that were open, which the system keeps for a minute after."""
    import signal
    import socket

    first = Serving(tmp_path, "demo")
    held = [socket.create_connection(("127.0.0.1", first.port)) for _ in range(3)]
    for each in held:
        each.sendall(b"GET /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
        assert each.recv(100)
    for sign in (signal.SIGKILL, signal.SIGINT):
        first.kill(sign)
        start = time.monotonic()
        first = Serving(tmp_path, "demo", port=first.port)
        assert time.monotonic() - start < 30
    other = tideflat(tmp_path / "other", "demo", PORT=str(first.port))
    assert other.returncode == 2 and "is taken by another program" in other.stderr
    first.kill()
