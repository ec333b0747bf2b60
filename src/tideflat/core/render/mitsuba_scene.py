"""A stage as Mitsuba takes it. One light's group, or several together; the scene is loaded once for a camera and its things.

Mitsuba 3 (W. Jakob et al., 2022), variant ``scalar_rgb`` by default. A picture's rows run down and its v runs up, so skins are turned over;
a lit face is a mesh with an area emitter, a lamp's narrow beam a grid of spots.
"""

from __future__ import annotations

import os
from typing import Any

import numpy as np

from ..bounds import MOST_PLACE_MM
from .stage import Eye, FarLight, Finish, Glow, Mesh, Stage

#: The usual variant; another may be named by the environment after it passed a probe.
USUAL_VARIANT = "scalar_rgb"
#: Half-widths of the lobes of satin, gloss, metal and foil (Mitsuba's alpha, GGX).
_SATIN, _GLOSS, _METAL, _FOIL = 0.28, 0.08, 0.16, 0.3
#: A lamp that shines in a narrow beam is so many spots a side.
_SPOTS = 5
#: The sun is a disc so far away, mm.
_SUN_FAR = 60_000.0
_SUN_HALF_DEG = 0.2665
#: Depth of light paths.
DEPTH = 8


def mitsuba() -> Any:
    """The renderer, loaded when it is first asked for. Raises ImportError where it is not installed."""
    import mitsuba as mi

    if mi.variant() is None:
        mi.set_variant(os.environ.get("TIDEFLAT_MITSUBA_VARIANT", USUAL_VARIANT))
    return mi


def scene_of(stage: Stage, groups: tuple[str, ...] | None = None) -> Any:
    """The scene as Mitsuba holds it, lit by these groups, or all."""
    mi = mitsuba()
    lit = stage.groups if groups is None else groups
    found: dict[str, Any] = {"type": "scene"}
    sky = sum((f.rgb for f in stage.far if f.toward is None and f.group in lit), np.zeros(3))
    suns = [f for f in stage.far if f.toward is not None and f.group in lit]
    for k, mesh in enumerate(_standing(stage, suns)):
        glow = sky if mesh.owner in ("wall", "ceiling") else np.zeros(3)
        found[f"mesh{k:04d}"] = _mesh(mi, mesh, f"mesh{k:04d}", glow)
    for k, glow_face in enumerate(g for g in stage.glows if g.group in lit):
        if glow_face.cosine is None:
            found[f"glow{k:04d}"] = _lit_mesh(mi, glow_face, f"glow{k:04d}")
        else:
            found.update(_spots(mi, glow_face, k))
    if sky.any():
        found["sky"] = _sky(mi, sky)
    for k, sun in enumerate(suns):
        found[f"sun{k}"] = _sun(mi, sun)
    return mi.load_dict(found, optimize=False)


def _standing(stage: Stage, suns: list[FarLight]) -> list[Mesh]:
    """What stands there but for walls and ceiling before the sun, which never shade it."""
    if not suns:
        return list(stage.meshes)
    things = [m for m in stage.meshes if m.number]
    middle = np.concatenate([m.points for m in things]).mean(axis=0) if things else np.zeros(3)

    def shades(mesh: Mesh) -> bool:
        if mesh.owner not in ("wall", "ceiling"):
            return False
        a, b, _, d = mesh.points
        out = np.cross(b - a, d - a)
        out = out / np.linalg.norm(out)
        return any(s.toward is not None and float(s.toward @ out) < 0 and _passes(a, b, d, middle, s.toward) for s in suns)

    return [m for m in stage.meshes if not shades(m)]


def _passes(a: np.ndarray, b: np.ndarray, d: np.ndarray, start: np.ndarray, way: np.ndarray) -> bool:
    along, upward = b - a, d - a
    u, v, t = np.linalg.solve(np.column_stack([along, upward, -way]), start - a)
    return bool(-0.2 <= u <= 1.2 and -0.2 <= v <= 1.2 and t > 0)


def _mesh(mi: Any, mesh: Mesh, name: str, glow: np.ndarray) -> Any:
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict(_bsdf(mi, mesh.finish))
    if glow.any():
        props["mesh_emitter"] = mi.load_dict({"type": "area", "radiance": rgb_of(glow)})
    found = mi.Mesh(
        name,
        len(mesh.points),
        len(mesh.faces),
        props=props,
        has_vertex_normals=mesh.normals is not None,
        has_vertex_texcoords=mesh.uv is not None,
    )
    params = mi.traverse(found)
    params["vertex_positions"] = np.ascontiguousarray(mesh.points, dtype=np.float32).ravel()
    params["faces"] = np.ascontiguousarray(mesh.faces, dtype=np.uint32).ravel()
    if mesh.normals is not None:
        params["vertex_normals"] = np.ascontiguousarray(mesh.normals, dtype=np.float32).ravel()
    if mesh.uv is not None:
        params["vertex_texcoords"] = np.ascontiguousarray(mesh.uv, dtype=np.float32).ravel()
    params.update()
    return found


def _lit_mesh(mi: Any, glow: Glow, name: str) -> Any:
    """The face as a fan that looks the way it shines, and reflects nothing."""
    n = len(glow.polygon)
    faces = np.array([[0, k, k + 1] for k in range(1, n - 1)])
    a, b, c = glow.polygon[faces[0]]
    if float(np.cross(b - a, c - a) @ glow.out) < 0:
        faces = faces[:, ::-1]
    return _mesh(mi, Mesh(glow.polygon, None, None, faces, Finish("matte", np.zeros(3))), name, glow.radiance)


