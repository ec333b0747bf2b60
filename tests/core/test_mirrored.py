"""Where lights show on gloss and metal, in the frame: against the bisector that mirrors them, on ball, cylinder, leaning cylinder and plate."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely

from tests.support.lit import lighting, picture, table, thing
from tideflat.core.light.mirrored import mirrored_on
from tideflat.core.light.smooth import smoothed
from tideflat.core.solids.body import Body

BALL = {"kind": "sphere", "diameter": 120}
TALL = {"kind": "cylinder", "diameter": 90, "height": 220}
PLATE = {"kind": "box", "width": 260, "depth": 180, "height": 10}


def lamp(at, toward, size=60, **more):
    return {"id": "lamp", "kind": "lamp", "at": at, "toward": toward, "width": size, "height": size, **more}


def shown(value, *, least=0.0):
    seen = picture(value)
    boxes = [(i, t.visible.bounds) for i, t in seen.things.items() if t.visible.area > least]
    return seen, mirrored_on(lighting(value), seen.view, boxes)


def frame_place(view, place):
    """(u, v) where a place is seen."""
    u, v, _ = view.straight(np.array([place]))[0]
    return u, v


def middle_of(one):
    return np.array(shapely.union_all([shapely.Polygon(r).buffer(0) for r in one.rings]).centroid.coords[0])


def mirror_place_on_ball(centre, radius, lens, light):
    """Where on a ball the light is mirrored to the lens: its normal bisects both ways (found by descent; independent of the core)."""
    normal = (lens - centre) / np.linalg.norm(lens - centre)
    for _ in range(200):
        at = centre + radius * normal
        a, b = (lens - at) / np.linalg.norm(lens - at), (light - at) / np.linalg.norm(light - at)
        normal = 0.5 * normal + 0.5 * (a + b) / np.linalg.norm(a + b)
        normal = normal / np.linalg.norm(normal)
    return centre + radius * normal


@pytest.mark.parametrize("at", [(-300, 300, 700), (900, 700, 500), (450, 300, 1400), (300, -200, 900)])
def test_a_ball_shows_a_lamp_where_the_bisector_says(at):
    value = table(
        [lamp(at, [450 - at[0], 300 - at[1], 60 - at[2]])],
        [thing(1, BALL, 450, 300, finish="gloss", role="hero")],
        camera={"elevation": 40},
    )
    seen, found = shown(value)
    (one,) = [s for s in found if s.kind == "lights"]
    assert (one.placement, one.meets) == ("p1", "lamp")
    place = mirror_place_on_ball(np.array([450, 300, 60.0]), 60.0, seen.view.position, np.array(at, dtype=float))
    assert np.abs(middle_of(one) - frame_place(seen.view, place)).max() < 0.004


@pytest.mark.parametrize("lean", [0, 25])
def test_a_round_wall_shows_a_strip_as_a_line_not_as_facets(lean):
    """A tall strip beside an upright cylinder, seen at eye level, is mirrored along a line where the level bisector says."""
    more = {"lean": lean, "lean_toward": 0, "held_by": "tape"} if lean else {}
    up_mm, high = (700, 2600) if lean else (120, 900)  # what leans that way looks up
    strip = {"id": "strip", "kind": "lamp", "at": [-250, 100, up_mm], "toward": [700, 200, 0], "width": 40, "height": high}
    value = table([strip], [thing(1, TALL, 450, 300, finish="gloss", role="hero", **more)], camera={"elevation": 3, "distance": 1200})
    seen, found = shown(value)
    (one,) = [s for s in found if s.kind == "lights"]
    body = seen.bodies["p1"]
    centre = body.placed_point(np.array([0.0, 0, 110.0]))
    up = body.turned @ np.array([0.0, 0, 1])
    lens = seen.view.position
    best, place = None, None
    for angle in np.radians(np.arange(0, 360, 0.02)):
        normal = body.turned @ np.array([math.cos(angle), math.sin(angle), 0])
        at = centre + 45 * normal
        way = (at - lens) / np.linalg.norm(at - lens)
        after = way - 2 * (way @ normal) * normal
        out = np.array([700, 200, 0]) / math.hypot(700, 200)
        if (at - lens) @ normal >= 0 or after @ out >= 0:
            continue
        met = at + after * ((np.array([-250, 100, 120]) - at) @ out) / (after @ out)
        along = np.array([-out[1], out[0], 0])
        off = abs((met - [-250, 100, 120]) @ along)
        if best is None or off < best:
            best, place = off, at
    assert best is not None and best < 2 and place is not None
    u, v = frame_place(seen.view, place)
    outline = shapely.union_all([shapely.Polygon(r).buffer(0) for r in one.rings])
    assert outline.distance(shapely.Point(u, v)) < 0.002
    row = outline.intersection(shapely.LineString([(0, v), (1, v)]))
    if not lean:
        assert row.centroid.x == pytest.approx(u, abs=0.003) and len(one.rings) == 1  # one band, not one a facet
    assert up[2] > 0.8


def test_a_flat_plate_shows_a_lamp_whose_mirror_image_it_covers():
    value = table(
        [lamp([450, 900, 400], [0, -1, -0.5], 200)], [thing(1, PLATE, 450, 300, finish="metal", role="hero")], camera={"elevation": 35}
    )
    seen, found = shown(value)
    lens, image = seen.view.position, np.array([450, 900, 2 * 10 - 400.0])  # the lamp's middle mirrored in the plate's top
    cut = lens + (image - lens) * (10 - lens[2]) / (image[2] - lens[2])
    on_plate = abs(cut[0] - 450) <= 130 and abs(cut[1] - 300) <= 90
    lamps = [s for s in found if s.kind == "lights"]
    assert on_plate == bool(lamps)
    if lamps:
        assert shapely.Polygon(lamps[0].rings[0]).distance(shapely.Point(*frame_place(seen.view, cut))) < 0.003


def test_what_stands_before_a_lamp_hides_it_and_a_card_shows_itself():
    card = {"id": "card", "kind": "white", "at": [-60, 300, 250], "toward": [1, 0, -0.3], "width": 500, "height": 500}
    bare = table([lamp((-300, 300, 300), [1, 0, -0.3])], [thing(1, BALL, 450, 300, finish="gloss", role="hero")], camera={"elevation": 40})
    assert {s.meets for s in shown(bare)[1]} == {"lamp", "lens"}
    assert {s.meets for s in shown({**bare, "cards": [card]})[1]} == {"card", "lens"}


def test_the_lens_shows_where_a_ball_faces_it_and_matt_shows_nothing():
    ball = table(
        [lamp((-300, 300, 700), [1, 0, -0.5])],
        [thing(1, BALL, 450, 300, finish="metal", role="hero")],
        camera={"elevation": 40, "distance": 500},
    )
    (lens,) = [s for s in shown(ball)[1] if s.kind == "lens"]
    seen = picture(ball)
    facing = np.array([450, 300, 60.0]) + 60 * (seen.view.position - [450, 300, 60]) / np.linalg.norm(seen.view.position - [450, 300, 60])
    assert np.abs(middle_of(lens) - frame_place(seen.view, facing)).max() < 0.004
    for finish in ("matte", "satin", "glass"):
        assert shown(table([lamp((-300, 300, 700), [1, 0, -0.5])], [thing(1, BALL, 450, 300, finish=finish, role="hero")]))[1] == []


def test_what_lies_in_a_dish_mirrors_nothing():
    dish = {"kind": "bowl", "diameter": 240, "base_diameter": 160, "height": 50}
    things = [thing(1, dish, 450, 300, finish="metal", role="hero")]
    value = table([lamp((450, 700, 500), [0, -400, -480], 200)], things, camera={"elevation": 50})
    empty = shown(value)[1]
    value["props"][0]["texture"] = "filled"
    full = shown(value)[1]
    assert sum(s.share for s in full) < sum(s.share for s in empty)


def bodied(shape, **more) -> Body:
    return picture(table([], [thing(1, shape, 450, 300, **more)])).bodies["p1"]


@pytest.mark.parametrize(
    "shape",
    [
        TALL,
        {"kind": "cone", "top_diameter": 80, "base_diameter": 120, "height": 160},
        {"kind": "ellipse", "width": 200, "depth": 90, "height": 70},
    ],
)
@pytest.mark.parametrize("lean", [0, 30])
def test_the_wall_of_a_turned_thing_is_smooth(shape, lean):
    """Against the gradient of the implicit wall in the thing's own axes, by small differences."""
    body = bodied(shape, lean=lean, lean_toward=40, turn=25)
    circles = body.local.circles
    low, high = circles[0], circles[-1]
    rise = high[0][2] - low[0][2]

    def wall(p):
        t = p[2] / rise
        a, b = (np.linalg.norm(low[k]) + t * (np.linalg.norm(high[k]) - np.linalg.norm(low[k])) for k in (1, 2))
        return (p[0] / a) ** 2 + (p[1] / b) ** 2

    rng = np.random.default_rng(7)
    for _ in range(12):
        angle, t = rng.uniform(0, 2 * math.pi), rng.uniform(0.1, 0.9)
        a, b = (np.linalg.norm(low[k]) + t * (np.linalg.norm(high[k]) - np.linalg.norm(low[k])) for k in (1, 2))
        local = np.array([a * math.cos(angle), b * math.sin(angle), t * rise])
        slope = np.array([(wall(local + d) - wall(local - d)) for d in 1e-3 * np.eye(3)])
        true = body.turned @ (slope / np.linalg.norm(slope))
        facet = true + 0.05 * rng.normal(size=3)
        found = smoothed(body, body.placed_point(local)[None], (facet / np.linalg.norm(facet))[None])[0]
        assert math.degrees(math.acos(min(1.0, found @ true))) < 0.6


