"""Proofs of a set-up: asked for as work, shown in the place of the frame, their lights mixed anew."""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass
from functools import partial
from importlib.util import find_spec
from typing import Any

import numpy as np
from django.core.cache import cache

from tideflat.core.evaluate import Picture
from tideflat.core.facts.light import CARD_REFLECTANCE
from tideflat.core.render.carded import share_of
from tideflat.web.bridge.light_words import light_name
from tideflat.web.stores.models import StoreImage
from tideflat.web.work import services as work
from tideflat.web.work.models import Work
from tideflat.web.work.proving import OFF_STOPS, Swapped, bytes_in, mixed

from .building import about
from .models import Scene, Version, VersionProof
from .queries import picture_of
from .services.history import core_scene
from .versions import kept_proofs

KIND = "proof"


@dataclass(frozen=True)
class Shown:
    """picture: an address that holds it, empty before there is one; lights, cards: (id, name) of those that can be mixed anew, or swapped."""

    picture: str
    words: str
    lights: tuple[tuple[str, str], ...]
    cards: tuple[tuple[str, str], ...]
    is_usual: bool


def may_prove() -> bool:
    """Whether what a proof needs is installed."""
    return find_spec("mitsuba") is not None


def ask(row: Scene, picture: Picture) -> Work:
    """Begin a proof, or what was begun for the same state."""
    found = newest(row, picture)
    if found is not None and found.state in (Work.WAITING, Work.WORKING, Work.DONE):
        return found
    job = {"document": row.document, "setup": picture.setup.name, "skins": _skins(row, picture)}
    exposed = cache.get(_exposed_key(row, picture))
    if exposed is not None:
        job["exposed"] = exposed
    then = partial(_settled, row.pk, row.position, picture.setup.name)
    return work.begin(row.studio, KIND, about(row, picture), job, then=then)


#: What a state is exposed for is known for so long after its light was drawn, s.
_EXPOSED_S = 1800


def _exposed_key(row: Scene, picture: Picture) -> str:
    return f"exposed-{about(row, picture)}"


def keep_exposed(row: Scene, picture: Picture, exposed: list[float]) -> None:
    """What the drawn light of this state is exposed for: a proof of it then begins at once, and is as bright."""
    cache.set(_exposed_key(row, picture), exposed, _EXPOSED_S)


def _settled(scene_id: int, step: int, setup: str, found: Work) -> None:
    """Where that step is a version, its proof is kept with it."""
    version = Version.objects.filter(scene_id=scene_id, number=step).first()
    if version is not None:
        _keep(version, setup, found)


def keep_with(version: Version, row: Scene) -> None:
    """What was proved of the step that is stood on is kept with its version, set-up by set-up: a job is forgotten after a while."""
    for setup in core_scene(row).setups:
        found = newest(row, picture_of(row, setup.name))
        if found is not None and found.state == Work.DONE:
            _keep(version, setup.name, found)


def _keep(version: Version, setup: str, found: Work) -> None:
    shown = told_of(found)
    if shown is not None and shown.picture:
        VersionProof.objects.update_or_create(version=version, setup=setup, defaults={"picture": bytes_in(shown.picture)})


def newest(row: Scene, picture: Picture) -> Work | None:
    return work.newest(row.studio, KIND, about(row, picture))


def _skins(row: Scene, picture: Picture) -> dict[str, str]:
    keys = {skin.picture for prop in picture.props.values() for skin in prop.skins}
    if picture.scene.surface.skin is not None:
        keys.add(picture.scene.surface.skin.picture)
    rows = StoreImage.objects.filter(studio_id=row.studio_id, key__in=keys)
    return {image.key: base64.b64encode(bytes(image.data)).decode() for image in rows}


def kept_here(row: Scene, setup: str) -> list[tuple[str, str]]:
    """(address, words) of the proofs kept with versions other than the step that is stood on, in a set-up."""
    notes = dict(row.versions.values_list("number", "note"))
    return [(address, notes.get(n) or f"step {n}") for n, address in kept_proofs(row, setup).items() if n != row.position]


def told_of(found: Work | None) -> Shown | None:
    """What there is of a proof; None before anything is told."""
    told: list[dict[str, Any]] = [] if found is None else json.loads(found.told)
    if not told:
        return None
    first = told[0]
    lights = tuple((g["light"], light_name(g["light"])) for g in first["groups"])
    cards = tuple((c["id"], light_name(c["id"])) for c in first.get("cards", ()))
    return Shown(first["picture"], first["words"], lights, cards, first["is_usual"])


#: What a card may be swapped for, each what it gives back: what is told of matt cards alone holds for matt ones alone.
GREY = 0.35
CARDS = {"white": CARD_REFLECTANCE["white"], "grey": GREY, "black": CARD_REFLECTANCE["black"]}


def mixed_anew(found: Work, strengths: dict[str, float], cards: dict[str, str] | None = None) -> bytes | None:
    """A JPEG of its lights, each so many stops stronger, with cards (by id) swapped for another of CARDS; None where it is not settled."""
    told = json.loads(found.told)
    if not told or not told[0]["groups"]:
        return None
    groups = {g["light"]: bytes_in(g["picture"]) for g in told[0]["groups"]}
    stops = {light: strengths.get(light, 0.0) for light in groups}
    alight = {light: by if by > OFF_STOPS else -np.inf for light, by in stops.items()}
    swapped = []
    for card in told[0].get("cards", ()):
        becomes = CARDS.get((cards or {}).get(card["id"], ""))
        if becomes is not None:
            lux = {light: np.array(on) for light, on in card["lux"].items()}
            swapped.append(Swapped(bytes_in(card["picture"]), share_of(np.array(card["rgb"]), lux, np.full(3, becomes), alight)))
    return mixed(groups, strengths, swapped)
