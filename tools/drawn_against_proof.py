"""What the frame draws against the proof, thing by thing: lightness (CIE L*) of each thing's visible part, same exposure, in the real window.

    python -m tools.drawn_against_proof        # the demo scenes and eight by chance; half a minute each

Prints a line a thing and, for each scene and for all, how many matt, satin and gloss things are within 6 L*, the medians of metal and of
dishes, and how many pairs of things more than 3 L* apart in the proof stand in the same order as they are drawn.
"""

from __future__ import annotations

import base64
import io
import json
import re
import sys
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright

from tideflat.core.colour.spaces import lab_from_rgb
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.render.proof import masks_of

from .light_reference import document
from .shots import CHROMIUM, FLAGS, _serve

TITLES = ("Marmalade morning", "Supper at the harbour inn", "Four teas, one shelf", "A fig, just cut")
WIDTH = 720
#: So many tables by chance, of seeds that no other test uses.
BY_CHANCE, SEED = 8, 500
#: Less of a thing than this (pixels) says nothing.
_LEAST = 60


def _decoded(data: bytes) -> np.ndarray:
    from PIL import Image

    picture = Image.open(io.BytesIO(data)).convert("RGB")
    return np.asarray(picture.resize((WIDTH, round(WIDTH * picture.height / picture.width)), Image.Resampling.BOX)) / 255


def _pair(page: Page) -> tuple[np.ndarray, np.ndarray]:
    """(the drawn frame, the proof)."""
    page.click("button.decision[data-value=light]")
    page.wait_for_selector("html.is-lit", state="attached")
    page.wait_for_selector("[data-prove]")
    page.click("[data-prove]")
    page.wait_for_selector("#proof:has-text('settled')", timeout=180_000)
    address = page.get_attribute("#proof", "data-picture") or ""
    page.evaluate(
        "document.querySelector('#proof-wipe').value = 0; document.querySelector('#proof-wipe').dispatchEvent(new Event('input', { bubbles: true }))"
    )
    page.wait_for_timeout(300)
    for selector in ("#frame-crops", "#frame-grids", "#frame-scheme", "#frame-over", "#frame-lights", "#frame-mirrors", ".hero-line"):
        page.evaluate(f"document.querySelectorAll('{selector}').forEach(n => n.style.display = 'none')")
    return _decoded(page.locator("#frame-svg").screenshot()), _decoded(base64.b64decode(address.partition(",")[2]))


def by_chance(seed: int) -> dict[str, Any]:
    """A table of tools/light_reference.py with finishes by chance."""
    value = document(seed)
    random = np.random.Generator(np.random.PCG64(seed))
    for prop in value["props"]:
        prop["finish"] = str(random.choice(["matte", "satin", "gloss", "metal"], p=[0.4, 0.3, 0.15, 0.15]))
    return value


def _open(page: Page, url: str, scene: str | dict[str, Any]) -> None:
    """A scene of the demo by its title, or a document."""
    page.goto(url)
    if isinstance(scene, str):
        page.click(f"text={scene}")
    else:
        sent = {"name": "scene.json", "mimeType": "application/json", "buffer": json.dumps(scene).encode()}
        page.set_input_files("input[name=document]", sent)
        page.evaluate("document.querySelector('input[name=document]').form.requestSubmit()")
    page.wait_for_url(re.compile(r"/scenes/\d+/"))
    page.wait_for_load_state("networkidle")


def compared(page: Page, url: str, named: str | dict[str, Any]) -> dict[str, list[tuple[float, float]]]:
    """(drawn, proof) of each thing by its kind."""
    _open(page, url, named)
    title = named if isinstance(named, str) else named["title"]
    number = re.search(r"/scenes/(\d+)/", page.url)
    assert number is not None
    document = page.request.get(f"{url}/scenes/{number[1]}/export/").body()
    scene = read_scene(document)
    picture = Picture(scene, scene.setups[0])
    drawn, proof = _pair(page)
    mask = masks_of(picture, WIDTH)[: min(len(drawn), len(proof))]
    lightness = [lab_from_rgb(p[: len(mask)])[..., 0] for p in (drawn, proof)]
    found: dict[str, list[tuple[float, float]]] = {}
    for k, placement in enumerate(scene.placements, 1):
        here = mask == k
        if here.sum() < _LEAST or placement.id not in picture.props:
            continue
        prop = picture.props[placement.id]
        a, b = (float(p[here].mean()) for p in lightness)
        kind = "dish" if picture.bodies[placement.id].local.opening is not None else prop.finish
        found.setdefault(kind, []).append((a, b))
        print(f"  {prop.name:24} {kind:7} drawn {a:5.1f}  proof {b:5.1f}  {a - b:+5.1f}")
    print(f"{title}: {_summed([found])}")
    return found


def _summed(scenes: list[dict[str, list[tuple[float, float]]]]) -> str:
    matt = [abs(a - b) for found in scenes for kind in ("matte", "satin", "gloss") for a, b in found.get(kind, [])]
    others = {kind: [abs(a - b) for found in scenes for a, b in found.get(kind, [])] for kind in ("dish", "metal")}
    right = pairs = 0
    for found in scenes:
        things = [pair for kind, listed in found.items() if kind != "glass" for pair in listed]
        for k, (a, b) in enumerate(things):
            for c, d in things[:k]:
                if abs(b - d) > 3:
                    pairs, right = pairs + 1, right + ((a > c) == (b > d))
    medians = "; ".join(f"{kind} median {np.median(off):.1f} of {len(off)}" for kind, off in others.items() if off)
    return f"matt, satin and gloss within 6: {sum(v <= 6 for v in matt)} of {len(matt)}; {medians}; order right in {right} of {pairs} pairs"


def main() -> None:
    process, url, password = _serve()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = browser.new_page(viewport={"width": 1500, "height": 900})
            page.goto(url + "/sign-in/")
            page.fill("[name=username]", "wren")
            page.fill("[name=password]", password)
            page.click("button.press, button[type=submit]")
            page.wait_for_load_state("networkidle")
            chosen = [
                TITLES[int(k)] if int(k) < len(TITLES) else by_chance(SEED + int(k)) for k in sys.argv[1:] or range(len(TITLES) + BY_CHANCE)
            ]
            print(f"all: {_summed([compared(page, url, scene) for scene in chosen])}")
            browser.close()
    finally:
        process.terminate()
        process.wait()


if __name__ == "__main__":
    main()
