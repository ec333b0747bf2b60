"""Refresh docs/screenshots from the demo: `make shots`."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).resolve().parent.parent / "docs/screenshots"
CHROMIUM = os.environ.get("CHROMIUM") or shutil.which("chromium") or "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-sync",
    "--font-render-hinting=none",
    "--force-color-profile=srgb",
    "--disable-lcd-text",
]


def _serve() -> tuple[subprocess.Popen[str], str, str]:
    """The demo's process, its address, and the password it printed."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    environment = {**os.environ, "TIDEFLAT_VAR": tempfile.mkdtemp(), "PORT": str(port), "PYTHONUNBUFFERED": "1"}
    environment.pop("DJANGO_SETTINGS_MODULE", None)
    process = subprocess.Popen([sys.executable, "-m", "tideflat.cli", "demo"], env=environment, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    password = ""
    while "Stop it with" not in (line := process.stdout.readline()):
        password = line.rsplit("password ", 1)[-1].strip() if "password " in line else password
    return process, f"http://127.0.0.1:{port}", password


def _middle(page: Page, selector: str) -> tuple[float, float]:
    box = page.locator(selector).bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def _holding_the_beetroot(page: Page) -> None:
    x, y = _middle(page, "#t-beet .outline")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 12, y + 16, steps=6)
    page.wait_for_timeout(700)


def _pointing_at_a_remedy(page: Page) -> None:
    page.locator("#above .finding").first.hover()
    page.locator("[data-ghost]").first.hover(timeout=20_000)
    page.wait_for_timeout(300)


def _drawer(kind: str) -> Callable[[Page], None]:
    def opened(page: Page) -> None:
        if kind == "store":
            page.keyboard.press("a")
        else:
            page.click(f".decision[data-value={kind}]")
        page.wait_for_timeout(700)

    return opened


def _built(page: Page) -> None:
    """How the supper is built, and how far each thing may drift."""
    page.click(".decision[data-value=things]")
    page.click("text=How it is built")
    page.click("text=Work out how far each may drift")
    page.locator("#build-steps:has-text('fussiest')").wait_for(timeout=120_000)


def _side(name: str) -> Callable[[Page], None]:
    """The Frame drawer with one of its sides open."""

    def opened(page: Page) -> None:
        _drawer("camera")(page)
        page.click(f'.sides [data-value="{name}"]')
        page.wait_for_timeout(900)

    return opened


def _set_ups(page: Page) -> None:
    """All set-ups of the scene beside each other, and a loop of them."""
    page.goto(page.url.split("?")[0] + "set-ups/")
    page.wait_for_load_state("networkidle")


def _what_if(page: Page) -> None:
    page.goto(page.url.split("?")[0] + "what-if/")
    page.wait_for_load_state("networkidle")


def _measured(page: Page) -> None:
    page.click(".example:has-text('five')")
    page.locator(".several").wait_for(timeout=60_000)
    page.wait_for_load_state("networkidle")


def _proposed(page: Page) -> None:
    """Arrangements that were looked for, and one of them pointed at."""
    page.click(".decision[data-value=things]")
    page.get_by_role("button", name="Propose arrangements").click()
    page.locator("#proposal-status:has-text('that differ')").wait_for(timeout=60_000)
    page.locator(".proposal button").nth(2).hover()
    page.wait_for_timeout(400)


def _compared(page: Page) -> None:
    """A version over what stands now, half wiped across."""
    page.keyboard.press("e")
    page.locator(".version [data-compare]:not([disabled])").first.click()
    page.get_by_label("wiped across").check()
    page.locator("[name=much]").fill("50")
    page.wait_for_timeout(600)


def _lit_and_proved(page: Page) -> None:
    """The fig in late sun: Light open, sun and window round the table, a proof half wiped across the frame."""
    page.get_by_text("late sun", exact=True).click()
    page.wait_for_load_state("networkidle")
    _drawer("light")(page)
    page.locator("[data-prove]").click(timeout=30_000)
    page.wait_for_selector("#proof [data-swap]", timeout=180_000)  # settled, and what the card gives
    page.evaluate("const n = document.querySelector('#proof-wipe'); n.value = 50; n.dispatchEvent(new Event('input', { bubbles: true }))")
    page.wait_for_timeout(800)


#: Pages outside the bench: file, address, what is done before the picture
PAGES: list[tuple[str, str, Callable[[Page], None] | None]] = [
    ("stores", "/stores/?colour=%23c4621a", None),
    ("measured", "/stores/measure/", _measured),
]
#: The light comes so long after what it lies over, ms.
_LIGHT_MS = 2500
#: file, path title, size, what is done before the picture
BENCHES: list[tuple[str, str, tuple[int, int], Callable[[Page], None] | None]] = [
    ("bench-marmalade", "Marmalade morning", (1280, 800), None),
    ("drawer-light", "A fig, just cut", (1280, 800), _lit_and_proved),
    ("drawer-sharp", "Four teas, one shelf", (1280, 800), _side("sharp")),
    ("bench-tea", "Four teas, one shelf", (1280, 800), None),
    ("remedy-ghost", "Marmalade morning", (1280, 800), _pointing_at_a_remedy),
    ("drawer-stores", "Four teas, one shelf", (1280, 800), _drawer("store")),
    ("drawer-versions", "Marmalade morning", (1280, 800), _compared),
    ("drawer-lenses", "Supper at the harbour inn", (1280, 800), _side("lenses")),
    ("build", "Supper at the harbour inn", (1280, 800), _built),
    ("set-ups", "Four teas, one shelf", (1280, 800), _set_ups),
    ("drawer-brief", "Supper at the harbour inn", (1280, 800), _drawer("brief")),
    ("drawer-palette", "Marmalade morning", (1280, 800), _drawer("palette")),
    ("what-if", "Supper at the harbour inn", (1280, 800), _what_if),
    ("drawer-proposals", "Marmalade morning", (1280, 800), _proposed),
    ("bench-phone", "Supper at the harbour inn", (390, 844), None),
    ("bench-supper-held", "Supper at the harbour inn", (1280, 800), _holding_the_beetroot),
]


def main() -> None:
    """Take every picture named in the README."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    process, address, password = _serve()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
            page.goto(f"{address}/sign-in/")
            page.fill("[name=username]", "wren")
            page.fill("[name=password]", password)
            page.click("button.press")
            page.wait_for_load_state("networkidle")
            _take(page, "shelf")
            places = dict(
                page.eval_on_selector_all(
                    ".shelf-picture", "n => n.map(a => [a.querySelector('.story-title').textContent, a.getAttribute('href')])"
                )
            )
            for name, title, size, act in BENCHES:
                page.evaluate("localStorage.clear()")
                page.set_viewport_size({"width": size[0], "height": size[1]})
                page.goto(address + places[title])
                page.wait_for_load_state("networkidle")
                page.wait_for_selector("html.is-lit", state="attached", timeout=30_000)
                if act:
                    act(page)
                page.wait_for_timeout(_LIGHT_MS)
                _take(page, name)
            page.set_viewport_size({"width": 1280, "height": 800})
            for name, place, act in PAGES:
                page.goto(address + place)
                page.wait_for_load_state("networkidle")
                if act:
                    act(page)
                _take(page, name)
            browser.close()
    finally:
        process.terminate()
        process.wait(timeout=20)


def _take(page: Page, name: str) -> None:
    page.evaluate("document.fonts.ready")
    page.screenshot(path=FOLDER / f"{name}.png", animations="disabled")


if __name__ == "__main__":
    main()
