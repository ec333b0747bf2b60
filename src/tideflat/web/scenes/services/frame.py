"""Acts on the frame: camera, deliverables, set-ups."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from tideflat.core.camera.crops import crop_size, ratio_of
from tideflat.core.camera.stance import LENS_CLEARANCE_MM, above_surface
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.model import SIDES, Camera, CopySpace, Deliverable, Lens, Scene, Sensor, Setup
from tideflat.core.units import format_length
from tideflat.web.ui.fields import Fields

from .history import Edit

PRESETS: dict[str, tuple[str, float]] = {
    "overhead": ("overhead", 90.0),
    "high": ("60°", 60.0),
    "diner": ("45°", 45.0),
    "low": ("25°", 25.0),
    "eye": ("eye level", 0.0),
}


def _setup(scene: Scene, fields: Fields) -> Setup:
    return scene.setup(fields.text("setup", 120))


def _with_camera(scene: Scene, setup: Setup, **changes: Any) -> Scene:
    camera = replace(setup.camera, **changes)
    return scene.with_setup(setup.name, replace(setup, camera=camera, deliverables=fitted(setup.deliverables, camera)))


def fitted(deliverables: tuple[Deliverable, ...], camera: Camera) -> tuple[Deliverable, ...]:
    """The same deliverables, each crop moved just so far that it lies inside the frame of ``camera``."""
    aspect = camera.frame_width_mm / camera.frame_height_mm
    found = []
    for d in deliverables:
        wide, high = crop_size(ratio_of(d), d.scale, aspect)
        u, v = (min(max(at, size / 2), 1 - size / 2) for at, size in zip(d.centre, (wide, high), strict=True))
        found.append(replace(d, centre=(u, v)))
    return tuple(found)


def preset(scene: Scene, fields: Fields) -> Edit:
    """A usual angle; at eye level the aim rises to half the hero's height, and the lens never enters the surface."""
    setup = _setup(scene, fields)
    name, elevation = PRESETS[fields.choice("preset", tuple(PRESETS))]
    camera = setup.camera
    x, y, z = camera.aim
    if elevation == 0:
        picture = Picture(scene, setup)
        heroes = [picture.bodies[i] for i in picture.hero_ids()]
        tallest = max((b.z_max for b in picture.bodies.values()), default=100.0)
        height = (heroes[0].z_max - heroes[0].z_min) / 2 + heroes[0].z_min if heroes else tallest / 2
        z = round(max(height, LENS_CLEARANCE_MM), 1)
    elif camera.elevation <= 10:
        z = 0.0
    changed = above_surface(replace(camera, aim=(x, y, z), elevation=elevation), scene.surface)
    return Edit(_with_camera(scene, setup, aim=changed.aim, elevation=changed.elevation), f"camera to {name}")


def camera(scene: Scene, fields: Fields) -> Edit:
    """One typed value of the camera: ``field`` says which."""
    setup = _setup(scene, fields)
    c = setup.camera
    which = fields.choice(
        "field", ("elevation", "azimuth", "roll", "distance", "height", "aim_x", "aim_y", "aim_z", "aperture", "orientation", "focus")
    )
    changes: dict[str, Any]
    if which in ("elevation", "azimuth", "roll"):
        value = fields.angle("value")
        changes, label = {which: value}, f"{which} {value:g}°"
    elif which in ("aim_x", "aim_y", "aim_z"):
        value = fields.length("value")
        aim = tuple(value if k == "xyz".index(which[-1]) else old for k, old in enumerate(c.aim))
        changes, label = {"aim": aim}, f"aim moved, {which[-1]} {format_length(value, fields.unit)}"
    elif which == "distance":
        value = fields.length("value")
        changes, label = {"distance": value}, f"camera {format_length(value, fields.unit)} from its aim"
    elif which == "height":
        value = fields.length("value")
        rise = math.sin(math.radians(c.elevation))
        if rise < 0.17:
            raise FieldError("height", "must be set by the aim's height when the camera looks nearly level", show_got=False)
        changes = {"distance": round((value - c.aim[2]) / rise, 2)}
        label = f"lens {format_length(value, fields.unit)} above the table"
    elif which == "aperture":
        value = fields.number("value")
        changes, label = {"aperture": value}, f"aperture f/{value:g}"
    elif which == "orientation":
        choice = fields.choice("value", ("landscape", "portrait"))
        changes, label = {"orientation": choice}, f"frame {'upright' if choice == 'portrait' else 'lying'}"
    else:
        changes, label = _focus(scene, setup, fields)
    after = above_surface(replace(c, **changes), scene.surface)
    changes["aim"] = after.aim
    return Edit(_with_camera(scene, setup, **changes), label)


def _focus(scene: Scene, setup: Setup, fields: Fields) -> tuple[dict[str, Any], str]:
    """``value`` empty: through the aim; a placement's id: through its middle."""
    on = fields.text("value", 64)
    if not on:
        return {"focus": None}, "focus through the aim"
    body = Picture(scene, setup).bodies.get(on)
    if body is None:
        raise FieldError("focus", "must be on something in the picture", on)
    point = tuple(round(float(v), 1) for v in body.centroid)
    return {"focus": point}, f"focus on {scene.prop(scene.placement(on).prop).name}"


