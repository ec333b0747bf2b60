"""Every limit that a judgement or a remedy turns on, tried just inside and just outside. Each of these once could be changed unseen."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
import shapely

from tests.support.scenes import bare_value, camera_value, picture, scene, scene_value
from tideflat.core.acts.registry import act_from_value, unproven
from tideflat.core.camera.coverage import backdrop_seen
from tideflat.core.camera.crops import crop_of, ratio_of
from tideflat.core.camera.guides import grid_lines
from tideflat.core.camera.hiding import front_order, lies_in
from tideflat.core.camera.stance import BODY_REACH_MM, LENS_CLEARANCE_MM, shortfall_over_surface_mm
from tideflat.core.delivered import FALLS_AWAY, needed_depth
from tideflat.core.drawing.props import prop_pieces
from tideflat.core.errors import FieldError, LockedError
from tideflat.core.findings.copy_space import OCCUPANT
from tideflat.core.findings.registry import each_finding, findings
from tideflat.core.findings.spacing import collision
from tideflat.core.findings.support import fall_mm
from tideflat.core.findings.variety import outline_kind
from tideflat.core.model import Camera, Colour, CopySpace, Deliverable, Placement, Prop, Skin
from tideflat.core.remedies.candidate import NO_STORES
from tideflat.core.remedies.moves import LONGEST_MOVE_MM, is_free, table_shift
from tideflat.core.remedies.search import candidates
from tideflat.core.remedies.settling import set_down
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cone import Cone
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.sphere import Sphere
from tideflat.core.solids.body import pose
from tideflat.core.table.carrying import carried_along

#: Overhead with 50 mm at 1,100 mm the frame shows 36 (1100 - 50) / 50 = 756 mm by 504 mm of the table, from x 72 and y 48.
LEFT, FRONT, WIDE, HIGH = 72.0, 48.0, 756.0, 504.0


def flat_box(name: str, wide: float, deep: float, **more: Any) -> dict[str, Any]:
    """A box so thin that it is where its foot is in the frame."""
    return {"id": name, "name": name, "shape": {"kind": "box", "width": wide, "depth": deep, "height": 0.1}, **more}


def camera_with(**changes: Any) -> Camera:
    return scene(bare_value(**changes)).setups[0].camera


def table(props: list[dict[str, Any]], placements: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {**bare_value(), "backdrop": None, "room": None, "props": props, "placements": placements, **more}


def codes(value: dict[str, Any]) -> list[str]:
    return [f.code for f in findings(picture(value))]


def found(value: dict[str, Any], code: str) -> list[Any]:
    return [f for f in findings(picture(value)) if f.code == code]


# ---- the camera over the table


@pytest.mark.parametrize(("axis", "edge", "outward"), [(0, 0, -1), (0, 900, 1), (1, 0, -1), (1, 600, 1)])
def test_a_body_reaches_eighty_millimetres_past_its_lens(axis, edge, outward):
    surface = scene().surface
    short = {}
    for past in (BODY_REACH_MM - 0.1, BODY_REACH_MM + 0.1):
        aim = [450.0, 300.0, 0.0]
        aim[axis] = edge + outward * past
        camera = camera_with(aim=aim, distance=200, lens={"focal_length": 24, "min_focus": None})
        low = replace(camera, aim=(aim[0], aim[1], 50.0 - 200.0))
        short[past] = shortfall_over_surface_mm(low, surface)
    assert BODY_REACH_MM == 80
    assert list(short.values()) == pytest.approx([LENS_CLEARANCE_MM - 50, 0.0])


# ---- crops


@pytest.mark.parametrize(
    ("ratio", "pixels", "agrees"),
    [("3:2", (1000, 667), True), ("3:2", (1000, 666), False), ("4:5", (1080, 1351), False), ("4:5", (1080, 1350), True)],
)
def test_a_ratio_agrees_with_pixels_to_half_a_pixel(ratio, pixels, agrees):
    """1000 by 667 is half a pixel too narrow for 3:2; 1000 by 666 a whole one too wide, 1080 by 1351 four fifths too narrow for 4:5."""
    deliverable = Deliverable("a", ratio, pixels)
    if agrees:
        assert ratio_of(deliverable) == pytest.approx(eval(ratio.replace(":", "/")))
    else:
        with pytest.raises(FieldError, match="half a pixel"):
            ratio_of(deliverable)


def test_the_enlargement_is_that_of_the_side_that_is_enlarged_more():
    camera = camera_with()
    crop = crop_of(Deliverable("a", "3:2", (1000, 667), (0.5, 0.5), 0.1), camera)
    by_side = [asked / covered for asked, covered in zip((1000, 667), crop.pixels, strict=True)]
    assert crop.pixels == (600, 400) and by_side[0] < by_side[1]
    assert crop.enlargement == pytest.approx(667 / 400)


# ---- what hides what


def test_a_dish_holds_what_is_within_its_rim_however_it_leans():
    ball = pose(Placement("b", "b", 0.0, 0.0, 6.0), Sphere(40))
    for lean, holds in ((0.0, True), (0.1, True), (10.0, True), (100.0, False)):
        dish = pose(Placement("d", "d", 0.0, 0.0, lean=lean), Bowl(160, 70, 60))
        assert lies_in(ball, dish) is holds


@pytest.mark.parametrize(("z", "eye_above"), [(0.0, True), (400.0, False)])
def test_what_stands_in_a_cloth_is_before_it_from_above_and_behind_it_from_below(z, eye_above):
    value = table(
        [
            {"id": "cloth", "name": "cloth", "shape": {"kind": "cloth", "width": 300, "depth": 200, "thickness": 2}},
            flat_box("tile", 60, 60),
        ],
        [
            {"id": "low", "prop": "cloth", "x": 450, "y": 300, "z": z, "role": "cloth", "held_by": "arm"},
            {"id": "high", "prop": "tile", "x": 450, "y": 300, "z": z + 1, "held_by": "arm"},
        ],
    )
    value["setups"][0]["camera"] = camera_value(elevation=10 if eye_above else -5, distance=1300, aim=[450, 300, 150 if eye_above else 300])
    seen = picture(value)
    assert bool(seen.view.position[2] > z) is eye_above
    order = front_order(seen.silhouettes["high"], seen.silhouettes["low"], seen.view)
    assert order == (1 if eye_above else -1)
    assert front_order(seen.silhouettes["low"], seen.silhouettes["high"], seen.view) == -order


# ---- edges of the frame: 0.5 % of 756 mm is 3.78 mm


@pytest.mark.parametrize("side", ["left", "right", "top", "bottom"])
@pytest.mark.parametrize(("inside_mm", "is_told"), [(4.2, False), (3.4, True), (0.4, True), (-3.4, True), (-4.2, False), (-40, False)])
def test_an_outline_is_told_within_the_limit_of_an_edge_on_either_side_of_it(side, inside_mm, is_told):
    at = {
        "left": (LEFT + inside_mm + 60, 300), "right": (LEFT + WIDE - inside_mm - 60, 300),
        "bottom": (450, FRONT + inside_mm + 60), "top": (450, FRONT + HIGH - inside_mm - 60),
    }[side]  # fmt: skip
    value = table([flat_box("tile", 120, 120)], [{"id": "p1", "prop": "tile", "x": at[0], "y": at[1]}])
    told = found(value, "tangent.edge")
    assert [f.sides for f in told] == ([(side,)] if is_told else [])
    if told:
        assert told[0].measure == pytest.approx(abs(inside_mm) / WIDE * 100, abs=1e-2)


@pytest.mark.parametrize(("role", "expected"), [("support", ["edge.sliver"]), ("hero", ["hero.cut"])])
def test_a_hero_that_is_cut_is_not_told_a_second_time_as_a_sliver(role, expected):
    other = {"id": "p2", "prop": "tile", "x": 450, "y": 300, "role": "support" if role == "hero" else "hero"}
    value = table([flat_box("tile", 120, 120)], [{"id": "p1", "prop": "tile", "x": LEFT - 60 + 14, "y": 300, "role": role}, other])
    assert [c for c in codes(value) if c.startswith(("edge", "hero.cut", "tangent"))] == expected


def test_a_hero_that_is_cut_is_not_told_a_second_time_as_touching_the_edge():
    for cut_mm, expected in ((5.0, ["hero.cut"]), (-3.0, ["tangent.edge"]), (0.6, ["tangent.edge"])):
        value = table([flat_box("tile", 120, 120)], [{"id": "p1", "prop": "tile", "x": LEFT + 60 - cut_mm, "y": 300, "role": "hero"}])
        assert [c for c in codes(value) if c in ("hero.cut", "tangent.edge", "edge.sliver")] == expected


@pytest.mark.parametrize(("shown", "is_told"), [(0.14, True), (0.16, False), (0.01, True), (0.0, False)])
def test_less_than_three_twentieths_of_a_thing_at_an_edge_is_a_sliver(shown, is_told):
    value = table([flat_box("tile", 200, 120)], [{"id": "p1", "prop": "tile", "x": LEFT - 100 + 200 * shown, "y": 300}])
    told = found(value, "edge.sliver")
    assert bool(told) is is_told
    if told:
        assert told[0].measure == pytest.approx(shown * 100, abs=0.1)


# ---- room on the table


def test_the_deepest_of_nine_level_sections_counts():
    """A tin of radius 20 beside a cone that is 50 wide at its foot and 5 at its top, 60 apart: they meet at the foot only."""
    tin, cone = pose(Placement("a", "a", 0.0, 0.0), Cylinder(40, 100)), pose(Placement("b", "b", 60.0, 0.0), Cone(100, 10, 100))
    at_the_foot = 50 - 45 * 0.02
    depth, direction = collision(tin, cone)
    assert depth == pytest.approx(20 + at_the_foot - 60, abs=0.1)
    assert direction == pytest.approx((1.0, 0.0), abs=0.1)


@pytest.mark.parametrize(("share", "carries"), [(0.21, True), (0.19, False), (0.45, True), (0.06, False)])
def test_a_fifth_of_its_foot_carries_a_thing(share, carries):
    value = table(
        [{"id": "block", "name": "block", "shape": {"kind": "box", "width": 100, "depth": 100, "height": 40}}],
        [
            {"id": "low", "prop": "block", "x": 300, "y": 300},
            {"id": "high", "prop": "block", "x": 300 + 100 * (1 - share), "y": 300, "z": 40},
        ],
    )
    seen = picture(value)
    assert fall_mm(seen, seen.bodies["high"]) == pytest.approx(0.0 if carries else 40.0)


@pytest.mark.parametrize(("lift", "is_told"), [(1.9, False), (2.1, True)])
def test_a_thing_may_be_two_millimetres_above_what_carries_it(lift, is_told):
    value = bare_value()
    value["placements"][0]["z"] = lift
    assert bool(found(value, "support.floating")) is is_told


def test_what_lies_in_a_dish_does_not_fall():
    value = scene_value()
    value["placements"] = [
        {"id": "low", "prop": "bowl", "x": 300, "y": 300},
        {"id": "in", "prop": "peel", "x": 300, "y": 300, "z": 6, "role": "scatter"},
    ]
    value["props"][9]["shape"] |= {"width": 60, "depth": 60}
    seen = picture(value)
    assert fall_mm(seen, seen.bodies["in"]) == 0.0


# ---- focus


def test_from_half_way_to_falling_away_only_the_middle_of_the_hero_must_be_sharp():
    depths = {}
    for leaning in (FALLS_AWAY - 0.01, FALLS_AWAY):
        value = bare_value(elevation=30, distance=900)
        value["brief"] = {"leanings": {"focus": leaning}}
        near, far = needed_depth(picture(value), "p1")
        depths[leaning] = far - near
    assert FALLS_AWAY == 0.5
    assert depths[0.49] > 0 == depths[0.5]


# ---- past the surface and the backdrop


@pytest.mark.parametrize(("past", "is_told"), [(0.4, False), (0.6, True)])
@pytest.mark.parametrize("side", ["left", "right", "front", "back"])
def test_half_a_millimetre_past_the_surface_is_not_told(side, past, is_told):
    aim = {"left": [378 - past, 300], "right": [900 - 378 + past, 300], "front": [450, 252 - past], "back": [450, 600 - 252 + past]}[side]
    value = {**bare_value(aim=[*aim, 0]), "backdrop": None}
    assert [f.sides for f in found(value, "surface.edge")] == ([(side,)] if is_told else [])


@pytest.mark.parametrize(("past", "is_told"), [(0.4, False), (0.6, True)])
@pytest.mark.parametrize("side", ["left", "right", "top"])
def test_half_a_millimetre_past_the_backdrop_is_not_told(side, past, is_told):
    value = bare_value(elevation=4, distance=900)
    value["backdrop"] |= {"width": 9000, "height": 4000}
    seen = picture(value)
    needed = backdrop_seen(seen.view, seen.scene.backdrop)
    left, right = needed.seen
    if side == "top":
        value["backdrop"]["height"] = needed.height_needed - past
    else:
        half = (450 - left if side == "left" else right - 450) - past
        value["backdrop"] |= {"x": 450 + (1500 if side == "left" else -1500), "width": 2 * (half + 1500)}
    assert [f.sides for f in found(value, "backdrop.narrow")] == ([(side,)] if is_told else [])


# ---- room for words: the top fifth of a crop over the whole frame is 756 by 100.8 mm, 76,205 mm2


@pytest.mark.parametrize(("share", "is_named"), [(0.25, True), (0.15, False), (0.05, False), (1.2, True)])
def test_who_takes_less_than_a_fifth_of_a_per_cent_of_the_room_for_words_is_not_named(share, is_named):
    area = share / 100 * WIDE * HIGH * 0.2
    side = area**0.5
    value = table(
        [flat_box("slab", 160, 60), flat_box("chip", side, side)],
        [{"id": "large", "prop": "slab", "x": 300, "y": 510}, {"id": "small", "prop": "chip", "x": 560, "y": 510}],
    )
    value["setups"][0]["deliverables"] = [{"name": "all", "ratio": "3:2", "copy_space": {"side": "top", "share": 0.2}}]
    (told,) = found(value, "copy.occupied")
    assert told.placements == (("large", "small") if is_named else ("large",))
    assert OCCUPANT == 0.2


# ---- alone in lightness: 24 L* from every other and from the surface


@pytest.mark.parametrize(
    ("tone", "ground", "codes_told"),
    [
        ("#ffffff", "#777777", ["colour.lone_light"]),
        ("#ffffff", "#f0f0f0", []),
        ("#0a0a0a", "#777777", ["colour.lone_dark"]),
        ("#0a0a0a", "#161616", []),
    ],
)
def test_a_thing_as_light_as_the_surface_is_not_alone(tone, ground, codes_told):
    grey = [{"hex": "#777777", "share": 1.0}]
    props = [
        flat_box("one", 90, 90, colours=grey),
        flat_box("two", 90, 90, colours=grey),
        flat_box("odd", 90, 90, colours=[{"hex": tone, "share": 1.0}]),
    ]
    placements = [
        {"id": k, "prop": k, "x": 200 + 200 * n, "y": 300, "role": "hero" if n == 0 else "support"}
        for n, k in enumerate(("one", "two", "odd"))
    ]
    value = table(props, placements)
    value["surface"] |= {"colours": [{"hex": ground, "share": 1.0}]}
    assert [c for c in codes(value) if c.startswith("colour.lone")] == codes_told


# ---- how an outline reads


@pytest.mark.parametrize(
    ("height", "forward_z", "kind"),
    [(121, -0.5, "straight"), (119, -0.5, "round"), (200, -0.76, "straight"), (200, -0.78, "round"), (200, 0.1, "straight")],
)
def test_a_round_thing_reads_upright_when_it_is_taller_than_wide_and_seen_from_the_side(height, forward_z, kind):
    assert outline_kind(pose(Placement("a", "a", 0.0, 0.0), Cylinder(100, height)), forward_z) == kind


def test_a_ball_is_round_from_everywhere_and_a_box_straight():
    assert {outline_kind(pose(Placement("a", "a", 0.0, 0.0), Sphere(50)), z) for z in (-1, -0.5, 0)} == {"round"}
    assert {outline_kind(pose(Placement("a", "a", 0.0, 0.0), Box(50, 50, 90)), z) for z in (-1, -0.5, 0)} == {"straight"}


# ---- remedies


def test_no_remedy_moves_a_thing_further_than_a_hand():
    seen = picture(bare_value())
    assert LONGEST_MOVE_MM == 160
    for way, reaches in ((159.0, True), (161.0, False)):
        shift = table_shift(seen, "p1", way / WIDE * (1100 - 47.5 - 0) / 1100, 0.0)
        near = table_shift(seen, "p1", 0.01, 0.0)
        per_u = near[0] / 0.01
        shift = table_shift(seen, "p1", way / per_u, 0.0)
        assert (shift is not None) is reaches


@pytest.mark.parametrize(("deep", "has_moves"), [(150.0, True), (153.0, False)])
def test_things_are_parted_by_at_most_so_much(deep, has_moves):
    """The shortest way out, 8 mm more, and half a millimetre."""
    block = {"id": "block", "name": "block", "shape": {"kind": "box", "width": 400, "depth": 400, "height": 30}}
    value = table(
        [block], [{"id": "a", "prop": "block", "x": 200, "y": 300, "role": "hero"}, {"id": "b", "prop": "block", "x": 600 - deep, "y": 300}]
    )
    seen = picture(value)
    (overlap,) = [f for f in findings(seen) if f.code == "spacing.overlap"]
    lengths = [dict(c.figures)["mm"] for c in candidates(seen, overlap) if c.kind == "move"]
    assert bool(lengths) is has_moves
    assert all(deep + 8 <= mm <= 160 for mm in lengths)


def test_a_thing_beside_the_table_is_not_set_down_into_the_floor():
    value = bare_value()
    value["placements"] = [
        {"id": "p1", "prop": "jar", "x": -200, "y": 300, "z": 30},
        {"id": "p2", "prop": "jar", "x": 300, "y": 300, "z": 30},
    ]
    seen = picture(value)
    told = {f.placements: f for f in each_finding(seen) if f.code == "support.floating"}
    assert set(told) == {("p1",), ("p2",)}
    assert [dict(c.figures)["z"] for f in told.values() for c in set_down(seen, f, NO_STORES)] == [0.0]


def test_what_carries_something_locked_is_not_free():
    value = scene_value()
    seen = picture(value)
    assert is_free(seen, "p2")
    value["placements"][8]["locked"] = True
    assert not is_free(picture(value), "p2")
    assert is_free(picture(value), "p3")


# ---- carrying


def test_what_is_carried_never_sinks_into_the_table():
    value = scene_value()
    value["placements"][1]["z"] = 50
    value["placements"][8] |= {"z": 30, "on": "p2"}
    read = scene(value)
    lead = read.placement("p2")
    assert carried_along(read, lead, replace(lead, z=0.0)).placement("p9").z == 0.0
    assert carried_along(read, lead, replace(lead, z=40.0)).placement("p9").z == 20.0


def test_what_leans_with_its_carrier_never_sinks_into_the_table():
    value = scene_value()
    value["placements"][8] |= {"x": 80, "y": 300, "z": 18, "on": "p2"}
    read = scene(value)
    lead = read.placement("p2")
    leaned = carried_along(read, lead, replace(lead, lean=40.0, lean_toward=200.0))
    assert all(p.z >= 0 for p in leaned.placements)
    other_way = carried_along(read, lead, replace(lead, lean=40.0, lean_toward=20.0))
    assert other_way.placement("p9").z > 40


def test_a_locked_thing_that_is_carried_keeps_its_carrier_where_it_is():
    value = scene_value()
    value["placements"][8]["locked"] = True
    read = scene(value)
    for act in (
        {"act": "move", "placement": "p2", "x": 300},
        {"act": "turn", "placement": "p2", "turn": 5},
        {"act": "raise", "placement": "p2", "z": 5},
    ):
        with pytest.raises(LockedError, match="leaf"):
            unproven(read, act_from_value(act))
    assert unproven(read, act_from_value({"act": "move", "placement": "p3", "x": 300})).scene.placement("p3").x == 300


# ---- pictures on things


def test_every_cell_of_a_picture_lies_where_it_belongs():
    """u from the left, v down from the back, over a box of 280 by 170 mm at rest."""
    prop = Prop("b", "b", Box(280, 170, 20), (Colour("#888888", 1.0),), skins=(Skin("abc", "top"),))
    pieces = [
        p
        for p in prop_pieces(pose(Placement("p", "p", 400.0, 300.0), prop.shape), prop, (0.0, 0.0, 900.0))
        if p.skin is not None and "frame" in p.views
    ]
    assert len(pieces) > 6
    for piece in pieces:
        at = np.column_stack([400 - 140 + piece.skin.uv[:, 0] * 280, 300 + 85 - piece.skin.uv[:, 1] * 170])
        assert piece.points[:, :2] == pytest.approx(at, abs=1e-6)
    covered = shapely.union_all([shapely.Polygon(p.points[:, :2]) for p in pieces])
    assert covered.area == pytest.approx(280 * 170)


def test_a_label_stands_upright_on_the_front_of_a_box_and_of_a_tin():
    for shape in (Box(100, 60, 80), Cylinder(80, 80)):
        prop = Prop("b", "b", shape, (Colour("#888888", 1.0),), skins=(Skin("abc", "front"),))
        pieces = [p for p in prop_pieces(pose(Placement("p", "p", 0.0, 0.0), shape), prop, (0.0, 0.0, 900.0)) if p.skin is not None]
        for piece in pieces:
            assert (80 * (1 - piece.skin.uv[:, 1])) == pytest.approx(piece.points[:, 2], abs=1e-6)
            assert piece.points[:, 1].max() <= 1e-6
        lefts = [
            float(p.points[:, 0].min())
            for p in sorted(pieces, key=lambda p: (p.skin.uv[:, 1].min(), p.skin.uv[:, 0].min()))
            if p.skin.uv[:, 1].min() == 0
        ]
        assert all(a < b for a, b in pairwise(lefts))


def test_a_copy_space_is_a_band_on_its_side():
    camera = camera_with()
    for side, box in (("top", (0, 0, 1, 0.25)), ("bottom", (0, 0.75, 1, 1)), ("left", (0, 0, 0.25, 1)), ("right", (0.75, 0, 1, 1))):
        crop = crop_of(Deliverable("a", "3:2", None, (0.5, 0.5), 1.0, CopySpace(side, 0.25)), camera)
        assert crop.copy_box == pytest.approx(box)


# ---- grids


def test_grids_lie_where_their_names_say_in_any_rectangle():
    box, aspect = (0.1, 0.2, 0.7, 0.8), 1.5
    across = 0.1 + 0.6 * np.array([1 / 3, 2 / 3])
    assert [a[0] for a, b in grid_lines("thirds", box, aspect)][:2] == pytest.approx(across)
    golden = (5**0.5 - 1) / 2
    assert [a[0] for a, b in grid_lines("golden", box, aspect)][:2] == pytest.approx(0.1 + 0.6 * np.array([1 - golden, golden]))
    assert [a[1] for a, b in grid_lines("golden", box, aspect)][2:] == pytest.approx(0.2 + 0.6 * np.array([1 - golden, golden]))
    for ratio in (1.5, 0.75):
        for (ax, ay), (bx, by) in grid_lines("rabatment", (0, 0, 1, 1), ratio):
            short = min(1.0, ratio)
            inner = ax * ratio if ratio > 1 else ay
            assert ax == bx or ay == by
            assert min(abs(inner - short), abs(max(1.0, ratio) - short - inner)) < 1e-12


@pytest.mark.parametrize("aspect", [1.5, 0.8, 1.0, 2.2])
def test_each_reciprocal_is_square_to_the_diagonal_it_is_not_on(aspect):
    scale = np.array([aspect, 1.0])
    first, second, *reciprocals = [np.subtract(b, a) * scale for a, b in grid_lines("diagonals", (0, 0, 1, 1), aspect)]
    assert len(reciprocals) == 4
    for way in reciprocals:
        assert min(abs(way @ first), abs(way @ second)) == pytest.approx(0, abs=1e-12)
    for (ax, ay), (bx, by) in grid_lines("diagonals", (0, 0, 1, 1), aspect)[2:]:
        assert ax in (0, 1) and ay in (0, 1) and 0 <= bx <= 1 and 0 <= by <= 1
