"""Plain solids found by their edges, and what is a thing, in plane pictures drawn from a lens that stands where it is told."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, scale, translate

from tideflat.core.errors import FieldError
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.pose import Pose
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.sheet import FoundSheet
from tideflat.core.vision.solid_edges import SolidSeen
from tideflat.core.vision.solid_fits import Start, fits_to_edges
from tideflat.core.vision.things_seen import ThingSeen, flat_solids, things_seen

EYE = np.array([40.0, -230.0, 420.0])
PER_MM, LEFT, FAR = 2.0, -330.0, 260.0
SIZE = (1300, 1000)
BOX = (-325.0, -235.0, 315.0, 255.0)
TABLE, PAPER, SHADOW = (124, 92, 66), (238, 236, 230), (30, 24, 20)


def found_from(eye=EYE) -> FoundSheet:
    """A sheet in a picture that is the plane itself, two pixels a mm."""
    matrix = np.array([[PER_MM, 0, -LEFT * PER_MM], [0, -PER_MM, FAR * PER_MM], [0, 0, 1.0]])
    corners = np.array([[-105, 148.5], [105, 148.5], [105, -148.5], [-105, -148.5]])
    pixels = (np.column_stack([corners, np.ones(4)]) @ matrix.T)[:, :2]
    return FoundSheet(pixels, (210.0, 297.0), Pose(matrix, np.array(eye, dtype=float), 800.0, "camera", 30.0, 0.0, np.eye(3)), 1.0, 0.1)


def drawn(*shapes: tuple[shapely.Polygon, tuple[int, int, int]], seed: int = 4) -> np.ndarray:
    """(h, w, 3): table and paper, then each polygon (mm) in its colour, one over the other, its edges smooth, with a camera's noise."""
    picture = np.full((SIZE[1], SIZE[0], 3), TABLE, np.float32)
    for polygon, colour in ((shapely.box(-105, -148.5, 105, 148.5), PAPER), *shapes):
        for part in getattr(polygon, "geoms", [polygon]):
            ring = (np.array(part.exterior.coords) - [LEFT, FAR]) * [PER_MM, -PER_MM]
            low = np.clip(np.floor(ring.min(axis=0)).astype(int) - 1, 0, SIZE)
            high = np.clip(np.ceil(ring.max(axis=0)).astype(int) + 1, 0, SIZE)
            wide, high_px = high - low
            if wide <= 0 or high_px <= 0:
                continue
            cover = np.zeros((high_px * 4, wide * 4), np.uint8)
            cv2.fillPoly(cover, [np.rint(((ring - low) * 4 - 0.5) * 256).astype(np.int32)], 255, cv2.LINE_8, 8)
            share = cv2.resize(cover, (int(wide), int(high_px)), interpolation=cv2.INTER_AREA).astype(np.float32)[..., None] / 255
            here = picture[low[1] : high[1], low[0] : high[0]]
            here[:] = here * (1 - share) + np.array(colour, np.float32) * share
    picture = cv2.GaussianBlur(picture, (0, 0), 0.8) + np.random.default_rng(seed).normal(0, 1.5, picture.shape)
    return np.clip(picture, 0, 255).astype(np.uint8)


def thrown(foot: shapely.Polygon, height: float, eye=EYE) -> shapely.Polygon:
    k = eye[2] / (eye[2] - height)
    return scale(foot, k, k, origin=(eye[0], eye[1]))


def standing(foot: shapely.Polygon, height: float, top, side, eye=EYE) -> list:
    """A prism: its side, and its top over it."""
    roof = thrown(foot, height, eye)
    return [(foot.union(roof).convex_hull, side), (roof, top)]


def disc(x, y, wide) -> shapely.Polygon:
    return shapely.Point(x, y).buffer(wide / 2, quad_segs=60)


def block(x, y, wide, deep, turn=0.0) -> shapely.Polygon:
    return rotate(shapely.box(x - wide / 2, y - deep / 2, x + wide / 2, y + deep / 2), np.degrees(turn), origin=(x, y))


def seen(shapes, height, eye=EYE) -> list[ThingSeen]:
    return things_seen(drawn(*shapes), found_from(eye), BOX, height)


def sides_of(thing: ThingSeen) -> list[float]:
    return sorted(cv2.minAreaRect(np.array(thing.foot.exterior.coords, dtype=np.float32))[1])


RED, DARK_RED, BLUE, DARK_BLUE = (176, 54, 44), (96, 30, 26), (60, 96, 150), (30, 48, 78)


