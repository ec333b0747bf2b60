"""What a job found strong or weak, in words and in the reader's unit. A plain text is taken as it is."""

from __future__ import annotations

from typing import Any

from tideflat.core.colour.words import colour_words
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.units import format_length

from .finding_words import finding_words


def told_words(picture: Picture, told: Any, unit: str) -> str:
    """One line. ``picture``: the scene as it stands, for the names of things."""
    if isinstance(told, str):
        return told
    if "clear_mm" in told:
        return f"the hero stands clear of everything large by {format_length(told['clear_mm'], unit)}"
    if "total_mm" in told:
        return f"{told['count']} moved, {format_length(told['total_mm'], unit)} in all"
    if "missing" in told:
        sides = " × ".join(format_length(side, unit) for side in told["missing"])
        colour = f"{colour_words(told['hex'])}, {told['finish']}"
        return f"not in the stores: about {sides}, {colour}; it is laid down as a stand-in, and put on the list to borrow"
    for key, words in (("clears", "clears: "), ("brings", "brings: "), ("finding", "")):
        if key in told:
            return words + _title(picture, told[key], unit)
    return ""


def _title(picture: Picture, plain: dict[str, Any], unit: str) -> str:
    """The finding's own short sentence; the core's, of something that is not there."""
    if any(i not in picture.props for i in plain["placements"]):
        return str(plain["message"])
    lists = {key: tuple(plain[key]) for key in ("placements", "sides", "crops")}
    finding = Finding(**{**plain, **lists, "figures": tuple(plain["figures"].items())})
    return finding_words(picture, finding, unit)[0]
