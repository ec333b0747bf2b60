"""What the frame draws against the proof, thing by thing: lightness (CIE L*) of each thing's visible part, same exposure, in the real window.

    python -m tools.drawn_against_proof        # the demo scenes; a minute each

Prints a line a thing and, for each scene, how many matt and satin things are within 6 L*, and metal and filled dishes within 12.
"""

from __future__ import annotations

import base64
import io
import re

import numpy as np
from playwright.sync_api import Page, sync_playwright

from tideflat.core.colour.spaces import lab_from_rgb
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.render.proof import masks_of

from .shots import CHROMIUM, FLAGS, _serve

TITLES = ("Marmalade morning", "Supper at the harbour inn", "Four teas, one shelf", "A fig, just cut")
WIDTH = 720
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
    for selector in ("#frame-crops", "#frame-grids", "#frame-scheme", "#frame-over", ".hero-line"):
        page.evaluate(f"document.querySelectorAll('{selector}').forEach(n => n.style.display = 'none')")
    return _decoded(page.locator("#frame-svg").screenshot()), _decoded(base64.b64decode(address.partition(",")[2]))


def compared(page: Page, url: str, title: str) -> None:
    page.goto(url)
    page.click(f"text={title}")
    page.wait_for_load_state("networkidle")
    number = re.search(r"/scenes/(\d+)/", page.url)
    assert number is not None
    document = page.request.get(f"{url}/scenes/{number[1]}/export/").body()
    scene = read_scene(document)
    picture = Picture(scene, scene.setups[0])
    drawn, proof = _pair(page)
    mask = masks_of(picture, WIDTH)[: min(len(drawn), len(proof))]
    lightness = [lab_from_rgb(p[: len(mask)])[..., 0] for p in (drawn, proof)]
    off: dict[str, list[float]] = {}
    for k, placement in enumerate(scene.placements, 1):
        here = mask == k
        if here.sum() < _LEAST or placement.id not in picture.props:
            continue
        prop = picture.props[placement.id]
        a, b = (float(p[here].mean()) for p in lightness)
        kind = "dish" if picture.bodies[placement.id].local.opening is not None else prop.finish
        off.setdefault(kind, []).append(abs(a - b))
        print(f"  {prop.name:24} {kind:7} drawn {a:5.1f}  proof {b:5.1f}  {a - b:+5.1f}")
    matt = off.get("matte", []) + off.get("satin", []) + off.get("gloss", [])
    print(f"{title}: matt, satin and gloss within 6: {sum(v <= 6 for v in matt)} of {len(matt)}; "
          + "; ".join(f"{kind} median {np.median(off[kind]):.1f}" for kind in ("dish", "metal") if kind in off))  # fmt: skip


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
            for title in TITLES:
                if page.locator(f"text={title}").count():
                    compared(page, url, title)
                    page.goto(url)
            browser.close()
    finally:
        process.terminate()
        process.wait()


if __name__ == "__main__":
    main()