@pytest.mark.parametrize("height", [0.0, 7.0, 95.0])
@pytest.mark.parametrize("eye", [EYE, np.array([0.0, 0, 500]), np.array([-180.0, -60, 330])])
def test_a_disc_of_any_height_from_anywhere(height, eye):
    (thing,) = seen(standing(disc(70, 40, 76), height, RED, DARK_RED, eye), height, eye)
    assert thing.solid is not None and thing.solid.kind == "disc" and not thing.doubts
    assert thing.solid.values == pytest.approx([70, 40, 76], abs=0.3)


@pytest.mark.parametrize("turn", [0.0, 0.4, 1.2])
def test_a_box_without_the_black_strip_that_its_side_and_its_shadow_are(turn):
    """A hard, narrow shadow below an unlit side: the strip is no part of the top, however sharp its outer edge."""
    foot = block(-190, 40, 104, 84, turn)
    shade = translate(foot, 7, -9).union(foot).convex_hull
    (thing,) = seen([(shade, SHADOW), *standing(foot, 8, BLUE, (34, 28, 26))], 8)
    assert thing.doubts or sides_of(thing) == pytest.approx([84, 104], abs=1.0)
    assert turn == 1.2 or not thing.doubts


def test_an_oval_a_taper_and_a_ball():
    oval = scale(disc(0, 0, 1), 120, 80, origin=(0, 0))
    (thing,) = seen(standing(translate(rotate(oval, 30, origin=(0, 0)), 20, 30), 30, BLUE, DARK_BLUE), 30)
    assert thing.solid.kind == "oval" and sides_of(thing) == pytest.approx([80, 120], abs=0.5)
    rim, base = thrown(disc(40, 20, 84), 72), disc(40, 20, 58)
    (cup,) = seen([(rim.union(base).convex_hull, DARK_RED), (rim, RED)], 72)
    assert cup.solid.kind == "taper" and cup.solid.values == pytest.approx([40, 20, 84, 58], abs=0.5)
    # a ball: the cone of rays that touch it, by points of the ball thrown on the plane
    turns = np.random.default_rng(1).normal(size=(30_000, 3))
    points = np.array([10, 60, 37.0]) + 37 * turns / np.linalg.norm(turns, axis=1)[:, None]
    t = EYE[2] / (EYE[2] - points[:, 2])
    (ball,) = seen([(shapely.MultiPoint(EYE[:2] + (points[:, :2] - EYE[:2]) * t[:, None]).convex_hull, (214, 120, 40))], 74)
    assert ball.solid.kind == "ball" and ball.solid.values == pytest.approx([10, 60, 74], abs=0.7)


def test_white_on_white_is_told_by_its_rim():
    rim = thrown(disc(20, 10, 140), 16)
    inner = disc(20, 12, 84)
    (thing,) = seen([(rim, (246, 245, 242)), (rim.difference(translate(rim, 6, 5)), (222, 220, 214)), (inner, (242, 241, 238))], 16)
    assert thing.solid is not None and thing.solid.values[2] == pytest.approx(140, abs=0.8)


def test_a_bowl_is_not_its_spoon():
    spoon = disc(-220, 0, 42).union(shapely.box(-222, -5, -70, 5))
    wood = (88, 60, 36)
    (thing,) = seen([(translate(rotate(spoon, 60, origin=(-160, 0)), -60, 10), wood)], 0)
    assert thing.solid is None and sides_of(thing)[1] == pytest.approx(171, abs=2) and not thing.doubts
    (cut, *_) = seen([(rotate(spoon, 20, origin=(-180, 0)), wood)], 0)  # a thin handle over the sheet's edge
    assert cut.doubts or sides_of(cut)[1] == pytest.approx(171, abs=2)


def test_stripes_of_a_cloth_as_pale_as_its_ground_are_not_sure_to_be_all_of_it():
    pale = (140, 108, 80)
    stripes = [(block(200 + 30 * k, 0, 14, 120), (150, 40, 50)) for k in (-1, 0, 1)]
    (thing, *_) = seen([(block(200, 0, 100, 120), pale), *stripes], 0)
    whole = sides_of(thing) == pytest.approx([100, 120], abs=1.5)
    assert whole or thing.doubts


def test_several_things_are_told_the_largest_first():
    shapes = [
        (disc(0, 60, 66), (196, 130, 70)),
        (block(205, 60, 112, 72, 0.3), RED),
        (disc(-200, -60, 50), BLUE),
        (block(10, -80, 60, 30, 0.8), (60, 110, 50)),
    ]
    things = seen(shapes, 0)
    assert [round(t.foot.area, -2) for t in things] == sorted((round(p.area, -2) for p, _ in shapes), reverse=True)
    assert [sides_of(t)[1] for t in things] == pytest.approx([112, 66, 50, 60], abs=0.6)


def test_nothing_but_the_sheet_is_said():
    with pytest.raises(FieldError, match="nothing was found"):
        seen([], 0)


