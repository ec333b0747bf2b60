"""What the browser drags with: both projections as matrices, and every thing's pieces in space."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import shapely
from django.utils.safestring import SafeString, mark_safe

from tideflat.core.camera.view import View
from tideflat.core.drawing.detail import Detail, detail_for
from tideflat.core.drawing.props import Eye, eye_for
from tideflat.core.evaluate import Picture
from tideflat.core.model import Prop
from tideflat.core.remember import remembered
from tideflat.core.solids.body import Body
from tideflat.core.table.carrying import moving_with

from .drawing import thing_pieces
from .sheets import frame_sheet, table_sheet

#: Places in the frame whose rays say where every other goes, without what the lens bends.
_CORNERS = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
#: A radius, in focal lengths, that nothing in a picture reaches.
_FAR_OUT = 1e6
KINDS = {"hull": 0, "ring": 1, "line": 2, "wall": 3}


def geometry(picture: Picture, known: Picture | None = None) -> SafeString:
    """JSON with lengths in mm. The browser holds no rules, only these numbers.

    ``order`` names every thing; ``things`` leaves out those that the window has already, when it shows ``known`` now.
    """
    view = picture.view
    fsheet, tsheet = frame_sheet(view), table_sheet(picture.scene.surface)
    common: dict[str, Any] = {
        **projection(view),
        "frame": [fsheet.width, fsheet.height],
        "table": [tsheet.width, tsheet.height],
        "camera": {
            "position": [round(float(v), 3) for v in view.position],
            "right": [round(float(v), 6) for v in view.right],
            "elevation": picture.setup.camera.elevation,
            "aim": list(picture.setup.camera.aim),
            "rays": [[round(float(v), 9) for v in ray] for ray in view.straight_rays(_CORNERS)],
        },
    }
    common["guides"] = [[g.axis, g.at, g.locked, *([g.ends] if g.start else [])] for g in picture.setup.guides]
    common["apart"] = [i for i in picture.bodies if picture.setup.differing(i) or i in dict(picture.setup.swap)]
    have = {} if known is None else _things(known)
    things = {i: text for i, text in _things(picture).items() if have.get(i) is not text}
    written = _compact(common)[:-1] + f',"order":{_compact(list(picture.bodies))},"things":{{'
    written += ",".join(f"{json.dumps(i)}:{text}" for i, text in things.items()) + "}}"
    return mark_safe(written.replace("&", "\\u0026").replace("<", "\\u003c"))


def projection(view: View) -> dict[str, Any]:
    """matrix: as a pinhole sees. bend: what the lens bends after it, centre, scale, the five terms and how far they reach; None when nothing."""
    bend = None
    if view.distortion is not None:
        reach = min(view.distortion.reach, _FAR_OUT)
        bend = [float(f"{v:.9g}") for v in (*view.centre, *view.scale, *view.distortion.terms, reach)]
    return {"matrix": [[round(float(v), 9) for v in row] for row in view.matrix], "bend": bend}


def _things(picture: Picture) -> dict[str, str]:
    lens, detail = picture.view.position, detail_for(picture.props.values())
    return {
        i: _thing(body, picture.props[i], eye_for(body, lens), _carried(picture, i), _along(picture, i), detail)
        for i, body in picture.bodies.items()
    }


def _carried(picture: Picture, placement_id: str) -> tuple[str, ...]:
    return tuple(i for i in picture.scene.carried_by(placement_id) if i in picture.bodies)


def _along(picture: Picture, placement_id: str) -> tuple[str, ...]:
    """What of its group, with what that carries, goes along when it is moved on the table."""
    if picture.scene.group_of(placement_id) is None:
        return ()
    carried = {placement_id, *picture.scene.carried_by(placement_id)}
    return tuple(i for i in moving_with(picture.scene, placement_id) if i not in carried and i in picture.bodies)


def _compact(value: Any) -> str:
    return json.dumps(value, separators=(",", ":"))


@remembered(4)
def _thing(body: Body, prop: Prop, eye: Eye, carried: tuple[str, ...], along: tuple[str, ...], detail: Detail) -> str:
    p = body.placement
    foot = shapely.simplify(body.footprint_hull, 0.3).exterior.coords
    return _compact(
        {
            "name": prop.name, "x": p.x, "y": p.y, "z": p.z, "turn": p.turn, "lean": p.lean, "lean_toward": p.lean_toward,
            "top": round(body.z_max, 1), "rim": _rim(body), "locked": p.locked, "carried": carried, "along": along, "role": p.role,
            "foot": [[round(x, 1), round(y, 1)] for x, y in list(foot)[:-1]],
            "pieces": [_piece(piece) for piece in thing_pieces(body, prop, eye, detail)],
        }
    )  # fmt: skip


def _rim(body: Body) -> float | None:
    """Radius of the mouth of a dish that stands upright, mm; None for all else."""
    mouth = body.opening
    return None if mouth is None or body.placement.lean else round(float(np.linalg.norm(mouth[1])), 1)


def _piece(piece: Any) -> list[Any]:
    mask = ("table" in piece.views) * 1 + ("frame" in piece.views) * 2
    circles = [_short(circle.ravel()) for circle in piece.circles]
    flat = _short(piece.points.ravel())
    points = [flat[k : k + 3] for k in range(0, len(flat), 3)]
    drawn = [KINDS[piece.kind], mask, int(piece.one_sided), circles, points]
    return drawn if piece.skin is None else [*drawn, [[round(float(v), 4) for v in at] for at in piece.skin.uv]]


def _short(values: np.ndarray) -> list[float | int]:
    """Tenths of a millimetre, without needless ``.0``."""
    return [int(v) if v.is_integer() else v for v in np.round(values, 1).tolist()]
