"""The frame's tools in the real window: a lens taken from the chart, sharpness that follows a slide, a place registered, the page beside the
camera."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import open_tray
from tests.browser.test_bench import settle

pytestmark = pytest.mark.browser


def camera_of(row) -> dict:
    row.refresh_from_db()
    return json.loads(row.document)["setups"][0]["camera"]


def test_a_lens_is_taken_from_the_chart_in_one_press_and_put_back_in_one(window, scenes):
    row = scenes["supper"]
    before = camera_of(row)
    page = window(f"/scenes/{row.pk}/?tray=things")
    open_tray(page, "lenses")
    marks = page.locator(".lens-mark[data-do]")
    assert marks.count() > 5 and page.locator(".lens-mark.walled").count() > 0
    page.locator('.lens-mark[data-lens="35 mm f/2"][data-body="full-frame body"]').click()
    settle(page, 2)
    after = camera_of(row)
    assert after["lens"]["focal_length"] == 35 and after["distance"] < before["distance"] * 0.8
    page.keyboard.press("Control+z")
    settle(page, 3)
    assert camera_of(row) == before


def test_what_is_sharp_follows_the_slide_and_is_kept_on_release(window, scenes):
    row = scenes["tea"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    page.keyboard.press("z")
    expect(page.locator("#tray.tray-sharp")).to_be_visible()
    zone = page.locator("#table-sharp")
    was, words = zone.get_attribute("d"), page.locator("#zone-words").inner_text()
    slide = page.get_by_label("aperture", exact=True)
    slide.focus()
    page.evaluate("n => { n.value = Number(n.value) - 9; n.dispatchEvent(new Event('input', { bubbles: true })); }", slide.element_handle())
    expect(page.locator("#zone-words")).not_to_have_text(words)
    assert zone.get_attribute("d") != was and slide.get_attribute("aria-valuetext").startswith("f/")
    assert camera_of(row)["aperture"] == 11  # nothing is kept while it is slid
    page.evaluate("n => n.dispatchEvent(new Event('change', { bubbles: true }))", slide.element_handle())
    settle(page, 2)
    assert camera_of(row)["aperture"] == 4


def test_a_thing_is_registered_by_its_key_and_the_frame_stands_beside_the_camera(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    page.keyboard.press("n")
    page.keyboard.press("j")
    settle(page, 2)
    row.refresh_from_db()
    laid = [g for g in json.loads(row.document)["setups"][0]["guides"] if g.get("of")]
    assert laid and all(g["locked"] for g in laid)
    expect(page.locator("#frame-over .guide-own").first).to_be_attached()
    page.keyboard.press("Escape")
    open_tray(page, "overlays")
    page.click("text=Beside the camera")
    expect(page.locator("#beside svg").first).to_be_visible()
    with page.expect_response(lambda r: "if_newer_than" in r.url and r.status == 204):
        pass


def test_any_crops_are_shown_and_stay_so_over_answers(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    open_tray(page, "deliverables")
    feed, other = page.locator('#frame-crops .crop[data-of-crop="feed"]'), page.locator('#frame-crops .crop[data-of-crop="menu card"]')
    expect(feed).to_be_visible()
    page.uncheck('[data-crop-shown="feed"]')
    expect(feed).to_be_hidden()
    expect(page.locator("#frame-crops .veil")).to_be_hidden()
    expect(other).to_be_visible()
    page.click('button[data-do="camera"]:has-text("Hold it so"), .setups button[data-act="scope"], #tray button[data-act="tray"][data-value="deliverables"]')
    settle(page, 1)
    expect(page.locator('[data-crop-shown="feed"]')).not_to_be_checked()
    expect(feed).to_be_hidden()
    page.check('[data-crop-shown="feed"]')
    expect(feed).to_be_visible()


def test_a_fit_that_cannot_be_tells_why_before_and_the_nearest_is_taken(window, scenes):
    row = scenes["marmalade"]
    before = camera_of(row)
    page = window(f"/scenes/{row.pk}/?tray=things")
    open_tray(page, "lenses")
    told = page.locator('[id^="fit-told"]')
    expect(told).to_contain_text("away")
    page.fill('form[data-form="fit"] input[name="percent"]', "8")
    page.keyboard.press("Tab")
    expect(told).to_contain_text("in the ceiling")
    assert camera_of(row) == before
    page.click("text=Take the nearest")
    settle(page, 2)
    after = camera_of(row)
    assert before["distance"] < after["distance"] < 2 * before["distance"]
