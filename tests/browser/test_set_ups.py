"""Set-ups of one scene that differ: a surface, a swap and two moved things of its own, worked with as a stylist would."""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_access import grave_faults
from tests.browser.test_bench import drag, middle, settle
from tests.browser.waiting import drawn, quiet
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.starters import starter

pytestmark = pytest.mark.browser
UPRIGHT = "upright with words"


def whole(row: Scene) -> dict[str, Any]:
    row.refresh_from_db()
    value: dict[str, Any] = json.loads(row.document)
    return value


def seen(row: Scene, placement_id: str, setup: str) -> tuple[float, float, float, str]:
    """(x, y, turn, prop) of a thing as it stands in a set-up."""
    scene = scene_from_value(whole(row))
    p = scene.seen_in(scene.setup(setup)).placement(placement_id)
    return p.x, p.y, p.turn, p.prop


def show(page: Page, setup: str) -> None:
    page.click(f'[data-act=setup][data-value="{setup}"]')
    expect(page.locator("#stage")).to_have_attribute("data-setup", setup)
    quiet(page)


def on_the_table(page: Page, placement_id: str) -> tuple[float, float]:
    """Where the middle of its outline is drawn, in mm from the front left corner."""
    x, y, depth = page.evaluate(
        """id => { const b = document.querySelector(`#t-${id} .outline`).getBBox();
        return [b.x + b.width / 2, b.y + b.height / 2, JSON.parse(document.getElementById('geometry').textContent).table[1]]; }""",
        placement_id,
    )
    return x, depth - y


def pick(page: Page, placement_id: str) -> None:
    quiet(page)
    if not page.locator("#tray.tray-things").is_visible():
        page.click("[data-act=tray][data-value=things].decision")
    page.click(f"[data-act=select][data-value={placement_id}]")
    expect(page.locator("#tray .deeds")).to_be_visible()


@pytest.fixture
def page(window, scenes):
    opened = window(f"/scenes/{scenes['marmalade'].pk}/")
    show(opened, UPRIGHT)
    return opened


def test_each_set_up_shows_its_own_surface_swap_and_places_in_both_views(page, scenes):
    expect(page.locator(".table-view .caption")).to_contain_text("green-grey canvas")
    expect(page.locator("#t-jar-3 title")).to_have_text("lime marmalade jar, support")
    expect(page.locator("#f-orange-1")).to_have_class("thing free apart")
    own = on_the_table(page, "orange-1")
    expect(page.locator(".setup[aria-current]")).to_have_attribute("title", "has of its own: surface, 3 things")
    show(page, "from above")
    expect(page.locator(".table-view .caption")).to_contain_text("blue-grey plaster")
    expect(page.locator("#t-jar-3 title")).to_have_text("open jar, support")
    assert own == pytest.approx((455, 176), abs=1) and on_the_table(page, "orange-1") == pytest.approx((252, 308), abs=1)


def test_a_thing_moved_only_here_stays_for_the_others_is_marked_and_given_back(page, scenes):
    row = scenes["marmalade"]
    before = seen(row, "sugar", "from above")
    page.click(".scope")
    expect(page.locator(".scope")).to_have_text(f"only in {UPRIGHT}")
    drag(page, middle(page, "#t-sugar .outline"), (20, 10))
    page.mouse.up()
    settle(page, 2)
    assert seen(row, "sugar", "from above") == before and seen(row, "sugar", UPRIGHT)[0] > before[0] + 20
    expect(page.locator("[data-act=undo]")).to_contain_text("sugar bowl moved")
    expect(page.locator("[data-act=undo]")).to_contain_text(f"only in {UPRIGHT}")
    expect(page.locator("#f-sugar")).to_have_class("thing free held apart")
    expect(page.locator(".own-line")).to_contain_text(f"Otherwise in {UPRIGHT}: place")
    page.keyboard.press("Enter")
    page.click("[data-do=give-back]")
    settle(page, 3)
    assert seen(row, "sugar", UPRIGHT) == before
    expect(page.locator(".own-line")).to_have_count(0)
    # and from the keyboard: for all again, by its key; then what is turned is turned in both
    page.keyboard.press("o")
    expect(page.locator(".scope")).to_have_text("shared by all")
    page.keyboard.press(",")
    settle(page, 4)
    assert seen(row, "sugar", UPRIGHT)[2] == seen(row, "sugar", "from above")[2] == before[2] + 5


