"""A cloth: its weave, hem and folds; and one that falls over an edge, part by part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ...colour.mix import darker
from ...model import Prop
from ...plane.hull import hull_of
from ...shapes.cloth import Cloth
from ...shapes.shape import Shape, Top
from ...solids.body import Body
from ...solids.folded import Facet, FoldedCloth, facets_of
from ...tolerances import CONTACT_MM, CUT_GRID_MM
from ..pieces import Paint, Piece
from ..skins import BOTH_VIEWS, skin_of, skin_piece
from ..strokes import face, flat, placed, random_of, stroke, tone
from .drawing import Ask, Drawing

#: How much darker what hangs is than what lies, turned to the light of the drawings and away from it.
_HANGS_LIT, _HANGS_SHADED = 0.06, 0.32
#: What is seen from a lens below it, or level with it, is looked for so many times as far off.
_FAR = 1e4


@dataclass(frozen=True, eq=False, slots=True)
class _Mark:
    """What is woven into the sheet or pressed into it: corners (n, 2) on the sheet spread out."""

    ring: np.ndarray
    paint: Paint
    one_sided: bool = False


def cloth(ask: Ask) -> list[Piece]:
    """The sheet and what is woven into it."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    shape = body.shape
    assert isinstance(shape, Cloth)
    main, marks = tones[0], _marks(shape, prop, tones, random_of(prop))
    if isinstance(shape, FoldedCloth):
        return _folded(ask, shape, main, marks)
    z = shape.thickness
    pieces = [
        Piece("hull", Paint(darker(main, 0.3), own=main), points=body.parts[0]),
        face(
            body,
            body.local.parts[0][4:],
            Paint(main, 1.0, "sheen", line=darker(main, 0.25), line_width=0.6, line_opacity=0.6),
        ),
    ]
    pieces += [Piece("ring", m.paint, points=placed(body, flat(m.ring, z)), one_sided=m.one_sided) for m in marks]
    return [*pieces, stroke(body, flat(_hem(shape), z), darker(main, 0.4), 0.5, 0.4, closed=True)]


def _marks(shape: Cloth, prop: Prop, tones: tuple[str, ...], random: np.random.Generator) -> list[_Mark]:
    """Cloth: stripes in the second colour, and soft folds that run out from one corner."""
    w, d = shape.width / 2, shape.depth / 2
    second = tone(tones, 1, darker(tones[0], 0.22))
    marks: list[_Mark] = []
    if prop.texture == "striped":
        for k in (-0.86, -0.78, 0.78, 0.86):
            band = np.array([[w * k - w * 0.022, -d], [w * k + w * 0.022, -d], [w * k + w * 0.022, d], [w * k - w * 0.022, d]])
            marks.append(_Mark(band, Paint(second, 0.85), True))
    if prop.texture == "checked":
        for k in np.linspace(-0.85, 0.85, 7):
            for band in (
                np.array([[w * k - w * 0.05, -d], [w * k + w * 0.05, -d], [w * k + w * 0.05, d], [w * k - w * 0.05, d]]),
                np.array([[-w, d * k - d * 0.05], [w, d * k - d * 0.05], [w, d * k + d * 0.05], [-w, d * k + d * 0.05]]),
            ):
                marks.append(_Mark(band, Paint(second, 0.4), True))
    for k in range(4):  # each fold: a lit side and a shaded side, tapering
        start = np.array([-w, -d + 2 * d * (0.15 + 0.22 * k + 0.08 * random.random())])
        end = np.array([w, np.clip(start[1] + d * (random.random() - 0.35) * 0.8, -d, d)])
        side = np.array([0.0, d * (0.05 + 0.05 * random.random())])
        shaded = np.stack([start, end, np.clip(end + side * 0.3, [-w, -d], [w, d]), np.clip(start + side, [-w, -d], [w, d])])
        lit = np.stack([start, np.clip(start - side * 0.8, [-w, -d], [w, d]), np.clip(end - side * 0.2, [-w, -d], [w, d]), end])
        marks.append(_Mark(shaded, Paint("#000000", 0.09)))
        marks.append(_Mark(lit, Paint("#ffffff", 0.13)))
    return marks


def _hem(shape: Cloth) -> np.ndarray:
    w, d = shape.width / 2, shape.depth / 2
    return np.array([[-w, -d], [w, -d], [w, d], [-w, d]]) * (1 - 5 / max(w, d))


# ---- fallen over an edge