def pan(scene: Scene, fields: Fields) -> Edit:
    """Carry the camera with its aim by dx, dy on the table, mm."""
    setup = _setup(scene, fields)
    x, y, z = setup.camera.aim
    aim = (round(x + fields.mm("dx"), 1), round(y + fields.mm("dy"), 1), z)
    moved_by = math.hypot(fields.mm("dx"), fields.mm("dy"))
    carried = above_surface(replace(setup.camera, aim=aim), scene.surface)
    return Edit(_with_camera(scene, setup, aim=carried.aim), f"camera carried {format_length(moved_by, fields.unit)}")


def use_lens(scene: Scene, setup_name: str, lens: Lens, name: str) -> Edit:
    """Another lens at the same place; the aperture is kept where the lens has it."""
    setup = scene.setup(setup_name)
    aperture = min(max(setup.camera.aperture, lens.max_aperture), lens.min_aperture)
    return Edit(_with_camera(scene, setup, lens=lens, aperture=aperture), f"lens: {name}")


def use_body(scene: Scene, setup_name: str, sensor: Sensor, name: str, own_lens: Lens | None) -> Edit:
    """Another body; a phone brings its own lens."""
    setup = scene.setup(setup_name)
    changes: dict[str, Any] = {"sensor": sensor}
    if own_lens is not None:
        changes.update(lens=own_lens, aperture=own_lens.max_aperture)
    return Edit(_with_camera(scene, setup, **changes), f"camera: {name}")


def deliverable(scene: Scene, fields: Fields) -> Edit:
    """Add a deliverable, or change the one called ``was``."""
    setup = _setup(scene, fields)
    was = fields.text("was", 120)
    old = next((d for d in setup.deliverables if d.name == was), None) if was else None
    name = fields.text("name", 120) or fields.text("ratio", 20) or "deliverable"
    ratio = fields.text("ratio", 20).replace("x", ":").replace("×", ":").replace(" ", "") or None
    pixels = None
    if fields.has("pixels_wide") and fields.has("pixels_high"):
        pixels = (fields.whole("pixels_wide"), fields.whole("pixels_high"))
    scale = fields.number("scale") / 100 if fields.has("scale") else (old.scale if old else 1.0)
    space = None
    if fields.has("copy_side"):
        side = fields.choice("copy_side", SIDES)
        share = fields.number("copy_share") / 100 if fields.has("copy_share") else 0.25
        space = CopySpace(side=side, share=share)
    elif old is not None and old.copy_space is not None and old.copy_space.rect is not None:
        space = old.copy_space
    made = Deliverable(name, ratio, pixels, old.centre if old else (0.5, 0.5), scale, space)
    if not 0 < scale <= 1:
        raise FieldError("scale", "must be over 0 and at most 100 %", scale * 100)
    (made,) = fitted((made,), setup.camera)
    others = tuple(made if d is old else d for d in setup.deliverables) if old else setup.deliverables + (made,)
    label = f"deliverable {name} {'changed' if old else 'asked for'}"
    return Edit(scene.with_setup(setup.name, replace(setup, deliverables=others)), label)


def crop_move(scene: Scene, fields: Fields) -> Edit:
    """Move one crop's middle to u, v in the frame; it stays inside."""
    setup = _setup(scene, fields)
    name = fields.text("name", 120)
    found = _deliverable(setup, name)
    (made,) = fitted((replace(found, centre=(fields.number("u"), fields.number("v"))),), setup.camera)
    others = tuple(made if d.name == name else d for d in setup.deliverables)
    return Edit(scene.with_setup(setup.name, replace(setup, deliverables=others)), f"crop {name} moved")


def deliverable_remove(scene: Scene, fields: Fields) -> Edit:
    setup = _setup(scene, fields)
    name = _deliverable(setup, fields.text("name", 120)).name
    left = tuple(d for d in setup.deliverables if d.name != name)
    return Edit(scene.with_setup(setup.name, replace(setup, deliverables=left)), f"deliverable {name} dropped")


def _deliverable(setup: Setup, name: str) -> Deliverable:
    for d in setup.deliverables:
        if d.name == name:
            return d
    raise FieldError("deliverable", "must be one of this set-up's", name)


def setup_add(scene: Scene, fields: Fields) -> Edit:
    """Another set-up on the same table, begun as a copy of the present one."""
    setup = _setup(scene, fields)
    name = fields.text("name", 120) or _next_name(scene)
    return Edit(replace(scene, setups=scene.setups + (replace(setup, name=name),)), f"set-up {name} begun")


def _next_name(scene: Scene) -> str:
    taken = {s.name for s in scene.setups}
    return next(f"set-up {n}" for n in range(2, 200) if f"set-up {n}" not in taken)


def setup_rename(scene: Scene, fields: Fields) -> Edit:
    setup = _setup(scene, fields)
    name = fields.text("name", 120)
    return Edit(scene.with_setup(setup.name, replace(setup, name=name)), f"set-up {setup.name} now called {name}")


def setup_remove(scene: Scene, fields: Fields) -> Edit:
    setup = _setup(scene, fields)
    if len(scene.setups) == 1:
        raise FieldError("setup", "must stay, as it is the only one", show_got=False)
    return Edit(replace(scene, setups=tuple(s for s in scene.setups if s.name != setup.name)), f"set-up {setup.name} dropped")
