"""The real interface in Debian's Chromium, served by waitress over a database file."""

from __future__ import annotations

import os
import shutil
import threading
from collections.abc import Iterator
from typing import Any

import pytest
from django.db import connections
from playwright.sync_api import Browser, Page, sync_playwright
from waitress.server import create_server

from tests.conftest import PASSWORD
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.starters import starter

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
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


@pytest.fixture
def address(transactional_db: Any) -> Iterator[str]:
    """Where the program is served, as in production: waitress, several threads, one database file."""
    from django.core.wsgi import get_wsgi_application

    server = create_server(get_wsgi_application(), host="127.0.0.1", port=0, threads=4)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.effective_port}"
    server.close()
    thread.join(timeout=5)
    connections.close_all()


@pytest.fixture
def scenes(studio: Any) -> dict[str, Scene]:
    """The three demo scenes in the test's studio."""
    return {kind: begin_scene(studio, starter(kind), None, "laid out") for kind in ("marmalade", "supper", "tea")}


@pytest.fixture
def window(chromium: Browser, address: str) -> Iterator[Any]:
    """Open windows signed in as someone; faults on any page fail the test."""
    contexts = []
    faults: list[str] = []

    def open_window(path: str, name: str = "ada", size: tuple[int, int] = (1280, 800)) -> Page:
        context = chromium.new_context(viewport={"width": size[0], "height": size[1]}, reduced_motion="reduce")
        contexts.append(context)
        page = context.new_page()
        page.on("pageerror", lambda error: faults.append(str(error)))
        page.on(
            "console",
            lambda m: (
                faults.append(m.text) if m.type == "error" and not any(code in m.text for code in ("400", "409", "422", "429")) else None
            ),
        )
        page.goto(f"{address}/sign-in/?next={path}")
        page.fill("[name=username]", name)
        page.fill("[name=password]", PASSWORD)
        page.click("text=Sign in")
        page.wait_for_load_state("networkidle")
        return page

    yield open_window
    for context in contexts:
        context.close()
    assert faults == []
