"""Pictures that a studio keeps: taken in safely, encoded anew, given out as pixels for the core."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from datetime import timedelta

import numpy as np
from django.utils import timezone

from tideflat.core.formats.photograph import Photograph, read_photograph, write_photograph, write_picture
from tideflat.core.model import Prop
from tideflat.core.remember import remembered
from tideflat.web.accounts.models import Studio

from .models import StoreImage

#: Long side, pixels, of what is kept: skins and references need no more.
SKIN_PX, REFERENCE_PX, PHOTO_PX = 512, 900, 1800
#: A sample this small is enough to judge words over a surface's skin by.
_JUDGED_PX = 256


def keep_picture(studio: Studio, rgb: np.ndarray, longest_px: int, quality: int = 82, *, is_passing: bool = False) -> StoreImage:
    """Keep (h, w, 3 or 4) uint8 as WebP, made smaller when it is longer than ``longest_px``; the same pixels are kept once.

    ``is_passing``: only until tomorrow, unless the same pixels are kept for good meanwhile.
    """
    small = shrunk(rgb, longest_px)
    return _kept(studio, write_picture(small, quality), small, is_passing=is_passing)


def keep_whole(studio: Studio, rgb: np.ndarray) -> StoreImage:
    """Keep a photograph in its full size until tomorrow, to be measured in again."""
    return _kept(studio, write_photograph(rgb), rgb, is_passing=True)


def _kept(studio: Studio, data: bytes, pixels: np.ndarray, *, is_passing: bool) -> StoreImage:
    key = hashlib.sha256(data).hexdigest()[:32]
    size = {"width_px": pixels.shape[1], "height_px": pixels.shape[0]}
    row, _ = StoreImage.objects.get_or_create(studio=studio, key=key, defaults={"data": data, "is_passing": is_passing, **size})
    if row.is_passing and not is_passing:
        row.is_passing = False
        row.save(update_fields=["is_passing"])
    return row


def sweep_passing() -> None:
    """Throw away photographs that were measured more than a day ago."""
    StoreImage.objects.filter(is_passing=True, made_at__lt=timezone.now() - timedelta(days=1)).delete()


def shrunk(rgb: np.ndarray, longest_px: int) -> np.ndarray:
    """The picture with a long side of at most ``longest_px``."""
    scale = longest_px / max(rgb.shape[:2])
    if scale >= 1:
        return rgb
    from PIL import Image

    size = (max(1, round(rgb.shape[1] * scale)), max(1, round(rgb.shape[0] * scale)))
    return np.asarray(Image.fromarray(np.ascontiguousarray(rgb)).resize(size, Image.Resampling.LANCZOS))


def photograph_from(upload: object, name: str = "photograph") -> Photograph:
    """The photograph in an uploaded file. Raises FieldError when there is none or it cannot be taken."""
    from tideflat.core.errors import FieldError
    from tideflat.core.formats.photograph import MOST_BYTES

    if upload is None:
        raise FieldError(name, "must be chosen first", show_got=False)
    if upload.size > MOST_BYTES:  # type: ignore[attr-defined]
        raise FieldError(name, f"must be at most {MOST_BYTES // 2**20} MB; make it smaller first", show_got=False)
    return read_photograph(upload.read(), name)  # type: ignore[attr-defined]


def worn_by(studio: Studio, prop: Prop) -> tuple[tuple[str, bytes], ...]:
    """The pictures of a prop's skins, (key, WebP), of those that the studio has."""
    keys = [skin.picture for skin in prop.skins]
    rows = StoreImage.objects.filter(studio=studio, key__in=keys).order_by("key") if keys else ()
    return tuple((row.key, bytes(row.data)) for row in rows)


class SkinBook(Mapping[str, np.ndarray]):
    """Pixels of a studio's skins by key, read when first asked for."""

    def __init__(self, studio_id: int) -> None:
        self._studio_id = studio_id

    def __getitem__(self, key: str) -> np.ndarray:
        found = _pixels(self._studio_id, key)
        if found is None:
            raise KeyError(key)
        return found

    def __iter__(self) -> Iterator[str]:
        return iter(StoreImage.objects.filter(studio_id=self._studio_id).values_list("key", flat=True))

    def __len__(self) -> int:
        return StoreImage.objects.filter(studio_id=self._studio_id).count()


@remembered(40)  # a key names its pixels for good
def _pixels(studio_id: int, key: str) -> np.ndarray | None:
    row = StoreImage.objects.filter(studio_id=studio_id, key=key).first()
    if row is None:
        return None
    return shrunk(read_photograph(bytes(row.data), "skin").rgb, _JUDGED_PX)
