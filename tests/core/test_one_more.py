"""One thing more, one less, the missing thing: what is told as cleared is gone with it, and nothing as grave is new."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.core.test_compare import flat
from tideflat.core.acts.registry import tried
from tideflat.core.arrange.building import TO_BORROW
from tideflat.core.arrange.one_more import one_less, one_more
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import each_finding
from tideflat.core.findings.spacing import tight_limit_mm
from tideflat.core.model import Brief, Colour, Palette, PaletteColour, Prop
from tideflat.core.shapes.box import Box
from tideflat.web.scenes.starters import starter


def first_of(kind):
    scene = starter(kind)
    return Picture(scene, scene.setups[0])


def holds(picture, change):
    """Judged anew."""
    after = picture.changed(tried(picture.whole, change.acts))
    keys = {(f.code, f.placements) for f in each_finding(after)}
    assert change.cleared and all((f.code, f.placements) not in keys for f in change.cleared)
    before = {(f.code, f.placements) for f in each_finding(picture)}
    assert {(f.code, f.placements) for f in change.fresh} == keys - before
    return after


@pytest.mark.parametrize("kind", ["marmalade", "supper", "tea", "fig"])
def test_what_is_claimed_of_one_less_holds_and_no_hero_and_nothing_locked_goes(kind):
    picture = first_of(kind)
    for change in one_less(picture):
        after = holds(picture, change)
        gone = set(picture.bodies) - set(after.bodies)
        assert gone and not gone & set(picture.hero_ids())
    locked = picture.changed(replace(picture.whole, placements=tuple(replace(p, locked=True) for p in picture.whole.placements)))
    assert one_less(locked) == ()


@pytest.mark.parametrize("kind", ["fig"])
def test_what_is_claimed_of_the_missing_thing_holds(kind):
    picture = first_of(kind)
    found = one_more(picture, ())
    assert found and all(c.kind == "missing" and c.prop.material == TO_BORROW for c in found)
    for change in found:
        after = holds(picture, change)
        assert len(after.bodies) == len(picture.bodies) + 1


def test_a_crowded_neighbour_is_the_one_to_go():
    picture = flat((300, 300), (380 + tight_limit_mm(0) - 4, 300), (650, 300))
    assert [set(c.acts[0].placements) for c in one_less(picture, 1)] == [{"t1"}]


def test_the_echo_that_an_accent_lacks_is_found_in_the_stores_or_told():
    picture = flat((300, 300), (600, 250), (650, 400))
    palette = Palette((PaletteColour("#536068", "base", 0.7), PaletteColour("#d9762a", "second", 0.2), PaletteColour("#2f7d3a", "accent", 0.02)))
    props = tuple(replace(p, colours=(Colour("#2f7d3a", 1.0),)) if p.id == "q2" else p for p in picture.whole.props)
    picture = picture.changed(replace(picture.whole, palette=palette, brief=Brief(), props=props))
    assert "palette.accent_lonely" in {f.code for f in each_finding(picture)}
    (missing, *_) = one_more(picture, ())
    assert missing.kind == "missing" and "palette.accent_lonely" in {f.code for f in missing.cleared}
    holds(picture, missing)
    mine = Prop("sprig-pot", "sprig pot", Box(width=34, depth=24, height=12), (Colour("#2f7d3a", 1.0),), texture="rough")
    far = replace(mine, id="red-pot", name="red pot", colours=(Colour("#c02020", 1.0),))
    (added, *_) = one_more(picture, (far, mine))
    assert (added.kind, added.names) == ("add", ("sprig pot",))
    holds(picture, added)


def test_nothing_is_taken_away_that_leads_in_another_set_up_and_a_search_can_be_stopped():
    picture = flat((300, 300), (380 + tight_limit_mm(0) - 4, 300), (650, 300))
    first = picture.whole.setups[0]
    other = replace(first, name="other").with_differing("t1", {"role": "hero"}).with_differing("t0", {"role": "support"})
    both = picture.changed(replace(picture.whole, setups=(first, other)))
    assert all("t1" not in c.acts[0].placements for c in one_less(both))
    assert one_more(first_of("fig"), (), goes_on=lambda share: False) == ()
