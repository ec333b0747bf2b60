"""Light on a table against closed forms.

Rectangle and disc: J. R. Howell, *A Catalog of Radiation Heat Transfer Configuration Factors*, B-3 (element to a rectangle on a plane square to
it, one corner over it), B-4 (element parallel to a rectangle, under its corner) and B-12 (element to a parallel coaxial disc); formulas from
memory, each checked here against a sum over many small parts. Inverse square and cosine law: any optics text.
"""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest

from tests.support.lit import LAMP, lighting, table, thing
from tideflat.cli import main
from tideflat.core.light.falling import LUMINANCE
from tideflat.core.light.form_factor import projected_solid_angle

STOP = 0.05


def lux(value: dict, points: list, normals: list | None = None) -> np.ndarray:  # type: ignore[type-arg]
    lit = lighting(value)
    ways = np.tile([0.0, 0, 1], (len(points), 1)) if normals is None else np.array(normals, dtype=float)
    return (lit.falling(np.array(points, dtype=float), ways) @ LUMINANCE).sum(axis=0)  # type: ignore[no-any-return]


def summed(point: np.ndarray, normal: np.ndarray, corner: np.ndarray, a: np.ndarray, b: np.ndarray, n: int = 400) -> float:
    """Projected solid angle of a rectangle by a sum over n x n parts."""
    s = (np.arange(n) + 0.5) / n
    u, v = np.meshgrid(s, s, indexing="ij")
    places = corner + u[..., None] * a + v[..., None] * b - point
    out = np.cross(a, b)
    area = np.linalg.norm(out) / n**2
    out = out / np.linalg.norm(out)
    r2 = (places**2).sum(axis=-1)
    return float((np.maximum(places @ normal, 0) * np.abs(places @ out) / r2**2 * area).sum())


def parallel(a: float, b: float, c: float) -> float:
    """B-4: parallel to a rectangle a by b at distance c, under a corner."""
    x, y = a / c, b / c
    p, q = math.hypot(1, x), math.hypot(1, y)
    return (x / p * math.atan(y / p) + y / q * math.atan(x / q)) / (2 * math.pi)


def square_to(a: float, b: float, c: float) -> float:
    """B-3: a upward, b wide, c away, on a plane square to the element's, the element on the level of its lower corner."""
    x, y = a / b, c / b
    return (math.atan(1 / y) - y / math.hypot(x, y) * math.atan(1 / math.hypot(x, y))) / (2 * math.pi)


@pytest.mark.parametrize(("a", "b", "c"), [(1, 1, 1), (3, 0.5, 0.7), (0.2, 5, 2), (400, 300, 90)])
def test_rectangles_by_the_catalogue_and_by_a_sum(a: float, b: float, c: float) -> None:
    up, here = np.array([[0.0, 0, 1]]), np.zeros((1, 3))
    over = np.array([[0, 0, c], [a, 0, c], [a, b, c], [0, b, c]], dtype=float)
    assert projected_solid_angle(here, up, over)[0] / math.pi == pytest.approx(parallel(a, b, c), rel=1e-9)
    assert projected_solid_angle(here, up, over)[0] == pytest.approx(
        summed(here[0], up[0], over[0], over[1] - over[0], over[3] - over[0]), rel=2e-3
    )
    beside = np.array([[0, c, 0], [b, c, 0], [b, c, a], [0, c, a]], dtype=float)
    assert projected_solid_angle(here, up, beside)[0] / math.pi == pytest.approx(square_to(a, b, c), rel=1e-9)
    # What reaches below the horizon adds nothing, however much of it there is.
    low = np.array([[0, c, -7 * a], [b, c, -7 * a], [b, c, a], [0, c, a]], dtype=float)
    assert projected_solid_angle(here, up, low)[0] / math.pi == pytest.approx(square_to(a, b, c), rel=1e-9)
    # One that lies wholly under it gives nothing.
    assert projected_solid_angle(here, up, beside - [0, 0, 2 * a])[0] == 0


def test_any_turn_of_a_face_by_a_sum() -> None:
    random = np.random.Generator(np.random.PCG64(5))
    for _ in range(40):
        corner, a, b = random.normal(size=3) * 2 + [0, 0, 1], random.normal(size=3), random.normal(size=3)
        b = np.cross(a, b)  # square to a
        normal = random.normal(size=3)
        normal /= np.linalg.norm(normal)
        polygon = np.array([corner, corner + a, corner + a + b, corner + b])
        if min(np.linalg.norm(polygon, axis=1)) < 0.5 or abs(np.cross(a, b) @ corner) < 0.1:
            continue
        found = projected_solid_angle(np.zeros((1, 3)), normal[None], polygon)[0]
        assert found == pytest.approx(summed(np.zeros(3), normal, corner, a, b), abs=3e-3, rel=1e-2)


