"""The scene as a renderer takes it: meshes with finishes, lit faces, sky and sun, and the camera. Nothing here knows which renderer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, eq=False, slots=True)
class Finish:
    """kind: of the scene document's finishes, ``mirror`` (rough, for foil), or ``clear``, a wall of glass as thin as nothing. rgb: (3,)
    linear, what it gives back. picture: (h, w, 3) uint8 sRGB, its first row at v = 1, in place of it."""

    kind: str
    rgb: np.ndarray
    picture: np.ndarray | None = None


@dataclass(frozen=True, eq=False, slots=True)
class Mesh:
    """points (n, 3) mm; normals (n, 3) unit, or None for flat faces; uv (n, 2), v upward; faces (t, 3). number: of the placement, from 1; 0
    for what is none. owner: its id, or what of the room it is. is_closed: one sees its outside only."""

    points: np.ndarray
    normals: np.ndarray | None
    uv: np.ndarray | None
    faces: np.ndarray
    finish: Finish
    number: int = 0
    owner: str = ""


@dataclass(frozen=True, eq=False, slots=True)
class Glow:
    """A lit flat face: polygon (k, 3), the way it looks (3,), radiance (3,) linear, and the cosine of half its beam, None for all round.
    group: the light it belongs to."""

    polygon: np.ndarray
    out: np.ndarray
    radiance: np.ndarray
    cosine: float | None
    group: str


@dataclass(frozen=True, eq=False, slots=True)
class FarLight:
    """The sun: unit way toward it (3,) and linear lux on a face square to it; or, without a way, an even sky of so much radiance."""

    toward: np.ndarray | None
    rgb: np.ndarray
    group: str


@dataclass(frozen=True, eq=False, slots=True)
class Eye:
    """The camera: pupil, and its ways (3,); principal distance and sides of the frame, mm; centre: of the axis in the frame. pupil_radius
    and sharp_depth, mm, for what is blurred; radius 0 is a pinhole."""

    position: np.ndarray
    right: np.ndarray
    up: np.ndarray
    forward: np.ndarray
    principal_distance: float
    frame_width: float
    frame_height: float
    centre: tuple[float, float]
    pupil_radius: float
    sharp_depth: float


@dataclass(frozen=True, eq=False, slots=True)
class Stage:
    """Everything that is rendered. groups: ids of the lights that are on, in the document's order."""

    meshes: tuple[Mesh, ...]
    glows: tuple[Glow, ...]
    far: tuple[FarLight, ...]
    eye: Eye
    groups: tuple[str, ...]
