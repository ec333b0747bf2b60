"""Named places of things in both views: seen, turned away, soft or hidden, told apart by how their outline is drawn."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tideflat.core.camera.crops import FULL_FRAME, Crop
from tideflat.core.evaluate import Picture
from tideflat.core.facts.practice import FEATURE_SEEN, FEATURE_TURNED
from tideflat.core.features.seen import FeatureSeen, in_frame, seen_within
from tideflat.core.findings.features import BLUR_SLACK, delivered_across

from .sheets import Sheet, path_data

#: Past this, degrees from the lens, nothing of it is seen at all.
_AWAY_DEG = 90.0
_WORDS = {"seen": "seen", "turned": "turned from the lens", "soft": "out of what is sharp", "hidden": "hidden, or out of the picture"}


@dataclass(frozen=True)
class PlaceDrawn:
    """state: seen, turned, soft or hidden; frame: its outline there, empty where it faces away; table: the same from above; told: in words."""

    state: str
    frame: str
    table: str
    told: str


def places_drawn(picture: Picture, crop: Crop | None, frame: Sheet, table: Sheet) -> list[PlaceDrawn]:
    """Every named place of what is in the picture, as the chosen crop shows it."""
    found = []
    window, name = (FULL_FRAME, None) if crop is None else (crop.box, crop.name)
    for i in picture.silhouettes:
        for feature in picture.props[i].features:
            shown = in_frame(picture, i, feature)
            if shown is None:
                continue
            state = _state(seen_within(picture, shown, window, delivered_across(picture, name)))
            faces = shown.outline is not None and shown.angle_deg < _AWAY_DEG
            outline = path_data(np.array(shown.outline), frame) if faces else ""
            told = f"{feature.name} of the {picture.props[i].name}: {_WORDS[state]}"
            found.append(PlaceDrawn(state, outline, path_data(shown.patch.corners[:, :2], table), told))
    return found


def _state(seen: FeatureSeen) -> str:
    """By the limits of the findings, the worst first."""
    if seen.angle_deg >= _AWAY_DEG or seen.angle_deg > FEATURE_TURNED.value:
        return "turned"
    if 100 * seen.seen < FEATURE_SEEN.value:
        return "hidden"
    return "soft" if seen.blur > 1 + BLUR_SLACK else "seen"
