"""Pictures sent in: refused or made new; nothing but pixels is kept, nothing is served where a script could run."""

from __future__ import annotations

import io
import json
import re
import struct
import time
import zlib
from functools import lru_cache
from types import SimpleNamespace

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageDraw, ImageFilter

from tests.support.photographs import Shot, Thing, block, disc, photograph
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import read_photograph
from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.web.scenes.models import Reference
from tideflat.web.stores.hand_drawn import strokes_from
from tideflat.web.stores.images import SKIN_PX, keep_picture
from tideflat.web.stores.measured import example
from tideflat.web.stores.measured_shapes import shape_for
from tideflat.web.stores.models import StoreImage, StoreProp, StoreSurface
from tideflat.web.stores.views.measuring import _piece


def encoded(picture: Image.Image, kind: str = "JPEG", **more) -> bytes:
    kept = io.BytesIO()
    picture.save(kept, kind, **more)
    return kept.getvalue()


def plain(size=(640, 480), colour=(200, 120, 40)) -> Image.Image:
    return Image.new("RGB", size, colour)


def bomb(wide: int, high: int) -> bytes:
    """A PNG of a few hundred bytes whose header says that it is enormous."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    header = struct.pack(">IIBBBBB", wide, high, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b"\0" * 10_000)) + chunk(b"IEND", b"")


WRONG = {
    "svg": b'<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"><script>alert(1)</script></svg>',
    "html": b"<!doctype html><script>alert(1)</script>",
    "gif": encoded(plain((20, 20)), "GIF"),
    "tiff": encoded(plain((20, 20)), "TIFF"),
    "empty": b"",
    "cut short": encoded(plain(), "JPEG")[:400],
    "jpeg head on html": b"\xff\xd8\xff\xe0" + b"<script>alert(1)</script>" * 20,
    "bomb": bomb(60_000, 60_000),
    "wide bomb": bomb(2_000_000_000, 1),
    "tiny": encoded(plain((3, 3)), "PNG"),
}


def measure(client, data: bytes, name="photo.jpg", **more):
    return client.post("/stores/measure/", {"photograph": SimpleUploadedFile(name, data), "what": "prop", "sheet": "a4", **more})


def refer(client, row, data: bytes, name="photo.jpg"):
    return client.post(f"/scenes/{row.pk}/references/", {"picture": SimpleUploadedFile(name, data), "tray": "brief"})


@pytest.mark.parametrize("kind", WRONG)
def test_what_is_no_picture_or_a_trap_is_refused_in_words_and_leaves_nothing(ada, row, kind):
    before = StoreImage.objects.count()
    for answer in (measure(ada, WRONG[kind]), refer(ada, row, WRONG[kind])):
        assert answer.status_code == 400
        assert b"must" in answer.content and b"alert(1)" not in answer.content
    assert StoreImage.objects.count() == before and not Reference.objects.exists()


@pytest.mark.parametrize(
    ("size", "kind", "more", "is_taken"),
    [
        ((8000, 5000), "PNG", {}, True),
        ((8001, 5000), "PNG", {}, False),
        ((8001, 5000), "WEBP", {"quality": 10, "method": 0}, False),
        ((9000, 8000), "JPEG", {"quality": 10}, True),  # made smaller while it is unpacked
        ((8001, 5000), "JPEG", {"quality": 10, "progressive": True}, False),  # held whole while it is unpacked
        ((13_000, 12_000), "JPEG", {"quality": 5}, False),
    ],
)
def test_pixels_are_counted_before_they_are_unpacked_and_reduced_where_the_kind_allows(ada, row, size, kind, more, is_taken):
    answer = refer(ada, row, encoded(plain(size), kind, **more))
    if not is_taken:
        assert answer.status_code == 400 and b"megapixels; save it at half its width and height" in answer.content and not Reference.objects.exists()
        return
    assert answer.status_code == 200
    kept = Reference.objects.get().picture
    assert max(kept.width_px, kept.height_px) == 900 and len(kept.data) < 100_000


def test_a_phones_heic_is_read_upright_and_noted_for_its_lens():
    import pillow_heif

    picture = plain((640, 480))
    picture.paste((20, 40, 200), (0, 0, 320, 480))  # blue on the left
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0xA405] = 26
    kept = io.BytesIO()
    pillow_heif.from_pillow(picture).save(kept, quality=80, exif=exif.tobytes())
    found = read_photograph(kept.getvalue())
    assert found.rgb.shape == (480, 640, 3) and found.focal_35mm == 26
    assert found.rgb[240, 100, 2] > 150 > found.rgb[240, 500, 2]


@pytest.mark.parametrize("orientation", range(1, 9))
def test_every_way_a_camera_is_held_comes_out_upright(orientation):
    """Against Pillow's own turning."""
    from PIL import ImageOps

    noisy = Image.fromarray(np.random.default_rng(4).integers(0, 255, (60, 80, 3), np.uint8))
    exif = Image.Exif()
    exif[0x0112] = orientation
    data = encoded(noisy, "PNG", exif=exif)
    assert (read_photograph(data).rgb == np.asarray(ImageOps.exif_transpose(Image.open(io.BytesIO(data))).convert("RGB"))).all()


