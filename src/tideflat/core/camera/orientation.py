"""Which way to hold the camera for what is asked of the picture: what each deliverable uses of the sensor, lying and upright."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..model import Camera, Deliverable
from .crops import crop_of, safe_area


@dataclass(frozen=True, slots=True)
class Used:
    """Of one deliverable: the share of the sensor its crop uses, the pixels it has there, and how far they are enlarged for what is asked."""

    name: str
    share: float
    pixels: tuple[int, int]
    enlargement: float


@dataclass(frozen=True, slots=True)
class Held:
    """orientation ``landscape`` or ``portrait``; shared: share of the sensor that every deliverable keeps."""

    orientation: str
    used: tuple[Used, ...]
    shared: float

    @property
    def least(self) -> float:
        """The smallest share that any deliverable uses."""
        return min((u.share for u in self.used), default=0.0)


def ways_to_hold(deliverables: tuple[Deliverable, ...], camera: Camera) -> tuple[Held, ...]:
    """Both ways, the one that serves all deliverables better first: the one whose least served keeps more of the sensor.

    Every crop is taken as large as its scale lets it be, in the middle of the frame.
    """
    found = []
    for orientation in ("landscape", "portrait"):
        turned = replace(camera, orientation=orientation)
        crops = tuple(crop_of(replace(d, centre=(0.5, 0.5)), turned) for d in deliverables)
        shared = safe_area(crops)
        share = (shared[2] - shared[0]) * (shared[3] - shared[1]) if shared else 0.0
        found.append(Held(orientation, tuple(Used(c.name, c.share_of_frame, c.pixels, c.enlargement) for c in crops), share))
    return tuple(sorted(found, key=lambda held: (-held.least, -held.shared)))
