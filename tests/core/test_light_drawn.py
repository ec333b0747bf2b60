"""The drawn light against the readings: over the surface, on things from above and through the lens; and what both views show of it."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tests.support.lit import LAMP, lighting, picture, table, thing
from tests.support.scenes import camera_value
from tideflat.core.light.falling import LUMINANCE
from tideflat.core.light.on_surface import shade, surface_light
from tideflat.core.light.on_things import light_seen, things_light, things_seen
from tideflat.core.light.shadows import shadow_of
from tideflat.core.light_drawn import light_drawn, near_part, part_size, seen_through_lens, surface_size
from tideflat.core.light_pictures import light_pictures
from tideflat.core.lit import lighting_of
from tools.light_reference import document

UP = np.array([0.0, 0, 1])


@pytest.mark.parametrize("seed", range(40, 50))
def test_the_surface_is_as_bright_as_the_readings_say(seed: int) -> None:
    value = document(seed)
    lit = lighting(value)
    light = surface_light(lit, (270, 180)) @ LUMINANCE
    random = np.random.Generator(np.random.PCG64(seed))
    points = np.column_stack([random.uniform(30, 870, 60), random.uniform(30, 570, 60), np.zeros(60)])
    covered = shapely.union_all([b.footprint for b in lit.bodies.values()]).buffer(25)
    points = points[~shapely.contains_xy(covered, points[:, 0], points[:, 1])]
    lux = (lit.falling(points, np.tile(UP, (len(points), 1))) @ LUMINANCE).sum(axis=0)
    drawn = light[((600 - points[:, 1]) / 600 * 180).astype(int), (points[:, 0] / 900 * 270).astype(int)]
    off = np.abs(np.log2(drawn / lux))
    assert np.median(off) < 0.15
    assert np.percentile(off, 85) < 0.5  # at shadows' edges a place of the picture is as large as the edge


def test_a_thrown_shadow_lies_where_core_and_edge_say() -> None:
    value = table(
        [{**LAMP, "at": [100, 700, 500], "toward": [1, -1, -1], "width": 150, "height": 150}],
        [
            thing(1, {"kind": "box", "width": 90, "depth": 60, "height": 80}, 450, 300, turn=20),
            thing(2, {"kind": "sphere", "diameter": 60}, 620, 380),
        ],
    )
    lit = lighting(value)
    through = shade(lit, lit.sources[0], 450, 300)
    shadows = [shadow_of(body, lit.sources[0]) for body in lit.bodies.values()]
    core, edge = shapely.union_all([s.core for s in shadows]), shapely.union_all([s.edge for s in shadows])
    x, y = np.meshgrid((np.arange(450) + 0.5) * 2, 600 - (np.arange(300) + 0.5) * 2)
    inside = shapely.contains_xy(shapely.buffer(core, -4), x, y)
    outside = ~shapely.contains_xy(shapely.buffer(edge, 4), x, y)
    between = shapely.contains_xy(shapely.buffer(edge, -12), x, y) & ~shapely.contains_xy(shapely.buffer(core, 12), x, y)
    assert inside.any() and through[inside].max() < 0.03
    assert outside.any() and through[outside].min() > 0.99
    assert 0.05 < through[between].mean() < 0.95


def test_what_passes_glass_is_only_dimmed() -> None:
    glass = thing(1, {"kind": "cylinder", "diameter": 80, "height": 100}, 450, 300, finish="glass")
    lit = lighting(table([LAMP], [glass]))
    through = shade(lit, lit.sources[0], 90, 60)
    (owner,) = lit.owner("placement", "p1")
    assert through.min() == pytest.approx(lit.casters.passes[owner], abs=0.02) and lit.casters.passes[owner] > 0.7


def test_tops_of_things_from_above_are_as_bright_as_the_readings_say() -> None:
    tops = [
        thing(k, {"kind": "cylinder", "diameter": 90, "height": h}, x, y)
        for k, (h, x, y) in enumerate(((20, 200, 200), (90, 450, 300), (150, 700, 420), (60, 300, 450)))
    ]
    value = table([{**LAMP, "at": [-100, 800, 700], "toward": [1, -0.8, -0.9]}, {"id": "r", "kind": "room", "stops": -1}], tops)
    lit = lighting(value)
    x, y = np.meshgrid((np.arange(180) + 0.5) * 5, 600 - (np.arange(120) + 0.5) * 5)
    starts = np.stack([x, y, np.full(x.shape, 400.0)], axis=-1)
    seen = things_light(lit, things_seen(lit, starts, np.broadcast_to(-UP, starts.shape), "test"))
    for body in lit.bodies.values():
        place = np.array([[body.placement.x, body.placement.y, body.z_max]])
        lux = float((lit.falling(place, UP[None]) @ LUMINANCE).sum())
        row, column = int((600 - body.placement.y) / 5), int(body.placement.x / 5)
        patch = seen.light[row - 3 : row + 4, column - 3 : column + 4] @ LUMINANCE
        assert seen.there[row, column]
        assert abs(np.log2(patch.mean() / lux)) < 0.2


def test_metal_shows_what_it_mirrors_and_gloss_a_little_of_it() -> None:
    """A mirror on the table under a lens at 45 degrees: a lamp in its way makes it many times brighter than a matt thing there."""
    lamp = {**LAMP, "at": [450, 1000, 700], "toward": [0, -1, -1], "width": 700, "height": 700}
    found = {}
    for finish in ("matte", "gloss", "metal"):
        value = table(
            [lamp],
            [thing(1, {"kind": "box", "width": 60, "depth": 60, "height": 2}, 450, 300, finish=finish, role="hero")],
            camera={"elevation": 45, "distance": 1000},
        )
        lit = lighting(value)
        found[finish] = float((light_seen(lit, seen_through_lens(lit, picture(value), 190)) @ LUMINANCE).mean())
    assert found["metal"] > 3 * found["matte"]
    assert found["matte"] * 1.05 < found["gloss"] < found["metal"]


def test_it_is_one_where_it_is_exposed_for_and_half_grey_there() -> None:
    hero = thing(1, {"kind": "cylinder", "diameter": 120, "height": 20}, 450, 300, role="hero")
    drawn, _ = light_drawn(picture(table([{**LAMP, "at": [450, 300, 1500]}], [hero])))
    middle = drawn.table_things.light[drawn.table_things.there]
    assert np.median(middle @ LUMINANCE) == pytest.approx(1, abs=0.1)
    pictures = light_pictures(light_drawn(picture(table([], [hero])))[0])  # with the usual window
    assert all(
        pictures[key].startswith("data:image/png;base64,") for key in ("table_ground", "frame_ground", "frame_things", "table_things")
    )
    assert len("".join(str(v) for v in pictures.values())) < 400_000


def test_while_lights_move_what_surfaces_see_of_each_other_is_taken_over() -> None:
    value = document(42)
    now = picture(value)
    before = lighting_of(now)
    assert before.exchange.shape[0] == before.casters.patch_count
    value["lights"][0]["at"][0] -= 100
    moved = lighting_of(picture(value)).knowing(before)
    assert moved.exchange is before.exchange
    fresh = lighting_of(picture(value))
    points = np.array([[200.0, 300, 0], [700, 200, 0]])
    a, b = ((lit.falling(points, np.tile(UP, (2, 1))) @ LUMINANCE).sum(axis=0) for lit in (moved, fresh))
    assert a == pytest.approx(b, rel=0.01)
    with_card = document(43)
    assert lighting_of(picture(with_card)).knowing(before).exchange is not before.exchange


@pytest.mark.parametrize("change", ["off", "one more", "gone", "stronger", "turned"])
def test_what_is_taken_over_gives_the_same_picture_as_from_the_start(change: str) -> None:
    """A light comes, goes, dims or moves: everything else that was known still counts, and nothing is taken for what it is not."""
    things = [
        thing(1, {"kind": "bowl", "diameter": 160, "base_diameter": 80, "height": 55}, 450, 300, role="hero"),
        thing(2, {"kind": "box", "width": 90, "depth": 60, "height": 80}, 650, 350, finish="satin"),
    ]
    card = {"id": "card", "kind": "white", "at": [900, 300, 200], "toward": [-1, 0, 0], "width": 400, "height": 300}
    side = {**LAMP, "id": "side", "at": [-400, 500, 500], "toward": [1, -0.2, -0.4], "kelvin": 3200}
    value = table([LAMP, side], things, cards=[card])
    _, before = light_drawn(picture(value))
    lights = {
        "off": [LAMP, {**side, "on": False}],
        "one more": [LAMP, {**side, "id": "new", "at": [1300, 500, 500], "toward": [-1, -0.2, -0.4]}, side],
        "gone": [side],
        "stronger": [{**LAMP, "stops": 1}, side],
        "turned": [LAMP, {**side, "toward": [1, -0.5, -0.4]}],
    }[change]
    now = picture({**value, "lights": lights})
    taken, _ = light_drawn(now, before=before)
    fresh, _ = light_drawn(now)
    for part in ("surface", "frame_ground"):
        assert np.abs(getattr(taken, part) - getattr(fresh, part)).max() < 0.02
    for part in ("table_things", "frame_things"):
        assert np.abs(getattr(taken, part).light - getattr(fresh, part).light).max() < 0.02


def test_a_part_of_the_surface_is_lit_as_it_is_in_the_whole() -> None:
    lit = lighting(document(3))
    whole, part = surface_light(lit, (450, 300)), (200.0, 100.0, 500.0, 400.0)
    cut = surface_light(lit, (150, 150), part=part)
    off = np.abs(np.log2(cut @ LUMINANCE / (whole[100:250, 100:250] @ LUMINANCE)))
    assert np.median(off) < 0.02 and np.percentile(off, 90) < 0.1  # shadows' edges lie between places


def hard(distance: float, **more):
    """A box in hard light from the side, seen from above."""
    box = thing(1, {"kind": "box", "width": 40, "depth": 40, "height": 30}, 450, 300, role="hero")
    lamp = {**LAMP, "at": [-900, 300, 700], "toward": [1, 0, -0.5], "width": 15, "height": 15}
    return table([lamp], [box], camera={"elevation": 90, "distance": distance, "aim": [450, 300, 0]}, surface={"name": "t", "width": 900, "depth": 600, "colours": [{"hex": "#c8c8c8", "share": 1}]}, **more)


def test_a_close_frame_has_light_of_its_own_and_a_wide_one_that_of_the_table() -> None:
    close, wide = picture(hard(400)), picture(hard(1400))
    part = near_part(close)
    assert part is not None and near_part(wide) is None
    assert near_part(picture({**hard(400), "setups": [{"name": "main", "camera": camera_value(elevation=3, distance=400)}]})) is None  # to the horizon
    covered = close.view.frame_width / close.view.principal_distance * close.view.position[2]
    assert part[2] - part[0] == pytest.approx(covered, rel=0.05)
    assert max(part_size(part)) / (part[2] - part[0]) > 2 * surface_size(lighting(hard(400)))[0] / 900


def test_a_hard_shadow_in_a_close_frame_ends_within_a_millimetre() -> None:
    value = hard(400)
    drawn, _ = light_drawn(picture(value))
    row = drawn.frame_ground[drawn.frame_ground.shape[0] // 2] @ LUMINANCE
    close = picture(value).view
    mm = close.frame_width / close.principal_distance * close.position[2] / len(row)
    right = row[len(row) // 2 :]
    dark, light = right.min(), np.percentile(right, 95)
    between = ((right > dark + 0.2 * (light - dark)) & (right < dark + 0.8 * (light - dark))).sum() * mm
    assert dark < 0.5 * light and between < 2.5


def test_a_side_no_wider_than_a_place_is_as_light_as_what_it_is_the_edge_of() -> None:
    """A thin leaf lit from behind: its near side is dark, and a place or less wide."""
    leaf = thing(1, {"kind": "outline", "points": [[-60, 0], [0, -25], [60, 0], [0, 25]], "height": 1.5}, 450, 300, role="hero")
    value = table([{**LAMP, "at": [450, 1200, 600], "toward": [0, -1, -0.6]}], [leaf], camera={"elevation": 35, "distance": 700})
    drawn, _ = light_drawn(picture(value))
    light = (drawn.frame_things.light @ LUMINANCE)[drawn.frame_things.there]
    assert np.percentile(light, 2) > 0.75 * np.median(light)  # its tips have nothing beside them
    thick = table([{**LAMP, "at": [450, 1200, 600], "toward": [0, -1, -0.6]}], [thing(1, {"kind": "box", "width": 120, "depth": 50, "height": 60}, 450, 300, role="hero")], camera={"elevation": 35, "distance": 700})
    drawn, _ = light_drawn(picture(thick))
    light = (drawn.frame_things.light @ LUMINANCE)[drawn.frame_things.there]
    assert light.min() < 0.5 * np.percentile(light, 90)  # a side that is seen stays dark
