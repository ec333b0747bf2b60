"""Nothing answered is lost: kill -9, backup during writes, restore, older and newer databases, a taken port."""

from __future__ import annotations

import http.client
import json
import os
import socket
import sqlite3
import subprocess
import sys
import threading
import time
from contextlib import closing
from pathlib import Path

import pytest

from tests.support.client import Browser
from tests.support.serving import Serving
from tideflat.cli import main


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def environment(var: Path, port: int) -> dict[str, str]:
    clean = {k: v for k, v in os.environ.items() if not k.startswith(("DJANGO_", "TIDEFLAT_"))}
    return {**clean, "TIDEFLAT_VAR": str(var), "PORT": str(port), "PYTHONUNBUFFERED": "1"}


def tideflat(var: Path, *arguments: str, port: int = 0) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "tideflat.cli", *arguments],
        env=environment(var, port or free_port()),
        capture_output=True,
        text=True,
        timeout=120,
    )


def scene_row(database: Path) -> tuple[int, dict, int]:
    """(primary key, document, revision) of the demo's supper."""
    with closing(sqlite3.connect(database)) as found:
        pk, document, revision = found.execute("SELECT id, document, revision FROM scenes_scene WHERE title LIKE 'Supper%'").fetchone()
        assert found.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        numbers = [n for (n,) in found.execute("SELECT number FROM scenes_change WHERE scene_id = ? ORDER BY number", (pk,))]
    assert numbers == list(range(len(numbers)))
    return pk, json.loads(document), revision


def test_kill_dash_nine_during_a_hundred_changes_loses_nothing_answered_and_a_backup_during_them_restores(tmp_path):
    var, database = tmp_path / "var", tmp_path / "var" / "tideflat.sqlite3"
    server = Serving(var, "demo")
    assert f"http://127.0.0.1:{server.port}/" in server.said and "wren (owner)" in server.said
    pk, _, revision = scene_row(database)
    browser = Browser(server.port)
    answered: list[float] = []
    wrong: list[Exception] = []

    def reached(count: int) -> None:
        deadline = time.monotonic() + 60
        while len(answered) < count:
            assert hand.is_alive() and not wrong and time.monotonic() < deadline, (len(answered), wrong)
            time.sleep(0.005)

    def change() -> None:
        for k in range(100):
            values = {"id": "cream", "x": 600 + k * 0.5, "y": 596, "setup": "plate at 44", "revision": revision + k}
            try:
                browser.ask("POST", f"/scenes/{pk}/do/move/", values)
            except (OSError, http.client.HTTPException):
                return  # the server is gone
            except Exception as error:
                wrong.append(error)
                return
            answered.append(values["x"])

    hand = threading.Thread(target=change)
    hand.start()
    reached(20)
    backup = tideflat(var, "backup", str(tmp_path / "copy.sqlite3"))
    assert backup.returncode == 0, backup.stderr
    reached(55)
    server.kill()
    hand.join(timeout=30)
    assert 55 <= len(answered) < 100 and not wrong

    _, document, kept = scene_row(database)
    x = next(p["x"] for p in document["placements"] if p["id"] == "cream")
    assert x in (answered[-1], answered[-1] + 0.5)  # the last one answered, or one more that was on its way
    assert kept >= revision + len(answered)

    _, backed, at_backup = scene_row(tmp_path / "copy.sqlite3")
    assert revision + 15 <= at_backup <= kept
    restored = tideflat(var, "restore", str(tmp_path / "copy.sqlite3"))
    assert restored.returncode == 0 and "before-restore" in restored.stdout, restored.stderr
    assert scene_row(database)[1] == backed
    again = Serving(var, "demo")
    try:
        Browser(again.port).ask("GET", f"/scenes/{pk}/")
    finally:
        again.kill()


@pytest.fixture(scope="module")
def begun(tmp_path_factory) -> Path:
    """A studio's folder with its database, served by nobody."""
    var = tmp_path_factory.mktemp("begun")
    made = subprocess.run(
        [sys.executable, "-m", "tideflat.cli", "begin"], capture_output=True, text=True, timeout=60,
        env={**environment(var, 1), "TIDEFLAT_STUDIO": "Quay", "TIDEFLAT_NAME": "mara", "TIDEFLAT_PASSWORD": "kelp-and-lantern-9"},
    )  # fmt: skip
    assert made.returncode == 0, made.stderr
    return var


