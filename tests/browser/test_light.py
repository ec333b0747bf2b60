"""Light in the real window: both views are lit by the scene's own light, the table view opens out to the room, a lamp is set up, dragged,
turned and moved by keys, and a proof takes the frame's place."""

from __future__ import annotations

import json
import re

import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_access import open_tray
from tests.browser.test_bench import settle
from tideflat.web.work.light_keeper import KEEPER

pytestmark = pytest.mark.browser


@pytest.fixture(autouse=True)
def _lit(settings):
    settings.DRAWS_LIGHT = True
    yield
    KEEPER.end()


def lights_of(row) -> dict:
    row.refresh_from_db()
    return {light["id"]: light for light in json.loads(row.document).get("lights", [])}


def lit(page: Page) -> str:
    """Waits until both views are lit; the address of what lies over the table."""
    expect(page.locator("html.is-lit")).to_have_count(1, timeout=30_000)
    return page.locator("#table-light-ground").get_attribute("href") or ""


def test_both_views_are_lit_and_the_table_opens_out_to_the_room(window, scenes):
    row = scenes["marmalade"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    first = lit(page)
    assert first.startswith("data:image/png;base64,")
    assert page.locator("#frame-lit-clip path").count() > 10
    near = page.locator("#table-svg").get_attribute("data-box")
    assert near == page.locator("#table-svg").get_attribute("data-table-box")
    expect(page.locator("#table-lights")).to_be_hidden()
    open_tray(page, "light")
    expect(page.locator("#table-lights")).to_be_visible()
    expect(page.locator("#table-svg")).to_have_attribute("data-box", page.locator("#table-svg").get_attribute("data-room-box") or "")
    assert page.locator('[data-light="window"]').bounding_box()["x"] > page.locator("#table-svg").bounding_box()["x"] - 1
    expect(page.locator("#light-told dt").first).to_have_text("window", timeout=30_000)
    open_tray(page, "camera")
    expect(page.locator("#table-svg")).to_have_attribute("data-box", near or "")


def test_a_lamp_is_set_up_dragged_turned_and_moved_by_keys(window, scenes):
    row = scenes["tea"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    before = lit(page)
    open_tray(page, "light")
    page.get_by_label("set up a light, a card or rig").select_option("strip")
    settle(page, 2)
    assert set(lights_of(row)) == {"window", "strip"}
    at = lights_of(row)["strip"]["at"]
    expect(page.locator("#table-light-ground")).not_to_have_attribute("href", before, timeout=30_000)
    expect(page.locator("#table-svg")).to_have_attribute("data-box", page.locator("#table-svg").get_attribute("data-room-box") or "")
    mark = page.locator('[data-light="strip"] .catch')
    box = mark.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 30, box["y"] + box["height"] / 2 + 20, steps=4)
    page.mouse.move(box["x"] + box["width"] / 2 + 60, box["y"] + box["height"] / 2 + 40, steps=4)
    assert lights_of(row)["strip"]["at"] == at  # nothing is kept while it is held
    page.mouse.up()
    settle(page, 3)
    moved = lights_of(row)["strip"]["at"]
    assert moved[0] > at[0] + 20 and moved[1] < at[1] - 10 and moved[2] == at[2]
    toward = lights_of(row)["strip"]["toward"]
    page.locator('[data-light="strip"]').focus()
    page.keyboard.press("ArrowLeft")
    settle(page, 4)
    assert lights_of(row)["strip"]["at"][0] == pytest.approx(moved[0] - 50)
    page.locator('[data-light="strip"]').focus()
    page.keyboard.press(",")
    settle(page, 5)
    turned = lights_of(row)["strip"]["toward"]
    assert turned[2] == toward[2] and turned[:2] != toward[:2]
    page.locator('[data-light="strip"]').focus()
    page.keyboard.press("Delete")
    settle(page, 6)
    assert set(lights_of(row)) == {"window"}


def test_a_proof_takes_the_place_of_the_frame_and_is_wiped_across(window, scenes):
    pytest.importorskip("mitsuba")
    row = scenes["fig"] if "fig" in scenes else scenes["tea"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    open_tray(page, "light")
    page.get_by_role("button", name="Prove it").click()
    expect(page.locator("#frame-proof")).to_have_attribute("href", re.compile("^data:image/webp"), timeout=60_000)
    wipe = page.get_by_label("proof over the frame, per cent")
    page.evaluate("n => { n.value = 40; n.dispatchEvent(new Event('input', { bubbles: true })); }", wipe.element_handle())
    wide = float(page.locator("#frame-proof").get_attribute("width") or 0)
    assert float(page.locator("#proof-clip rect").get_attribute("width") or 0) == pytest.approx(0.4 * wide)
    page.get_by_role("button", name="Stop").click()
    expect(page.locator("#proof")).to_contain_text("stays", timeout=30_000)
    # Mixed anew, it goes as soon as what it shows is no more.
    page.evaluate("() => { document.getElementById('frame-proof').dataset.mixed = 'yes'; }")
    page.locator("[data-light][tabindex='0']:not([data-at='null'])").first.focus()
    page.keyboard.press("ArrowLeft")
    expect(page.locator("#frame-proof:not([href])")).to_have_count(1)


def shot(page: Page, view: str) -> np.ndarray:
    """What one view shows now, a quarter as fine."""
    data = page.locator(f"#{view}-svg").screenshot()
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_GRAYSCALE)
    return cv2.resize(picture, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA).astype(float)


def test_while_a_light_is_held_both_views_show_nearly_what_the_core_draws_after(window, scenes):
    row = scenes["marmalade"]
    page = window(f"/scenes/{row.pk}/?tray=things")
    lit(page)
    open_tray(page, "light")
    expect(page.locator("#light-told dt").first).to_have_text("window", timeout=30_000)
    page.wait_for_timeout(500)  # the view has opened out
    before = shot(page, "frame")
    box = page.locator('[data-light="window"] .catch').bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(1, 7):
        page.mouse.move(x + 9 * step, y + 16 * step)
    expect(page.locator(".relit-layer")).to_have_count(4)
    page.wait_for_timeout(300)
    held = shot(page, "frame")
    waiting = []
    page.route("**/light/?*", lambda route: waiting.append(route))  # until what is drawn here meanwhile has been seen
    page.mouse.up()
    for _ in range(100):
        if waiting:
            break
        page.wait_for_timeout(100)
    page.wait_for_timeout(1000)
    finer = shot(page, "frame")
    for route in waiting:
        route.continue_()
    page.unroute("**/light/?*")
    expect(page.locator(".relit-layer")).to_have_count(0, timeout=30_000)
    after = shot(page, "frame")
    assert np.abs(after - before).mean() > 5  # it was moved far enough to tell
    assert np.abs(after - held).mean() < min(0.75 * np.abs(after - before).mean(), 5)
    assert 0 < np.abs(finer - held).mean() < 3  # more places of the light, where it stands
    assert np.abs(after - finer).mean() < np.abs(after - held).mean()


def test_a_light_is_raised_in_the_view_from_the_side(window, scenes):
    row = scenes["marmalade"]
    before = lights_of(row)["window"]["at"]
    page = window(f"/scenes/{row.pk}/?tray=camera")
    mark = page.locator('[data-side-light="window"] .face')
    box = mark.bounding_box()
    scale = 1 / page.evaluate("document.getElementById('section-svg').getScreenCTM().a")
    top = max(box["y"], page.locator("#section-svg").bounding_box()["y"])
    x, y = box["x"] + box["width"] / 2, top + 30  # over all that stands on the table
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 20, steps=4)
    page.mouse.up()
    settle(page, 2)
    after = lights_of(row)["window"]["at"]
    assert after[2] - before[2] == pytest.approx(20 * scale, abs=6)
    assert after[:2] == pytest.approx(before[:2], abs=1)
