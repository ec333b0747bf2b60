"""The job of a proof: a first look in half size, then every light by itself, each told as it comes. It knows no database."""

from __future__ import annotations

import base64
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import cv2
import numpy as np

from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.lit import lit_picture
from tideflat.core.render.carded import card_lights, card_picture
from tideflat.core.render.compiled import compiled
from tideflat.core.render.developing import developed
from tideflat.core.render.giving_way import session_gives_way
from tideflat.core.render.proof import USUAL_WIDTH, Proof, exposure_of, proof_of, size_of

#: The first look: half as wide, of so few samples; then so many of each light.
FIRST_SAMPLES, SAMPLES = 4, 16
#: What is seen in each pixel is looked at so often for it.
FIRST_GUIDES = 2
_FIRST_SHARE = 0.12
#: Each light's picture goes out so good; it is mixed from there.
_QUALITY = 92

Say = Callable[[dict[str, Any]], None]


def prove(job: dict[str, Any], say: Say, goes_on: Callable[[], bool]) -> None:
    """job: document, setup, skins (WebP in base 64, by id); width and samples, where they are not the usual; exposed: (3,) linear lux, where it is known. Says ``told``: the picture so far, its words, and each light's when it is done."""
    scene = read_scene(job["document"].encode())
    skins = {key: _pixels(data) for key, data in job["skins"].items()}
    asked = Picture(scene, scene.setup(job["setup"]), skins)
    picture = lit_picture(asked)
    told: dict[str, Any] = {"picture": "", "groups": [], "cards": [], "words": "looking", "is_usual": not asked.scene.lights, "size": []}
    say({"share": 0.02, "told": [told]})

    def first_watch(share: float, _: np.ndarray) -> bool:
        say({"share": _FIRST_SHARE * share})
        return goes_on()

    width = job.get("width", USUAL_WIDTH)
    exposure = np.pi / np.array(job["exposed"]) if job.get("exposed") else exposure_of(picture, quick=True)
    first = proof_of(picture, width // 2, FIRST_SAMPLES, exposure=exposure, guide_samples=FIRST_GUIDES, watch=first_watch)
    shown = first.mixed()
    told.update(picture=_address(shown), words="a first look, half as large", size=[shown.shape[1], shown.shape[0]])
    say({"share": _FIRST_SHARE, "told": [told]})
    if not goes_on() or not first.is_whole:
        return
    count = max(1, len([light for light in picture.scene.lights if light.on]))

    def watch(share: float, _: np.ndarray) -> bool:
        k = min(count, int(share * count) + 1)
        told["words"] = f"light {k} of {count}" if count > 1 else "settling"
        say({"share": _FIRST_SHARE + (1 - _FIRST_SHARE) * share, "told": [told]})
        return goes_on()

    with compiled():  # what there is to compile takes longer than a first look
        whole = proof_of(picture, width, job.get("samples", SAMPLES), apart=True, exposure=exposure, watch=watch)
    told.update(finished(whole))
    cards = card_lights(picture) if whole.is_whole and whole.light else ()
    session_gives_way(19)  # to another proof as well: this one has been seen
    settled = _words(whole)
    for k, light in enumerate(cards):
        told["words"] = f"{settled}; what a card gives follows" + (f", {k + 1} of {len(cards)}" if len(cards) > 1 else "")
        say({"share": 1.0 if not k else k / len(cards), "told": [told]})
        with compiled():
            given = card_picture(
                picture,
                light,
                size_of(picture, width),
                whole.samples,
                exposure,
                whole.guides,
                partial(_card_watch, k, len(cards), say, goes_on),
            )
        if given is None:
            return
        told["cards"].append(
            {
                "id": light.card.id,
                "picture": _address(coded(given)),
                "rgb": light.rgb.tolist(),
                "lux": {key: on.tolist() for key, on in light.lux.items()},
            }
        )
    told["words"] = settled
    say({"share": 1.0, "told": [told]})
    say({"end": True, "reason": None})


def _card_watch(k: int, count: int, say: Say, goes_on: Callable[[], bool], share: float) -> bool:
    say({"share": (k + share) / count})
    return goes_on()


def finished(proof: Proof) -> dict[str, Any]:
    """What is told of a proof that is settled."""
    shown = proof.mixed()
    groups = [{"light": light, "picture": _address(coded(picture))} for light, picture in proof.light.items()]
    return {
        "picture": _address(shown),
        "groups": groups,
        "cards": [],
        "words": _words(proof),
        "size": [shown.shape[1], shown.shape[0]],
    }


def _words(proof: Proof) -> str:
    return f"settled, {proof.samples} samples"


#: Linear light up to so many times white goes into a byte by its square root, so that light can be mixed again.
MOST_LIGHT = 4.0


def coded(light: np.ndarray) -> np.ndarray:
    """(h, w, 3) uint8 of linear light."""
    return np.rint(np.sqrt(np.clip(light / MOST_LIGHT, 0, 1)) * 255).astype(np.uint8)  # type: ignore[no-any-return]


@dataclass(frozen=True, slots=True)
class Swapped:
    """data: WebP, as coded, of what a card would give if it gave everything back; more: (3,) how much of that is added to what there is."""

    data: bytes
    more: np.ndarray


def mixed(groups: dict[str, bytes], strengths: dict[str, float], swapped: Sequence[Swapped] = ()) -> bytes:
    """A JPEG of lights together, each (WebP as coded) made stronger by so many stops, with cards swapped."""
    total = np.zeros_like(_linear(next(iter(groups.values()))))
    for light, data in groups.items():
        stops = strengths.get(light, 0.0)
        if stops > OFF_STOPS:
            total += _linear(data) * np.float32(2.0**stops)
    for card in swapped:
        total += _linear(card.data) * card.more.astype(np.float32)[::-1]  # decoded, blue comes first
    return cv2.imencode(".jpg", developed(np.maximum(total, 0)), [cv2.IMWRITE_JPEG_QUALITY, 90])[1].tobytes()


_LINEAR = ((np.arange(256) / 255) ** 2 * MOST_LIGHT).astype(np.float32)


def _linear(data: bytes) -> np.ndarray:
    return _LINEAR[np.asarray(cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR))]


#: So many stops weaker a light is off.
OFF_STOPS = -6.0


def _address(picture: np.ndarray) -> str:
    data = cv2.imencode(".webp", picture[..., ::-1], [cv2.IMWRITE_WEBP_QUALITY, _QUALITY])[1].tobytes()
    return "data:image/webp;base64," + base64.b64encode(data).decode()


def bytes_in(address: str) -> bytes:
    """What a data address holds."""
    return base64.b64decode(address.partition(",")[2])


def _pixels(data: str) -> np.ndarray:
    found = np.asarray(cv2.imdecode(np.frombuffer(base64.b64decode(data), np.uint8), cv2.IMREAD_UNCHANGED))
    return cv2.cvtColor(found, cv2.COLOR_BGRA2RGBA) if found.shape[2] == 4 else cv2.cvtColor(found, cv2.COLOR_BGR2RGB)