@pytest.mark.parametrize("mode", ["RGBA", "LA", "P", "1", "L", "I;16", "CMYK"])
def test_what_shows_through_is_laid_on_white_band_by_band(mode):
    """Against Pillow's own compositing of the whole."""
    picture = Image.fromarray(np.random.default_rng(5).integers(0, 255, (700, 40, 4), np.uint8), "RGBA")
    if mode == "I;16":
        picture = Image.fromarray(np.full((700, 40), 200, np.uint16))
    elif mode != "RGBA":
        picture = picture.convert(mode if mode != "P" else "RGB").convert(mode)
    more = {"transparency": 3} if mode == "P" else {}
    data = encoded(picture, "TIFF" if mode == "CMYK" else "PNG", **more) if mode != "CMYK" else encoded(picture, "JPEG", quality=95)
    opened = Image.open(io.BytesIO(data))
    if opened.mode in ("RGBA", "LA") or "transparency" in opened.info:
        expected = Image.new("RGBA", opened.size, "#ffffff")
        expected.alpha_composite(opened.convert("RGBA"))
        wanted = np.asarray(expected.convert("RGB"), int)
    else:
        wanted = np.asarray(opened.convert("RGB"), int)
    assert np.abs(read_photograph(data).rgb.astype(int) - wanted).max() <= 1


def test_pictures_wait_for_their_turn_and_too_many_are_asked_to_come_again(ada, row, monkeypatch):
    import threading

    from tideflat.web.stores import image_turn

    running, most = [], []

    def work(k: int) -> None:
        try:
            with image_turn.image_turn():
                running.append(k)
                most.append(len(running))
                time.sleep(0.02)
                running.remove(k)
        except image_turn.TooBusy:
            refused.append(k)

    refused: list[int] = []
    hands = [threading.Thread(target=work, args=(k,)) for k in range(image_turn.MOST_WAITING + 6)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    assert max(most) == 1 and len(most) + len(refused) == len(hands) and len(most) >= image_turn.MOST_WAITING
    monkeypatch.setattr(image_turn, "_waiting", threading.BoundedSemaphore(1))
    with image_turn._waiting:
        for answer in (refer(ada, row, encoded(plain())), measure(ada, encoded(plain()))):
            assert answer.status_code == 503 and b"many pictures came at once" in answer.content
    assert refer(ada, row, encoded(plain())).status_code == 200


def resident_kb(pid: int) -> int:
    with open(f"/proc/{pid}/status") as status:
        return int(next(line for line in status if line.startswith("VmRSS")).split()[1])


def test_four_large_pictures_at_once_stay_under_a_gigabyte_and_others_are_answered(tmp_path):
    import copy
    import http.client
    import threading

    from tests.support.client import Browser
    from tests.support.serving import Serving

    data = encoded(Image.new("RGBA", (8000, 5000), (200, 120, 40, 90)), "PNG")
    server = Serving(tmp_path, "demo", "--processes", "2")
    try:
        boundary = "tideflat"
        part = f'--{boundary}\r\nContent-Disposition: form-data; name="picture"; filename="p.png"\r\nContent-Type: image/png\r\n\r\n'.encode()
        body = part + data + f"\r\n--{boundary}--\r\n".encode()
        statuses: list[int] = []
        browsers = [Browser(server.port)]
        for _ in range(4):  # more windows of the same person, each on a connection of its own
            browsers.append(copy.copy(browsers[0]))
            browsers[-1].connection = http.client.HTTPConnection("127.0.0.1", server.port)

        def send(browser: Browser) -> None:
            headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in browser.cookies.items()), "X-CSRFToken": browser.cookies["csrftoken"]}
            headers["Content-Type"] = f"multipart/form-data; boundary={boundary}"
            browser.connection.request("POST", "/scenes/1/references/", body, headers)
            statuses.append(browser.connection.getresponse().status)

        hands = [threading.Thread(target=send, args=(b,)) for b in browsers[:4]]
        for hand in hands:
            hand.start()
        time.sleep(0.3)
        answered = peak = 0
        workers = server.workers(2)
        while any(hand.is_alive() for hand in hands):
            browsers[4].ask("GET", "/preferences/")
            answered += 1
            peak = max(peak, sum(resident_kb(pid) for pid in workers))
        for hand in hands:
            hand.join()
        assert statuses == [200] * 4 and answered > 3 and 200_000 < peak < 1_000_000, (statuses, answered, peak)
        time.sleep(0.2)
        assert sum(resident_kb(pid) for pid in workers) < 400_000  # and is given back
    finally:
        server.kill()


