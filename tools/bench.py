"""Measure what the ambition table asks: `make bench`. Prints medians and ratios; asserts nothing.

The server is waitress on a fresh database file with the demo's own settings (every answer on disk before it is sent).
"""

from __future__ import annotations

import os
import re
import statistics
import tempfile
import threading
import time
from collections.abc import Callable
from typing import Any

from tools.arrangements_against import main as arrangements_against

ROUNDS = 120


def main() -> None:
    """Set a fresh studio up, then measure the core, the server and the wire."""
    os.environ["TIDEFLAT_VAR"] = tempfile.mkdtemp(prefix="tideflat-bench-")
    os.environ["DJANGO_SETTINGS_MODULE"] = "tideflat.web.settings.demo"
    import django
    import django.core.management

    django.setup()
    from tideflat.web.command import _prepare

    _prepare()
    django.core.management.call_command("collectstatic", verbosity=0, interactive=False)
    from tests.support.scenes import crowded_value
    from tideflat.core.formats.scene_reader import scene_from_value
    from tideflat.web.accounts.models import Studio
    from tideflat.web.scenes.demo import make_demo
    from tideflat.web.scenes.models import Scene
    from tideflat.web.scenes.services.history import begin_scene

    make_demo()
    studio = Studio.objects.get()
    thirty = begin_scene(studio, scene_from_value(spread(crowded_value(30, elevation=45, distance=1400))), None, "bench")
    core(scene_from_value(spread(crowded_value(30, elevation=45, distance=1400))))
    from tests.support.client import Browser

    browser = Browser(serve())
    for title, row in [("30 props", thirty)] + [(r.title, r) for r in Scene.objects.exclude(pk=thirty.pk)]:
        release(browser, row, title)
    first_load(browser, Scene.objects.get(title="Supper at the harbour inn").pk)
    finding(browser)
    measuring()
    arrangements_against()


