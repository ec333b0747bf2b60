"""Hands on the bench: several at once, letting go, near and far, magnets, guides, from the side, adding, touch, keys."""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.test_bench import Finger, drag, middle, mm_per_pixel, placed, settle
from tests.browser.waiting import drawn, quiet

pytestmark = pytest.mark.browser


def document(row: Any) -> dict[str, Any]:
    row.refresh_from_db()
    return json.loads(row.document)


def spot(page: Page, selector: str) -> tuple[float, float]:
    """Middle of what is drawn, its line left out: when near, a browser's own box has room for the line's corners. What is drawn anew while
    it is asked is asked again: what was taken off the page is nowhere, and a press there would miss."""
    for _ in range(20):
        found = page.locator(selector).evaluate(
            """n => { if (!n.isConnected) return null; const b = n.getBBox(), m = n.getScreenCTM();
                return [(b.x + b.width / 2) * m.a + m.e, (b.y + b.height / 2) * m.d + m.f]; }"""
        )
        if found:
            return tuple(found)
    raise AssertionError(f"{selector} was drawn anew whenever it was asked where it is")


def followed(page: Page, times: int = 1) -> None:
    """What follows the hand has been shown so often during this drag."""
    page.wait_for_function("n => performance.getEntriesByType('resource').filter((e) => e.name.includes('/follow/')).length >= n", arg=times)
    page.wait_for_timeout(60)


def rested(page: Page, said: str) -> Any:
    """What is said once no question about where the hand is waits or is under way: the last one rests before it is asked."""
    drawn(page)
    expect(page.locator("#stage[data-following]")).to_have_count(0)
    return page.evaluate(said)