def test_a_picture_that_is_something_else_as_well_comes_out_as_pixels_only(ada, row):
    noisy = Image.fromarray(np.random.default_rng(1).integers(0, 255, (300, 400, 3), np.uint8))
    trap = encoded(noisy, "PNG") + b"<html><script>alert(1)</script></html>PK\x05\x06" + b"\0" * 18
    assert refer(ada, row, trap, "x.html").status_code == 200
    kept = Reference.objects.get().picture
    assert b"script" not in bytes(kept.data) and bytes(kept.data)[:4] == b"RIFF" and bytes(kept.data)[8:12] == b"WEBP"
    served = ada.get(f"/stores/pictures/{kept.key}.webp")
    assert served["Content-Type"] == "image/webp" and served["X-Content-Type-Options"] == "nosniff"
    assert served["Content-Security-Policy"] == "default-src 'none'; sandbox"
    assert bytes(served.content) == bytes(kept.data)


def test_where_and_with_what_it_was_taken_is_thrown_away(ada, row):
    exif = Image.Exif()
    exif[0x010F], exif[0x0110] = "A camera maker", "A camera"
    exif.get_ifd(0x8825)[2] = (54.0, 12.0, 3.5)
    for kind in ("JPEG", "PNG", "WEBP"):
        assert refer(ada, row, encoded(plain(), kind, exif=exif)).status_code == 200
    for reference in Reference.objects.all():
        data = bytes(reference.picture.data)
        assert not Image.open(io.BytesIO(data)).getexif() and b"camera" not in data and b"EXIF" not in data.upper()


def test_a_photograph_is_only_its_studios_and_a_viewer_sends_none(ada, olu, vic, row):
    refer(ada, row, encoded(plain()))
    key = Reference.objects.get().picture.key
    assert olu.get(f"/stores/pictures/{key}.webp").status_code == 404
    assert refer(vic, row, encoded(plain())).status_code == 403 and measure(vic, encoded(plain())).status_code == 403


def test_too_many_photographs_in_a_minute_are_put_off(ada, studio, settings, monkeypatch):
    monkeypatch.setattr("tideflat.web.accounts.throttle.time.time", lambda: 1_700_000_000.0)  # none of them in the next minute
    answers = [measure(ada, b"x").status_code for _ in range(31)]
    assert answers[:30] == [400] * 30 and answers[30] == 429


# ---- measured on the page

SHOT = Shot(Thing(block(150, 90), (5, 5), 20, 5, (150, 40, 34)), size=(1600, 1200), distance=520, tilt=14, noise=1.0)


@lru_cache(maxsize=1)
def red_lid() -> bytes:
    return encoded(Image.fromarray(photograph(SHOT)), "JPEG", quality=94)


def hidden(page, name: str) -> str:
    import html

    return html.unescape(re.search(rf'name="{name}" value="([^"]*)"', page.content.decode()).group(1))


