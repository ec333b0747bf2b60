"""Arrangements proposed in the real window: asked for by keyboard, seen as a ghost in both views, taken in one press, undone."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import grave_faults
from tests.browser.test_bench import settle
from tests.browser.test_counted_work import Worker
from tests.browser.waiting import quiet

pytestmark = pytest.mark.browser


def test_an_arrangement_is_proposed_shown_in_both_views_taken_and_undone(window, scenes):
    row = scenes["tea"]
    page = window(f"/scenes/{row.pk}/")
    before = json.loads(row.document)["placements"]
    page.keyboard.press("r")  # opens the drawer at it
    expect(page.get_by_role("button", name="Propose arrangements")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("#proposal-status progress")).to_have_count(1)
    expect(page.locator("#proposal-status")).to_contain_text("that differ, the strongest first", timeout=60_000)
    found = page.locator(".proposal button")
    assert found.count() >= 3
    found.nth(1).focus()
    expect(page.locator("#table-over .ghost").first).to_be_attached()
    expect(page.locator("#frame-over .ghost").first).to_be_attached()
    expect(page.locator(".proposal-words:visible")).to_have_count(1)
    assert grave_faults(page) == []
    places = json.loads(found.nth(1).get_attribute("data-places"))
    page.keyboard.press("Enter")
    settle(page, 2)
    row.refresh_from_db()
    after = {p["id"]: p for p in json.loads(row.document)["placements"]}
    for i, (x, y, _) in places.items():
        assert (after[i]["x"], after[i]["y"]) == (pytest.approx(x, abs=0.1), pytest.approx(y, abs=0.1))
    expect(page.locator(".proposal")).to_have_count(found.count())  # the others are still there to be tried
    expect(page.locator(".ghost")).to_have_count(0)
    page.locator("[data-act=undo]").press("Enter")
    settle(page, 3)
    row.refresh_from_db()
    assert json.loads(row.document)["placements"] == before
    page.get_by_role("button", name="Put them away").click()
    expect(page.locator(".proposal")).to_have_count(0)


def test_from_props_in_the_stores_to_a_version_that_is_kept_and_compared(window, studio):
    work = Worker(window("/"))
    work.begin("feed", "Seven for a morning")
    page = work.page
    page.keyboard.press("a")
    for name in ("preserving pan", "marmalade jar", "sugar bowl", "chopping board", "wooden spoon", "orange half", "orange half"):
        work.put_down(name)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("r")
    expect(page.get_by_role("button", name="Propose arrangements")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("#proposal-status")).to_contain_text("that differ", timeout=60_000)
    for number, note in ((0, "the first"), (2, "the other")):
        page.locator(".proposal button").nth(number).click()
        quiet(page)
        page.keyboard.press("Escape")
        page.keyboard.press("y")
        expect(page.get_by_text("What stands now is kept.")).to_be_visible()
        page.locator(".version [name=note]").first.fill(note)
        page.keyboard.press("Tab")
        expect(page.locator(".version b").first).to_have_text(note)
        page.keyboard.press("Escape")
        page.keyboard.press("r")
        expect(page.locator(".proposal").first).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("e")
    page.locator(".version [data-compare]:not([disabled])").click()
    expect(page.locator(".frame-view > .laid-over")).to_be_visible()
    expect(page.locator(".table-view > .laid-over")).to_be_visible()
    expect(page.locator(".compared-words li").first).to_be_visible()
    assert grave_faults(page) == []
    over, under = page.locator(".frame-view > .laid-over").bounding_box(), page.locator("#frame-svg").bounding_box()
    assert all(over[key] == pytest.approx(under[key], abs=1) for key in over)
    page.get_by_label("wiped across").check()
    page.locator("[name=much]").fill("25")
    assert page.locator(".frame-view > .laid-over").evaluate("n => n.style.clipPath").replace("0px", "0") == "inset(0 75% 0 0)"
    page.get_by_label("frame beside frame").check()
    beside, table = page.locator(".frame-view > .laid-over").bounding_box(), page.locator("#table-svg").bounding_box()
    assert beside["x"] == pytest.approx(table["x"], abs=1)
    page.get_by_role("button", name="Put it away").click()
    expect(page.locator(".laid-over")).to_have_count(0)
    for box in page.locator(".version [name=step]").all():
        box.check()
    page.get_by_role("button", name="Side by side").click()
    expect(page.locator(".beside > li")).to_have_count(2)
    expect(page.locator(".beside .told li").first).to_be_visible()
    assert grave_faults(page) == []
    page.get_by_role("link", name="Back to the bench").click()
    expect(page.locator(".version")).to_have_count(2)


def test_a_scheme_is_bent_by_its_handle_and_what_follows_it_is_seen_before_and_moved_after(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.click(".decision[data-value=things]")
    quiet(page)
    page.select_option(".scheme-choice select", "crescent")
    settle(page, 2)
    grip = page.locator("[data-grip=scheme][data-key=radius]").bounding_box()
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    row.refresh_from_db()
    before = {p["id"]: (p["x"], p["y"]) for p in json.loads(row.document)["placements"]}
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 30, y + 10, steps=5)
    expect(page.locator("#frame-over .ghost").first).to_be_attached()
    expect(page.locator("#table-over .ghost").first).to_be_attached()
    page.mouse.up()
    settle(page, 3)
    expect(page.locator(".ghost")).to_have_count(0)
    row.refresh_from_db()
    after = {p["id"]: (p["x"], p["y"]) for p in json.loads(row.document)["placements"]}
    assert any(after[i] != before[i] for i in before) and after["fish"] == before["fish"]
    moved = page.locator("[data-grip=scheme][data-key=radius]").bounding_box()
    assert moved["x"] + moved["width"] / 2 < x - 15