def test_several_are_taken_moved_turned_and_put_in_order_each_in_one_step(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    stage = page.locator("#stage")
    page.mouse.click(*middle(page, "#t-cream .outline"))
    page.keyboard.down("Shift")
    page.mouse.click(*middle(page, "#t-beet .outline"))
    page.mouse.click(*middle(page, "#f-tumbler .outline"))
    page.keyboard.up("Shift")
    expect(stage).to_have_attribute("data-several", "cream beet tumbler")
    expect(page.locator(".hand-name")).to_have_text("3 things")
    quiet(page)
    ids = ("cream", "beet", "tumbler")
    before, scale = {i: placed(row, i) for i in ids}, mm_per_pixel(page)
    drag(page, middle(page, "#t-beet .outline"), (-30, 12))
    drawn(page)
    page.mouse.up()
    settle(page, 2)
    for i in ids:
        assert placed(row, i)["x"] == pytest.approx(before[i]["x"] - 30 * scale, abs=1), i
        assert placed(row, i)["y"] == pytest.approx(before[i]["y"] - 12 * scale, abs=1), i
    expect(stage).to_have_attribute("data-several", "cream beet tumbler")
    page.keyboard.press("Control+z")
    settle(page, 3)
    assert {i: placed(row, i) for i in ids} == before
    page.keyboard.press("ArrowRight")
    page.keyboard.press(".")
    settle(page, 5)  # moved by 5 mm, and turned about their middle
    after = {i: placed(row, i) for i in ids}
    assert {after[i]["turn"] - before[i]["turn"] for i in ids} == {-5}
    assert sum(after[i]["x"] - before[i]["x"] for i in ids) / 3 == pytest.approx(5, abs=0.2)
    page.keyboard.press("i")
    settle(page, 6)
    expect(page.locator("[data-act=undo]")).to_contain_text("3 things on one line")
    feet = [middle(page, f"#f-{i} .outline") for i in ids]
    assert max(y for _, y in feet) - min(y for _, y in feet) < 30
    page.keyboard.press("Escape")
    expect(stage).to_have_attribute("data-selected", "")


def test_a_press_drawn_round_things_takes_them_and_control_a_takes_all(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    first, second = middle(page, "#t-lemon-1 .outline"), middle(page, "#t-lemon-2 .outline")
    page.mouse.move(first[0] - 22, first[1] - 18)
    page.mouse.down()
    page.mouse.move(second[0] + 18, second[1] + 18, steps=6)
    expect(page.locator("#table-over .round")).to_have_count(1)
    page.mouse.up()
    expect(page.locator("#stage")).to_have_attribute("data-several", "lemon-1 lemon-2")
    expect(page.locator("#t-lemon-1")).to_have_class("thing free held")
    page.keyboard.press("Enter")
    page.click("#tray [data-do=mirror][data-through=table]")
    settle(page, 2)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+a")
    expect(page.locator(".hand-name")).to_have_text("17 things")
    page.keyboard.press("Delete")
    settle(page, 3)
    assert document(row)["placements"] == []
    page.keyboard.press("Control+z")
    settle(page, 4)
    assert len(document(row)["placements"]) == 17


def test_let_go_over_the_plate_it_lies_there_away_on_the_table_and_alt_keeps_it_level(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    lemon, plate = middle(page, "#t-lemon-1 .outline"), middle(page, "#t-plate .outline")
    by = (plate[0] - lemon[0] + 22, plate[1] - lemon[1] + 12)
    drag(page, lemon, by)
    expect(page.locator("#carried-on")).to_contain_text("on the")
    last = page.evaluate("document.querySelector('#table-things').lastElementChild.dataset.id")
    assert last == "lemon-1"  # drawn above what it hangs over
    page.mouse.up()
    settle(page, 2)
    lies = placed(row, "lemon-1")
    assert lies["on"] in ("plate", "fish") and lies["z"] > 3
    expect(page.locator("#carried-on")).to_be_empty()
    page.keyboard.press("Control+z")
    settle(page, 3)
    page.keyboard.down("Alt")
    drag(page, middle(page, "#t-lemon-1 .outline"), by)
    page.mouse.up()
    page.keyboard.up("Alt")
    settle(page, 4)
    assert (placed(row, "lemon-1")["on"], placed(row, "lemon-1")["z"]) == (None, 0)
    drag(page, middle(page, "#t-bread-2 .outline"), (-50, 190))
    page.mouse.up()
    settle(page, 5)
    assert (placed(row, "bread-2")["on"], placed(row, "bread-2")["z"]) == (None, 0)


def test_the_rest_gives_way_to_what_is_carried_and_comes_back_when_it_leaves(window, scenes):
    row = scenes["marmalade"]
    page = window(f"/scenes/{row.pk}/")
    page.keyboard.press("b")
    expect(page.locator("[data-gives]")).to_have_attribute("aria-pressed", "true")
    box = "document.querySelector('#t-jar-3 .outline').getBBox().x"
    stood = page.evaluate(box)
    drag(page, middle(page, "#t-pan .outline"), (30, -12))
    page.wait_for_function(f"() => {box} > {stood} + 10")
    x, y = middle(page, "#t-pan .outline")
    page.mouse.move(x - 30, y + 12, steps=6)
    page.wait_for_function(f"() => Math.abs({box} - {stood}) < 1")
    page.mouse.move(x, y, steps=6)
    page.wait_for_function(f"() => {box} > {stood} + 10")
    page.mouse.up()
    settle(page, 2)
    pan, jar_now = placed(row, "pan"), placed(row, "jar-3")
    assert ((pan["x"] - jar_now["x"]) ** 2 + (pan["y"] - jar_now["y"]) ** 2) ** 0.5 > 160
    expect(page.locator("#above .finding:has-text('stand in each other')")).to_have_count(0)
    page.keyboard.press("Control+z")
    settle(page, 3)
    page.keyboard.press("b")
    expect(page.locator("[data-gives]")).to_have_attribute("aria-pressed", "false")


def test_readings_and_findings_follow_the_hand_and_nothing_is_kept_before_it_lets_go(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    said = "[...document.querySelectorAll('#readings > div')].map((n) => n.title).concat([...document.querySelectorAll('.findings .finding')].map((n) => n.dataset.key + n.querySelector('p').textContent))"
    before = page.evaluate(said)
    tumbler, cream = middle(page, "#t-tumbler .outline"), middle(page, "#t-cream .outline")
    page.evaluate("performance.clearResourceTimings()")
    drag(page, tumbler, (cream[0] - tumbler[0] - 28, cream[1] - tumbler[1]))
    followed(page)
    expect(page.locator("#t-cream.touched")).to_have_count(1)  # the neighbour that is touched lights up
    page.mouse.move(cream[0] - 27, cream[1])
    followed(page, 2)
    expect(page.locator("#readings")).to_be_visible()
    held = rested(page, said)
    assert held != before
    row.refresh_from_db()
    assert row.revision == 1
    page.mouse.up()
    settle(page, 2)
    assert page.evaluate(said) == held  # the figures of a release at the same place
    # a drag that is broken off gives everything back
    drag(page, middle(page, "#t-tumbler .outline"), (60, 60))
    followed(page, 3)
    page.evaluate("document.dispatchEvent(new PointerEvent('pointercancel', { pointerId: 1 }))")
    page.mouse.up()
    quiet(page)
    page.wait_for_function(f"() => JSON.stringify({said}) === {json.dumps(json.dumps(held, ensure_ascii=False, separators=(',', ':')), ensure_ascii=False)}")


def test_near_and_far_about_the_pointer_and_a_small_thing_is_placed_to_a_millimetre(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    x, y = spot(page, "#t-sage-2 .outline")
    wide = mm_per_pixel(page)
    page.mouse.move(x, y)
    for _ in range(4):
        page.mouse.wheel(0, -400)
    drawn(page)
    near = mm_per_pixel(page)
    assert near < wide / 8
    assert spot(page, "#t-sage-2 .outline") == pytest.approx((x, y), abs=12)  # under the pointer, which a wheel tells in whole pixels
    before, scale = placed(row, "sage-2"), mm_per_pixel(page)
    drag(page, (x, y), (16, -9))
    page.mouse.up()
    settle(page, 2)
    after = placed(row, "sage-2")
    assert after["x"] - before["x"] == pytest.approx(16 * scale, abs=0.11) and scale < 0.35
    assert mm_per_pixel(page) == pytest.approx(near)  # the answer leaves it near
    page.keyboard.down(" ")
    drag(page, (x, y), (-120, 30))
    page.mouse.up()
    page.keyboard.up(" ")
    assert spot(page, "#t-sage-2 .outline") == pytest.approx((x - 120 + 16, y + 30 - 9), abs=12)
    row.refresh_from_db()
    assert row.revision == 2
    page.keyboard.press("0")
    drawn(page)
    assert mm_per_pixel(page) == pytest.approx(wide)
    page.keyboard.press("+")
    drawn(page)
    assert page.locator("#f-plate .outline").bounding_box()["width"] > 300


def test_magnets_pull_a_hand_that_lingers_and_not_with_control(window, scenes):
    row = scenes["tea"]
    page = window(f"/scenes/{row.pk}/")
    page.keyboard.press("x")
    expect(page.locator("#notice")).to_contain_text("Magnets are on")
    ids = [p["id"] for p in document(row)["placements"]]
    moved, other = "bowl", next(i for i in ids if i.startswith("low"))
    scale = mm_per_pixel(page)
    start, goal = middle(page, f"#t-{moved} .outline"), middle(page, f"#t-{other} .outline")
    by = (goal[0] - start[0] + 2.4, 24)
    drag(page, start, by)
    expect(page.locator("#table-over text.over-magnet")).not_to_have_count(0)
    page.mouse.up()
    settle(page, 2)
    pulled = placed(row, moved)["x"]
    page.keyboard.press("Control+z")
    settle(page, 3)
    page.keyboard.down("Control")
    drag(page, start, by)
    page.wait_for_timeout(450)
    expect(page.locator("#table-over .magnet")).to_have_count(0)
    page.mouse.up()
    page.keyboard.up("Control")
    settle(page, 4)
    free = placed(row, moved)["x"]
    assert 0.3 < abs(free - pulled) < 6 * scale


def test_a_guide_is_dragged_in_both_views_and_dropped_outside_it_is_gone(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.click("text=Guides")
    page.click("[data-do=guide][data-axis=u]")
    settle(page, 2)
    page.keyboard.press("Escape")
    page.mouse.click(5, 5)
    frame = page.locator("#frame-svg").bounding_box()
    drag(page, (frame["x"] + frame["width"] / 2, frame["y"] + 30), (frame["width"] * 0.1, 0))
    page.mouse.up()
    settle(page, 3)
    assert document(row)["setups"][0]["guides"][0]["at"] == pytest.approx(0.6, abs=0.003)
    line = page.locator("#table-over .guide-own").bounding_box()
    drag(page, (line["x"] + line["width"] / 2, line["y"] + line["height"] / 2), (-25, 0))
    page.mouse.up()
    settle(page, 4)
    assert document(row)["setups"][0]["guides"][0]["at"] < 0.58
    at = document(row)["setups"][0]["guides"][0]["at"]
    drag(page, (frame["x"] + at * frame["width"], frame["y"] + 30), (-frame["width"], 0))
    page.mouse.up()
    settle(page, 5)
    assert document(row)["setups"][0]["guides"] == []


def test_from_the_side_lens_aim_and_heights_are_dragged(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/?tray=camera")
    scale = 1 / page.evaluate("document.getElementById('section-svg').getScreenCTM().a")
    camera = document(row)["setups"][0]["camera"]
    drag(page, middle(page, "[data-side-grip=lens]"), (0, -18))
    expect(page.locator("#frame-over .ghost").first).to_be_attached()  # the picture from there
    page.mouse.up()
    settle(page, 2)
    after = document(row)["setups"][0]["camera"]
    assert after["elevation"] > camera["elevation"] + 1 and after["distance"] > camera["distance"]
    rise = 18 * scale
    height = lambda c: c["distance"] * __import__("math").sin(__import__("math").radians(c["elevation"]))  # noqa: E731
    assert height(after) - height(camera) == pytest.approx(rise, abs=2)
    drag(page, middle(page, "[data-side-grip=aim]"), (10, 0))
    page.mouse.up()
    settle(page, 3)
    aim = document(row)["setups"][0]["camera"]["aim"]
    assert aim[1] - after["aim"][1] == pytest.approx(10 * page.evaluate("1 / document.getElementById('section-svg').getScreenCTM().a"), abs=4)
    drag(page, middle(page, "[data-side=bottle]"), (0, -9))
    page.mouse.up()
    settle(page, 4)
    assert placed(row, "bottle")["z"] > 20


def test_ten_things_are_added_by_their_names_and_a_prop_is_carried_from_the_drawer(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    presses = 1
    page.keyboard.press("a")
    expect(page.locator("#tray input[type=search]")).to_be_focused()
    for k, name in enumerate(("lemon half", "orange half", "tea bowl", "wooden spoon", "chopping board")):
        page.keyboard.type(name)
        page.keyboard.press("Enter")
        presses += 1
        settle(page, k + 2)
        expect(page.locator("#tray input[type=search]")).to_be_focused()
    assert len(document(row)["placements"]) == 22 and presses == 6
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    settle(page, 7)
    assert len({p["prop"] for p in document(row)["placements"][-2:]}) == 1
    page.locator("#tray input[type=search]").fill("pot of cream")
    expect(page.locator(".store-prop").first).to_contain_text("pot of cream")
    quiet(page)
    table = page.locator("#table-svg").bounding_box()
    at = (table["x"] + table["width"] * 0.45, table["y"] + table["height"] * 0.2)
    drag(page, middle(page, ".store-prop >> nth=0"), (at[0] - middle(page, ".store-prop >> nth=0")[0], at[1] - middle(page, ".store-prop >> nth=0")[1]))
    expect(page.locator(".carried-prop")).to_have_count(1)
    page.mouse.up()
    settle(page, 8)
    expect(page.locator(".carried-prop")).to_have_count(0)
    fresh = document(row)["placements"][-1]["id"]
    assert middle(page, f"#t-{fresh} .outline") == pytest.approx(at, abs=4)


def test_letters_can_be_switched_off_and_one_line_finds_every_act(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.keyboard.press("n")
    page.keyboard.press("?")
    page.keyboard.type("square")
    expect(page.locator(".found-deed")).to_have_count(1)
    page.keyboard.press("Enter")
    settle(page, 2)
    expect(page.locator("[data-act=undo]")).to_contain_text("squared")
    page.keyboard.press("?")
    page.keyboard.type("upright guide")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    page.uncheck("#letters")
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    page.keyboard.press("n")
    page.wait_for_timeout(200)
    row.refresh_from_db()
    assert row.revision == 2
    page.keyboard.press("ArrowRight")  # what is no letter works on
    settle(page, 3)
    page.keyboard.press("?")
    page.check("#letters")
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    settle(page, 4)


def test_keys_work_the_thing_again_after_a_value_is_typed(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.mouse.click(*middle(page, "#t-cream .outline"))
    field = page.locator('#under input[data-name="x"]')
    field.fill("500")
    field.press("Enter")
    settle(page, 2)
    page.keyboard.press("ArrowLeft")
    settle(page, 3)
    assert placed(row, "cream")["x"] == 495
    page.select_option("#under select[data-name=role]", "accent")
    settle(page, 4)
    page.keyboard.press("ArrowLeft")
    settle(page, 5)
    assert (placed(row, "cream")["x"], placed(row, "cream")["role"]) == (490, "accent")


def test_a_finger_held_still_carries_two_fingers_turn_and_bring_nearer(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/", size=(1024, 768))
    finger = Finger(page)
    before, at = placed(row, "cream"), middle(page, "#t-cream .outline")
    scale = mm_per_pixel(page)
    finger._touch("touchStart", at)
    page.wait_for_timeout(450)
    expect(page.locator("#stage")).to_have_attribute("data-selected", "cream")
    for k in range(1, 6):
        finger._touch("touchMove", (at[0] + 8 * k, at[1] - 4 * k))
    finger._touch("touchEnd")
    settle(page, 2)
    assert placed(row, "cream")["x"] == pytest.approx(before["x"] + 40 * scale, abs=1)
    page.wait_for_timeout(200)
    # two fingers beside it: a quarter of a half turn, and apart
    x, y = middle(page, "#table-svg")
    finger._touch("touchStart", (x - 60, y), (x + 60, y))
    for k in range(1, 7):
        finger._touch("touchMove", (x - 60, y + 10 * k), (x + 60, y - 10 * k))
    finger._touch("touchEnd")
    settle(page, 3)
    turned = (placed(row, "cream")["turn"] - before["turn"]) % 360
    assert turned == pytest.approx(45, abs=6)
    wide = page.locator("#t-plate .outline").bounding_box()["width"]
    finger._touch("touchStart", (x - 40, y), (x + 40, y))
    for k in range(1, 6):
        finger._touch("touchMove", (x - 40 - 12 * k, y), (x + 40 + 12 * k, y))
    finger._touch("touchEnd")
    drawn(page)
    assert page.locator("#t-plate .outline").bounding_box()["width"] > wide * 1.8
    row.refresh_from_db()
    assert row.revision == 3


def test_a_row_is_laid_of_one_thing_and_copied_into_another_scene(window, scenes):
    row, other = scenes["supper"], scenes["tea"]
    page = window(f"/scenes/{row.pk}/")
    page.mouse.click(*middle(page, "#t-lemon-1 .outline"))
    page.keyboard.press("Enter")
    expect(page.locator(".row-form")).to_be_visible()
    quiet(page)
    page.fill(".row-form [name=count]", "4")
    page.select_option(".row-form [name=form]", "arc")
    expect(page.locator(".row-form .for-circle")).to_be_hidden()
    page.fill(".row-form [name=step]", "7 cm")
    page.fill(".row-form [name=radius]", "250")
    page.click("text=Lay the row")
    settle(page, 2)
    expect(page.locator("[data-act=undo]")).to_contain_text("4 of lemon half in an arc")
    fresh = [p for p in document(row)["placements"] if p["id"].startswith("lemon")]
    assert len(fresh) == 5
    page.select_option("#tray [data-copy-to]", str(other.pk))
    expect(page.locator("#notice")).to_contain_text("1 thing copied into Four teas, one shelf")
    assert [p for p in document(other)["placements"] if p["id"] == "lemon-1"]


def test_an_empty_scene_is_begun_by_doing_what_it_says(window, studio):
    page = window("/")
    page.fill("input[name=story]", "Late breakfast, first jar.")
    page.click("text=Begin >> nth=-1")
    page.wait_for_selector("#stage")
    expect(page.locator("h1")).to_have_text("Late breakfast, first jar")
    page.locator(".next-step input[type=search]").fill("marmalade jar")
    page.keyboard.press("Enter")
    settle(page, 2)
    expect(page.locator(".hand-name")).to_have_text("marmalade jar")
    expect(page.locator("#under select[data-name=role]")).to_have_value("hero")
    expect(page.locator(".next-step")).to_contain_text("What is the picture for?")
    page.click(".next-step [data-act=tray]")
    page.click("[data-do=deliverable][data-ratio='4:5']")
    settle(page, 3)
    expect(page.locator(".next-step")).to_contain_text("What stands with it?")
    page.keyboard.press("Escape")
    page.locator(".next-step input[type=search]").fill("butter knife")
    page.keyboard.press("Enter")
    settle(page, 4)
    expect(page.locator("#f-butter-knife")).to_be_visible()
    expect(page.locator("#readings, .in-hand").last).to_be_visible()


def test_the_rim_of_a_dish_pulls_what_is_let_linger_beside_it(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.keyboard.press("x")
    scale, lemon, plate = mm_per_pixel(page), placed(row, "lemon-1"), placed(row, "plate")
    doc = document(row)
    shapes = {p["id"]: p["shape"] for p in doc["props"]}
    rim, half = shapes["dinner-plate"]["diameter"] / 2, shapes["lemon-half"]["diameter"] / 2
    way = (lemon["x"] - plate["x"], lemon["y"] - plate["y"])
    far = (way[0] ** 2 + way[1] ** 2) ** 0.5
    goal = [plate[k] + w / far * (rim + half + 2.5 * scale) for k, w in zip("xy", way, strict=True)]
    drag(page, middle(page, "#t-lemon-1 .outline"), ((goal[0] - lemon["x"]) / scale, -(goal[1] - lemon["y"]) / scale))
    expect(page.locator("#table-over text.over-magnet")).to_have_text("just outside the rim of dinner plate")
    expect(page.locator("#frame-over polyline.magnet")).to_have_count(1)
    page.mouse.up()
    settle(page, 2)
    after = placed(row, "lemon-1")
    assert ((after["x"] - plate["x"]) ** 2 + (after["y"] - plate["y"]) ** 2) ** 0.5 == pytest.approx(rim + half, abs=0.6)
    assert after.get("on") is None


def test_a_row_is_seen_before_it_is_laid_and_its_end_is_dragged(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.mouse.click(*middle(page, "#t-cream .outline"))
    page.keyboard.press("Enter")
    form = page.locator("#tray .row-form")
    form.locator("[name=count]").fill("4")
    ghosts = page.locator("#table-over .over-row.ghost")
    expect(ghosts).to_have_count(3)
    expect(page.locator("#frame-over .over-row.ghost")).to_have_count(3)
    with page.expect_response(lambda answer: "/follow/repeat/" in answer.url and "through=table" in answer.url):
        form.locator("[name=through]").select_option("table")
    page.wait_for_timeout(200)  # the answer is read and drawn
    cream, scale = placed(row, "cream"), mm_per_pixel(page)
    assert len(document(row)["placements"]) == 17  # nothing is laid
    start = spot(page, "#table-over [data-grip=row]")
    begin = [cream["x"] + form_length(page, "step") * 3, cream["y"]]
    drag(page, start, (-40, 30))
    page.wait_for_timeout(300)
    page.mouse.up()
    drawn(page)
    expect(ghosts).to_have_count(3)
    page.keyboard.press("Enter")
    settle(page, 2)
    laid = [p for p in document(row)["placements"] if p["prop"] == "cream-pot"]
    assert len(laid) == 4
    last = laid[-1]
    assert (last["x"], last["y"]) == (pytest.approx(begin[0] - 40 * scale, abs=1.5), pytest.approx(begin[1] - 30 * scale, abs=1.5))
    steps = [(b["x"] - a["x"], b["y"] - a["y"]) for a, b in zip(laid, laid[1:], strict=False)]
    assert all(s == (pytest.approx(steps[0][0], abs=0.3), pytest.approx(steps[0][1], abs=0.3)) for s in steps)


def form_length(page: Page, name: str) -> float:
    return float(page.locator(f"#tray .row-form [name={name}]").input_value())


def test_the_ghosts_of_a_row_go_with_its_form_and_in_the_frame_the_end_is_where_the_pointer_was(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.mouse.click(*middle(page, "#t-cream .outline"))
    page.keyboard.press("Enter")
    form = page.locator("#tray .row-form")
    form.locator("[name=count]").focus()
    expect(page.locator("#frame-over .over-row.ghost")).to_have_count(2)
    quiet(page)
    start = spot(page, "#frame-over [data-grip=row]")
    drag(page, start, (-60, 40))
    for _ in range(50):  # it is where the pointer is as soon as the answer is there
        end = spot(page, "#frame-over [data-grip=row]")
        if abs(end[0] - start[0] + 60) < 2:
            break
        page.wait_for_timeout(100)
    assert end == (pytest.approx(start[0] - 60, abs=2), pytest.approx(start[1] + 40, abs=2))
    page.mouse.up()
    page.wait_for_timeout(200)
    page.mouse.move(5, 5)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.locator(".over-row")).to_have_count(0)
    assert len(document(row)["placements"]) == 17


def test_a_cloth_is_let_go_over_a_riser_and_falls_at_its_edge_in_both_views(window, scenes):
    row = scenes["tea"]
    page = window(f"/scenes/{row.pk}/")
    scale, cloth, riser = mm_per_pixel(page), placed(row, "cloth"), placed(row, "riser")
    box = page.locator("#t-cloth .outline").bounding_box()
    folded, seen = (page.locator(f"#{view}-cloth .outline").get_attribute("d") for view in "tf")
    corner = (box["x"] + 14, box["y"] + box["height"] * 0.45)  # beside the tins
    drag(page, corner, (160, 120))
    followed(page)
    expect(page.locator("#carried-on")).to_have_text("")
    page.mouse.up()
    settle(page, 2)
    flat = placed(row, "cloth")
    assert (flat.get("on"), flat.get("z", 0)) == (None, 0)
    wide = page.locator("#t-cloth .outline").bounding_box()["width"]
    assert wide > box["width"] + 10  # spread flat again
    drag(page, (corner[0] + 160, corner[1] + 120), (-160, -120))
    expect(page.locator("#carried-on")).to_have_text("on the riser")
    page.mouse.up()
    settle(page, 3)
    back = placed(row, "cloth")
    assert (back["on"], back["z"]) == ("riser", 36)
    assert (back["x"], back["y"]) == (pytest.approx(cloth["x"], abs=1), pytest.approx(cloth["y"], abs=1))
    assert page.locator("#t-cloth .outline").get_attribute("d") == folded and page.locator("#f-cloth .outline").get_attribute("d") == seen
    drag(page, (corner[0], corner[1]), (-30, -20))
    page.mouse.up()
    settle(page, 4)
    assert placed(row, "cloth")["on"] == riser["id"]
    assert placed(row, "cloth")["x"] == pytest.approx(cloth["x"] - 30 * scale, abs=1)


def test_scenes_are_copied_sorted_found_and_several_put_away_at_once_all_by_keyboard(window, scenes):
    page = window("/")
    titles = page.locator(".shelf .story-title")
    expect(titles).to_have_count(len(scenes))
    page.get_by_role("button", name="Copy Supper at the harbour inn").press("Enter")
    page.wait_for_url("**/scenes/*/")
    page.goto(page.url.split("/scenes/")[0])
    expect(titles).to_have_count(len(scenes) + 1)
    page.locator("[name=sort]").select_option(index=1)
    page.locator("[name=q]").fill("fish")
    page.locator("[name=q]").press("Enter")
    expect(titles).to_have_count(2)
    for box in page.locator(".chosen input").all():
        box.press("Space")
    page.get_by_role("button", name="Put the chosen away").press("Enter")
    expect(page.locator(".away")).to_contain_text("Supper at the harbour inn")
    expect(titles).to_have_count(len(scenes) - 1)


def test_what_is_typed_in_a_form_is_not_overtaken_by_a_late_answer_but_another_things_form_is_fresh(window, scenes):
    row = scenes["supper"]
    page = window(f"/scenes/{row.pk}/")
    page.mouse.click(*middle(page, "#t-cream .outline"))
    page.keyboard.press("Enter")
    count = page.locator("#tray .row-form [name=count]")
    count.fill("7")
    page.evaluate(f"() => window.htmx.ajax('GET', '/scenes/{row.pk}/tray/?tray=held&selected=cream', {{target: '#tray', swap: 'morph:outerHTML'}})")
    expect(count).to_have_value("7")
    page.mouse.click(*middle(page, "#t-tumbler .outline"))
    page.keyboard.press("Enter")
    expect(count).to_have_value("3")