def test_a_thing_measured_comes_into_the_stores_with_its_size_colour_and_its_own_picture(ada, studio):
    page = measure(ada, red_lid(), height="5")
    assert page.status_code == 200 and "Sure to 2 mm" in page.content.decode()
    values = {k: hidden(page, k) for k in ("outline", "colours", "skin", "height_mm")}
    ada.post(
        "/stores/measure/keep/",
        {**values, "sheet": "a4", "name": "red lid", "kind": "square", "finish": "satin", "count": "2", "place": "box 1"},
    )
    row = StoreProp.objects.get(studio=studio, key="red-lid")
    assert row.width_mm == pytest.approx(150, abs=2) and row.depth_mm == pytest.approx(90, abs=2) and row.height_mm == 5
    assert row.count == 2 and row.size_source == "measured from a photograph beside A4"
    red, green, _ = (int(row.colours[0]["hex"][i : i + 2], 16) for i in (1, 3, 5))
    assert red > 2 * green
    kept = StoreImage.objects.get(studio=studio, key=row.skins[0]["picture"])
    assert not kept.is_passing
    portrait = ada.get(f"/stores/props/{row.pk}/picture.svg").content
    assert b"data:image/webp;base64," in portrait


def test_what_was_taken_for_shadow_is_shown_over_the_picture(ada):
    page = ada.post("/stores/measure/", {"example": "jar", "what": "prop", "sheet": "a4", "height": "96 mm"}).content.decode()
    rings = re.findall(r'<polygon class="shadow-line" points="([^"]+)"', page)
    assert rings and "Hatched: taken for its shadow" in page
    assert f'aria-label="taken for shadow: {len(rings)} place' in page
    picture = np.asarray(Image.open(io.BytesIO(example("jar"))).convert("L"), dtype=float)
    wide, high = (int(n) for n in re.search(r'viewBox="0 0 (\d+) (\d+)"', page).groups())
    mask = Image.new("L", (wide, high))
    for ring in rings:
        ImageDraw.Draw(mask).polygon([tuple(float(v) for v in place.split(",")) for place in ring.split()], fill=255)
    inside = np.asarray(mask.resize(picture.shape[::-1])) > 128
    around = np.asarray(mask.filter(ImageFilter.MaxFilter(41)).resize(picture.shape[::-1])) > 128
    assert np.median(picture[inside]) < 0.9 * np.median(picture[around & ~inside])


OVAL = [[60 * np.cos(a), 40 * np.sin(a)] for a in np.linspace(0, 2 * np.pi, 24, endpoint=False)]


@pytest.mark.parametrize(
    ("kind", "ends", "shape"),
    [
        ("dish", None, {"kind": "bowl", "diameter": 100.0, "base_diameter": 60.0, "height": 20}),
        ("dish", [118.2, 70.04], {"kind": "bowl", "diameter": 118.2, "base_diameter": 70.0, "height": 20}),
        ("tapered", [60, 90], {"kind": "cone", "top_diameter": 60.0, "base_diameter": 90.0, "height": 20}),
        ("tapered", None, {"kind": "cone", "top_diameter": 100.0, "base_diameter": 75.0, "height": 20}),
        ("ball", None, {"kind": "sphere", "diameter": 100.0}),
        ("oval", None, {"kind": "ellipse", "width": 120.0, "depth": 80.0, "height": 20}),
    ],
)
def test_what_was_measured_becomes_the_shape_that_it_is_said_to_be(kind, ends, shape):
    assert shape_for(kind, OVAL, 20, ends) == shape
    prop_from_value({"id": "p", "name": "p", "shape": shape, "colours": [{"hex": "#808080", "share": 1}]})  # one that documents know


@pytest.mark.parametrize(("ends", "status"), [([60, 90], 302), *(([wrong, 400]) for wrong in ([1], ["a", "b"], [1, 2, 3], "x", {"a": 1}, [float("inf"), 1]))])
def test_ends_that_nobody_measured_are_refused(ends, status, ada, studio):
    before = StoreProp.objects.filter(studio=studio).count()
    rest = {"height_mm": "5", "sheet": "a4", "name": "lid", "finish": "satin", "count": "1", "place": ""}
    answer = ada.post("/stores/measure/keep/", {**as_measured(studio), **rest, "ends": json.dumps(ends), "kind": "tapered"})
    assert answer.status_code == status
    assert StoreProp.objects.filter(studio=studio).count() - before == (status == 302)


