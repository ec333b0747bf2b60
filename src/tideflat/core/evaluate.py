"""Everything the core computes of a scene, one set-up at a time: the numbers behind both views and every judgement."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from .camera.coverage import BackdropSeen, backdrop_seen, ceiling_clearance_mm, corners_on_table
from .camera.crops import FULL_FRAME, Crop, Rect, crop_of, fitted, safe_area
from .camera.framing import magnification_at_aim
from .camera.hiding import Hiding, hiding
from .camera.optics import DepthOfField, blur_mm, circle_of_confusion_mm, depth_of_field
from .camera.silhouette import Silhouette, silhouettes
from .camera.view import View, view_of
from .model import Camera, Prop, Scene, Setup
from .plane.areas import areas_of
from .remember import remembered
from .solids.body import Body, pose
from .solids.falling import laid_out


@dataclass(frozen=True, eq=False)
class PlacedThing:
    """One thing in the picture. Shares 0..1; ``visible`` is what is left of the outline inside the frame."""

    centre: tuple[float, float] | None
    box: Rect | None
    inside_frame_share: float
    visible_share: float
    frame_area_share: float
    blur: float | None
    visible: BaseGeometry


@dataclass(frozen=True, eq=False)
class Picture:
    """One set-up of a scene, computed. Parts that cost are computed when first asked for, then kept.

    whole: the scene as the document has it, all set-ups of it; ``scene`` is what of it stands in this one.
    skins: the pixels (h, w, 3 or 4) uint8 of photographs that the scene's things wear, by id; without them their colours are taken.
    """

    whole: Scene
    setup: Setup
    skins: Mapping[str, np.ndarray] = field(default_factory=dict)

    @cached_property
    def scene(self) -> Scene:
        """The scene as it stands in this set-up: its own surface and backdrop, things where they are here."""
        return self.whole.seen_in(self.setup)

    def changed(self, whole: Scene, setup_name: str | None = None) -> Picture:
        """Another scene as this picture shows it: the same set-up, or the one named, and the same skins."""
        return Picture(whole, whole.setup(self.setup.name if setup_name is None else setup_name), self.skins)

    def through(self, camera: Camera) -> Picture:
        """The same table through another camera, each crop moved just so far that it lies inside its frame; what stands there is not laid
        out again."""
        setup = replace(self.setup, camera=camera, deliverables=fitted(self.setup.deliverables, camera))
        seen = Picture(self.whole.with_setup(setup.name, setup), setup, self.skins)
        seen.__dict__.update(scene=replace(self.scene, setups=seen.whole.setups), props=self.props, bodies=self.bodies)
        return seen

    @cached_property
    def view(self) -> View:
        return view_of(self.setup.camera)

    @cached_property
    def props(self) -> dict[str, Prop]:
        """The prop that stands at each placement in the picture, by placement id."""
        return {p.id: self.scene.prop_in(p, self.setup) for p in self.scene.placements_in(self.setup)}

    @cached_property
    def bodies(self) -> dict[str, Body]:
        return laid_out({p.id: pose(p, self.props[p.id].shape) for p in self.scene.placements_in(self.setup)})

    @cached_property
    def silhouettes(self) -> dict[str, Silhouette]:
        return silhouettes(tuple(self.bodies.values()), self.view)

    @cached_property
    def hiding(self) -> Hiding:
        glass = frozenset(i for i, prop in self.props.items() if prop.finish == "glass")
        return hiding(self.silhouettes, self.view, glass)

    @cached_property
    def things(self) -> dict[str, PlacedThing]:
        return {i: self._thing(i) for i in self.bodies}

    @cached_property
    def crops(self) -> tuple[Crop, ...]:
        return tuple(crop_of(d, self.setup.camera) for d in self.setup.deliverables)

    @cached_property
    def windows(self) -> tuple[tuple[str | None, Rect], ...]:
        """What is delivered: each crop by name, or the whole frame (name None) when nothing is asked for."""
        return tuple((c.name, c.box) for c in self.crops) or ((None, FULL_FRAME),)

    @cached_property
    def safe_area(self) -> Rect | None:
        return safe_area(self.crops)

    @cached_property
    def depth_of_field(self) -> DepthOfField:
        camera, view = self.setup.camera, self.view
        confusion = circle_of_confusion_mm(camera.sensor, camera.circle_of_confusion)
        return depth_of_field(view.lens, camera.aperture, confusion)

    @cached_property
    def ceiling_clearance(self) -> float | None:
        room = self.scene.room
        if room is None or room.ceiling_height is None:
            return None
        return ceiling_clearance_mm(self.setup.camera, self.view, self.scene.surface.height_above_floor, room.ceiling_height)

    @cached_property
    def coverage_corners(self) -> tuple[tuple[float, float] | None, ...]:
        return corners_on_table(self.view)

    @cached_property
    def size_at_aim(self) -> tuple[float, float]:
        """Width and height, mm, of what the frame covers in the plane through the aim, square to the axis."""
        scale = magnification_at_aim(self.setup.camera, self.view)
        return self.view.frame_width / scale, self.view.frame_height / scale

    @cached_property
    def backdrop_seen(self) -> BackdropSeen | None:
        return None if self.scene.backdrop is None else backdrop_seen(self.view, self.scene.backdrop)

    def field_of_view_deg(self) -> tuple[float, float]:
        view = self.view
        wide, high = (2 * np.degrees(np.arctan(side / (2 * view.principal_distance))) for side in (view.frame_width, view.frame_height))
        return float(wide), float(high)

    def hero_ids(self) -> tuple[str, ...]:
        return tuple(p.id for p in self.scene.placements_in(self.setup) if p.role == "hero")

    def _thing(self, placement_id: str) -> PlacedThing:
        silhouette = self.silhouettes.get(placement_id)
        if silhouette is None:
            return PlacedThing(None, None, 0.0, 0.0, 0.0, None, shapely.Polygon())
        return _placed_thing(silhouette, self.hiding.visible[placement_id], self.view, self.setup.camera.aperture)


@remembered(4)
def _placed_thing(silhouette: Silhouette, uncovered: BaseGeometry, view: View, aperture: float) -> PlacedThing:
    u, v, _ = view.project(silhouette.body.centroid)
    inside = _within(silhouette.outline, FULL_FRAME)
    visible = _within(uncovered, FULL_FRAME)
    return PlacedThing(
        (float(u), float(v)),
        silhouette.box,
        _share(inside.area, silhouette.outline.area),
        _share(visible.area, inside.area),
        float(visible.area),
        blur_mm(view.lens, aperture, float(view.sharp_depths(silhouette.body.centroid))),
        visible,
    )


def _within(outline: BaseGeometry, window: Rect) -> BaseGeometry:
    u0, v0, u1, v1 = outline.bounds if not outline.is_empty else FULL_FRAME
    if u0 >= window[0] and v0 >= window[1] and u1 <= window[2] and v1 <= window[3]:
        return outline
    return areas_of(shapely.intersection(outline, shapely.box(*window)))


def _share(part: float, whole: float) -> float:
    return min(1.0, part / whole) if whole > 0 else 0.0


def share_within(outline: BaseGeometry, window: Rect) -> float:
    """Share of an outline's area inside a window of the frame."""
    return _share(_within(outline, window).area, outline.area)
