"""A full, locked, read-only or damaged database, and bodies that are too large: an honest page or one clear line, at once."""

from __future__ import annotations

import ctypes
import sqlite3
import subprocess
import sys
import time
import uuid
from contextlib import closing
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, connection
from django.test import Client

from tests.conftest import PASSWORD, Hand
from tests.support.serving import Serving, ask, environment, tideflat
from tideflat.web.scenes.models import Scene
from tideflat.web.serving.bad_times import kind_of

MEGABYTE = 1_000_000


@pytest.fixture
def full_disk(transactional_db):
    """SQLite's own word for a disk with no room: the database may not grow by a page."""

    def fill() -> None:
        with connection.cursor() as cursor:
            cursor.execute("CREATE TABLE IF NOT EXISTS filler (x)")
            cursor.execute("PRAGMA page_count")
            cursor.execute(f"PRAGMA max_page_count = {cursor.fetchone()[0]}")
            with pytest.raises(OperationalError):
                for _ in range(10_000):
                    cursor.execute("INSERT INTO filler VALUES (zeroblob(3000))")
            with pytest.raises(OperationalError):  # and what room is left in the pages of sessions
                for _ in range(10_000):
                    cursor.execute("INSERT INTO django_session VALUES (%s, %s, '2030-01-01')", [f"{uuid.uuid4().hex}", "x" * 200])

    yield fill
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA max_page_count = 4294967294")
        cursor.execute("DROP TABLE IF EXISTS filler")


@pytest.mark.django_db(transaction=True)
def test_a_full_disk_at_sign_in_and_at_a_change_is_a_page_that_says_so(studio, row, full_disk):
    ada = Client(raise_request_exception=False)
    assert ada.login(username="ada", password=PASSWORD)
    stranger = Client(raise_request_exception=False)
    full_disk()
    answer = stranger.post("/sign-in/", {"username": "ada", "password": PASSWORD})
    assert answer.status_code == 503 and b"is full" in answer.content and b"Traceback" not in answer.content and answer["Retry-After"]
    full_disk()  # the connection that met it was closed, and the limit with it
    imported = ada.post("/scenes/new/", {"from": "tea"})
    assert imported.status_code == 503 and b"was not kept" in imported.content
    assert Scene.objects.count() == 1 and ada.get(f"/scenes/{row.pk}/").status_code == 200  # what is there can still be looked at


