"""The real interface in Debian's Chromium, served by waitress over a database file."""

from __future__ import annotations

import os
import shutil
import sqlite3
import threading
from collections.abc import Iterator
from typing import Any

import pytest
from django.conf import settings
from django.db import connection, connections
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright
from waitress.server import create_server

from tests.browser.waiting import quiet
from tests.conftest import furnished_studio, signed_in
from tideflat.core.remember import forget_all
from tideflat.web.accounts.models import Studio
from tideflat.web.scenes import shelf
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services import history
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.starters import starter
from tideflat.web.stores import catalogue

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
expect.set_options(timeout=20_000)  # what never comes fails all the same; a machine that runs several windows at once takes its time
CHROMIUM = os.environ.get("CHROMIUM") or shutil.which("chromium") or "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--font-render-hinting=none",
    "--force-color-profile=srgb",
    "--disable-lcd-text",
]


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()


def _copy_of(database: sqlite3.Connection) -> sqlite3.Connection:
    kept = sqlite3.connect(":memory:", check_same_thread=False)
    database.backup(kept)
    return kept


@pytest.fixture(scope="session")
def states(django_db_setup: Any, django_db_blocker: Any) -> dict[str, sqlite3.Connection]:
    """The worker's database ``empty``, and ``furnished`` with the studio and its people, kept in memory."""
    with django_db_blocker.unblock():
        connection.ensure_connection()
        empty = _copy_of(connection.connection)
        furnished_studio()
        furnished = _copy_of(connection.connection)
        empty.backup(connection.connection)
        connection.close()
    return {"empty": empty, "furnished": furnished}


@pytest.fixture
def transactional_db(states: dict[str, sqlite3.Connection], django_db_blocker: Any) -> Iterator[None]:
    """The furnished database, in which several threads may write; empty again afterwards. (Flushing and filling it anew took seconds.)"""
    with django_db_blocker.unblock():
        connection.ensure_connection()
        states["furnished"].backup(connection.connection)
        yield
        connections.close_all()
        connection.ensure_connection()
        states["empty"].backup(connection.connection)
        connection.close()
        forget_all("web.s")  # what rests on the database; what was worked out of values stays true, and the next test need not wait for it
        for memory in (catalogue._kept, shelf._cards, history._recent):
            memory.clear()


@pytest.fixture
def studio(transactional_db: None) -> Studio:
    return Studio.objects.get()


@pytest.fixture(scope="session")
def server(states: dict[str, sqlite3.Connection], django_db_blocker: Any) -> Iterator[str]:
    """The worker's own server, as in production: waitress, several threads, one database file."""
    from django.core.wsgi import get_wsgi_application

    with django_db_blocker.unblock():
        made = create_server(get_wsgi_application(), host="127.0.0.1", port=0, threads=4)
        thread = threading.Thread(target=made.run, daemon=True)
        thread.start()
        yield f"http://127.0.0.1:{made.effective_port}"
        made.close()
        thread.join(timeout=5)


@pytest.fixture
def address(server: str, transactional_db: None) -> str:
    """Where the program is served, with the furnished database behind it."""
    return server


@pytest.fixture
def scenes(studio: Any) -> dict[str, Scene]:
    """The three demo scenes in the test's studio."""
    return {kind: begin_scene(studio, starter(kind), None, "laid out") for kind in ("marmalade", "supper", "tea")}


@pytest.fixture(scope="session")
def contexts(chromium: Browser) -> Iterator[dict[tuple[str, int], BrowserContext]]:
    """Browser contexts by person and window, for the whole session, so that scripts and styles are fetched once."""
    kept: dict[tuple[str, int], BrowserContext] = {}
    yield kept
    for context in kept.values():
        context.close()


@pytest.fixture
def window(chromium: Browser, contexts: dict[tuple[str, int], BrowserContext], address: str) -> Iterator[Any]:
    """Open windows signed in as someone; faults on any page fail the test."""
    pages: list[tuple[str, Page]] = []
    faults: list[str] = []

    def hear(message: Any) -> None:
        if message.type == "error" and not any(code in message.text for code in ("400", "409", "422", "429")):
            faults.append(message.text)

    def open_window(path: str, name: str = "ada", size: tuple[int, int] = (1280, 800)) -> Page:
        place = name, sum(1 for other, _ in pages if other == name)  # two windows of one person are two browsers
        if place not in contexts:
            contexts[place] = chromium.new_context(reduced_motion="reduce")
            contexts[place].add_init_script(
                "localStorage.setItem('tideflat-magnets', 'off')"
            )  # so that a slow machine's hand does not linger
        context = contexts[place]
        session = signed_in(name).cookies[settings.SESSION_COOKIE_NAME]
        context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": session.value, "url": address}])
        page = context.new_page()
        pages.append((name, page))
        page.set_viewport_size({"width": size[0], "height": size[1]})
        page.on("pageerror", lambda error: faults.append(str(error)))
        page.on("console", hear)
        page.goto(f"{address}{path}", wait_until="load")
        quiet(page)
        return page

    yield open_window
    for _, page in pages:
        if not page.is_closed():
            page.evaluate("localStorage.clear()")
            page.close()
    for context in contexts.values():
        context.clear_cookies()
    assert faults == []
