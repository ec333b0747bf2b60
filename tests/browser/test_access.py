"""Accessibility by axe, small screens, zoom."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.waiting import quiet
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.starters import starter

pytestmark = pytest.mark.browser
AXE = (Path(__file__).parent.parent / "support/vendor/axe.min.js").read_text()
GRAVE = {"serious", "critical"}


def grave_faults(page: Page) -> list[Any]:
    page.evaluate(AXE)
    result = page.evaluate("axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})")
    return [(v["id"], v["impact"], [n["html"][:160] for n in v["nodes"]][:4]) for v in result["violations"] if v["impact"] in GRAVE]


def test_sign_in_shelf_and_preferences_hold(window, scenes, chromium, address):
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{address}/sign-in/")
    assert grave_faults(page) == []
    context.close()
    page = window("/")
    assert grave_faults(page) == []
    page.goto(f"{address}/preferences/")
    assert grave_faults(page) == []


def test_the_bench_and_every_tray_hold(window, scenes):
    page = window(f"/scenes/{scenes['supper'].pk}/?tray=things")
    assert grave_faults(page) == []
    page.click("#tray [data-act=tray]")
    expect(page.locator(".store-prop").first).to_be_visible()
    assert grave_faults(page) == []
    for tray in ("brief", "materials", "palette", "camera", "deliverables", "lenses", "sharp", "overlays", "steps"):
        open_tray(page, tray)
        assert grave_faults(page) == [], tray
    page.goto(page.url.split("?")[0] + "?tray=things")
    page.click("[data-act=select][data-value=beet]")
    expect(page.locator("#tray h2")).to_have_text("bowl of beetroot")
    assert grave_faults(page) == []


def open_tray(page: Page, tray: str) -> None:
    """A decision's drawer, or the other side of the frame's."""
    if tray in ("deliverables", "lenses", "sharp", "overlays") and not page.locator("#tray.tray-camera").is_visible():
        open_tray(page, "camera")
    page.click(f"[data-act=tray][data-value={tray}] >> nth=0")
    expect(page.locator(f"#tray.tray-{tray}")).to_be_visible()
    quiet(page)


def test_several_in_hand_the_finder_and_an_empty_scene_hold(window, scenes):
    page = window(f"/scenes/{scenes['supper'].pk}/?tray=things")
    page.keyboard.press("Control+a")
    expect(page.locator("#tray.tray-several")).to_be_visible()
    assert grave_faults(page) == []
    page.keyboard.press("?")
    expect(page.locator(".found-deed").first).to_be_visible()
    assert grave_faults(page) == []
    page.keyboard.press("Escape")
    expect(page.locator("#keys")).to_be_hidden()
    page.keyboard.press("Delete")
    expect(page.locator(".next-step")).to_contain_text("Lay down the hero")
    assert grave_faults(page) == []


@pytest.mark.parametrize("ground", ["light", "deep"])
def test_the_other_grounds_hold_too(window, scenes, ground, address):
    page = window("/preferences/")
    page.check(f"input[value={ground}]")
    page.click("text=Save")
    page.goto(f"{address}/scenes/{scenes['marmalade'].pk}/")
    quiet(page)
    assert grave_faults(page) == []
    grey = page.evaluate("getComputedStyle(document.documentElement).backgroundColor")
    r, g, b = (int(c) for c in grey.removeprefix("rgb(").removesuffix(")").split(","))
    assert r == g == b


@pytest.mark.parametrize("size", [(390, 844), (640, 400)])  # a phone; 200 % zoom of 1280 x 800
@pytest.mark.parametrize(("kind", "setup"), [("supper", "plate at 44"), ("marmalade", "upright with words")])
def test_small_screens_stack_and_nothing_runs_off_to_the_side(window, scenes, size, kind, setup):
    page = window(f"/scenes/{scenes[kind].pk}/?setup={setup}", size=size)
    assert page.evaluate("document.documentElement.scrollWidth") <= size[0] + 1
    expect(page.locator("#frame-svg")).to_be_visible()
    expect(page.locator("#above .finding").first).to_be_visible()


def test_the_bench_holds_1280_by_800_without_scrolling(window, scenes):
    page = window(f"/scenes/{scenes['marmalade'].pk}/")
    assert page.evaluate("[document.documentElement.scrollHeight, document.documentElement.scrollWidth]") == [800, 1280]


@pytest.mark.parametrize("setup", ["from above", "upright with words"])
def test_what_can_be_done_with_a_held_thing_is_seen_without_scrolling(window, scenes, setup):
    page = window(f"/scenes/{scenes['marmalade'].pk}/?setup={setup}&tray=things")
    page.click("[data-act=select][data-value=orange-1]")
    expect(page.locator("#tray .deeds")).to_be_visible()
    tray, deeds = (page.locator(s).bounding_box() for s in ("#tray", "#tray .deeds"))
    assert tray and deeds and deeds["y"] + deeds["height"] <= tray["y"] + tray["height"] + 1
    assert page.evaluate("[document.documentElement.scrollHeight, document.documentElement.scrollWidth]") == [800, 1280]


def test_every_thing_in_the_views_stands_in_the_list_with_its_measures(window, scenes):
    page = window(f"/scenes/{scenes['tea'].pk}/")
    assert page.locator("#tray tbody tr").count() == page.locator("#table-things .thing").count() == 11


def heights(page: Page) -> list[float]:
    return [page.locator(s).bounding_box()["height"] for s in ("#frame-svg", "#table-svg")]


def test_a_drawer_opens_under_the_views_and_they_stay_as_they_are(window, scenes):
    """Closed, findings have their sentences; open, they are one line of titles that open over the drawer when pointed at."""
    page = window(f"/scenes/{scenes['supper'].pk}/")
    before = heights(page)
    first = page.locator("#above .finding").first
    expect(first.locator("p")).to_be_visible()
    expect(page.locator("#tray")).to_be_hidden()
    page.click(".decision[data-value=palette]")
    expect(page.locator("#tray.tray-palette")).to_be_visible()
    assert heights(page) == before
    expect(first.locator("p")).to_be_hidden()
    tops = {round(page.locator("#above .finding").nth(k).bounding_box()["y"]) for k in range(3)}
    assert len(tops) == 1  # one line
    first.hover()
    expect(first.locator("p")).to_be_visible()
    page.mouse.move(700, 720)
    expect(first.locator("p")).to_be_hidden()
    expect(page.locator("#below .finding").first).to_be_hidden()
    page.locator(".hanging").hover()
    expect(page.locator("#below .finding").first).to_be_visible()
    expect(page.locator(".decision[data-value=palette]")).to_have_attribute("aria-expanded", "true")
    page.click(".decision[data-value=palette]")  # pressed again it closes, and stays closed
    expect(page.locator("#tray")).to_be_hidden()
    page.reload()
    expect(page.locator("#tray")).to_be_hidden()
    page.click(".decision[data-value=brief]")
    page.reload()
    expect(page.locator("#tray")).to_be_visible()


def test_a_thing_in_hand_takes_the_line_and_escape_gives_the_readings_back(window, scenes):
    page = window(f"/scenes/{scenes['supper'].pk}/")
    before, findings = heights(page), page.locator("#above .finding")
    expect(page.locator("#readings")).to_be_visible()
    page.keyboard.press("n")
    hand = page.locator(".in-hand")
    expect(hand).to_contain_text("napkin")
    expect(page.locator("#readings")).to_be_hidden()
    expect(page.locator("#tray")).to_be_hidden()  # the drawer stays as it is, and findings keep their room
    expect(findings.first).to_be_visible()
    assert heights(page) == before
    page.keyboard.press("Enter")
    expect(page.locator("#tray.tray-held")).to_be_visible()
    page.click(".decision[data-value=palette]")
    page.keyboard.press("n")
    expect(page.locator("#tray.tray-palette")).to_be_visible()
    expect(hand).to_contain_text("dinner plate")
    page.keyboard.press("Escape")
    expect(page.locator("#readings")).to_be_visible()
    expect(page.locator("#tray.tray-palette")).to_be_visible()


def test_one_two_three_choose_the_views(window, scenes):
    page = window(f"/scenes/{scenes['supper'].pk}/")
    frame, table = page.locator("#frame-svg"), page.locator("#table-svg")
    wide = frame.bounding_box()["width"]
    page.keyboard.press("2")
    expect(table).to_be_hidden()
    assert frame.bounding_box()["width"] > wide * 1.2
    page.keyboard.press("3")
    expect(frame).to_be_hidden()
    expect(table).to_be_visible()
    page.keyboard.press("1")
    expect(frame).to_be_visible()
    assert frame.bounding_box()["width"] == wide


@pytest.mark.parametrize(
    ("size", "kind", "setup"),
    [
        ((1280, 800), "supper", "plate at 44"),
        ((1280, 800), "marmalade", "upright with words"),
        ((1280, 800), "tea", ""),
        ((1280, 800), "fig", ""),
        ((1440, 900), "supper", "plate at 44"),
        ((1920, 1080), "marmalade", "upright with words"),
    ],
)
def test_nothing_on_the_bench_is_cut_or_needs_scrolling(window, scenes, size, kind, setup):
    row = scenes.get(kind) or begin_scene(scenes["tea"].studio, starter(kind), None, "laid out")
    page = window(f"/scenes/{row.pk}/?setup={setup}", size=size)
    assert page.evaluate("[document.documentElement.scrollHeight, document.documentElement.scrollWidth]") == [size[1], size[0]]
    cut = """() => [...document.querySelectorAll('#frame-svg, #table-svg, .readings, .decisions, #above, #below, #tray')]
        .filter((n) => n.offsetParent !== null || n.localName === 'svg').filter((n) => {
            const b = n.getBoundingClientRect();
            return b.bottom > innerHeight + 1 || b.right > innerWidth + 1 || n.scrollHeight > n.clientHeight + 2;
        }).map((n) => [n.id || n.className, n.scrollHeight, n.clientHeight])"""
    assert page.evaluate(cut) == []
    for tray in ("things", "brief", "materials", "palette", "camera", "deliverables", "camera", "lenses", "camera", "sharp", "camera", "overlays"):
        open_tray(page, tray)
        assert page.evaluate(cut) == [], tray