def twin(begun: Path, to: Path) -> Path:
    to.mkdir()
    with closing(sqlite3.connect(begun / "tideflat.sqlite3")) as live, closing(sqlite3.connect(to / "tideflat.sqlite3")) as copy:
        live.backup(copy)
    return to / "tideflat.sqlite3"


def named(database: Path, name: str) -> None:
    with closing(sqlite3.connect(database)) as found:
        found.execute("UPDATE accounts_studio SET name = ?", (name,))
        found.commit()


def name_in(database: Path) -> str:
    with closing(sqlite3.connect(database)) as found:
        return str(found.execute("SELECT name FROM accounts_studio").fetchone()[0])


def test_a_restore_under_an_idle_server_is_refused_and_keeps_every_answered_change(begun, tmp_path):
    """In WAL an idle server holds no lock of SQLite's; BEGIN EXCLUSIVE goes through, and what is answered next would be lost."""
    var = tmp_path / "var"
    database, backup = twin(begun, var), twin(begun, tmp_path / "backup")
    named(backup, "As it was backed up")
    held = subprocess.Popen([sys.executable, "-m", "tideflat.cli", "serve"], env=environment(var, free_port()), stdout=subprocess.PIPE, text=True)
    try:
        assert held.stdout is not None and "Tideflat is at" in held.stdout.readline()
        with closing(sqlite3.connect(database, isolation_level=None)) as proof:
            proof.execute("BEGIN EXCLUSIVE")
            proof.execute("ROLLBACK")
        refused = tideflat(var, "restore", str(backup))
        assert refused.returncode == 2 and "in use; stop the server first" in refused.stderr
        assert name_in(database) == "Quay" and not list(var.glob("*before-restore*")) and not list(var.glob("*.part*"))
    finally:
        held.kill()
        held.wait()
        held.stdout.close()
    assert tideflat(var, "restore", str(backup)).returncode == 0 and name_in(database) == "As it was backed up"
    (kept,) = var.glob("*before-restore*.sqlite3")
    assert name_in(kept) == "Quay"


def test_too_little_disk_leaves_everything_as_it_was(begun, tmp_path, monkeypatch):
    """The room is asked for before, and when it runs out all the same (a file may not grow past a limit) nothing has been moved yet."""
    var = tmp_path / "var"
    database, backup = twin(begun, var), twin(begun, tmp_path / "backup")
    with closing(sqlite3.connect(backup)) as large:
        large.execute("CREATE TABLE ballast AS SELECT zeroblob(3000000) AS x")
        large.commit()
    before = database.read_bytes()
    limited = f"import resource, sys; resource.setrlimit(resource.RLIMIT_FSIZE, ({len(before) + 200_000},) * 2); import signal; signal.signal(signal.SIGXFSZ, signal.SIG_IGN)"
    script = f"{limited}; from tideflat.cli import main; sys.exit(main(['restore', {str(backup)!r}]))"
    run = subprocess.run([sys.executable, "-c", script], env=environment(var, 1), capture_output=True, text=True, timeout=60)
    assert run.returncode == 2 and run.stderr.startswith("Nothing restored:") and "Traceback" not in run.stderr, run.stderr
    assert database.read_bytes() == before and [p.name for p in var.iterdir() if "before" in p.name or "part" in p.name] == []

    script = "import shutil, sys; from collections import namedtuple; U = namedtuple('U', 'total used free'); shutil.disk_usage = lambda p: U(1, 1, 1000)"
    script += f"; from tideflat.cli import main; sys.exit(main(['restore', {str(backup)!r}]))"
    run = subprocess.run([sys.executable, "-c", script], env=environment(var, 1), capture_output=True, text=True, timeout=60)
    assert run.returncode == 2 and "too little room" in run.stderr and "everything is as it was" in run.stderr
    assert database.read_bytes() == before