def spread(value: dict[str, Any]) -> dict[str, Any]:
    """The thirty things on a table large enough that they stand as things do, not in each other."""
    value["surface"].update(width=2000, depth=1500)
    for i, p in enumerate(value["placements"]):
        p["x"], p["y"] = 160 + 300 * (i % 6) + 9 * (i % 4), 140 + 260 * (i // 6) + 7 * (i % 3)
    value["setups"][0]["camera"].update(aim=[900, 700, 0], distance=2600)
    return value


def timed(what: str, run: Callable[[int], Any], rounds: int = ROUNDS) -> float:
    """Median and 95th percentile of ``run`` in ms, after three unmeasured rounds."""
    for k in range(3):
        run(k)
    taken = []
    for k in range(rounds):
        start = time.perf_counter()
        run(k + 3)
        taken.append((time.perf_counter() - start) * 1000)
    taken.sort()
    median = statistics.median(taken)
    print(f"{what:<58} median {median:7.1f} ms   95th {taken[int(len(taken) * 0.95)]:7.1f} ms   n {rounds}")
    return median


def core(scene: Any) -> None:
    """The core alone: computing a set-up after one move, with and without what is remembered of the rest."""
    from dataclasses import replace

    from tideflat.core.evaluate import Picture
    from tideflat.core.findings.registry import findings
    from tideflat.core.frame.fit import fit
    from tideflat.core.frame.lens_chart import lens_chart
    from tideflat.core.remedies.search import judged, remedy_for

    first = scene.placements[14]

    def one_move(k: int) -> None:
        moved = scene.with_placement(replace(first, x=first.x + 0.37 * k))
        picture = Picture(moved, moved.setups[0])
        _ = picture.things
        findings(picture)

    def new_camera(k: int) -> None:
        setup = scene.setups[0]
        turned = scene.with_setup(setup.name, replace(setup, camera=replace(setup.camera, azimuth=0.21 * k)))
        picture = Picture(turned, turned.setups[0])
        _ = picture.things
        findings(picture)

    one = timed("core, 30 props: one thing moved", one_move)
    whole = timed("core, 30 props: camera turned, everything anew", new_camera, 40)
    print(f"{'':<58} what stands still costs 1/{whole / one:.1f} of a new camera")
    kit = twelve_lenses()
    timed("chart of 12 lenses on 3 bodies, 30 props", lambda k: lens_chart(_turned(scene, 0.17 * k), kit), 60)
    timed("the camera fitted to six of them", lambda k: fit(_turned(scene, 0.17 * k), [p.id for p in scene.placements[:6]], 0.8), 40)
    picture = Picture(scene, scene.setups[0])
    before = judged(picture.whole)
    found = findings(picture)[:6]
    if found:
        timed("core, 30 props: a remedy searched and proven", lambda k: remedy_for(picture, found[k % len(found)], before), len(found))


def _turned(scene: Any, azimuth: float) -> Any:
    """The scene's picture with the camera walked round a little, so that nothing of it is remembered."""
    from dataclasses import replace

    from tideflat.core.evaluate import Picture

    setup = scene.setups[0]
    turned = scene.with_setup(setup.name, replace(setup, camera=replace(setup.camera, azimuth=azimuth)))
    return Picture(turned, turned.setups[0])


def twelve_lenses() -> Any:
    """Twelve lenses of one length and three bodies, none with a lens of its own."""
    from tideflat.core.formats.kit_reader import kit_from_value

    lengths = (14, 20, 24, 28, 35, 40, 50, 60, 70, 85, 100, 135)
    bodies = [{"name": str(w), "width": w, "height": h} for w, h in ((36, 24), (23.5, 15.6), (17.3, 13))]
    supports = [{"name": "column", "lowest": 150, "highest": 2400, "inverts": True}]
    return kit_from_value({"bodies": bodies, "lenses": [{"name": f"{f}", "focal_length": f} for f in lengths], "supports": supports})


def serve() -> int:
    from waitress.server import create_server

    from tideflat.web.wsgi import application

    server: Any = create_server(application, host="127.0.0.1", port=0, threads=4)
    threading.Thread(target=server.run, daemon=True).start()
    return int(server.effective_port)


def release(browser: Any, row: Any, title: str) -> None:
    """A release of a dragged thing: both views, readings and findings, as the browser receives them."""
    import json

    placements = json.loads(row.document)["placements"]
    setup = json.loads(row.document)["setups"][0]["name"]
    thing = placements[len(placements) // 2]
    state = {"revision": row.revision}

    def move(k: int) -> None:
        values = {
            "id": thing["id"],
            "x": thing["x"] + 0.7 * (k % 40),
            "y": thing["y"],
            "setup": setup,
            "tray": "held",
            "selected": thing["id"],
            **state,
        }
        browser.ask("POST", f"/scenes/{row.pk}/do/move/", values)
        state["revision"] += 1

    timed(f"release answered over HTTP, {title} ({len(placements)} things)", move)
    print(f"{'':<58} {browser.wire / 1000:.0f} kB over the wire")


def finding(browser: Any) -> None:
    """Every filter over 10,000 props: in the server, and as the page that answers it."""
    from tests.support.stores import many_props
    from tideflat.web.accounts.models import Studio
    from tideflat.web.scenes.models import Scene
    from tideflat.web.scenes.services.history import core_scene
    from tideflat.web.stores.catalogue import catalogue_of
    from tideflat.web.stores.searching import Wish, search
    from tideflat.web.stores.services import import_records

    studio = Studio.objects.get()
    began = time.perf_counter()
    import_records(studio, many_props(10_000 - 154))
    print(f"9,846 props imported in {time.perf_counter() - began:.1f} s")
    began = time.perf_counter()
    catalogue_of(studio)
    print(f"catalogue of 10,000 props read anew in {time.perf_counter() - began:.1f} s")
    scene = core_scene(Scene.objects.filter(title="Marmalade morning").earliest("pk"))
    colours = ("#c4621a", "#536068", "#f4f1e8", "#1c1c1c", "#5d7d46")
    for what, wish in {
        "words": lambda k: Wish(text=("tin", "plate round", "blue", "box 4", "zzz")[k % 5]),
        "tag": lambda k: Wish(tag=("orange", "sea", "winter")[k % 3]),
        "kind and finish": lambda k: Wish(kind=("bowl", "box")[k % 2], finish="matte"),
        "size between": lambda k: Wish(least_mm=40 + k, most_mm=160 + k),
        "colour nearness": lambda k: Wish(colour=colours[k % 5]),
        "all of them": lambda k: Wish(text="a", kind="cylinder", finish="matte", least_mm=30, most_mm=200, colour=colours[k % 5]),
    }.items():
        timed(f"10,000 props: {what}", lambda k, wish=wish: search(catalogue_of(studio), wish(k)), 40)  # type: ignore[misc]
    timed("10,000 props: what goes with the scene", lambda k: search(catalogue_of(studio), Wish(), scene), 40)
    colour = lambda k: browser.ask("GET", f"/stores/?colour=%23{colours[k % 5][1:]}")  # noqa: E731
    timed("10,000 props: near a colour, the whole page over HTTP", colour, 20)


def measuring() -> None:
    """Photographs from their bytes to the answer: twelve rendered ones, each as large as a phone's, and one of five things."""
    import json

    import cv2

    from tideflat.core.formats.photograph import read_photograph
    from tideflat.core.vision.measure import measure_all

    from .measuring_pictures import EXAMPLE, FOLDER

    large = []
    for entry in json.loads((FOLDER / "truth.json").read_text())[::5]:
        picture = cv2.resize(cv2.imread(str(FOLDER / entry["file"])), (4000, 3000), interpolation=cv2.INTER_CUBIC)
        large.append((cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 92])[1].tobytes(), entry["sheet"], entry["things"][0]["height_mm"]))

    def one(k: int) -> None:
        data, sheet, height = large[k % len(large)]
        measure_all(read_photograph(data), sheet, height)

    five = EXAMPLE.read_bytes()
    timed("12 megapixels measured, decoding included, of twelve", one, len(large))
    timed("five things in one photograph measured", lambda k: measure_all(read_photograph(five), "a4", 0.0), 5)


def first_load(browser: Any, pk: int) -> None:
    """Bytes over the wire for the first load of the bench, all files included."""
    page = browser.ask("GET", f"/scenes/{pk}/").decode()
    total = browser.wire
    print(f"first load of the bench: page {browser.wire / 1000:.0f} kB")
    css = next(p for p in re.findall(r'(?:src|href)="(/static/[^"#]+)"', page) if p.endswith(".css"))
    style = browser.ask("GET", css).decode()
    files = set(re.findall(r'(?:src|href)="(/static/[^"#]+)', page)) | {
        f"/static/tideflat/{p}" for p in re.findall(r'url\("?(fonts/[^")]+)', style)
    }
    files |= set(re.findall(r'href="(/stores/pictures/[^"]+)', page))
    for path in sorted(files):
        browser.ask("GET", path)
        total += browser.wire
        print(f"    {browser.wire / 1000:6.1f} kB  {path}")
    print(f"first load of the bench in all: {total / 1000:.0f} kB over the wire")


if __name__ == "__main__":
    main()
