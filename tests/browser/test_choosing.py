"""From an empty studio to a scene with its palette, as a newcomer would: nothing is put into the database by the test but the person."""

from __future__ import annotations

import io
import json
import re

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.test_access import grave_faults
from tests.browser.test_bench import settle
from tests.browser.waiting import drawn, quiet
from tests.conftest import PASSWORD
from tideflat.web.accounts.models import Membership
from tideflat.web.accounts.services import add_person, make_studio
from tideflat.web.scenes.models import Scene
from tideflat.web.stores.models import StoreProp
from tideflat.web.stores.starter_props import PROPS
from tools.measuring_pictures import FOLDER as PHOTOGRAPHS

pytestmark = pytest.mark.browser


@pytest.fixture
def newcomer(transactional_db: None) -> str:
    """The owner of a studio with nothing in it."""
    add_person(make_studio("New studio"), "nel", PASSWORD, Membership.OWNER, "Nel")
    return "nel"


def reference(colour: tuple[int, int, int], second: tuple[int, int, int]) -> bytes:
    pixels = np.full((300, 400, 3), colour, np.uint8)
    pixels[:90] = second
    kept = io.BytesIO()
    Image.fromarray(pixels).save(kept, "JPEG", quality=92)
    return kept.getvalue()


def put_on_table(page: Page, words: str, revision: int) -> None:
    page.keyboard.press("Escape")
    page.keyboard.press("a")
    with page.expect_response(lambda answer: "/tray/" in answer.url and "&q=" in answer.url):
        page.fill("#tray input[type=search]", words)
    quiet(page)  # what was there before has it too, and is taken off the page under the click
    page.locator(f".store-prop:has-text('{words}')").first.click()
    settle(page, revision)


def test_from_an_empty_studio_to_a_palette(window, newcomer):
    page = window("/", newcomer)
    expect(page.get_by_text("The shelf is empty.")).to_be_visible()

    # the stores: a starter store, a table of one's own, a thing measured
    page.click(".bar-rooms >> text=Stores")
    expect(page.get_by_text("Nothing in the stores yet.")).to_be_visible()
    expect(page.get_by_text(f"{len(PROPS)} made-up props")).to_be_visible()
    assert grave_faults(page) == []
    page.click("text=Take the starter store")
    expect(page.locator(".found-count")).to_contain_text(f"{len(PROPS)} things")
    page.click(".parts >> text=Bring in a table")
    table = "name;diameter;height;colours;tags\nSea cup;8,4 cm;9 cm;#2b6a6c;sea\nBad cup;wide;9 cm;;\n"
    page.set_input_files("input[name=table]", {"name": "mine.csv", "mimeType": "text/csv", "buffer": table.encode()})
    page.click("text=Look at it")
    expect(page.locator(".faults")).to_contain_text("write a length above 0")
    assert grave_faults(page) == []
    page.check("input[name=faulty]")
    page.click("text=Bring in 1")
    expect(page.locator(".notice")).to_contain_text("1 new props")
    page.click(".parts >> text=Measure from a photograph")
    page.click(".example:has-text('jar')")
    expect(page.locator(".measured-size")).to_contain_text("mm")
    assert grave_faults(page) == []
    page.fill("input[name=name]", "my jar")
    page.click("text=Into the stores")
    expect(page.locator("h1")).to_have_text("my jar")
    assert StoreProp.objects.get(key="my-jar").width_mm == pytest.approx(78, abs=2)

    # the brief: what it is for and one sentence, then lightly
    page.click(".bar-rooms >> text=Shelf")
    page.fill("input[name=use]", "site banner")
    page.fill("input[name=story]", "The tide is out and the kettle is on.")
    page.click("text=Begin >> nth=-1")
    expect(page.locator("#tray h2")).to_have_text("Brief")
    page.fill("#tray [data-field=mood]", "calm")
    page.press("#tray [data-field=mood]", "Tab")
    settle(page, 2)
    page.click(".school >> nth=1")
    settle(page, 3)
    expect(page.locator(".lean")).to_contain_text("How do things lie?")
    files = [
        {"name": f"{k}.jpg", "mimeType": "image/jpeg", "buffer": reference(*c)}
        for k, c in enumerate((((90, 104, 110), (212, 112, 40)), ((96, 108, 112), (236, 228, 210))))
    ]
    page.set_input_files(".send input[type=file]", files)
    expect(page.locator(".references li")).to_have_count(2)
    expect(page.locator(".references")).to_contain_text("Together:")
    page.click("text=Make it the palette")
    settle(page, 4)

    # the materials and the things
    page.click(".decision[data-value=materials]")
    page.click(".swatch:has-text('limestone')")
    settle(page, 5)
    put_on_table(page, "tea tin, tall" if page.locator("text=tea tin, tall").count() else "tall tea tin", 6)
    page.select_option("#under select[data-name=role]", "hero")
    settle(page, 7)
    put_on_table(page, "orange half", 8)
    put_on_table(page, "my jar", 9)
    expect(page.locator("#f-my-jar")).to_be_visible()

    # the palette: what is seen against what is wanted
    page.click(".decision[data-value=palette]")
    expect(page.locator(".wanted-list tbody tr")).not_to_have_count(0)
    rows = page.locator(".wanted-list tbody tr").count()
    seen = [int(re.search(r"\d+", t).group()) for t in page.locator(".wanted-list td b").all_inner_texts()]
    assert len(seen) == rows and 0 < sum(seen) <= 101
    expect(page.locator(".wanted-list")).to_contain_text("The tall tea tin stands clear of")
    assert page.locator(".reading-plot").count() == 2
    page.click(".wanted-list [data-do=palette-drop] >> nth=-1")
    settle(page, 10)
    expect(page.locator(".wanted-list tbody tr")).to_have_count(rows - 1)
    page.keyboard.press("Control+z")
    settle(page, 11)
    expect(page.locator(".wanted-list tbody tr")).to_have_count(rows)

    # what if: another surface, chosen with its reasons before it
    page.click("text=What if: six surfaces")
    expect(page.locator(".tried li")).to_have_count(6)
    assert grave_faults(page) == []
    name = page.locator(".tried li:has(button) h2").first.inner_text().split(". ", 1)[1]
    page.locator(".tried button").first.click()
    expect(page.locator("#stage")).to_be_visible()
    row = Scene.objects.get()
    assert f'"name":"{name}"' in row.document.replace(": ", ":") and '"palette"' in row.document
    assert page.evaluate("document.querySelectorAll('#frame-things pattern').length") >= 3


