"""A photograph measured: what a person sees of it, what stays until they keep it, and the prop that it becomes."""

from __future__ import annotations

from dataclasses import dataclass
from importlib.resources import files
from typing import Any

import numpy as np
import shapely
from django.db import transaction

from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph, read_photograph
from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.core.formats.prop_table import PropRecord, slug
from tideflat.core.model import Prop, Surface
from tideflat.web.accounts.models import Studio

from .images import PHOTO_PX, SKIN_PX, keep_picture, keep_whole, sweep_passing
from .measured_shapes import shape_for
from .models import StoreImage, StoreProp, StoreSurface
from .services import keep_prop

EXAMPLES: dict[str, str] = {
    "board": "a serving board beside the sheet",
    "jar": "a jar, standing beside the sheet",
    "linen": "a linen cloth under the sheet",
    "five": "five things round one sheet",
}
#: Heights of the examples, mm.
EXAMPLE_HEIGHTS = {"board": 6.0, "jar": 96.0, "linen": 0.0, "five": 4.0}
#: Handles of an outline that a person moves: no more than so many.
_HANDLES = 36


@dataclass(frozen=True)
class Piece:
    """One of several things in a photograph: what was measured, the key of its cut-out, its outline as shares of the picture."""

    found: Any
    skin_key: str
    traced: list[list[float]]


@dataclass(frozen=True)
class Shown:
    """The photograph as it is shown and what was found in it. whole: where it is kept in its full size, to be measured in again. corners,
    traced: shares of its width and height; pixels: its size as shown. others: what else lies beside the sheet; shadows: rings round what
    was taken for shadow, as shares."""

    key: str
    whole: str
    pixels: tuple[int, int]
    corners: list[list[float]]
    traced: list[list[float]]
    found: Any | None = None
    skin_key: str = ""
    others: tuple[Piece, ...] = ()
    shadows: tuple[list[list[float]], ...] = ()


def example(name: str) -> bytes:
    return files("tideflat.web.stores").joinpath("examples", f"{name}.jpg").read_bytes()


def example_photograph_of(name: str) -> Photograph:
    if name not in EXAMPLES:
        raise FieldError("example", "must be one of " + ", ".join(EXAMPLES), name)
    return read_photograph(example(name), "example")


def kept_photograph(studio: Studio, key: str, focal_35mm: float | None) -> Photograph:
    """The photograph that was sent in before. Raises FieldError when it is no longer there."""
    row = StoreImage.objects.filter(studio=studio, key=key).first()
    if row is None:
        raise FieldError("photograph", "must be sent again; it was kept for a day only", show_got=False)
    return Photograph(read_photograph(bytes(row.data)).rgb, focal_35mm)


def measured(
    studio: Studio,
    photograph: Photograph,
    sheet: str,
    height_mm: float | None,
    corners: list[list[float]] | None,
    traced: list[list[float]] | None,
    whole: str = "",
    second: Photograph | None = None,
    strokes: list[tuple[bool, list[list[float]]]] | None = None,
) -> Shown:
    """Measure, and keep the photograph and the cut-outs until tomorrow. ``whole``: where it is kept already; ``second``: of the same
    things, from another place; ``strokes``: whether what they
    touch is taken into ``traced``, or out of it. Raises FieldError as the core does."""
    from tideflat.core.vision.measure import measure, measure_all  # OpenCV: only when a photograph comes in
    from tideflat.core.vision.two_pictures import measure_both

    size = np.array([photograph.rgb.shape[1], photograph.rgb.shape[0]], dtype=float)
    given = [None if v is None else np.array(v) * size for v in (corners, traced)]
    if strokes and given[1] is not None:
        from tideflat.core.vision.stroked import Stroke, outline_after

        given[1] = outline_after(photograph.rgb, given[1], [Stroke(np.array(points) * size, takes) for takes, points in strokes])
    if second is not None:
        found, *more = measure_both(photograph, second, sheet, height_mm)
    elif given[1] is not None:
        found, more = measure(photograph, sheet, height_mm, *given), []
    else:
        found, *more = measure_all(photograph, sheet, height_mm, given[0])
    sweep_passing()
    row = keep_picture(studio, photograph.rgb, PHOTO_PX, is_passing=True)
    pieces = [_piece_of(studio, one, size) for one in (found, *more)]
    whole = whole or keep_whole(studio, photograph.rgb).key
    shadows = tuple((ring / size).round(5).tolist() for one in (found, *more) for ring in one.shadow)
    return Shown(
        row.key, whole, (row.width_px, row.height_px), (found.corners / size).round(5).tolist(), pieces[0].traced, found,
        pieces[0].skin_key, tuple(pieces[1:]), shadows,
    )  # fmt: skip


def _piece_of(studio: Studio, one: Any, size: np.ndarray) -> Piece:
    skin = keep_picture(studio, one.skin, SKIN_PX, is_passing=True)
    return Piece(one, skin.key, _few(one.traced / size, float(size[0] / size[1])).round(5).tolist())


