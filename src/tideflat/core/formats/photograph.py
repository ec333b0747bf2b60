"""A photograph's bytes as pixels, safely: known kinds only, sizes checked before anything is unpacked, turned as the camera was held."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..errors import FieldError
from ..remember import counted

#: What is taken: HEIF is what phones write. Nothing that can carry script (SVG) or many pages is.
KINDS = ("JPEG", "PNG", "WEBP", "HEIF")
MOST_BYTES = 25 * 1024 * 1024
#: A picture of more pixels than this is refused by its header, before it is unpacked; a JPEG that is read top to bottom is made smaller
#: while it is unpacked and may have more.
MOST_PIXELS, MOST_REDUCIBLE_PIXELS = 40_000_000, 150_000_000
#: Of more than this it is taken, but made smaller: measuring needs no more.
WORKING_PIXELS = 16_000_000
#: Rows that are laid on white at a time, so that a large transparent picture is not held three times.
_BAND_ROWS = 256
_ORIENTATION = 0x0112
_FOCAL_35MM = 0xA405
_EXIF_IFD = 0x8769


@dataclass(frozen=True, eq=False)
class Photograph:
    """rgb: (h, w, 3) sRGB uint8, upright. focal_35mm: focal length as if the frame's diagonal were 43.27 mm, when the camera noted it."""

    rgb: np.ndarray
    focal_35mm: float | None = None


def read_photograph(data: bytes, name: str = "photograph", most_pixels: int = WORKING_PIXELS) -> Photograph:
    """Decode, turn upright by its EXIF note, drop transparency onto white; larger than ``most_pixels`` is made smaller.

    Raises FieldError for what is no JPEG, PNG, WebP or HEIC, is damaged, too large in bytes, or says it has too many pixels. What it says
    is believed only as long as decoding holds to it. At most some 12 bytes a pixel of MOST_PIXELS are held at a time.
    """
    from PIL import Image  # a tenth of a second: only when a picture comes in

    _know_heif()
    if len(data) > MOST_BYTES:
        raise FieldError(name, f"must be at most {MOST_BYTES // 2**20} MB; make it smaller first", f"{len(data) / 2**20:.0f} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=KINDS)
    except (OSError, ValueError, SyntaxError, RuntimeError, Image.DecompressionBombError):
        raise FieldError(name, "must be a JPEG, PNG, WebP or HEIC picture", show_got=False) from None
    _refuse_size(picture, name)
    try:
        exif = picture.getexif()
        focal, held = exif.get_ifd(_EXIF_IFD).get(_FOCAL_35MM), exif.get(_ORIENTATION)
        pixels = picture.width * picture.height
        if picture.format == "JPEG" and pixels > most_pixels:
            scale = (most_pixels / pixels) ** 0.5
            picture.draft("RGB", (int(picture.width * scale), int(picture.height * scale)))
        picture.load()
        rgb = _on_white(picture)
        if rgb.width * rgb.height > most_pixels:
            scale = (most_pixels / (rgb.width * rgb.height)) ** 0.5
            rgb = rgb.resize((max(8, round(rgb.width * scale)), max(8, round(rgb.height * scale))), Image.Resampling.BOX)
        turn = _turned(held) if picture.format != "HEIF" else None  # HEIF is turned while it is unpacked
        rgb = rgb if turn is None else rgb.transpose(turn)
    except (OSError, ValueError, SyntaxError, EOFError, RuntimeError, MemoryError, Image.DecompressionBombError):
        raise FieldError(name, "must be a whole picture; this one is damaged or cut short", show_got=False) from None
    return Photograph(np.asarray(rgb), float(focal) if isinstance(focal, int | float) and 5 < focal < 1000 else None)


@counted(1)
def _know_heif() -> None:
    import pillow_heif

    pillow_heif.register_heif_opener(thumbnails=False)


def _refuse_size(picture: Any, name: str) -> None:
    """By the header alone."""
    pixels = picture.width * picture.height
    # A progressive JPEG is held whole while it is unpacked, however small it is made.
    is_reducible = picture.format == "JPEG" and not picture.info.get("progressive")
    most = MOST_REDUCIBLE_PIXELS if is_reducible else MOST_PIXELS
    if pixels > most:
        cure = "save it at half its width and height, or as a JPEG"
        raise FieldError(name, f"must have at most {most // 10**6} megapixels; {cure}", f"{pixels / 1e6:.0f} megapixels")
    if min(picture.size) < 8:
        raise FieldError(name, "must be at least 8 pixels wide and high", f"{picture.width} x {picture.height}")


def _on_white(picture: Any) -> Any:
    """The picture as RGB, what shows through laid on white, band by band."""
    from PIL import Image

    if picture.mode not in ("RGBA", "LA", "PA", "La", "RGBa") and "transparency" not in picture.info:
        return picture if picture.mode == "RGB" else picture.convert("RGB")
    ground = Image.new("RGB", picture.size, "#ffffff")
    for top in range(0, picture.height, _BAND_ROWS):
        band = picture.crop((0, top, picture.width, min(picture.height, top + _BAND_ROWS)))
        band.info = picture.info
        band = band.convert("RGBA")
        ground.paste(band, (0, top), band)
    return ground


def _turned(orientation: object) -> Any:
    """How to turn a picture upright whose EXIF note says so; None when it is."""
    from PIL.Image import Transpose

    turns = {
        2: Transpose.FLIP_LEFT_RIGHT, 3: Transpose.ROTATE_180, 4: Transpose.FLIP_TOP_BOTTOM, 5: Transpose.TRANSPOSE,
        6: Transpose.ROTATE_270, 7: Transpose.TRANSVERSE, 8: Transpose.ROTATE_90,
    }  # fmt: skip
    return turns.get(orientation) if isinstance(orientation, int) else None


def write_photograph(rgb: np.ndarray, quality: int = 93) -> bytes:
    """JPEG of (h, w, 3) uint8 without any notes, fine enough to be measured in again: quick to write at twelve megapixels."""
    from PIL import Image

    kept = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(rgb)).save(kept, "JPEG", quality=quality, subsampling=0)
    return kept.getvalue()


def write_picture(rgb: np.ndarray, quality: int = 82) -> bytes:
    """WebP of (h, w, 3) or (h, w, 4) uint8: only pixels, no notes of place, camera or time."""
    from PIL import Image

    kept = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(rgb)).save(kept, "WEBP", quality=quality, method=4)
    return kept.getvalue()