def _spots(mi: Any, glow: Glow, number: int) -> dict[str, Any]:
    from ..light.lit_face import LitFace, samples_of

    places = samples_of(LitFace(glow.polygon, glow.out, 1.0), _SPOTS)
    area = 0.5 * float(
        np.linalg.norm(np.cross(glow.polygon - glow.polygon[0], np.roll(glow.polygon, -1, axis=0) - glow.polygon[0]).sum(axis=0))
    )
    half = float(np.degrees(np.arccos(glow.cosine or 0.0)))
    up = np.array([0.0, 0, 1]) if abs(glow.out[2]) < 0.9 else np.array([0.0, 1, 0])
    found: dict[str, Any] = {}
    for k, place in enumerate(places):
        found[f"spot{number}_{k:02d}"] = {
            "type": "spot",
            "to_world": mi.ScalarTransform4f().look_at(origin=list(place), target=list(place + glow.out), up=list(up)),
            "intensity": rgb_of(glow.radiance * area / len(places)),
            "cutoff_angle": min(half, 89.0),
            "beam_width": min(half, 89.0) - 0.01,
        }
    return found


def _sky(mi: Any, rgb: np.ndarray) -> dict[str, Any]:
    """An even half space above."""
    picture = np.zeros((64, 128, 3), dtype=np.float32)
    picture[:32] = rgb
    up = mi.ScalarTransform4f().rotate([1, 0, 0], 90)  # Mitsuba's sky has its pole along +y
    return {"type": "envmap", "bitmap": mi.Bitmap(picture), "to_world": up}


def _sun(mi: Any, sun: FarLight) -> dict[str, Any]:
    assert sun.toward is not None
    radius = _SUN_FAR * np.tan(np.radians(_SUN_HALF_DEG))
    place = sun.toward * _SUN_FAR
    radiance = sun.rgb / (np.pi * np.sin(np.radians(_SUN_HALF_DEG)) ** 2)
    up = np.array([0.0, 0, 1]) if abs(sun.toward[2]) < 0.9 else np.array([0.0, 1, 0])
    to_world = mi.ScalarTransform4f().look_at(origin=list(place), target=[0, 0, 0], up=list(up)) @ mi.ScalarTransform4f().scale(
        [radius, radius, 1]
    )
    return {
        "type": "disk",
        "to_world": to_world,
        "bsdf": {"type": "diffuse", "reflectance": rgb_of(np.zeros(3))},
        "emitter": {"type": "area", "radiance": rgb_of(radiance)},
    }


def rgb_of(value: np.ndarray) -> dict[str, Any]:
    return {"type": "rgb", "value": [max(0.0, float(v)) for v in value]}


def colour_of(mi: Any, finish: Finish) -> dict[str, Any]:
    if finish.picture is None:
        return rgb_of(finish.rgb)
    turned = np.ascontiguousarray(finish.picture[::-1])
    return {"type": "bitmap", "bitmap": mi.Bitmap(turned), "raw": False, "filter_type": "bilinear"}


def _bsdf(mi: Any, finish: Finish) -> dict[str, Any]:
    colour = colour_of(mi, finish)
    if finish.kind == "clear":
        return {"type": "thindielectric", "int_ior": 1.5}
    if finish.kind in ("metal", "mirror"):
        alpha = _METAL if finish.kind == "metal" else _FOIL
        return {"type": "twosided", "bsdf": {"type": "roughconductor", "material": "none", "alpha": alpha, "specular_reflectance": colour}}
    if finish.kind in ("satin", "gloss"):
        alpha = _SATIN if finish.kind == "satin" else _GLOSS
        rough = alpha**0.5  # the principled model squares it
        return {"type": "twosided", "bsdf": {"type": "principled", "base_color": colour, "roughness": rough, "specular": 0.5}}
    return {"type": "twosided", "bsdf": {"type": "diffuse", "reflectance": colour}}


def sensor_of(eye: Eye, width: int, height: int, samples: int, seed: int = 0) -> Any:
    """The camera as a thin lens, or a pinhole where its pupil is none."""
    mi = mitsuba()
    # The film is as large as a frame with the axis in its middle, and what the sensor sees of it is cut out.
    across, down = (max(c, 1 - c) for c in eye.centre)
    wide, high = round(2 * across * width), round(2 * down * height)
    found: dict[str, Any] = {
        "type": "perspective" if eye.pupil_radius <= 0 else "thinlens",
        "fov_axis": "x",
        "fov": float(np.degrees(2 * np.arctan(across * eye.frame_width / eye.principal_distance))),
        "near_clip": 1.0,
        "far_clip": 10 * MOST_PLACE_MM,
        "to_world": mi.ScalarTransform4f().look_at(origin=list(eye.position), target=list(eye.position + eye.forward), up=list(eye.up)),
        "film": {
            "type": "hdrfilm", "width": wide, "height": high, "rfilter": {"type": "box"}, "pixel_format": "rgb",
            "component_format": "float32", "crop_width": width, "crop_height": height,
            "crop_offset_x": round((across - eye.centre[0]) * width),
            "crop_offset_y": round((down - eye.centre[1]) * height),
        },
        "sampler": {"type": "multijitter", "sample_count": samples, "seed": seed},
    }  # fmt: skip
    if eye.pupil_radius > 0:
        found["aperture_radius"] = eye.pupil_radius
        found["focus_distance"] = eye.sharp_depth
    return mi.load_dict(found)
