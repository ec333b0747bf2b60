"""The plan as a transparent picture to lay over a live view: crops, guides, outlines, registration marks; and the same as SVG.

A pixel's middle lies at (px + 0.5) / width of the frame (docs/glossary.md, "Pixels"). What is drawn are the lines of one frame, `marks_of`;
`overlay_png` draws them with OpenCV on a mask a kind, so that a picture of the size of the sensor needs a few bytes a pixel and no more.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..camera.crops import FULL_FRAME, Rect
from ..errors import FieldError
from ..evaluate import Picture
from ..features.seen import in_frame

#: Pixels of the largest overlay.
MOST_PIXELS = 100_000_000
#: Lines are so wide, as a share of the picture's longer side, and never less than a pixel.
_LINE = 1 / 1500
#: Bits of a pixel that lines are placed by.
_SHIFT = 6
#: An arm of a registration cross, and the gap at its middle, as shares of the frame's shorter side.
_ARM, _GAP = 0.02, 0.004
#: How much of the picture is left through the veil outside a crop.
_VEIL = 0.55

Line = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Marks:
    """Lines in fractions of the frame. crops: boxes; words: rooms for words; trims: what is left when the bleed is trimmed, and safe boxes;
    outlines: closed, by placement; crosses: middles of registration marks."""

    crops: tuple[Rect, ...] = ()
    words: tuple[Rect, ...] = ()
    trims: tuple[Rect, ...] = ()
    guides: tuple[Line, ...] = ()
    outlines: tuple[tuple[str, Line], ...] = ()
    crosses: tuple[tuple[float, float], ...] = ()
    features: tuple[Line, ...] = ()


@dataclass(frozen=True, slots=True)
class Colours:
    """``#rrggbb`` of each kind of line; veil: what lies outside the crop."""

    crops: str = "#ffffff"
    guides: str = "#00d2d2"
    outlines: str = "#ffd23c"
    registration: str = "#ff5a3c"
    features: str = "#7fe36b"
    veil: str = "#000000"


#: What may be drawn, by name.
PARTS = ("crops", "guides", "outlines", "registration", "veil", "features")
#: What is drawn where nothing is said.
USUAL_PARTS = PARTS[:-1]


def marks_of(picture: Picture, crop: str | None = None) -> Marks:
    """What there is to lay over the picture. crop: only this deliverable's; all of them without. Raises FieldError for one there is not."""
    crops = picture.crops if crop is None else tuple(c for c in picture.crops if c.name == crop)
    if crop is not None and not crops:
        names = ", ".join(c.name for c in picture.crops) or "none are asked for"
        raise FieldError("crop", f"must be one of the set-up's deliverables: {names}", crop)
    registered = {g.of for g in picture.setup.guides if g.of is not None} | set(picture.hero_ids())
    return Marks(
        tuple(c.box for c in crops),
        tuple(c.copy_box for c in crops if c.copy_box is not None),
        tuple(box for c in crops for box in (c.trim_box, c.safe_box) if box != c.box),
        tuple(g.ends for g in picture.setup.guides),
        tuple((i, ring) for i, s in picture.silhouettes.items() for ring in _rings(s.outline)),
        tuple(place for i in sorted(registered) if i in picture.silhouettes for place in _crosses(picture.silhouettes[i].box)),
        tuple(_features(picture)),
    )


def _features(picture: Picture) -> Iterator[Line]:
    """Named places of things, as far as they are turned to the lens: closed outlines."""
    for i in picture.silhouettes:
        for feature in picture.props[i].features:
            seen = in_frame(picture, i, feature)
            if seen is not None and seen.outline is not None and seen.angle_deg < 90:
                yield (*seen.outline, seen.outline[0])


def _rings(outline: BaseGeometry) -> list[Line]:
    polygons = [p for p in shapely.get_parts(outline) if p.geom_type == "Polygon"]
    return [tuple((float(u), float(v)) for u, v in ring.coords) for p in polygons for ring in (p.exterior, *p.interiors)]


def _crosses(box: Rect) -> tuple[tuple[float, float], ...]:
    """The middle of a box and the middles of its four sides."""
    u, v = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    return ((u, v), (box[0], v), (box[2], v), (u, box[1]), (u, box[3]))


def check_size(picture: Picture, wide: int, high: int) -> None:
    """Raises FieldError for a size that is too large or not of the frame's shape, to half a pixel."""
    camera = picture.setup.camera
    aspect = camera.frame_width_mm / camera.frame_height_mm
    sensor = camera.frame_pixels[0] / camera.frame_pixels[1]  # the body's own pixels are right, be they square or not
    if wide * high > MOST_PIXELS:
        raise FieldError("pixels", f"must be at most {MOST_PIXELS // 1_000_000} megapixels", f"{wide}x{high}")
    if all(min(abs(wide - high * shape), abs(high - wide / shape)) > 0.5 for shape in (aspect, sensor)):
        raise FieldError("pixels", f"must have the frame's own shape, such as {round(high * aspect)}x{high}", f"{wide}x{high}")


def overlay_png(
    picture: Picture, wide: int, high: int, crop: str | None = None, colours: Colours | None = None, parts: tuple[str, ...] = USUAL_PARTS
) -> bytes:
    """A PNG of just so many pixels, transparent but for its lines and veil. Raises FieldError."""
    from PIL import Image

    check_size(picture, wide, high)
    marks, colours = marks_of(picture, crop), colours or Colours()
    canvas = np.zeros((high, wide, 4), dtype=np.uint8)
    if "veil" in parts and marks.crops:
        _veil(canvas, marks.crops, _rgb(colours.veil))
    thick = max(1, round(max(wide, high) * _LINE))
    for part, lines in _drawn(marks, picture.view.aspect):
        if part in parts and lines:
            _draw(canvas, lines, _rgb(getattr(colours, part)), thick)
    written = io.BytesIO()
    Image.fromarray(canvas, "RGBA").save(written, "PNG", compress_level=1)
    return written.getvalue()