def test_only_a_backup_of_this_or_an_older_version_is_restored_and_an_older_one_is_brought_up_to_date(begun, tmp_path):
    var = tmp_path / "var"
    database, backup = twin(begun, var), twin(begun, tmp_path / "backup")
    with closing(sqlite3.connect(backup)) as newer:
        newer.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('stores', '0999_from_the_future', '2030-01-01')")
        newer.commit()
    refused = tideflat(var, "restore", str(backup))
    assert refused.returncode == 2 and "newer Tideflat" in refused.stderr and name_in(database) == "Quay"
    with closing(sqlite3.connect(backup)) as older:
        older.execute("DELETE FROM django_migrations WHERE name LIKE '0999%'")
        for table in ("accounts_count", "accounts_former", "accounts_invitation"):
            older.execute(f"DROP TABLE {table}")
        older.execute("DELETE FROM django_migrations WHERE app = 'accounts' AND name LIKE '0003%'")
        older.execute("UPDATE accounts_studio SET name = 'An older one'")
        older.commit()
    told = tideflat(var, "check", str(backup))
    assert told.returncode == 0 and "of an older version; 1 steps" in told.stdout
    assert tideflat(var, "restore", str(backup)).returncode == 0
    assert name_in(database) == "An older one"
    told = tideflat(var, "check")
    assert told.returncode == 0 and "up to date" in told.stdout and "1 people" in told.stdout, told.stdout


def test_a_failed_backup_leaves_nothing_and_harms_no_good_one(begun, tmp_path):
    var = tmp_path / "var"
    twin(begun, var)
    good = tmp_path / "good.sqlite3"
    assert tideflat(var, "backup", str(good)).returncode == 0
    before = good.read_bytes()
    limited = "import resource, sys, signal; signal.signal(signal.SIGXFSZ, signal.SIG_IGN); resource.setrlimit(resource.RLIMIT_FSIZE, (50_000, 50_000))"
    script = f"{limited}; from tideflat.cli import main; sys.exit(main(['backup', {str(good)!r}]))"
    run = subprocess.run([sys.executable, "-c", script], env=environment(var, 1), capture_output=True, text=True, timeout=60)
    assert run.returncode == 2 and run.stderr.startswith("Backup not written:") and len(run.stderr.strip().splitlines()) == 1, run.stderr
    assert good.read_bytes() == before and list(tmp_path.glob("*.part*")) == []
    for target in (tmp_path, var / "tideflat.sqlite3", tmp_path / "nowhere" / "b.sqlite3"):
        refused = tideflat(var, "backup", str(target))
        assert refused.returncode == 2 and len(refused.stderr.strip().splitlines()) == 1, refused.stderr


def test_a_restore_keeps_a_damaged_database_that_was_there(begun, tmp_path):
    var = tmp_path / "var"
    database, backup = twin(begun, var), twin(begun, tmp_path / "backup")
    database.write_bytes(b"!" * 5000)
    (var / "tideflat.sqlite3-wal").write_bytes(b"?" * 100)
    done = tideflat(var, "restore", str(backup))
    assert done.returncode == 0, done.stderr
    (kept,) = var.glob("*before-restore*.sqlite3")
    assert kept.read_bytes() == b"!" * 5000 and name_in(database) == "Quay"


def test_a_restore_of_something_else_changes_nothing(tmp_path):
    var = tmp_path / "var"
    server = Serving(var, "demo")
    other = tmp_path / "other.sqlite3"
    with closing(sqlite3.connect(other)) as made:
        made.execute("CREATE TABLE a (b)")
    for source in (other, tmp_path / "missing.sqlite3", Path(__file__)):
        refused = tideflat(var, "restore", str(source))
        assert refused.returncode == 2 and refused.stderr.startswith("Nothing restored:") and "Traceback" not in refused.stderr
    taken = tideflat(var, "demo", port=server.port)
    assert taken.returncode == 2 and f"Port {server.port} is taken" in taken.stderr and "make demo PORT=" in taken.stderr
    server.kill()
    with closing(sqlite3.connect(var / "tideflat.sqlite3")) as newer:
        newer.execute("INSERT INTO django_migrations (app, name, applied) VALUES ('scenes', '0999_from_the_future', '2030-01-01')")
        newer.commit()
    refused = tideflat(var, "demo")
    assert refused.returncode == 2 and "newer Tideflat" in refused.stderr and "0999_from_the_future" in refused.stderr