@pytest.mark.parametrize("diameter", [20, 300, 1200])
@pytest.mark.parametrize("far", [300, 1000, 2500])
def test_round_lamps_by_the_catalogue(diameter: float, far: float) -> None:
    """B-12: r^2 / (r^2 + h^2); 1 000 lux a metre before its middle, whatever its size."""
    value = table([{**LAMP, "at": [450, 300, far], "width": diameter, "height": diameter, "round": True, "stops": 1.5}])
    r = diameter / 2
    expected = 1000 * 2**1.5 * (r * r + 1000**2) / (r * r + far**2)
    assert math.log2(lux(value, [[450, 300, 0]])[0] / expected) == pytest.approx(0, abs=STOP)


def test_inverse_square_and_cosine_of_a_small_lamp() -> None:
    lamp = {**LAMP, "at": [450, 300, 700], "width": 8, "height": 8}
    flat = table([lamp])
    for x in (450, 200, 0, 880):
        r2 = (x - 450) ** 2 + 700**2
        cosine = 700 / math.sqrt(r2)
        assert math.log2(lux(flat, [[x, 300, 0]])[0] / (1000 * 1e6 / r2 * cosine**2)) == pytest.approx(0, abs=STOP / 5)
    turned = table([{**lamp, "toward": [1, 0, -1]}])  # 45 degrees off the axis
    assert math.log2(lux(turned, [[450, 300, 0]])[0] / (1000 * (1000 / 700) ** 2 * math.sqrt(0.5))) == pytest.approx(0, abs=STOP / 5)
    upright = lux(flat, [[200, 300, 0]], [[1, 0, 0]])[0]
    r2 = 250**2 + 700**2
    assert upright == pytest.approx(1000 * 1e6 / r2 * 700 / math.sqrt(r2) * 250 / math.sqrt(r2), rel=0.01)


@pytest.mark.parametrize(("cover", "passes"), [("none", 1.0), ("sheer", 0.6), ("paper", 0.3)])
def test_a_window_beside_the_table_and_its_covers(cover: str, passes: float) -> None:
    """Its sill on the table's level, then a metre under it: on the table it is the same."""
    for low in (0.0, -1000.0):
        high = 1200.0
        window = {
            "id": "w",
            "kind": "window",
            "at": [-600, 300, (high + low) / 2],
            "toward": [1, 0, 0],
            "width": 1000,
            "height": high - low,
            "cover": cover,
        }
        face = 4 * parallel(500, (high - low) / 2, 1000) * math.pi
        expected = passes * 1000 / face * 2 * square_to(high, 500, 600) * math.pi
        assert math.log2(lux(table([window]), [[0, 300, 0]])[0] / expected) == pytest.approx(0, abs=STOP / 5)


def test_a_beam_is_even_inside_and_nothing_outside() -> None:
    beam = {**LAMP, "at": [450, 300, 500], "width": 4, "height": 4, "beam": 40}
    wide = {**beam, "beam": None}
    edge = 500 * math.tan(math.radians(20))
    for off, share in ((0, 1), (edge - 8, 1), (edge + 8, 0)):
        point = [[450 + off, 300, 0]]
        assert lux(table([beam]), point)[0] == pytest.approx(share * lux(table([wide]), point)[0], abs=1e-6)
    assert lux(table([{**beam, "beam": 180}]), [[20, 300, 0]])[0] == pytest.approx(lux(table([wide]), [[20, 300, 0]])[0])


@pytest.mark.parametrize("near", [60.0, 250.0, 900.0])
def test_a_lamp_through_a_sheet_is_as_bright_as_what_reaches_the_sheet(near: float) -> None:
    """A small lamp square to a sheet: what the sheet gives on, at a far point, by a sum over the sheet."""
    lamp = {**LAMP, "at": [450, 300, 1500 + near], "width": 10, "height": 10}
    sheet = {"at": [450, 300, 1500], "toward": [0, 0, -1], "width": 1200, "height": 1200, "transmission": 0.5}
    n = 600
    s = ((np.arange(n) + 0.5) / n - 0.5) * 1200
    x, y = np.meshgrid(s, s, indexing="ij")
    on = 1000 * 1e6 * near**2 / (x**2 + y**2 + near**2) ** 2  # cosine at the lamp and at the sheet
    for px in (0.0, 400.0):
        r2 = (x - px) ** 2 + y**2 + 1500**2
        expected = float((on * 0.5 / math.pi * 1500**2 / r2**2).sum() * (1200 / n) ** 2)
        found = lux(table([{**lamp, "through": sheet}]), [[450 + px, 300, 0]])[0]
        assert math.log2(found / expected) == pytest.approx(0, abs=STOP)


def test_a_narrow_beam_lights_a_patch_of_the_sheet_only() -> None:
    """The patch is then the source: at its sides, by a sum over the disc that the beam lights."""
    near, half = 400.0, math.radians(15)
    lamp = {**LAMP, "at": [450, 300, 1000 + near], "width": 4, "height": 4, "beam": 30}
    sheet = {"at": [450, 300, 1000], "toward": [0, 0, -1], "width": 1500, "height": 1500, "transmission": 0.4}
    n = 900
    s = ((np.arange(n) + 0.5) / n - 0.5) * 400
    x, y = np.meshgrid(s, s, indexing="ij")
    on = np.where(np.hypot(x, y) <= near * math.tan(half), 1e9 * near**2 / (x**2 + y**2 + near**2) ** 2, 0.0)
    expected = float((on * 0.4 / math.pi * 1000**2 / (x**2 + y**2 + 1000**2) ** 2).sum() * (400 / n) ** 2)
    assert math.log2(lux(table([{**lamp, "through": sheet}]), [[450, 300, 0]])[0] / expected) == pytest.approx(0, abs=STOP)