@pytest.mark.parametrize(("values", "kind"), [([0, 0, 80, 60], "dish"), ([0, 0, 60, 80], "tapered")])
def test_what_was_seen_to_taper_is_offered_with_its_ends(values, kind):
    seen = SimpleNamespace(kind="taper", values=np.array(values, dtype=float))
    found = SimpleNamespace(outline_mm=np.array(OVAL), colours=[("#808080", 1.0)], shape=seen, height_mm=40.0)
    offered = _piece(found, "key", [[0.1, 0.1], [0.2, 0.1], [0.2, 0.2]], SimpleNamespace(pixels=(100, 100)), 1)
    assert json.loads(offered["ends"]) == values[2:] and [k for k, _, on in offered["kinds"] if on] == [kind]


def test_without_a_sheet_the_corners_are_put_by_hand_and_then_it_is_measured(ada, studio):
    from tests.support.photographs import SHEETS, _camera, _pixels

    shot = Shot(Thing(disc(80), (10, 20), height=3, colour=(40, 84, 120)), size=(1600, 1200), distance=560, has_sheet=False, tilt=14)
    page = measure(ada, encoded(Image.fromarray(photograph(shot)), "JPEG", quality=94))
    assert page.status_code == 422 and "drag the four white dots" in page.content.decode()
    a = np.radians(shot.sheet_turn)
    sheet = block(*SHEETS["a4"]) @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]])
    shares = lambda points, z: (_pixels(_camera(shot), points, z) / [1600, 1200]).round(5).tolist()  # noqa: E731
    again = {"photo": hidden(page, "photo"), "what": "prop", "sheet": "a4", "height": "3", "focal": ""}
    by_hand = ada.post(
        "/stores/measure/", {**again, "corners": json.dumps(shares(sheet, 0)), "traced": json.dumps(shares(shot.thing.footprint(), 3))}
    )
    assert by_hand.status_code == 200 and "Hatched" not in by_hand.content.decode()
    outline = np.array(json.loads(hidden(by_hand, "outline")))
    assert np.ptp(outline, axis=0) == pytest.approx([80, 80], abs=1.0)


def test_a_surface_and_a_cloth_get_a_tile_that_repeats(ada, studio):
    shot = Shot(None, size=(1600, 1200), distance=700, table=(120, 134, 142), aim=(70, 0))
    data = encoded(Image.fromarray(photograph(shot)), "JPEG", quality=92)
    for what in ("surface", "cloth"):
        page = measure(ada, data, what=what)
        assert page.status_code == 200, page.content
        values = {k: hidden(page, k) for k in ("skin", "colours", "tile_width", "tile_depth")}
        ada.post("/stores/measure/keep/", {**values, "what": what, "name": f"my {what}", "width": "90 cm", "depth": "600"})
    surface = StoreSurface.objects.get(studio=studio, name="my surface")
    assert (surface.width_mm, surface.depth_mm, surface.skin["face"]) == (900, 600, "tile") and surface.skin["width"] > 60
    cloth = StoreProp.objects.get(studio=studio, key="my-cloth")
    assert cloth.shape["kind"] == "cloth" and cloth.skins[0]["width"] == surface.skin["width"]


def as_measured(studio) -> dict[str, str]:
    """What the page sends of something measured, whose cut-out is kept until tomorrow."""
    row = keep_picture(studio, np.full((40, 60, 4), 128, np.uint8), SKIN_PX, is_passing=True)
    return {"outline": "[[-75,-45],[75,-45],[75,45],[-75,45]]", "colours": '[{"hex": "#963028", "share": 1.0}]', "skin": row.key}


def several(studio, *names: str, **change: str) -> dict[str, str]:
    values = {"sheet": "a4"}
    for n, name in enumerate(names, 1):
        one = {**as_measured(studio), "name": name, "kind": "square", "height": "4", "finish": "satin"}
        values |= {f"{key}_{n}": value for key, value in one.items()}
    return values | change


