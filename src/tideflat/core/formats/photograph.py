"""A photograph's bytes as pixels, safely: known kinds only, sizes checked before anything is unpacked, turned as the camera was held."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import numpy as np

from ..errors import FieldError

#: What is taken. Nothing that can carry script (SVG) or many pages is.
KINDS = ("JPEG", "PNG", "WEBP")
MOST_BYTES = 25 * 1024 * 1024
#: A picture of more pixels than this is refused by its header, before it is unpacked.
MOST_PIXELS = 64_000_000
#: Of more than this it is taken, but made smaller: measuring needs no more.
WORKING_PIXELS = 16_000_000
_FOCAL_35MM = 0xA405
_EXIF_IFD = 0x8769


@dataclass(frozen=True, eq=False)
class Photograph:
    """rgb: (h, w, 3) sRGB uint8, upright. focal_35mm: focal length as if the frame's diagonal were 43.27 mm, when the camera noted it."""

    rgb: np.ndarray
    focal_35mm: float | None = None


def read_photograph(data: bytes, name: str = "photograph", most_pixels: int = WORKING_PIXELS) -> Photograph:
    """Decode, turn upright by its EXIF note, drop transparency onto white; larger than ``most_pixels`` is made smaller.

    Raises FieldError for what is no JPEG, PNG or WebP, is damaged, too large in bytes, or says it has more than MOST_PIXELS.
    """
    from PIL import Image, ImageOps  # a tenth of a second: only when a picture comes in

    if len(data) > MOST_BYTES:
        raise FieldError(name, f"must be at most {MOST_BYTES // 2**20} MB; make it smaller first", f"{len(data) / 2**20:.0f} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=KINDS)
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise FieldError(name, "must be a JPEG, PNG or WebP picture", show_got=False) from None
    pixels = picture.width * picture.height
    if pixels > MOST_PIXELS:
        raise FieldError(
            name, f"must have at most {MOST_PIXELS // 10**6} megapixels; make it smaller first", f"{pixels / 1e6:.0f} megapixels"
        )
    if min(picture.size) < 8:
        raise FieldError(name, "must be at least 8 pixels wide and high", f"{picture.width} x {picture.height}")
    try:
        exif = picture.getexif()
        focal = exif.get_ifd(_EXIF_IFD).get(_FOCAL_35MM)
        if picture.format == "JPEG" and pixels > most_pixels:
            scale = (most_pixels / pixels) ** 0.5
            picture.draft("RGB", (int(picture.width * scale), int(picture.height * scale)))
        upright = ImageOps.exif_transpose(picture)
        if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
            upright = upright.convert("RGBA")
            ground = Image.new("RGBA", upright.size, "#ffffff")
            ground.alpha_composite(upright)
            upright = ground
        rgb = upright.convert("RGB")
        if rgb.width * rgb.height > most_pixels:
            scale = (most_pixels / (rgb.width * rgb.height)) ** 0.5
            rgb = rgb.resize((max(8, round(rgb.width * scale)), max(8, round(rgb.height * scale))), Image.Resampling.BOX)
    except (OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError):
        raise FieldError(name, "must be a whole picture; this one is damaged or cut short", show_got=False) from None
    return Photograph(np.asarray(rgb), float(focal) if isinstance(focal, int | float) and 5 < focal < 1000 else None)


def write_picture(rgb: np.ndarray, quality: int = 82) -> bytes:
    """WebP of (h, w, 3) or (h, w, 4) uint8: only pixels, no notes of place, camera or time."""
    from PIL import Image

    kept = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(rgb)).save(kept, "WEBP", quality=quality, method=4)
    return kept.getvalue()