def _drawn(marks: Marks, aspect: float) -> list[tuple[str, list[Line]]]:
    """Kinds of lines in the order they are laid, all as open lines."""
    boxes = [_box_line(b) for b in (*marks.crops, *marks.trims, *marks.words)]
    crosses = [line for u, v in marks.crosses for line in _cross(u, v, aspect)]
    return [("outlines", [line for _, line in marks.outlines]), ("crops", boxes), ("guides", list(marks.guides)), ("features", list(marks.features)), ("registration", crosses)]


def _box_line(box: Rect) -> Line:
    left, top, right, bottom = box
    return ((left, top), (right, top), (right, bottom), (left, bottom), (left, top))


def _cross(u: float, v: float, aspect: float) -> list[Line]:
    """A cross, open at its middle so that what it marks is seen."""
    across, down = (1 / aspect, 1.0) if aspect >= 1 else (1.0, aspect)
    return [
        ((u + sign * gap * across, v), (u + sign * arm * across, v))
        if is_level
        else ((u, v + sign * gap * down), (u, v + sign * arm * down))
        for is_level in (True, False)
        for sign in (-1, 1)
        for gap, arm in ((_GAP, _ARM),)
    ]


def _veil(canvas: np.ndarray, crops: tuple[Rect, ...], colour: tuple[int, int, int]) -> None:
    """Everything outside the crops, a pixel that lies across an edge in part."""
    high, wide = canvas.shape[:2]
    open_share = np.zeros((high, wide), dtype=np.float32)
    for left, top, right, bottom in crops:
        across, down = _covered(left, right, wide), _covered(top, bottom, high)
        np.maximum(open_share, down[:, None] * across[None, :], out=open_share)
    canvas[..., :3] = colour
    canvas[..., 3] = np.round((1 - open_share) * _VEIL * 255).astype(np.uint8)


def _covered(low: float, high: float, pixels: int) -> np.ndarray:
    """(pixels,) the share of each pixel that lies between two fractions of the frame."""
    edges = np.arange(pixels + 1, dtype=np.float64) / pixels
    inside = np.clip(edges, low, high)
    return (np.diff(inside) * pixels).astype(np.float32)


def _draw(canvas: np.ndarray, lines: list[Line], colour: tuple[int, int, int], thick: int) -> None:
    """Lines over what is there, their edges smoothed."""
    import cv2

    high, wide = canvas.shape[:2]
    mask = np.zeros((high, wide), dtype=np.uint8)
    scale = 1 << _SHIFT
    placed = [np.round((np.clip(np.array(line), -2, 3) * (wide, high) - 0.5) * scale).astype(np.int32) for line in lines]
    cv2.polylines(mask, placed, False, 255, thick, cv2.LINE_AA, _SHIFT)
    rows, columns = np.nonzero(mask)
    over = mask[rows, columns].astype(np.float32)[:, None] / 255
    under = canvas[rows, columns].astype(np.float32)
    alpha = under[:, 3:] / 255
    left = alpha * (1 - over)
    mixed = (np.array(colour, dtype=np.float32) * over + under[:, :3] * left) / np.maximum(over + left, 1 / 255)
    canvas[rows, columns] = np.round(np.concatenate([mixed, (over + left) * 255], axis=1)).astype(np.uint8)


def overlay_svg(
    picture: Picture, wide: int, high: int, crop: str | None = None, colours: Colours | None = None, parts: tuple[str, ...] = USUAL_PARTS
) -> str:
    """The same as an SVG document of that size. Raises FieldError."""
    check_size(picture, wide, high)
    marks, colours = marks_of(picture, crop), colours or Colours()
    found = [f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}" height="{high}" viewBox="0 0 {wide} {high}">']
    if "veil" in parts and marks.crops:
        holes = "".join(_path(_box_line(b), wide, high) + "z" for b in _apart(marks.crops))
        whole = _path(_box_line(FULL_FRAME), wide, high) + "z"
        found.append(f'<path d="{whole}{holes}" fill="{colours.veil}" fill-opacity="{_VEIL}" fill-rule="evenodd"/>')
    thick = max(1.0, max(wide, high) * _LINE)
    for part, lines in _drawn(marks, picture.view.aspect):
        if part in parts and lines:
            d = "".join(_path(line, wide, high) for line in lines)
            found.append(f'<path id="{part}" d="{d}" fill="none" stroke="{getattr(colours, part)}" stroke-width="{thick:.3g}"/>')
    return "\n".join([*found, "</svg>\n"])


def _apart(crops: tuple[Rect, ...]) -> list[Rect]:
    """What the crops cover together, in boxes that do not overlap, so that even-odd filling leaves all of it open."""
    cuts = sorted({edge for c in crops for edge in (c[1], c[3])})
    found = []
    for top, bottom in zip(cuts, cuts[1:], strict=False):
        spans = sorted((c[0], c[2]) for c in crops if c[1] <= top and c[3] >= bottom)
        merged: list[tuple[float, float]] = []
        for left, right in spans:
            if merged and left <= merged[-1][1]:
                merged[-1] = (merged[-1][0], max(right, merged[-1][1]))
            else:
                merged.append((left, right))
        found += [(left, top, right, bottom) for left, right in merged]
    return found


def _path(line: Line, wide: int, high: int) -> str:
    return "M" + "L".join(f"{u * wide:.3f} {v * high:.3f}" for u, v in line)


def _rgb(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)
