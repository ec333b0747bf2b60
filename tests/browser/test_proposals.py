"""Arrangements proposed in the real window: asked for by keyboard, seen as a ghost in both views, taken in one press, undone."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import grave_faults
from tests.browser.test_bench import settle

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
