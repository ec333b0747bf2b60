"""A lens measured from a photograph of a sheet, through the interface and on the command line."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from tideflat.cli import main
from tideflat.core.camera.zooms import set_to
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.models import CameraBody, StoreLens
from tideflat.web.stores.queries import core_lens, kit_lens

from ..support.sheets import Taken

pytestmark = pytest.mark.django_db
M = 36 / 420
TAKEN = Taken((36.0, 24.0), 50, 50 * (1 + M) ** 2 / M, k=(-0.15, 0.0), tilt=1.0, pixels_wide=1200)


@pytest.fixture(scope="module")
def jpeg() -> bytes:
    return TAKEN.jpeg()


def body(studio: Studio) -> CameraBody:
    return CameraBody.objects.create(
        studio=studio, name="full frame", sensor_width_mm=36, sensor_height_mm=24, pixels_wide=6000, pixels_high=4000
    )


def sent(jpeg: bytes, body: CameraBody, **more: str) -> dict[str, object]:
    photograph = SimpleUploadedFile("sheet.jpg", jpeg, "image/jpeg")
    return {"body": body.pk, "distance": f"{TAKEN.distance:.1f} mm", "sheet": "a4", "photograph": photograph, **more}


def test_what_a_photograph_tells_comes_into_the_form_and_is_kept_when_asked(ada: Client, studio: Studio, jpeg: bytes) -> None:
    lens = StoreLens.objects.create(studio=studio, name="fifty", focal_length_mm=50, max_aperture=1.8, min_aperture=16, min_focus_mm=450)
    answer = ada.post(reverse("measure_lens", args=[lens.pk]), sent(jpeg, body(studio)))
    assert answer.status_code == 200
    assert "as on a barrel" in answer.content.decode()
    lens.refresh_from_db()
    assert lens.measured_width_mm is None, "nothing is kept before it is asked"
    form = {f["asked"].name: f["text"] for f in answer.context["fields"]}
    assert float(form["measured_width_mm"]) == pytest.approx(TAKEN.covers, rel=1e-3)
    ada.post(reverse("kit_item", args=["lens", lens.pk]), form)
    lens.refresh_from_db()
    kept = core_lens(lens)
    assert kept.measured is not None
    assert kept.measured.width == pytest.approx(TAKEN.covers, rel=1e-3)
    assert kept.distortion[0] == pytest.approx(-0.15, abs=0.02)
    assert kept.distortion[2:] == (0.0, 0.0, 0.0)


def test_a_zoom_bends_as_measured_where_it_was_measured_only(ada: Client, studio: Studio, jpeg: bytes) -> None:
    lens = StoreLens.objects.create(
        studio=studio, name="zoom", focal_length_mm=24, longest_mm=70, max_aperture=4, min_aperture=22, min_focus_mm=380, max_magnification=0.3
    )  # fmt: skip
    there = body(studio)
    answer = ada.post(reverse("measure_lens", args=[lens.pk]), sent(jpeg, there, set_to="50"))
    form = {f["asked"].name: f["text"] for f in answer.context["fields"]}
    ada.post(reverse("kit_item", args=["lens", lens.pk]), form)
    lens.refresh_from_db()
    kept = kit_lens(lens)
    assert set_to(kept, 50).distortion == kept.lens.distortion != ()
    assert set_to(kept, 70).distortion == ()
    refused = ada.post(reverse("measure_lens", args=[lens.pk]), sent(jpeg, there, set_to="85"))
    assert refused.status_code == 400
    assert "from 24 to 70" in refused.content.decode()


def test_a_wrong_body_and_no_photograph_are_told_and_what_is_kept_stays(ada: Client, studio: Studio, jpeg: bytes) -> None:
    lens = StoreLens.objects.create(studio=studio, name="fifty", focal_length_mm=50, max_aperture=1.8, min_aperture=16, min_focus_mm=450)
    square = CameraBody.objects.create(
        studio=studio, name="four thirds", sensor_width_mm=17.3, sensor_height_mm=13, pixels_wide=5184, pixels_high=3888
    )
    address = reverse("measure_lens", args=[lens.pk])
    for data, words in (
        (sent(jpeg, square), "whole frame"),
        ({**sent(jpeg, square), "body": "999999"}, "a body of yours"),
        ({"body": square.pk, "distance": "600", "sheet": "a4"}, "photograph"),
        (sent(b"not a picture", square), "JPEG"),
    ):
        answer = ada.post(address, data)
        assert answer.status_code == 400
        assert words in answer.content.decode()
        assert 'value="fifty"' in answer.content.decode()


@pytest.mark.parametrize(
    ("text", "words"), [("1, 2, 3, 4, 5, 6", "at most 5"), ("a", "commas between"), ("101", "within 100"), ("nan", "within 100")]
)
def test_terms_that_no_lens_has_are_refused(ada: Client, studio: Studio, text: str, words: str) -> None:
    form = {"name": "l", "focal_length_mm": "50", "max_aperture": "2", "min_aperture": "16", "min_focus_mm": "450 mm", "distortion": text}
    answer = ada.post(reverse("new_kit_item", args=["lens"]), form)
    assert answer.status_code == 400
    assert words in answer.content.decode()


def test_the_command_prints_the_document_s_keys(tmp_path: Path, jpeg: bytes, capsys: pytest.CaptureFixture[str]) -> None:
    photo = tmp_path / "sheet.jpg"
    photo.write_bytes(jpeg)
    asked = ["measure-lens", str(photo), "--sensor", "36x24", "--distance", f"{TAKEN.distance}", "--focal-length", "50"]
    assert main(asked) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["measured"]["width"] == pytest.approx(TAKEN.covers, rel=1e-3)
    assert said["sure"] is True and said["why"] is None
    for wrong, words in (
        ([*asked[:2]], "--sensor and --distance"),
        ([*asked[:3], "36", *asked[4:]], "--sensor: must be WIDTHxHEIGHT"),
        ([*asked[:5], "49"], "--distance: must be a number from 50"),
        ([*asked, "--sheet", "a3"], "--sheet: must be a4 or letter"),
        (["measure-lens", "none.jpg", *asked[2:]], "none.jpg: must be a file"),
        ([*asked, "--lens", "1"], "must be one of"),
        ([*asked[:3], "17.3x13", *asked[4:]], "photograph: must be the whole frame"),
    ):
        assert main(wrong) == 2
        out, err = capsys.readouterr()
        assert out == "" and words in err and err.count("\n") == 1