def unmeasured(studio: Studio, photograph: Photograph, whole: str = "") -> Shown:
    """The photograph with four corners to be put on the sheet by hand."""
    row = keep_picture(studio, photograph.rgb, PHOTO_PX, is_passing=True)
    whole = whole or keep_whole(studio, photograph.rgb).key
    return Shown(row.key, whole, (row.width_px, row.height_px), [[0.3, 0.3], [0.7, 0.3], [0.7, 0.7], [0.3, 0.7]], [])


def _few(ring: np.ndarray, aspect: float) -> np.ndarray:
    """The outline with few enough corners to be moved by hand."""
    outline = shapely.Polygon(ring * [aspect, 1.0])
    for tolerance in (0.0008, 0.0015, 0.003, 0.006, 0.012):
        few = np.array(shapely.simplify(outline, tolerance).exterior.coords)[:-1]
        if len(few) <= _HANDLES:
            break
    return np.asarray(few / [aspect, 1.0])


@transaction.atomic
def keep_measured_prop(studio: Studio, values: dict[str, Any]) -> StoreProp:
    """A new prop out of what was measured, wearing its cut-out. values: name, kind, outline, ends, height_mm, colours, skin, finish,
    count, place, sheet."""
    prop = _prop(values)
    StoreImage.objects.filter(studio=studio, key=values["skin"]).update(is_passing=False)
    source = f"measured from a photograph beside {'A4' if values['sheet'] == 'a4' else 'Letter'}"
    return keep_prop(studio, PropRecord(prop, "support", values["count"], values["place"], size_source=source))


@transaction.atomic
def keep_measured_props(studio: Studio, every: list[dict[str, Any]]) -> list[StoreProp]:
    """Each of them as ``keep_measured_prop`` does, all or none."""
    return [keep_measured_prop(studio, values) for values in every]


def _prop(values: dict[str, Any]) -> Prop:
    shape = shape_for(values["kind"], values["outline"], values["height_mm"], values.get("ends"))
    return prop_from_value(
        {
            "id": slug(values["name"]) or "measured",
            "name": values["name"],
            "shape": shape,
            "colours": values["colours"],
            "finish": values["finish"],
            "texture": "smooth",
            "skins": [{"picture": values["skin"], "face": "top"}],
        }
    )


@dataclass(frozen=True)
class ShownTile:
    """A tile of a surface, kept until tomorrow."""

    key: str
    width_mm: float
    depth_mm: float
    colours: tuple[tuple[str, float], ...]

    @property
    def half_width_mm(self) -> float:
        return self.width_mm / 2

    @property
    def half_depth_mm(self) -> float:
        return self.depth_mm / 2


def tiled(studio: Studio, photograph: Photograph, sheet: str) -> ShownTile:
    """The surface beside the sheet as a tile. Raises FieldError as the core does."""
    from tideflat.core.vision.tiling import tile_beside_sheet

    tile = tile_beside_sheet(photograph, sheet)
    sweep_passing()
    row = keep_picture(studio, tile.rgb, SKIN_PX, is_passing=True)
    return ShownTile(row.key, round(tile.width_mm, 1), round(tile.depth_mm, 1), tile.colours)


@transaction.atomic
def keep_tile(studio: Studio, values: dict[str, Any]) -> StoreSurface | StoreProp:
    """A new surface, or a cloth, that wears the tile. values: name, kind (surface or cloth), width_mm, depth_mm, skin, tile_width,
    tile_depth, colours."""
    skin = {"picture": values["skin"], "face": "tile", "width": values["tile_width"], "depth": values["tile_depth"]}
    StoreImage.objects.filter(studio=studio, key=values["skin"]).update(is_passing=False)
    if values["kind"] == "cloth":
        shape = {"kind": "cloth", "width": values["width_mm"], "depth": values["depth_mm"], "thickness": 1.5}
        prop = prop_from_value(
            {
                "id": slug(values["name"]) or "cloth",
                "name": values["name"],
                "shape": shape,
                "colours": values["colours"],
                "texture": "woven",
                "skins": [skin],
            }
        )
        return keep_prop(studio, PropRecord(prop, "cloth", size_source="measured from a photograph"))
    checked = _surface(values, skin)
    return StoreSurface.objects.create(
        studio=studio,
        name=checked.name,
        width_mm=checked.width,
        depth_mm=checked.depth,
        colours=surface_colours_value(checked),
        lines=None,
        skin=skin,
    )


def surface_colours_value(surface: Surface) -> list[dict[str, Any]]:
    """A surface's colours as its row keeps them."""
    return [{"hex": c.hex, "share": c.share} for c in surface.colours]


def _surface(values: dict[str, Any], skin: dict[str, Any]) -> Surface:
    from tideflat.core.formats.ground_reader import surface_from_value

    return surface_from_value(
        {"name": values["name"], "width": values["width_mm"], "depth": values["depth_mm"], "colours": values["colours"], "skin": skin}
    )