def test_of_several_measured_things_those_with_a_name_are_kept(ada, vic, studio):
    before = StoreProp.objects.count()
    answer = ada.post("/stores/measure/keep-several/", several(studio, "lid", "", "leaf", kind_3="outline", height_3="1 mm"))
    assert answer.status_code == 302 and StoreProp.objects.count() == before + 2
    lid, leaf = StoreProp.objects.get(studio=studio, key="lid"), StoreProp.objects.get(studio=studio, key="leaf")
    assert (lid.width_mm, lid.depth_mm, lid.height_mm) == (150, 90, 4) and leaf.shape["kind"] == "outline"
    assert not StoreImage.objects.get(studio=studio, key=leaf.skins[0]["picture"]).is_passing
    assert vic.post("/stores/measure/keep-several/", several(studio, "more")).status_code == 403


@pytest.mark.parametrize("change", [{"skin_2": "elsewhere"}, {"outline_2": "[]"}, {"kind_1": "cloud"}, {"height_2": "high"}, {"colours_1": "7"}, {"sheet": "a3"}, {"finish_2": "wet"}, {"name_1": " ", "name_2": ""}])  # fmt: skip
def test_several_are_kept_all_or_none(ada, studio, change):
    before = StoreProp.objects.count()
    answer = ada.post("/stores/measure/keep-several/", several(studio, "one", "two", **change))
    assert answer.status_code == 400 and b'role="alert"' in answer.content and StoreProp.objects.count() == before


@pytest.mark.parametrize(
    "change",
    [{"outline": "[[0,0],[1,1]]"}, {"outline": "nonsense"}, {"skin": "elsewhere"}, {"colours": '[{"hex":"red"}]'}, {"kind": "cloud"}, {"name": "<b>"}, {"count": "x"}, {"height_mm": "nan"}, {"outline": "[]"}, {"outline": "{}"},
     {"outline": "[1,2"}, {"outline": "[[1e308,0],[1,1],[0,2]]"}, {"colours": "[]x"}, {"colours": "7"}, {"count": "²"}, {"height_mm": "1e308"}, {"outline": "[" * 3000}],
)  # fmt: skip
def test_what_was_not_measured_is_not_kept(ada, studio, change):
    good = {**as_measured(studio), "sheet": "a4", "name": "lid", "kind": "square", "finish": "satin", "count": "1", "place": "", "height_mm": "5"}
    before = StoreProp.objects.count()
    answer = ada.post("/stores/measure/keep/", {**good, **change})
    assert answer.status_code == 400 and b'role="alert"' in answer.content and StoreProp.objects.count() == before


@pytest.mark.parametrize("text", ["x", "[[1]]", "[[true, [[0.1]]]]", "[[true, []]]", "[[true, [[9, 9]]]]", "[" * 3000, json.dumps([[True, [[0.1, 0.1]]]] * 13), "7", '{"a": 1}'])
def test_strokes_that_are_none_are_said(text):
    with pytest.raises(FieldError, match="strokes"):
        strokes_from(text)


def test_strokes_as_the_page_sends_them():
    assert strokes_from(" ") == [] and strokes_from("[[false, [[0.25, 0.5], [1, 0]]]]") == [(False, [[0.25, 0.5], [1.0, 0.0]])]


@pytest.mark.parametrize("name", ["board", "jar", "linen"])
def test_the_examples_that_ship_can_be_measured(ada, studio, name):
    shown = ada.get(f"/stores/measure/example/{name}.jpg")
    assert shown["Content-Type"] == "image/jpeg" and read_photograph(shown.content).rgb.shape == (1500, 2000, 3)
    page = ada.post(
        "/stores/measure/",
        {"example": name, "what": "cloth" if name == "linen" else "prop", "sheet": "a4", "height": {"jar": "96"}.get(name, "0")},
    )
    assert page.status_code == 200
    if name == "jar":
        assert "79 mm" in page.content.decode() or "78 mm" in page.content.decode()


def test_the_sheet_to_print_has_its_true_size(ada, studio):
    sheet = ada.get("/stores/measure/sheet-letter.svg").content.decode()
    assert 'width="215.9mm" height="279.4mm"' in sheet and "h100" in sheet
