"""Each deliverable in a line: what of the sensor it has, its hero, what it cuts and leaves out, its words, what is found in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from tideflat.core.camera.crops import FULL_FRAME, Crop
from tideflat.core.delivered import hero_share
from tideflat.core.evaluate import Picture, share_within
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.merging import meant_of
from tideflat.core.findings.registry import findings

#: Of what is in the frame, less than this share in a crop is left out, and more than the rest of it whole.
_TOUCHED = 0.02
#: Names in one list.
_NAMES = 3
#: Pixels wanted over pixels had by more than this are told.
_ENLARGED = 1.02


def crops_told(picture: Picture) -> list[dict[str, Any]]:
    """A row for each deliverable, in their order."""
    found = [f for f in findings(picture) if f.severity != "taste" and meant_of(picture, f.code, f.placements) is None]
    # What of a thing is in the frame at all, and of that in the crop: a cloth that the frame cuts is not cut by a crop as wide.
    inside = {i: share_within(s.outline, FULL_FRAME) for i, s in picture.silhouettes.items()}
    return [_told(picture, crop, inside, found) for crop in picture.crops]


def _told(picture: Picture, crop: Crop, inside: Mapping[str, float], found: Sequence[Finding]) -> dict[str, Any]:
    shares = {i: share_within(s.outline, crop.box) / inside[i] for i, s in picture.silhouettes.items() if inside[i] > 0}
    cut = [i for i, share in shares.items() if _TOUCHED < share < 1 - _TOUCHED]
    out = [i for i, share in shares.items() if share <= _TOUCHED]
    heroes = [i for i in picture.hero_ids() if i in picture.silhouettes]
    own = [f for f in found if crop.name in (f.crop, *f.crops)]
    words = [f for f in own if f.code.startswith("copy.")]
    return {
        "name": crop.name,
        "uses": round(100 * crop.share_of_frame),
        "pixels": crop.pixels,
        "megapixels": crop.pixels[0] * crop.pixels[1] / 1e6,
        "enlarged": crop.enlargement if crop.enlargement > _ENLARGED else None,
        "hero": round(100 * sum(hero_share(picture, i, crop.box) for i in heroes)) if heroes else None,
        "cut": _names(picture, cut),
        "out": _names(picture, out),
        "words": "" if crop.copy_box is None else "not clear" if words else "clear",
        "stops": sum(f.severity == "stop" for f in own),
        "mends": sum(f.severity == "mend" for f in own),
    }


def _names(picture: Picture, ids: Sequence[str]) -> str:
    names = list(dict.fromkeys(picture.props[i].name for i in ids))
    more = len(names) - _NAMES
    return ", ".join(names[:_NAMES]) + (f" and {more} more" if more > 0 else "")