@pytest.mark.django_db(transaction=True)
def test_a_locked_database_is_told_of_in_seconds_and_nothing_is_changed(studio, row, settings):
    ada = Client(raise_request_exception=False)
    ada.login(username="ada", password=PASSWORD)
    hand = Hand(ada, row)
    with closing(sqlite3.connect(connection.settings_dict["NAME"], isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        start = time.monotonic()
        answer = ada.post(f"/scenes/{row.pk}/do/move/", {"id": "p1", "x": 400, "y": 300, "revision": 1, "setup": "main"}, headers={"HX-Request": "true"})
        assert time.monotonic() - start < 12
        other.execute("ROLLBACK")
    assert answer.status_code == 503 and b"try it again in a moment" in answer.content and answer["HX-Reswap"] == "none"
    assert b'id="notice"' in answer.content
    assert hand.do("move", id="p1", x=400, y=300).status_code == 200  # the next one is taken


def test_faults_are_told_apart_by_the_code_that_sqlite_gives():
    def fault(code: int) -> Exception:
        inner = sqlite3.OperationalError("x")
        inner.sqlite_errorcode = code  # type: ignore[misc]
        outer = OperationalError("x")
        outer.__cause__ = inner
        return outer

    assert [kind_of(fault(code)) for code in (5, 261, 13, 8, 11, 26, 14, 10)] == ["busy", "busy", "full", "read-only", "damaged", "damaged", "away", "away"]
    assert kind_of(fault(19)) is None and kind_of(ZeroDivisionError()) is None  # a broken rule is a fault of ours, not of the times


def spoilt(path: Path) -> None:
    raw = bytearray(path.read_bytes())
    raw[:100] = b"no database at all".ljust(100, b"!")
    path.write_bytes(raw)


@pytest.fixture(scope="module")
def begun(tmp_path_factory) -> Path:
    var = tmp_path_factory.mktemp("begun")
    made = tideflat(var, "begin", TIDEFLAT_STUDIO="Quay", TIDEFLAT_NAME="mara", TIDEFLAT_PASSWORD="kelp-and-lantern-9")
    assert made.returncode == 0, made.stderr
    return var


def copied(begun: Path, to: Path) -> Path:
    to.mkdir(exist_ok=True)
    with closing(sqlite3.connect(begun / "tideflat.sqlite3")) as live, closing(sqlite3.connect(to / "tideflat.sqlite3")) as copy:
        live.backup(copy)
    return to / "tideflat.sqlite3"


def one_line(result: subprocess.CompletedProcess[str], *words: str) -> None:
    assert result.returncode == 2, result.stdout
    lines = result.stderr.strip().splitlines()
    assert len(lines) == 1 and all(word in lines[0] for word in words), result.stderr


def test_a_damaged_database_is_one_line_that_names_the_cure(begun, tmp_path):
    spoilt(copied(begun, tmp_path))
    one_line(tideflat(tmp_path, "serve"), "tideflat restore")
    one_line(tideflat(tmp_path, "check"), "no sound database")
    one_line(tideflat(tmp_path, "backup", str(tmp_path / "b.sqlite3")), "Backup not written", "damaged")
    assert not list(tmp_path.glob("*.part*"))


def test_a_locked_database_at_start_is_one_line_within_seconds(begun, tmp_path):
    database = copied(begun, tmp_path)
    with closing(sqlite3.connect(database, isolation_level=None)) as other:
        other.execute("PRAGMA journal_mode=DELETE")
        other.execute("BEGIN EXCLUSIVE")
        start = time.monotonic()
        one_line(tideflat(tmp_path, "serve"), "locked by another program")
        assert time.monotonic() - start < 40
        other.execute("ROLLBACK")


def without_a_roots_rights() -> None:
    """In the child: permissions count, also for root (CAP_DAC_OVERRIDE and CAP_DAC_READ_SEARCH are given up)."""
    for capability in (1, 2):
        ctypes.CDLL(None).prctl(24, capability, 0, 0, 0)  # PR_CAPBSET_DROP; who is not root has none to drop


def test_a_database_that_may_only_be_read_is_backed_up_and_checked_and_not_served(begun, tmp_path):
    folder, target = tmp_path / "var", tmp_path / "copy.sqlite3"
    database = copied(begun, folder)
    with closing(sqlite3.connect(database)) as live:
        live.execute("PRAGMA journal_mode=WAL")
        live.execute("UPDATE accounts_studio SET name = 'Still in the log'")
        live.commit()
        raw = [(p.name, p.read_bytes()) for p in folder.iterdir() if not p.name.endswith("-shm")]
    for name, content in raw:  # as a server leaves it that was killed: the change is in the log only
        (folder / name).write_bytes(content)
    (folder / "tideflat.sqlite3-shm").unlink(missing_ok=True)
    assert (folder / "tideflat.sqlite3-wal").exists()

    def restricted(*arguments: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "tideflat.cli", *arguments]
        return subprocess.run(command, env=environment(folder), preexec_fn=without_a_roots_rights, capture_output=True, text=True, timeout=60, check=False)

    try:
        for path in (*folder.iterdir(), folder):
            path.chmod(0o555 if path.is_dir() else 0o444)
        one_line(restricted("serve"), "cannot be written")
        written = restricted("backup", str(target))
        assert written.returncode == 0, written.stderr
        checked = restricted("check")
        assert checked.returncode == 0 and "sound" in checked.stdout and "1 studios" in checked.stdout, checked.stderr
    finally:
        for path in (folder, *folder.iterdir()):
            path.chmod(0o755)
    with closing(sqlite3.connect(target)) as copy:
        assert copy.execute("SELECT name FROM accounts_studio").fetchone() == ("Still in the log",)


def test_a_body_over_the_limit_gets_our_own_page_and_the_connection_lives(tmp_path):
    server = Serving(tmp_path, "demo")
    try:
        status, headers, page = ask(server.port, "POST", "/sign-in/", b"x" * (30 * MEGABYTE))
        assert status == 413 and b"<title>Too large, Tideflat</title>" in page and "default-src 'none'" in headers["content-security-policy"]
        status, _, page = ask(server.port, "POST", "/sign-in/", b"x" * (30 * MEGABYTE), HX_Request="true")
        assert status == 413 and b'id="notice"' in page
        assert ask(server.port, "GET", "/sign-in/")[0] == 200
        status, _, page = ask(server.port, "POST", "/sign-in/", Content_Length="nine")
        assert status == 400
    finally:
        server.kill()


def test_limits_that_django_sets_are_pages_of_ours_too(ada, row):
    many = ada.post("/stores/bulk/", {"prop": [str(k) for k in range(300)], "field": "place"})
    assert many.status_code == 400 and b"Too much at once" in many.content
    long = ada.post(f"/scenes/{row.pk}/do/title/", {"text": "x" * 3_100_000})
    assert long.status_code == 413 and b"more text than is taken at once" in long.content
    files = {f"f{k}": SimpleUploadedFile("a", b"a") for k in range(120)}
    assert ada.post("/scenes/import/", files).status_code == 400