def test_the_room_is_an_even_half_space_and_the_sun_is_square() -> None:
    room = {"id": "r", "kind": "room", "stops": 2}
    assert lux(table([room]), [[450, 300, 0]])[0] == pytest.approx(400)
    assert lux(table([room]), [[450, 300, 200]], [[1, 0, 0]])[0] == pytest.approx(200, rel=0.03)
    sun = {"id": "s", "kind": "sun", "latitude": 0, "longitude": 0, "time": "2026-03-20T09:07:30+00:00", "stops": -4}
    value = table([sun], room={"north": 0})
    lit = lighting(value)
    way = lit.sources[0].to_sun
    assert way is not None
    assert lux(value, [[450, 300, 0]])[0] == pytest.approx(5000 * way[2], rel=1e-3)
    assert lux(value, [[450, 300, 100]], [list(way)])[0] == pytest.approx(5000, rel=1e-3)
    night = table([{**sun, "time": "2026-03-20T23:00:00+00:00"}], room={"north": 0})
    assert lux(night, [[450, 300, 0]])[0] == 0


def test_a_white_card_gives_back_what_falls_on_it() -> None:
    """A small card far from a lamp, seen from a point: its own light, 0.85 of what reaches it, by the closed form of the card."""
    lamp = {**LAMP, "at": [100, 300, 500], "toward": [1, 0, 0], "width": 10, "height": 10}
    card = {"id": "c", "kind": "white", "at": [800, 300, 500], "toward": [-1, 0, 0], "width": 200, "height": 200}
    point, up = [[760, 300, 100]], None
    alone, with_card = lux(table([lamp]), point, up)[0], lux(table([lamp], cards=[card]), point, up)[0]
    on_card = 1000 * 1e6 / 700**2
    expected = (
        on_card
        * 0.85
        / math.pi
        * summed(
            np.array([760.0, 300, 100]),
            np.array([0.0, 0, 1]),
            np.array([800.0, 200, 400]),
            np.array([0.0, 200, 0]),
            np.array([0.0, 0, 200]),
        )
    )
    assert (with_card - alone) == pytest.approx(expected, rel=0.08)
    for kind, share in (("silver", 0.8), ("gold", 0.7), ("black", 0.04)):
        other = lux(table([lamp], cards=[{**card, "kind": kind}]), point, up)[0]
        assert (other - alone) / (with_card - alone) == pytest.approx(share / 0.85, rel=0.03)


def test_a_closed_room_sums_its_bounces() -> None:
    """An even room of reflectance r all round holds E / (1 - r) of the light that first falls on its walls, to what the floor takes: a
    lamp in a white room gives more than its direct light, and no more than a closed sphere of the same mean reflectance would hold."""
    room = {"ceiling_height": 3000, "walls": "#ffffff", "x": 450, "y": 300, "width": 3000, "depth": 3000}
    lamp = {**LAMP, "at": [450, 300, 600], "toward": [0, 0, 1], "width": 100, "height": 100}
    lit = lighting(
        {**table([lamp], room=room), "surface": {"name": "t", "width": 3000, "depth": 3000, "colours": [{"hex": "#ffffff", "share": 1}]}}
    )
    flux = 1000.0 * math.pi * (1 + 50**2 / 1000**2)  # of a small matt lamp: pi times its axis's light, lux m^2
    here = (lit.falling(np.array([[450.0, 300, 0]]), np.array([[0.0, 0, 1]])) @ LUMINANCE).sum()
    area = 6 * 3.0 * 3.0
    assert here > 3 * flux / area  # the direct light on the table is nought: the lamp looks up


def test_the_command_prints_the_same(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "a.tideflat.json"
    file.write_text(
        json.dumps(
            table(
                [{**LAMP, "width": 10, "height": 10}, {"id": "r", "kind": "room"}], [thing(1, {"kind": "sphere", "diameter": 60}, 200, 200)]
            )
        )
    )
    assert main(["light", str(file), "--at", "450,300,0", "--at=450,300,500"]) == 0
    first, second = json.loads(capsys.readouterr().out)["setups"]["main"]["points"]
    assert first["by"]["lamp"] == pytest.approx(0, abs=STOP)
    assert second["by"]["lamp"] == pytest.approx(2, abs=STOP)
    assert first["by"]["r"] == pytest.approx(math.log2(0.1), abs=STOP)
    assert first["stops"] == pytest.approx(math.log2(1.1), abs=STOP)
    assert main(["light", str(file)]) == 0
    (top,) = json.loads(capsys.readouterr().out)["setups"]["main"]["points"]
    assert top["at"] == [200, 200, 60]