def test_ends_and_what_is_not_turned_keep_their_facets():
    up = np.array([[0.0, 0, 1]])
    for shape in (TALL, PLATE, BALL):
        body = bodied(shape)
        assert np.array_equal(smoothed(body, np.array([[460.0, 310, body.z_max]]), up), up)


@pytest.mark.parametrize(("height", "is_mirrored"), [(480, True), (1200, False)])
def test_a_glossy_print_behind_mirrors_the_lamp_only_from_where_its_mirror_image_meets_the_lens(height, is_mirrored):
    """By hand: a panel upright at y = 570 shows what lies as far behind it. The lens stands low before it; it sees the panel up to z = 600."""
    panel = {"kind": "box", "width": 900, "depth": 4, "height": 600}
    things = [thing(1, panel, 450, 570, finish="gloss"), thing(2, BALL, 450, 200, role="hero")]
    value = table([lamp([450, -900, height], [0, 1, -0.2])], things, camera={"elevation": 0, "aim": [450, 400, 200], "distance": 1500})
    seen, found = shown(value)
    on_print = [s for s in found if s.placement == "p1" and s.kind == "lights"]
    assert bool(on_print) is is_mirrored
    lens, image = seen.view.position, np.array([450, 2 * 568 + 900, height])  # the panel's front stands at 568
    share = (568 - lens[1]) / (image[1] - lens[1])
    z = lens[2] + share * (image[2] - lens[2])
    assert bool(z < 600) is is_mirrored
    if is_mirrored:
        assert middle_of(on_print[0]) == pytest.approx(frame_place(seen.view, [450, 568, z]), abs=0.01)
