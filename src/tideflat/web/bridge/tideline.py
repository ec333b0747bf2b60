"""The tideline: findings above it, matters of taste and what is meant below."""

from __future__ import annotations

import json
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import findings

from .finding_words import finding_words
from .sheets import frame_sheet

MOST_TASTE = 5
#: Findings above the line that are shown at once, the gravest first; the others come up as these are settled.
MOST_ABOVE = 40


def tideline(picture: Picture, unit: str) -> dict[str, Any]:
    """Findings above the line, matters of taste and what is meant below it."""
    meant = {(m.code, m.placements): m.reason for m in picture.whole.meant if m.setup == picture.setup.name}
    above: list[dict[str, Any]] = []
    taste: list[dict[str, Any]] = []
    kept: list[dict[str, Any]] = []
    waiting = 0
    for finding in findings(picture):
        reason = meant.get((finding.code, finding.placements))
        if reason is not None:
            if not any(
                (k["code"], k["placements"]) == (finding.code, finding.placements) for k in kept
            ):  # in several crops it is meant once
                kept.append({**finding_view(picture, finding, unit), "reason": reason})
        elif finding.severity == "taste":
            drawn = finding_view(picture, finding, unit) if len(taste) < MOST_TASTE else None
            if drawn and not any(t["title"] == drawn["title"] for t in taste):  # two halves of one orange are said once
                taste.append(drawn)
        elif len(above) < MOST_ABOVE:
            above.append(finding_view(picture, finding, unit))
        else:
            waiting += 1
    return {"above": above, "taste": taste, "kept": kept, "waiting": waiting}


def finding_view(picture: Picture, finding: Finding, unit: str) -> dict[str, Any]:
    """A finding as it is shown, with what it lights and the measure it draws."""
    title, sentence = finding_words(picture, finding, unit)
    sheet = frame_sheet(picture.view)
    depth = picture.scene.surface.depth
    mark = {
        "things": list(finding.placements),
        "frame": [
            [round(a[0] * sheet.scale_x, 1), round(a[1] * sheet.scale_y, 1), round(b[0] * sheet.scale_x, 1), round(b[1] * sheet.scale_y, 1)]
            for a, b in finding.mark.frame
        ],
        "table": [[round(a[0], 1), round(depth - a[1], 1), round(b[0], 1), round(depth - b[1], 1)] for a, b in finding.mark.table],
        "crop": finding.crop,
    }
    return {
        "key": finding_key(finding),
        "severity": finding.severity,
        "title": title,
        "sentence": sentence,
        "mark": json.dumps(mark),
        "code": finding.code,
        "placements": finding.placements,
    }


def finding_key(finding: Finding) -> str:
    """One line that names a finding in a set-up: code, crop and placements."""
    return "|".join((finding.code, finding.crop or "", *finding.placements))