def test_what_has_its_own_place_here_is_moved_here_and_taken_over_by_all(page, scenes):
    row = scenes["marmalade"]
    pick(page, "orange-2")
    page.select_option("[data-do-choice=move-with]", "")  # by itself
    settle(page, 2)
    page.keyboard.press("Escape")
    pick(page, "orange-2")
    page.fill("[data-do-typed=move][data-name=x]", "560")
    page.keyboard.press("Enter")
    settle(page, 3)
    assert seen(row, "orange-2", UPRIGHT)[0] == 560 and seen(row, "orange-2", "from above")[0] == 330
    expect(page.locator(".own-part")).to_have_count(2)  # its place and its turn
    page.click(".own-part:has-text('place') [data-do=take-over]")
    settle(page, 4)
    assert seen(row, "orange-2", "from above")[:2] == seen(row, "orange-2", UPRIGHT)[:2] == (560, 148)
    assert seen(row, "orange-2", "from above")[2] == 50 and seen(row, "orange-2", UPRIGHT)[2] == 20


def test_a_jar_is_swapped_and_a_surface_taken_for_this_set_up_alone(page, scenes):
    row = scenes["marmalade"]
    page.click(".scope")
    expect(page.locator(".scope")).to_have_text(f"only in {UPRIGHT}")
    pick(page, "jar-2")
    page.click("[data-act=swap-for]")
    expect(page.locator("#tray h2")).to_have_text("In the place of the marmalade jar")
    page.fill("#tray input[name=q]", "lime marmalade")
    page.click("[data-do=swap]:has-text('lime marmalade jar')")
    settle(page, 2)
    assert seen(row, "jar-2", UPRIGHT)[3] == "lime-jar" and seen(row, "jar-2", "from above")[3] == "marmalade-jar"
    page.click("[data-act=tray][data-value=materials].decision")
    page.click("[data-do=surface]:has-text('slate')")
    settle(page, 3)
    assert whole(row)["surface"]["name"] == "blue-grey plaster" and whole(row)["setups"][1]["surface"]["name"] == "slate"
    expect(page.locator("#tray .own-line")).to_contain_text(f"{UPRIGHT} has its own: surface")
    assert grave_faults(page) == []
    page.click("#tray [data-do=give-back]")
    settle(page, 4)
    expect(page.locator(".table-view .caption")).to_contain_text("blue-grey plaster")


def test_a_remedy_here_is_the_one_that_ghosted_and_moves_what_is_set_apart_only_here(page, scenes):
    row = scenes["marmalade"]
    page.click(".scope")
    expect(page.locator(".scope")).to_have_text(f"only in {UPRIGHT}")
    pick(page, "orange-1")
    page.fill("[data-do-typed=move][data-name=x]", "500")
    page.keyboard.press("Enter")
    settle(page, 2)
    page.fill("[data-do-typed=move][data-name=y]", "235")
    page.keyboard.press("Enter")
    settle(page, 3)
    overlap = page.locator(".finding.stop:has-text('stand in each other')").first
    overlap.hover()
    remedy = overlap.locator("[data-do=remedy]")
    expect(remedy).to_be_visible()
    remedy.hover()
    expect(page.locator("#table-over .ghost").first).to_be_visible()
    ghost = json.loads(remedy.get_attribute("data-ghost") or "")["moves"]
    before = {i: (seen(row, i, UPRIGHT), seen(row, i, "from above")) for i in ghost}
    remedy.click()
    settle(page, 4)
    for i, (dx, dy, _) in ghost.items():
        here, above = before[i]
        now = seen(row, i, UPRIGHT)
        assert (now[0] - here[0], now[1] - here[1]) == pytest.approx((dx, dy), abs=0.06)
        if i.startswith("orange"):
            assert seen(row, i, "from above") == above
    expect(page.locator(".finding.stop:has-text('stand in each other')")).to_have_count(0)


