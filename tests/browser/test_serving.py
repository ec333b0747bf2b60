"""In the browser: a scene that cannot be shown, a shelf that draws what is heavy by and by, who only looks on, people and lost passwords."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import grave_faults
from tests.conftest import PASSWORD
from tideflat.web.accounts.models import Membership
from tideflat.web.accounts.services import add_person
from tideflat.web.scenes.models import Change, Scene

pytestmark = pytest.mark.browser


def broken(row: Scene) -> None:
    """The scene's newest step is one that an earlier version broke."""
    value = json.loads(row.document)
    value["placements"][0]["id"] = "a.b"
    Change.objects.create(scene=row, number=1, parent=0, label="broken by something", state=b"-")
    Scene.objects.filter(pk=row.pk).update(document=json.dumps(value), position=1, revision=2)


def test_a_scene_that_cannot_be_shown_is_told_on_the_shelf_and_mended_by_undo(window, scenes):
    broken(scenes["tea"])
    page = window("/")
    expect(page.locator(".shelf-picture svg")).to_have_count(2)
    expect(page.locator(".tag.stop")).to_contain_text("Cannot be shown")
    assert grave_faults(page) == []
    page.click("text=Four teas, one shelf")
    expect(page.locator("[role=alert]")).to_contain_text("must be an id")
    assert grave_faults(page) == []
    page.click("text=Undo: broken by something")
    expect(page.locator("#frame-svg")).to_be_visible()


def test_a_shelf_with_more_than_one_page_may_draw_brings_the_rest_by_itself(window, scenes, monkeypatch):
    from tideflat.web.scenes import shelf as shelf_module

    monkeypatch.setattr(shelf_module, "MOST_SHOWN", 10.0)
    page = window("/")
    expect(page.locator(".shelf-picture svg")).to_have_count(3)
    assert page.locator("text=being drawn").count() == 0


def test_who_only_looks_on_sees_the_change_whole(window, scenes):
    path = f"/scenes/{scenes['supper'].pk}/"
    looking, working = window(path, "vic"), window(path + "?tray=things")
    working.click("[data-act=select][data-value=beet]")
    working.keyboard.press("ArrowRight")
    expect(working.locator("#stage[data-revision='2']")).to_be_attached(timeout=10_000)
    expect(looking.locator("#stage[data-revision='2']")).to_be_attached(timeout=15_000)
    drawn = "n => n.outerHTML.replace(/ class=\"[^\"]*\"/g, '')"
    fresh = window(path, "vic")
    assert looking.locator("[data-kept]").count() == 0
    for view in ("f-beet", "t-beet", "t-plate"):
        assert looking.locator(f"#{view}").evaluate(drawn) == fresh.locator(f"#{view}").evaluate(drawn), view


def test_an_owner_hands_over_a_link_and_the_person_signs_in_with_a_new_password(window, studio, chromium, address):
    add_person(studio, "mara", PASSWORD, Membership.OWNER, "Mara")
    page = window("/people/", "mara")
    page.click("text=Link for a new one for vic")
    link = page.locator(".handed-link").inner_text()
    assert link.startswith(address) and grave_faults(page) == []
    theirs = chromium.new_context().new_page()
    theirs.goto(link)
    theirs.fill("[name=new_password1]", "quay-lamp-and-tide-9")
    theirs.fill("[name=new_password2]", "quay-lamp-and-tide-9")
    theirs.click("text=Set it")
    expect(theirs.locator("[role=status]")).to_contain_text("Sign in with it")
    theirs.fill("[name=username]", "vic")
    theirs.fill("[name=password]", "quay-lamp-and-tide-9")
    theirs.click("button:has-text('Sign in')")
    expect(theirs.locator(".bar-place")).to_have_text("Quay studio")
    theirs.context.close()
