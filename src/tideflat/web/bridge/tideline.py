"""The tideline: findings above it, matters of taste and what is meant below."""

from __future__ import annotations

import json
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.merging import meant_of
from tideflat.core.findings.registry import findings, retouch_minutes

from .finding_words import finding_words
from .sheets import frame_sheet

MOST_TASTE = 5
#: Findings above the line that are shown at once, the gravest first; the others come up as these are settled.
MOST_ABOVE = 40


def tideline(picture: Picture, unit: str) -> dict[str, Any]:
    """Findings above the line, matters of taste and what is meant below it; what is left out of either list, by name, and the sum of what
    is left for retouching."""
    above: list[dict[str, Any]] = []
    taste: list[dict[str, Any]] = []
    kept: list[dict[str, Any]] = []
    waiting: list[str] = []
    waiting_taste: list[str] = []
    for finding in findings(picture):
        meant = meant_of(picture, finding.code, finding.placements)
        if meant is not None:
            kept.append({**finding_view(picture, finding, unit), "reason": meant.reason, "retouch": meant.retouch})
            continue
        shown, left, most = (taste, waiting_taste, MOST_TASTE) if finding.severity == "taste" else (above, waiting, MOST_ABOVE)
        if len(shown) < most:
            shown.append(finding_view(picture, finding, unit))
        else:
            left.append(finding_words(picture, finding, unit)[0])
    minutes = [m.retouch for m in picture.whole.meant if m.setup == picture.setup.name and m.retouch is not None]
    retouching = {"count": len(minutes), "minutes": sum(minutes)} if minutes else None
    return {"above": above, "taste": taste, "kept": kept, "waiting": waiting, "waiting_taste": waiting_taste, "retouching": retouching}


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
        "minutes": retouch_minutes(finding),
    }


def finding_key(finding: Finding) -> str:
    """One line that names a finding in a set-up: code, feature and placements."""
    return "|".join((finding.code, str(dict(finding.figures).get("feature", "")), *finding.placements))