def test_a_top_is_found_flat_whatever_its_height():
    """Its outline on the plane, from which two pictures tell how high it is."""
    foot = disc(60, 40, 76)
    solids = flat_solids(drawn(*standing(foot, 95, RED, DARK_RED)), found_from(), BOX)
    k = EYE[2] / (EYE[2] - 95)
    at = EYE[:2] + k * (np.array([60, 40]) - EYE[:2])
    assert any(s.kind == "disc" and np.abs(s.values - [*at, 76 * k]).max() < 0.6 for s in solids)


def test_a_cloth_is_not_its_stripes_without_the_dark_one_at_its_border():
    """A stripe is as dark as a shadow, and far stranger: it is no shadow's."""
    stripes = [(block(195 + 36 * k, 0, 14, 120), (120, 16, 20)) for k in (-1, 0, 1)]
    (thing, *_) = seen([(block(195, 0, 100, 120), (216, 208, 190)), *stripes, (block(152, 0, 14, 120), (120, 16, 20))], 0)
    assert sides_of(thing) == pytest.approx([100, 120], abs=1.0) and not thing.doubts


def test_a_side_and_its_shadow_on_a_table_of_like_light_are_not_the_top():
    """Half as light as the ground, and of its colour: a shadow's strip below a pale thing."""
    foot = block(-196, 40, 112, 84, 0.3)
    strip = translate(foot, 1.2, -5).union(foot).convex_hull
    (thing,) = seen([(strip, (50, 38, 28)), *standing(foot, 4, (206, 176, 140), (60, 46, 36))], 4)
    assert thing.doubts or sides_of(thing) == pytest.approx([84, 112], abs=1.2)


def picture_of(shapes):
    return edge_picture(flatten(drawn(*shapes), found_from().pose.plane_to_pixel, BOX, 2.0))


def fitted(picture, kind, values, height) -> SolidSeen | None:
    return fits_to_edges(picture, [Start(kind, np.array(values))], found_from().pose, height)[0]


def test_a_start_that_is_off_comes_to_the_edges_and_one_that_runs_away_is_none():
    picture = picture_of(standing(block(150, 30, 90, 60, 0.2), 40, RED, DARK_RED))
    one = fitted(picture, "rectangle", [152.0, 28.5, 87.0, 63.0, 0.23], 40)
    assert one is not None and one.values == pytest.approx([150, 30, 90, 60, 0.2], abs=0.2) and one.seen > 0.9 and one.off_mm < 0.3
    assert fitted(picture, "rectangle", [-150.0, 30, 90, 60, 0.2], 40) is None
    smaller = fitted(picture, "rectangle", [150.0, 30, 40, 30, 0.2], 40)
    assert smaller is None or smaller.seen < 0.7


def test_many_fitted_at_once_come_to_what_each_comes_to_alone():
    height = 30.0
    shapes = [
        *standing(disc(0, 60, 66), height, (196, 130, 70), (96, 60, 30)),
        *standing(block(205, 60, 112, 72, 0.3), height, RED, DARK_RED),
        *standing(disc(-200, -60, 50), height, BLUE, DARK_BLUE),
    ]
    picture, pose = picture_of(shapes), found_from().pose
    starts = [
        Start("disc", np.array([1.5, 58.5, 69])), Start("rectangle", np.array([203.5, 61, 110, 74, 0.28])), Start("disc", np.array([90.0, -90, 40])),
        Start("rectangle", np.array([204.0, 61, 110, 70, 0.33]), "top"), Start("disc", np.array([-199, -62.0, 53]), "top"),
        Start("oval", np.array([1.0, 59, 64, 68, 0.1])), Start("taper", np.array([-1.0, 61, 68, 63])), Start("ball", np.array([-200.0, -60, 30])),
        Start("disc", np.array([0.0, 0, 3])),
    ]  # fmt: skip
    together = fits_to_edges(picture, starts, pose, height)
    alone = [fits_to_edges(picture, [start], pose, height)[0] for start in starts]
    assert [one is None for one in together].count(False) >= 4
    for n, (one, own) in enumerate(zip(together, alone, strict=True)):
        if one is None and own is not None:  # another came to the same before it
            assert any(o is not None and starts[k].kind == own.kind and o.values == pytest.approx(own.values, abs=0.5) for k, o in enumerate(together[:n]))
        elif own is None:
            assert one is None
        else:
            assert one.values == pytest.approx(own.values, abs=1e-6) and one.seen == pytest.approx(own.seen)
    again = fits_to_edges(picture, starts[:2], pose, height, [one for one in together if one is not None])
    assert again == [None, None]
    assert fits_to_edges(picture, [], pose, height) == []
