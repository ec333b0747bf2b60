"""What should be upright or level through the lens and is not, in one sentence."""

from __future__ import annotations

from tideflat.core.camera.straightness import lean_in_frame_deg, level_lines_deg
from tideflat.core.evaluate import Picture

#: Less than this nobody sees, degrees; so many things are named; a camera that looks down so steeply shows no uprights.
_LEAST_DEG, _NAMED, _STEEP_DEG = 0.1, 3, 60.0
#: Walked further round than this, degrees, the table's edges run aslant as they should.
_SQUARE_DEG = 5.0
_LINES = {"backdrop": "the backdrop's foot", "back": "the table's back edge", "front": "the table's front edge"}


def straight_words(picture: Picture) -> str:
    """The furthest out first; that all is straight where it is; empty from above, where nothing stands upright in the picture."""
    if picture.setup.camera.elevation > _STEEP_DEG:
        return ""
    leans = {i: lean_in_frame_deg(picture.bodies[i], picture.view) for i in picture.silhouettes}
    found = sorted(((i, d) for i, d in leans.items() if d is not None and abs(d) >= _LEAST_DEG), key=lambda f: -abs(f[1]))
    said = [f"the {picture.props[i].name} leans {abs(d):.1f}° to the {'right' if d > 0 else 'left'}" for i, d in found[:_NAMED]]
    if len(found) > _NAMED:
        said.append(f"{len(found) - _NAMED} more lean less")
    walked = (picture.setup.camera.azimuth + 90) % 180 - 90
    levels = level_lines_deg(picture.view, picture.scene) if abs(walked) < _SQUARE_DEG else {}
    line = next((name for name in _LINES if levels.get(name) is not None), None)
    off = levels[line] if line is not None else None
    if line is not None and off is not None and abs(off) >= _LEAST_DEG:
        said.append(f"{_LINES[line]} falls {abs(off):.1f}° to the {'right' if off > 0 else 'left'}")
    if not said:
        return "What stands upright is upright in the picture." if line is None else "What stands upright is upright in the picture, and level lines are level."
    return "In the picture " + ", ".join(said) + "."
