"""Deliverables that move: what of the sensor they have, their pixels, how long each frame may be exposed; and rims that are trimmed."""

from __future__ import annotations

import pytest

from tests.support.scenes import picture, scene, scene_value
from tideflat.core.acts.registry import acts_from_value, perform_all
from tideflat.core.errors import DocumentError, TideflatError
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.formats.scene_writer import write_scene
from tideflat.core.moving import delivered_per_mm
from tideflat.core.report import evaluation

#: A full frame of which films have 32 x 18 mm in 3840 x 2160.
READS = {
    "width": 36,
    "height": 24,
    "pixels_wide": 6000,
    "pixels_high": 4000,
    "moving": {"width": 32, "height": 18, "pixels_wide": 3840, "pixels_high": 2160},
}


def film(exposure=None, sensor=READS, orientation="landscape", **deliverable):
    value = scene_value(sensor=sensor, orientation=orientation)
    value["setups"][0]["deliverables"] = [{"name": "film", "ratio": "16:9", "moves": 25, **deliverable}]
    if exposure is not None:
        value["setups"][0]["exposure"] = exposure
    return value


def crop(value):
    return evaluation(scene(value), with_remedies=False)["setups"]["main"]["crops"]["film"]


def told(value, code):
    return [f for f in findings(picture(value)) if f.code == code]


def test_a_film_has_what_the_sensor_reads_for_it():
    """32/36 and 18/24 about the middle, all of its pixels; by hand."""
    found = crop(film())
    assert found["box"] == pytest.approx([1 / 18, 1 / 8, 17 / 18, 7 / 8])
    assert found["pixels"] == [3840, 2160]
    assert found["share_of_frame"] == pytest.approx(32 * 18 / (36 * 24))


def test_cut_further_and_turned_upright_it_has_so_much_less():
    found = crop(film(ratio="1:1"))
    assert found["box"] == pytest.approx([0.25, 1 / 8, 0.75, 7 / 8])
    assert found["pixels"] == [2160, 2160]
    upright = crop(film(orientation="portrait", ratio="9:16"))
    assert upright["box"] == pytest.approx([1 / 8, 1 / 18, 7 / 8, 17 / 18])
    assert upright["pixels"] == [2160, 3840]


def test_a_still_and_a_film_on_a_body_that_reads_all_have_the_frame():
    assert crop(film(moves=None))["box"] == pytest.approx([0, 0.078125, 1, 0.921875])
    plain = {k: v for k, v in READS.items() if k != "moving"}
    assert crop(film(sensor=plain))["box"] == pytest.approx([0, 0.078125, 1, 0.921875])


def test_enlargement_and_smear_count_the_film_s_pixels():
    assert crop(film(pixels=[7680, 4320], ratio=None))["enlargement"] == pytest.approx(2)
    computed = picture(film(pixels=[7680, 4320], ratio=None))
    assert delivered_per_mm(computed, computed.crops[0]) == pytest.approx(7680 / 32)


@pytest.mark.parametrize(
    ("centre", "is_taken"), [((0.5, 0.5), True), ((0.5 + 1e-7, 0.5), True), ((0.51, 0.5), False), ((0.5, 0.49), False)]
)
def test_it_stays_inside_what_is_read(centre, is_taken):
    if is_taken:
        scene(film(centre=list(centre)))
        return
    with pytest.raises(DocumentError, match="moving pictures have"):
        scene(film(centre=list(centre)))


@pytest.mark.parametrize(
    ("exposure", "sides"),
    [
        ({"time_s": 0.04}, None),
        ({"time_s": 0.0401}, ("time",)),
        ({"time_s": 0.001, "flash": True}, ("flash",)),
        (None, None),
    ],
)
def test_no_frame_is_exposed_for_longer_than_it_lasts_nor_by_flash(exposure, sides):
    found = told(film(exposure), "exposure.moving")
    assert [f.sides for f in found] == ([sides] if sides else [])
    if sides:
        assert found[0].severity == "stop" and found[0].limit == pytest.approx(40)
        remedies = [f["remedy"] for f in evaluation(scene(film(exposure)))["setups"]["main"]["findings"] if f["code"] == "exposure.moving"]
        assert remedies[0]["acts"][0]["exposure"]["flash"] is False
    assert not told(film({"time_s": 1}, moves=None), "exposure.moving")


def test_what_is_written_is_read_again_and_nothing_is_written_of_stills():
    written = write_scene(scene(film()))
    assert b'"moves": 25' in written and b'"moving"' in written
    assert write_scene(read_scene(written)) == written
    assert b"moves" not in write_scene(scene(scene_value())) and b'"moving"' not in write_scene(scene(scene_value()))


@pytest.mark.parametrize(
    ("moving", "words"),
    [({"width": 36.1, "height": 18}, "width"), ({"width": 32, "height": 24.1}, "height"), ({"width": 32, "frames": 1}, "frames")],
)
def test_more_than_the_sensor_cannot_be_read(moving, words):
    with pytest.raises(DocumentError, match=words):
        scene(film(sensor={**READS, "moving": moving}))


def test_a_body_that_reads_less_keeps_the_crop_inside():
    read = scene(film(sensor={k: v for k, v in READS.items() if k != "moving"}, scale=0.5, centre=[0.25, 0.3]))
    lens = scene_value()["setups"][0]["camera"]["lens"]
    act = [{"act": "body", "setup": "main", "sensor": READS, "lens": lens}]
    after = perform_all(read, acts_from_value(act)).setups[0].deliverables[0]
    assert after.centre == pytest.approx((1 / 18 + 8 / 36, 0.1875 + 1 / 8))


def test_the_act_keeps_what_moves():
    read = scene(scene_value())
    act = [{"act": "deliverable", "setup": "main", "name": "film", "ratio": "16:9", "moves": 50}]
    assert perform_all(read, acts_from_value(act)).setups[0].deliverables[-1].moves == 50
    with pytest.raises(TideflatError, match="moves"):
        acts_from_value([{**act[0], "moves": 0.5}])


def rim(**deliverable):
    """The jar, the hero, is looked at from straight above, 420 px of 4000 wide or so, its crop laid so that it ends near its edge."""
    value = scene_value(elevation=90, distance=1100, aim=[450, 300, 0])
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "1:1", "scale": 0.5, **deliverable}]
    return value


def test_a_rim_that_takes_of_the_hero_is_told_and_the_crop_itself_is_not():
    computed = picture(rim())
    left = computed.silhouettes["p1"].box[0]
    size = computed.crops[0].box[2] - computed.crops[0].box[0]
    # the crop ends half a rim left of the hero: the rim of 4 % of its side reaches into it
    centre = [left + size / 2 - 0.02 * size, 0.5]
    assert not told(rim(centre=centre), "crop.margin")
    (kept,) = told(rim(centre=centre, safe=0.08), "crop.margin")
    assert kept.sides == ("clear",) and kept.crop == "feed"
    (trimmed,) = told(rim(centre=centre, bleed=0.08), "crop.margin")
    assert trimmed.sides == ("trimmed",)
    assert not told(rim(centre=centre, safe=0.01), "crop.margin")
    assert not told(rim(centre=centre, safe=0.08), "hero.cut")