def test_a_skin_follows_the_pointer_in_both_views_while_it_is_dragged(window, scenes):
    page = window(f"/scenes/{scenes['marmalade'].pk}/")
    read = "id => Array.from(document.querySelectorAll('#' + id + ' pattern'), n => n.getAttribute('patternTransform'))"
    before = {view: page.evaluate(read, f"{view}-half-1") for view in "tf"}
    box = page.locator("#t-half-1 .outline").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 14, y + 9, steps=4)
    drawn(page)
    held = {view: page.evaluate(read, f"{view}-half-1") for view in "tf"}
    for view in "tf":
        assert [m for m in before[view] if m] and held[view] != before[view]
    # the map laid while dragging is the one the server lays on release
    page.mouse.up()
    settle(page, 2)
    after = {view: page.evaluate(read, f"{view}-half-1") for view in "tf"}
    for view in "tf":
        for a, b in zip(held[view], after[view], strict=True):
            if a and b:
                assert [float(v) for v in a[7:-1].split()] == pytest.approx([float(v) for v in b[7:-1].split()], abs=0.6)


def test_pictures_of_things_are_really_there(window, scenes):
    page = window("/")
    sizes = page.evaluate(
        """() => Promise.all(Array.from(new Set(Array.from(document.querySelectorAll('svg image'), n => n.getAttribute('href'))))
        .map(href => new Promise(done => { const i = new Image(); i.onload = () => done(i.naturalWidth); i.onerror = () => done(0); i.src = href; })))"""
    )
    assert len(sizes) > 12 and min(sizes) > 30


def test_the_stores_pages_hold_and_the_sentence_finds_at_once(window, studio, address):
    page = window("/stores/")
    page.fill("input[name=q]", "copper")
    expect(page.locator(".found-count")).to_contain_text("of 166 things")
    expect(page.locator(".goods .name").first).to_contain_text("copper")
    assert "q=copper" in page.url
    page.fill("input[name=q]", "")
    page.fill("input[name=colour]", "#2d4a4e")
    expect(page.locator(".goods")).to_contain_text("tall tea tin")
    expect(page.locator(".goods")).to_contain_text("the same to the eye")
    page.check(".goods input[name=prop] >> nth=0")
    page.wait_for_timeout(500)
    expect(page.locator(".goods input[name=prop] >> nth=0")).to_be_checked()  # nothing comes late and takes the tick back
    expect(page.locator(".bulk")).to_be_visible()
    assert grave_faults(page) == []
    for path in (
        "/stores/kit/",
        "/stores/kit/lens/new/",
        "/stores/props/new/",
        f"/stores/props/{StoreProp.objects.get(key='fig').pk}/",
        "/stores/measure/",
        "/stores/import/",
    ):
        page.goto(address + path)
        assert grave_faults(page) == [], path


def test_another_shape_asks_for_its_own_sizes_and_keeps_what_was_typed(window, studio):
    page = window("/stores/props/new/")
    page.fill("input[name=name]", "driftwood")
    page.select_option("select[name=shape]", "rod")
    expect(page.locator("input[name=length]")).to_be_visible()
    assert page.input_value("input[name=name]") == "driftwood"
    for name, value in (("length", "30 cm"), ("width", "25"), ("height", "20")):
        page.fill(f"input[name={name}]", value)
    page.click("text=Keep it")
    expect(page.locator(".notice")).to_contain_text("driftwood is kept")