@pytest.mark.parametrize("port", ["none", "0", "99999"])
def test_a_port_that_is_none_is_a_sentence(tmp_path, port):
    result = subprocess.run(
        [sys.executable, "-m", "tideflat.cli", "serve"],
        env={**environment(tmp_path, 1), "PORT": port},
        capture_output=True,
        text=True,
        timeout=60,
    )
    assert result.returncode == 2 and result.stderr.startswith("PORT must be")


@pytest.mark.django_db(transaction=True)
def test_a_database_of_the_first_version_comes_up_to_date_with_its_scenes():
    """Scenes laid down under the first schema are there, with their history, under the newest."""
    from django.core.management import call_command
    from django.db import connection
    from django.db.migrations.executor import MigrationExecutor

    executor = MigrationExecutor(connection)
    newest = executor.loader.graph.leaf_nodes()
    try:
        executor.migrate([("accounts", "0001_initial"), ("stores", "0001_initial"), ("scenes", "0001_initial")])
        old = executor.loader.project_state([("scenes", "0001_initial"), ("stores", "0001_initial")]).apps
        studio = old.get_model("accounts", "Studio").objects.create(name="Old quay")
        scene = old.get_model("scenes", "Scene").objects.create(studio=studio, title="Old supper", document="{}", revision=7, position=3)
        jar = {"studio": studio, "key": "jar", "name": "old jar", "shape": {"kind": "cylinder", "diameter": 76, "height": 95}}
        old.get_model("stores", "StoreProp").objects.create(**jar, colours=[{"hex": "#c4621a", "share": 1}], tags=["preserve"])
        leaf = {
            "studio": studio,
            "key": "leaf",
            "name": "leaf",
            "shape": {"kind": "outline", "points": [[-40, -9], [40, 0], [0, 12]], "height": 2},
        }
        old.get_model("stores", "StoreProp").objects.create(**leaf, colours=[{"hex": "#4f6b35", "share": 1}])
        old.get_model("stores", "StoreSurface").objects.create(
            studio=studio, name="old oak", width_mm=900, depth_mm=600, colours=[{"hex": "#a98b62", "share": 1}]
        )
        old.get_model("scenes", "Change").objects.create(scene=scene, number=3, label="plate moved 10 mm", state=b"kept")
    finally:
        MigrationExecutor(connection).migrate(newest)
    from tideflat.web.scenes.models import Change, Scene
    from tideflat.web.stores.catalogue import catalogue_of
    from tideflat.web.stores.models import StoreProp, StoreSurface
    from tideflat.web.stores.queries import core_surface
    from tideflat.web.stores.searching import Wish, search

    kept = Scene.objects.get(title="Old supper")
    assert (kept.revision, kept.position, kept.document, kept.put_away_at) == (7, 3, "{}", None)
    assert bytes(Change.objects.get(scene=kept).state) == b"kept"
    jar = StoreProp.objects.get(key="jar")
    assert (jar.width_mm, jar.depth_mm, jar.height_mm, jar.count, jar.skins, jar.tags) == (76, 76, 95, 1, [], ["preserve"])
    leaf = StoreProp.objects.get(key="leaf")
    assert (leaf.width_mm, leaf.depth_mm, leaf.height_mm) == (80, 21, 2)
    assert core_surface(StoreSurface.objects.get(name="old oak")).width == 900
    assert [i for i in search(catalogue_of(jar.studio), Wish(text="jar", least_mm=70, most_mm=80)).rows] == [1]
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)  # models and migrations agree
    call_command("flush", interactive=False, verbosity=0)


def test_the_command_line_evaluates_without_a_database(tmp_path, capsys):
    from tests.support.scenes import raw, scene_value

    document = tmp_path / "s.tideflat.json"
    document.write_bytes(raw(scene_value()))
    assert main(["evaluate", str(document)]) == 0
    printed = json.loads(capsys.readouterr().out)
    assert set(printed["setups"]["main"]) == {"camera", "placements", "crops", "safe_area", "colours", "measures", "findings"}


@pytest.mark.parametrize("arguments", [[], ["dance"], ["evaluate"], ["evaluate", "/nowhere/s.json"], ["evaluate", "/"]])
def test_a_wrong_command_is_one_line_and_exit_two(arguments, capsys):
    assert main(arguments) == 2
    said = capsys.readouterr()
    assert said.out == "" and len(said.err.strip().splitlines()) == 1
