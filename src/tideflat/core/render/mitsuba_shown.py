"""The stage with every face glowing as what it is: what a denoiser is guided by, and masks."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..tolerances import SAME_NUMBER
from .mitsuba_scene import colour_of, mitsuba, rgb_of
from .stage import Mesh, Stage

#: What a face may be shown as, in place of its light.
SHOWN = ("colour", "turn", "number")


def shown_scene(stage: Stage, what: str) -> Any:
    """The scene with every face glowing as what it is: its colour, which way it is turned (a half and half of its normal), or the number of
    its placement. Only what is seen straight counts (paths of depth 1): many times quicker than asking the renderer for it."""
    mi = mitsuba()
    found: dict[str, Any] = {"type": "scene"}
    for k, mesh in enumerate(stage.meshes):
        name = f"mesh{k:04d}"
        if mesh.finish.kind == "clear" and what != "number":
            continue
        found[name] = _shown_mesh(mi, mesh, name, what, stage.eye.position)
    return mi.load_dict(found, optimize=False)


def _shown_mesh(mi: Any, mesh: Mesh, name: str, what: str, eye: np.ndarray) -> Any:
    """Each triangle for itself, turned to the lens, as only a face's front glows."""
    corners = mesh.points[mesh.faces]
    out = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    away = ((eye - corners[:, 0]) * out).sum(axis=1) < 0
    faces = np.where(away[:, None], mesh.faces[:, ::-1], mesh.faces).ravel()
    uv = None if mesh.uv is None else mesh.uv[faces]
    shown: dict[str, Any] = colour_of(mi, mesh.finish)
    turns = None
    if what == "number":
        shown = rgb_of(np.full(3, float(mesh.number)))
    elif what == "turn":
        normals = (
            np.repeat(out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), SAME_NUMBER), 3, axis=0)
            if mesh.normals is None
            else mesh.normals[faces]
        )
        flipped = np.repeat(away, 3) if mesh.normals is None else ((eye - mesh.points[faces]) * normals).sum(axis=1) < 0
        turns = (np.where(flipped[:, None], -normals, normals) + 1) / 2
        shown = {"type": "mesh_attribute", "name": "vertex_turn"}
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict({"type": "diffuse", "reflectance": rgb_of(np.zeros(3))})
    if turns is None:
        props["mesh_emitter"] = mi.load_dict({"type": "area", "radiance": shown})
        return _filled(mi, name, props, mesh.points[faces], np.arange(len(faces)), uv)
    found = _filled(mi, name, props, mesh.points[faces], np.arange(len(faces)), uv, ("vertex_turn", turns))
    return found


def _filled(mi: Any, name: str, props: Any, points: np.ndarray, faces: np.ndarray, uv: np.ndarray | None,
            attribute: tuple[str, np.ndarray] | None = None) -> Any:  # fmt: skip
    if attribute is not None:
        props["mesh_emitter"] = mi.load_dict({"type": "area", "radiance": {"type": "mesh_attribute", "name": attribute[0]}})
    found = mi.Mesh(name, len(points), len(faces) // 3, props=props, has_vertex_normals=False, has_vertex_texcoords=uv is not None)
    if attribute is not None:
        found.add_attribute(attribute[0], 3, np.ascontiguousarray(attribute[1], dtype=np.float32).ravel())
    params = mi.traverse(found)
    params["vertex_positions"] = np.ascontiguousarray(points, dtype=np.float32).ravel()
    params["faces"] = np.ascontiguousarray(faces, dtype=np.uint32).ravel()
    if uv is not None:
        params["vertex_texcoords"] = np.ascontiguousarray(uv, dtype=np.float32).ravel()
    params.update()
    return found