def test_five_things_of_one_photograph_come_to_the_stores_and_to_the_table(window, studio, scenes):
    page = window("/stores/measure/")
    page.click(".example:has-text('five')")
    expect(page.locator(".piece")).to_have_count(5, timeout=60_000)
    assert grave_faults(page) == []
    # the number of the knife takes it in hand, a stroke over its end takes that away
    legends = page.locator(".piece legend").all_inner_texts()
    size = [[float(n.replace("\u202f", "")) for n in re.findall(r"([\d\u202f.]+)", text)[1:3]] for text in legends]
    (knife,) = [n for n, sides in enumerate(size) if sides == pytest.approx([190.2, 17.8], abs=2)]  # as large as the leaf, by its area
    page.click(f".piece-number >> nth={knife}")
    assert page.locator(".piece-line.in-hand").get_attribute("data-number") == str(knife + 1)
    page.click("[data-stroke=not]")
    svg = page.locator(".photo svg").bounding_box()
    start, end = ((svg["x"] + svg["width"] * x, svg["y"] + svg["height"] * y) for x, y in ((0.276, 0.525), (0.259, 0.58)))
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=8)
    page.mouse.up()
    expect(page.locator(".piece")).to_have_count(0, timeout=60_000)
    width, depth = (float(n.replace("\u202f", "")) for n in re.findall(r"([\d\u202f.]+)", page.locator(".measured-size").inner_text())[:2])
    assert 90 < width < 170 and depth < 30
    page.click("text=Measure from a photograph")
    page.click(".example:has-text('five')")
    expect(page.locator(".piece")).to_have_count(5, timeout=60_000)
    names = ["printed card", "red lid", "oat biscuit", "bay leaf"]
    names.insert(knife, "paring knife")
    for k, name in enumerate(names, 1):
        page.fill(f"input[name=name_{k}]", "my " + name)
    page.click("text=Into the stores")
    expect(page.locator(".notice")).to_contain_text(f"my {names[-1]}: in the stores")
    row = scenes["tea"]
    page.goto(page.url.split("/stores")[0] + f"/scenes/{row.pk}/")
    page.keyboard.press("a")
    for k, name in enumerate(names):
        expect(page.locator("#tray input[type=search]")).to_be_focused()
        page.keyboard.type("my " + name)
        page.keyboard.press("Enter")
        settle(page, k + 2)
    row.refresh_from_db()
    kept = json.loads(row.document)
    mine = [p for p in kept["props"] if p["name"] in {"my " + n for n in names}]
    assert len(mine) == 5 and all(p["skins"] and p["skins"][0]["face"] == "top" for p in mine)
    on_table = [p["id"] for p in kept["placements"] if p["prop"] in {q["id"] for q in mine}]
    assert len(on_table) == 5
    for placed in on_table:  # each is drawn wearing its own picture
        expect(page.locator(f"#t-{placed} image, #t-{placed} [fill^='url']").first).to_be_attached()


def test_corners_are_moved_by_hand_with_keys_and_measured_again(window, studio):
    page = window("/stores/measure/")
    page.click(".example:has-text('board')")
    dot = page.locator(".dot.corners").first
    dot.focus()
    before = dot.get_attribute("cx")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    assert dot.get_attribute("cx") != before
    size = page.locator(".measured-size").inner_text()
    page.click("text=Measure again")
    expect(page.locator(".measured-size")).not_to_have_text(size)


def test_another_sheet_than_was_chosen_is_named_chosen_and_measured_by(window, studio):
    page = window("/stores/measure/")
    form = page.locator("form:has([name=photograph])")
    form.locator("[name=photograph]").set_input_files(str(PHOTOGRAPHS / "48-steel-spoon-beside.jpg"))
    form.locator("[name=height]").fill("3")
    form.locator("button.press").click()
    expect(page.locator(".told.fault, [data-kind=fault], .fault").first).to_contain_text("the sides of a Letter sheet", timeout=60_000)
    page.select_option("select[name=sheet]", "letter")  # the dots stay where they were put by nobody
    page.click("text=Measure again")
    expect(page.locator(".measured-size")).to_contain_text("mm", timeout=60_000)
    assert page.locator(".doubt").count() == 0
    assert grave_faults(page) == []


@pytest.mark.parametrize("path", ["/stores/", "/stores/kit/", "/stores/measure/"])
def test_the_stores_hold_on_a_phone(window, studio, path):
    page = window(path, size=(390, 844))
    assert page.evaluate("document.documentElement.scrollWidth") <= 391


def test_a_colour_pointed_at_lights_what_carries_it_in_both_views(window, scenes):
    page = window(f"/scenes/{scenes['supper'].pk}/?tray=palette")
    row = page.locator(".wanted-list tr[data-carriers~=fish]").first
    row.hover()
    expect(page.locator("#f-fish")).to_have_class(re.compile(r"\blit\b"))
    expect(page.locator("#t-fish")).to_have_class(re.compile(r"\blit\b"))
    page.locator("#tray h2").hover()
    expect(page.locator(".thing.lit")).to_have_count(0)
