"""A range framed alike, and the wide, the medium and the close of one scene."""

from __future__ import annotations

import copy

import cv2
import numpy as np
import pytest

from tests.support.scenes import picture, scene, scene_value
from tideflat.core.acts.registry import acts_from_value, perform_all
from tideflat.core.camera.framing import covered_mm
from tideflat.core.errors import TideflatError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import scene_value as written
from tideflat.core.frame.series import SAME_MM, article, series_of
from tideflat.core.report import evaluation


def catalogue(elevation: float = 0.0, **camera) -> dict:
    """A jar in one set-up, a larger one and a bottle in its place in two others, whose cameras and crops are anything."""
    value = scene_value(elevation=elevation, aim=[430, 310, 60], distance=1100, **camera)
    value["props"].append({"id": "large", "name": "large jar", "shape": {"kind": "cylinder", "diameter": 92, "height": 130}})
    value["setups"][0]["deliverables"] = [{"name": "shop", "ratio": "1:1", "pixels": [1200, 1200], "scale": 0.8}]
    for name, prop, distance in (("large", "large", 950), ("bottle", "bottle", 1300)):
        other = copy.deepcopy(value["setups"][0])
        other |= {"name": name, "swap": {"p1": prop}, "deliverables": []}
        other["camera"] |= {"distance": distance, "aim": [445, 310, 80]}
        value["setups"].append(other)
    return value


def framed_alike(value: dict):
    act = [{"act": "series", "setup": "main", "others": ["large", "bottle", "main"]}]
    return perform_all(scene(value), acts_from_value(act))


def pictures(read) -> list[Picture]:
    return [Picture(read, s) for s in read.setups]


@pytest.mark.parametrize("elevation", [0.0, 25.0, 60.0])
def test_a_range_is_no_series_until_it_is_framed_alike(elevation: float) -> None:
    value = catalogue(elevation)
    before = series_of(pictures(scene(value)))
    assert before is not None and not before.is_alike
    found = series_of(pictures(framed_alike(value)))
    assert found is not None and found.is_alike, found
    assert len(found.articles) == 3
    sizes = [a.size for a in found.articles]
    assert sizes[1][0] > sizes[0][0] + 5, "articles of other sizes stay so"


def test_scale_and_middle_are_the_same_to_a_millimetre_by_opencv() -> None:
    """The jars' own edges through OpenCV's projection: both middles within a millimetre, a millimetre as many pixels in each."""
    after = written(framed_alike(catalogue()))
    middles, scales = [], []
    for setup, (wide, high) in zip(after["setups"][:2], ((76, 95), (92, 130)), strict=True):
        camera = setup["camera"]
        aim, distance = np.array(camera["aim"], dtype=float), camera["distance"]
        f = camera["lens"]["focal_length"]
        c = f * (1 + f / (distance - f)) * 6000 / 36
        eye = aim + [0, -distance, 0]
        turned = np.array([[1.0, 0, 0], [0, 0, -1.0], [0, 1.0, 0]])
        at = np.array(
            [[430 - wide / 2, 310, 0], [430 + wide / 2, 310, 0], [430 - wide / 2, 310, high], [430 + wide / 2, 310, high]], dtype=float
        )
        seen = cv2.projectPoints(at, cv2.Rodrigues(turned)[0], -turned @ eye, np.array([[c, 0, 3000], [0, c, 2000], [0, 0, 1.0]]), None)[0][
            :, 0
        ]
        scales.append((seen[1, 0] - seen[0, 0]) / wide)
        middles.append(seen.mean(axis=0))
    assert scales[0] == pytest.approx(scales[1], rel=SAME_MM / 130)
    assert np.abs(middles[0] - middles[1]).max() / scales[0] < SAME_MM


def test_a_focus_on_a_point_goes_along_and_the_scale_stays() -> None:
    value = catalogue(25.0)
    value["setups"][0]["camera"]["focus"] = {"point": [430, 280, 50]}
    found = series_of(pictures(framed_alike(value)))
    assert found is not None and found.is_alike, found


def test_its_crops_are_those_of_the_first() -> None:
    after = framed_alike(catalogue())
    assert [d.name for d in after.setups[2].deliverables] == ["shop"]
    assert after.setups[1].swap == (("p1", "large"),)


@pytest.mark.parametrize(("off", "is_alike"), [(0.9, True), (1.1, False)])
def test_a_millimetre_is_where_a_series_ends(off: float, is_alike: bool) -> None:
    after = written(framed_alike(catalogue()))
    after["setups"][1]["camera"]["aim"][0] += off
    found = series_of(pictures(scene(after)))
    assert found is not None and found.is_alike is is_alike


def test_without_a_hero_or_a_second_set_up_there_is_no_series() -> None:
    assert series_of([picture()]) is None
    assert series_of([picture(), picture(distance=1300)]) is None, "one article seen twice is no range"
    value = catalogue()
    value["placements"][0]["role"] = "support"
    assert series_of(pictures(scene(value))) is None
    assert article(picture(value)) is None
    for others, words in ((["main"], "another set-up"), (["no"], "no")):
        with pytest.raises(TideflatError, match=words):
            perform_all(scene(catalogue()), acts_from_value([{"act": "series", "setup": "main", "others": others}]))
    with pytest.raises(TideflatError, match="one hero"):
        perform_all(scene(value), acts_from_value([{"act": "series", "setup": "main", "others": ["large"]}]))


@pytest.mark.parametrize("elevation", [90, 35, 2])
def test_a_sequence_keeps_angle_lens_and_things_and_comes_closer_to_the_hero(elevation: float) -> None:
    value = scene_value(elevation=elevation, aim=[450, 300, 40], distance=1100)
    after = perform_all(scene(value), acts_from_value([{"act": "sequence", "setup": "main"}]))
    wide, close, medium = after.setups
    assert (close.name, medium.name) == ("main, close", "main, medium")
    sizes = [max(covered_mm(s.camera)) for s in (wide, medium, close)]
    assert sizes[0] > sizes[1] > sizes[2]
    for setup in (close, medium):
        camera = setup.camera
        assert (camera.elevation, camera.azimuth, camera.lens) == (wide.camera.elevation, wide.camera.azimuth, wide.camera.lens)
        assert (setup.hidden, setup.swap, setup.differs) == (wide.hidden, wide.swap, wide.differs)
        u, v = np.mean(np.reshape(Picture(after, setup).silhouettes["p1"].box, (2, 2)), axis=0)
        assert (u, v) == pytest.approx((0.5, 0.5), abs=0.005)
    codes = [f["code"] for f in evaluation(after, with_remedies=False)["setups"]["main, close"]["findings"]]
    assert "lens.min_focus" not in codes
    with pytest.raises(TideflatError, match="no medium one yet"):
        perform_all(after, acts_from_value([{"act": "sequence", "setup": "main"}]))


def test_a_lens_that_focuses_no_nearer_stays_as_near_as_it_does() -> None:
    value = scene_value(lens={"focal_length": 50, "min_focus": 900, "min_aperture": 22}, elevation=20, aim=[430, 310, 40], distance=950)
    close = perform_all(scene(value), acts_from_value([{"act": "sequence", "setup": "main"}])).setups[1]
    told = evaluation(
        scene(written(perform_all(scene(value), acts_from_value([{"act": "sequence", "setup": "main"}])))), with_remedies=False
    )
    assert close.camera.distance == pytest.approx(847.2, abs=1)
    assert not [f for f in told["setups"]["main, close"]["findings"] if f["code"] == "lens.min_focus"]
