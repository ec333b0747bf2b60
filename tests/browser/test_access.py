"""Accessibility by axe, small screens, zoom."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.waiting import quiet

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


@pytest.mark.parametrize("tray", ["things", "held", "brief", "materials", "palette", "camera", "deliverables", "store", "steps"])
def test_the_bench_and_every_tray_hold(window, scenes, tray):
    page = window(f"/scenes/{scenes['supper'].pk}/?tray=things")
    if tray == "held":
        page.click("[data-act=select][data-value=beet]")
        expect(page.locator("#tray h2")).to_have_text("bowl of beetroot")
    elif tray == "store":
        page.click("#tray [data-act=tray]")
        expect(page.locator(".store-prop").first).to_be_visible()
    elif tray != "things":
        page.click(f"[data-act=tray][data-value={tray}]")
        expect(page.locator(f".tray-{tray}")).to_be_visible()
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
    page = window(f"/scenes/{scenes['marmalade'].pk}/?setup={setup}")
    page.click("[data-act=select][data-value=orange-1]")
    expect(page.locator("#tray .deeds")).to_be_visible()
    tray, deeds = (page.locator(s).bounding_box() for s in ("#tray", "#tray .deeds"))
    assert tray and deeds and deeds["y"] + deeds["height"] <= tray["y"] + tray["height"] + 1
    assert page.evaluate("[document.documentElement.scrollHeight, document.documentElement.scrollWidth]") == [800, 1280]


def test_every_thing_in_the_views_stands_in_the_list_with_its_measures(window, scenes):
    page = window(f"/scenes/{scenes['tea'].pk}/")
    assert page.locator("#tray tbody tr").count() == page.locator("#table-things .thing").count() == 10