def _folded(ask: Ask, shape: FoldedCloth, main: str, marks: list[_Mark]) -> list[Piece]:
    """Every part of it, what lies on the ground first. In the frame, what of that lies behind the thing under the cloth is not drawn: the
    cloth is painted over that thing."""
    skin = skin_of(ask.prop, "top", "tile")
    hem = [_Mark(ring, Paint(darker(main, 0.4), 0.4)) for ring in _hem_bands(_hem(shape))]
    behind = _behind(ask, shape)
    pieces: list[Piece] = []
    for facet in facets_of(shape):
        colour = main if facet.fall != "hangs" else _hanging(ask.body, facet, main)
        whole = shapely.Polygon(facet.flat)
        seen = whole if facet.fall != "lies" else _back_on(facet, _less(shapely.Polygon(facet.points[:, :2]), behind))
        if shapely.equals(seen, whole) or seen.area >= whole.area - CONTACT_MM**2:
            regions = [(whole, BOTH_VIEWS)]
        else:
            regions = [(whole, frozenset({"table"})), (seen, frozenset({"frame"}))]
        for region, views in regions:
            for ring in _rings(region):
                paint = Paint(colour, 1.0, line=colour, line_width=0.5, own=main)
                pieces += _part(ask.body, shape, facet, ring, paint, views)
                if skin is not None:
                    across, down = (skin.width or shape.width), (skin.depth or shape.depth)
                    uv = np.column_stack([(ring[:, 0] + shape.width / 2) / across, (shape.depth / 2 - ring[:, 1]) / down])
                    pieces.append(skin_piece(_placed(ask.body, shape, facet, ring), skin.picture, uv, views))
                    if facet.fall == "hangs":
                        dark = Paint("#000000", 0.5 * _shade(ask.body, facet), own="none")
                        pieces.append(Piece("ring", dark, points=_placed(ask.body, shape, facet, ring), one_sided=True, views=views))
            for mark in (*marks, *hem) if skin is None else ():
                for ring in _rings(_shared(region, shapely.Polygon(mark.ring))):
                    pieces.append(
                        Piece("ring", mark.paint, points=_placed(ask.body, shape, facet, ring), one_sided=True, views=views)
                    )
    return pieces


def _part(body: Body, shape: FoldedCloth, facet: Facet, ring: np.ndarray, paint: Paint, views: frozenset[str]) -> list[Piece]:
    """One part, its outline in its own colour, so that no seam shows between neighbours."""
    return [Piece("ring", paint, points=_placed(body, shape, facet, ring), one_sided=True, views=views)]


def _less(region: shapely.Geometry, other: shapely.Geometry) -> shapely.Geometry:
    return shapely.difference(shapely.buffer(region, 0), shapely.buffer(other, 0), grid_size=CUT_GRID_MM)


def _shared(region: shapely.Geometry, other: shapely.Geometry) -> shapely.Geometry:
    return shapely.intersection(shapely.buffer(region, 0), shapely.buffer(other, 0), grid_size=CUT_GRID_MM)


def _rings(region: shapely.Geometry) -> list[np.ndarray]:
    """(n, 2) each, counter-clockwise: the polygons of a region, without those that nobody would see."""
    polygons = [p for p in shapely.get_parts(region) if p.geom_type == "Polygon" and p.area > CONTACT_MM**2]
    return [np.array(shapely.geometry.polygon.orient(p).exterior.coords)[:-1] for p in polygons]


def _placed(body: Body, shape: FoldedCloth, facet: Facet, ring: np.ndarray) -> np.ndarray:
    """(n, 3) places (n, 2) on the sheet spread out, where they are now: on its upper side, and what hangs from the edge of that."""
    places = _laid(facet, ring, facet.flat, facet.points)
    if facet.fall != "hangs":
        return body.placed_point(places + facet.normal * shape.thickness)
    at_fold = places[:, 2] > -CONTACT_MM
    return body.placed_point(places + np.column_stack([np.zeros((len(places), 2)), np.where(at_fold, shape.thickness, 0.0)]))


def _laid(facet: Facet, places: np.ndarray, from_: np.ndarray, to: np.ndarray) -> np.ndarray:
    """Places (n, 2) brought over by the affine map that takes a facet's corners ``from_`` (m, 2) to ``to`` (m, k) best."""
    about, middle = from_ - from_.mean(axis=0), to.mean(axis=0)
    return (places - from_.mean(axis=0)) @ np.linalg.lstsq(about, to - middle, rcond=None)[0] + middle


def _back_on(facet: Facet, seen: shapely.Geometry) -> shapely.Geometry:
    """What is seen of a part that lies, on the sheet spread out."""
    return shapely.transform(seen, lambda places: _laid(facet, places, facet.points[:, :2], facet.flat))


def _behind(ask: Ask, shape: FoldedCloth) -> shapely.Geometry:
    """Where, on the ground round the thing under the cloth, it hides the ground from the lens, in the cloth's own axes."""
    eye = (np.array(ask.eye) - ask.body.base) @ ask.body.turned
    edge = np.array(shape.edge)
    above = float(eye[2])
    reach = (above + shape.drop) / above if above > 0 else _FAR
    thrown = eye[:2] + (edge - eye[:2]) * min(reach, _FAR)
    return hull_of(np.concatenate([edge, thrown]))


def _shade(body: Body, facet: Facet) -> float:
    """How far from the light of the drawings a hanging part is turned, as a share of darkness."""
    way = body.turned @ facet.normal
    toward = float(way[:2] @ np.array([-0.75, 0.66]))  # the light comes from the back left
    return _HANGS_LIT + (_HANGS_SHADED - _HANGS_LIT) * (1 - toward) / 2


def _hanging(body: Body, facet: Facet, main: str) -> str:
    return darker(main, _shade(body, facet))


def _hem_bands(hem: np.ndarray) -> list[np.ndarray]:
    """The line of the hem as four thin bands, which can be cut where the cloth bends."""
    return [np.array(shapely.LineString([hem[k], hem[(k + 1) % 4]]).buffer(0.3, cap_style="flat").exterior.coords)[:-1] for k in range(4)]


def _level_top(shape: Shape) -> Top | None:
    """The face that a picture lies on; a cloth that falls wears it part by part."""
    return None if shape.is_folded else shape.top()


DRAWING = Drawing((Cloth, FoldedCloth), cloth, top=_level_top)