def test_it_goes_out_comes_in_again_and_every_step_can_be_gone_back_to(page, scenes):
    row = scenes["marmalade"]
    row.refresh_from_db()
    first = row.document
    page.click(".scope")
    expect(page.locator(".scope")).to_have_text(f"only in {UPRIGHT}")
    pick(page, "sugar")
    for key in ("ArrowRight", "[", "]", ","):
        page.keyboard.press(key)
    settle(page, 2)
    page.wait_for_function("() => Number(document.getElementById('stage').dataset.revision) >= 3")
    page.keyboard.press("u")
    expect(page.locator(".steps li")).to_have_count(3)
    expect(page.locator(".steps li[aria-current]")).to_contain_text("you are here")
    assert grave_faults(page) == []
    page.click("[data-act=go-to][data-value='0']")
    settle(page, 4)
    row.refresh_from_db()
    assert row.document == first
    page.keyboard.press("Control+Shift+Z")
    settle(page, 5)
    expect(page.locator(".steps li")).to_have_count(3)
    document = page.request.get(page.url.split("?")[0] + "export/").body()
    page.goto(page.url.split("/scenes/")[0])
    page.set_input_files(
        "input[type=file][name=document]", files=[{"name": "s.tideflat.json", "mimeType": "application/json", "buffer": document}]
    )
    page.click("text=Bring it in") if page.locator("text=Bring it in").count() else page.locator("form[action*=import] button").click()
    page.wait_for_selector("#stage")
    assert page.request.get(page.url.split("?")[0] + "export/").body() == document
    show(page, UPRIGHT)
    expect(page.locator(".table-view .caption")).to_contain_text("green-grey canvas")


def test_things_that_move_together_follow_in_both_views_while_they_are_dragged(page, scenes):
    row = scenes["marmalade"]
    before = middle(page, "#f-orange-2 .outline")
    drag(page, middle(page, "#t-orange-1 .outline"), (16, 8))
    drawn(page)
    during = middle(page, "#f-orange-2 .outline")
    assert during[0] > before[0] + 8
    page.mouse.up()
    settle(page, 2)
    assert middle(page, "#f-orange-2 .outline") == pytest.approx(during, abs=1.5)
    assert seen(row, "orange-2", UPRIGHT)[0] > 548 and seen(row, "orange-2", "from above")[0] == 330


def test_what_lies_on_a_board_goes_round_with_it_while_it_is_turned(page, scenes):
    row = scenes["marmalade"]
    show(page, "from above")
    pick(page, "board")
    at_first = middle(page, "#t-half-1 .outline")
    for _ in range(6):
        page.keyboard.press(",")
    drawn(page)
    during = middle(page, "#t-half-1 .outline")
    assert abs(during[0] - at_first[0]) + abs(during[1] - at_first[1]) > 4
    settle(page, 2)
    assert middle(page, "#t-half-1 .outline") == pytest.approx(during, abs=1.5)
    assert seen(row, "half-1", "from above")[2] == 50


def test_a_drawer_pressed_while_a_set_up_is_on_its_way_is_that_set_ups(window, studio):
    page = window(f"/scenes/{begin_scene(studio, starter('fig'), None, 'laid out').pk}/")
    page.evaluate("""() => { document.querySelector('[data-act=setup][data-value="late sun"]').click();
        document.querySelector('.decision[data-value=light]').click(); }""")
    expect(page.locator("#stage")).to_have_attribute("data-setup", "late sun")
    expect(page.locator("[data-light-line=sun]")).to_be_visible()
    quiet(page)
    expect(page.locator("[data-light-line=strip]")).to_have_count(0)
    expect(page.locator("#stage")).to_have_attribute("data-tray", "light")
    expect(page.locator(".decision[data-value=light]")).to_have_attribute("aria-current", "true")
