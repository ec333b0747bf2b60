"""Acts on one thing on the table."""

from __future__ import annotations

from dataclasses import replace

from shapely.affinity import translate

from tideflat.core.camera.hiding import lies_in
from tideflat.core.errors import FieldError
from tideflat.core.findings.candidates import moved
from tideflat.core.model import HOLDERS, ROLES, Placement, Prop, Scene
from tideflat.core.shapes import Bowl, Cloth, Scatter, Shape
from tideflat.core.solids.body import pose
from tideflat.core.units import format_length
from tideflat.web.ui.fields import Fields

from .history import Edit


def _held(scene: Scene, fields: Fields) -> tuple[Placement, str]:
    placement = scene.placement(fields.text("id", 64))
    return placement, scene.prop(placement.prop).name


def _must_be_free(scene: Scene, placement: Placement, *, with_carried: bool = False) -> None:
    """Nothing locked is moved: not the thing itself, nor, when they would go along, what rests on it."""
    for i in (placement.id, *(scene.carried_by(placement.id) if with_carried else ())):
        p = scene.placement(i)
        if p.locked:
            raise FieldError(scene.prop(p.prop).name, "must be unlocked before it can be moved", show_got=False)


def move(scene: Scene, fields: Fields) -> Edit:
    """To x, y (and z when given), mm; what rests on it goes along."""
    placement, name = _held(scene, fields)
    _must_be_free(scene, placement, with_carried=True)
    read = fields.length if fields.has("typed") else fields.mm
    x = read("x") if fields.has("x") else placement.x
    y = read("y") if fields.has("y") else placement.y
    shifted = moved(scene, placement.id, x - placement.x, y - placement.y)
    how_far = ((x - placement.x) ** 2 + (y - placement.y) ** 2) ** 0.5
    if fields.has("z"):
        shifted = _lifted(shifted, placement, read("z"))
        how_far = (how_far**2 + (read("z") - placement.z) ** 2) ** 0.5
    return Edit(shifted, f"{name} moved {format_length(how_far, fields.unit)}", selected=placement.id)


def _lifted(scene: Scene, placement: Placement, z: float) -> Scene:
    if z < 0:
        raise FieldError("z", "must be at or above the table's top", z)
    rise = z - placement.z
    for i in (placement.id, *scene.carried_by(placement.id)):
        p = scene.placement(i)
        scene = scene.with_placement(replace(p, z=round(max(0.0, p.z + rise), 1)))
    return scene


def turn(scene: Scene, fields: Fields) -> Edit:
    placement, name = _held(scene, fields)
    _must_be_free(scene, placement)
    angle = round((fields.angle("turn") + 180) % 360 - 180, 1)
    return Edit(scene.with_placement(replace(placement, turn=angle)), f"{name} turned to {angle:g}°", selected=placement.id)


def lean(scene: Scene, fields: Fields) -> Edit:
    placement, name = _held(scene, fields)
    _must_be_free(scene, placement)
    lean_deg = round(fields.angle("lean"), 1)
    toward = round(fields.angle("lean_toward") % 360, 1) if fields.has("lean_toward") else placement.lean_toward
    if not -90 <= lean_deg <= 90:
        raise FieldError("lean", "must be from -90 to 90 degrees", lean_deg)
    changed = replace(placement, lean=lean_deg, lean_toward=toward)
    return Edit(scene.with_placement(changed), f"{name} leaned {lean_deg:g}°", selected=placement.id)


def raise_to(scene: Scene, fields: Fields) -> Edit:
    """To the height z of its foot; what rests on it goes along."""
    placement, name = _held(scene, fields)
    _must_be_free(scene, placement, with_carried=True)
    z = fields.length("z")
    return Edit(_lifted(scene, placement, z), f"{name} raised to {format_length(z, fields.unit)}", selected=placement.id)


def rest(scene: Scene, fields: Fields) -> Edit:
    """Lay it on another thing, or back on the table (``on`` empty); a dish takes small things inside."""
    placement, name = _held(scene, fields)
    _must_be_free(scene, placement, with_carried=True)
    on = fields.text("on", 64)
    if not on:
        changed = _lifted(scene.with_placement(replace(placement, on=None)), placement, 0.0)
        return Edit(changed, f"{name} laid on the table", selected=placement.id)
    below = scene.placement(on)
    if on == placement.id or on in scene.carried_by(placement.id):
        raise FieldError(name, "must not rest on itself or on what it carries", show_got=False)
    z = resting_height(scene, placement, below)
    changed = _lifted(scene.with_placement(replace(placement, on=on)), placement, z)
    return Edit(changed, f"{name} laid on {scene.prop(below.prop).name}", selected=placement.id)


def resting_height(scene: Scene, placement: Placement, below: Placement) -> float:
    """Where the foot of ``placement`` comes to rest on ``below``: its top, or the floor of a dish it fits into."""
    dish = pose(below, scene.prop(below.prop).shape)
    if isinstance(dish.shape, Bowl):
        floor = min(6.0, dish.shape.height * 0.2)
        inside = pose(replace(placement, z=below.z + floor), scene.prop(placement.prop).shape)
        if lies_in(inside, dish):
            return round(below.z + floor, 1)
    return round(dish.z_max, 1)


def role(scene: Scene, fields: Fields) -> Edit:
    """Give it a role; a new hero makes the old one a support, as there is one only."""
    placement, name = _held(scene, fields)
    chosen = fields.choice("role", ROLES)
    if chosen == "hero":
        for other in scene.placements:
            if other.role == "hero" and other.id != placement.id:
                scene = scene.with_placement(replace(other, role="support"))
    return Edit(scene.with_placement(replace(placement, role=chosen)), f"{name} made {chosen}", selected=placement.id)


def hold(scene: Scene, fields: Fields) -> Edit:
    placement, name = _held(scene, fields)
    by = fields.text("held_by", 20)
    held = fields.choice("held_by", HOLDERS) if by else None
    label = f"{name} held by {held}" if held else f"{name} held by nothing"
    return Edit(scene.with_placement(replace(placement, held_by=held)), label, selected=placement.id)


def lock(scene: Scene, fields: Fields) -> Edit:
    placement, name = _held(scene, fields)
    changed = replace(placement, locked=not placement.locked)
    return Edit(scene.with_placement(changed), f"{name} {'locked' if changed.locked else 'unlocked'}", selected=placement.id)


def duplicate(scene: Scene, fields: Fields) -> Edit:
    """A second one beside it, not as hero."""
    placement, name = _held(scene, fields)
    width = pose(placement, scene.prop(placement.prop).shape).footprint.bounds
    step = width[2] - width[0] + 15
    side = 1 if placement.x + step < scene.surface.width else -1
    twin = replace(
        placement,
        id=free_id(placement.id, {p.id for p in scene.placements}),
        x=round(placement.x + side * step, 1),
        role="support" if placement.role == "hero" else placement.role,
        locked=False,
    )
    return Edit(replace(scene, placements=scene.placements + (twin,)), f"{name} duplicated", selected=twin.id)


def remove(scene: Scene, fields: Fields) -> Edit:
    """Off the table; what rested on it comes down to what is below."""
    placement, name = _held(scene, fields)
    _must_be_free(scene, placement, with_carried=True)
    for i in scene.carried_by(placement.id):
        p = scene.placement(i)
        scene = scene.with_placement(
            replace(p, z=placement.z if p.on == placement.id else p.z, on=placement.on if p.on == placement.id else p.on)
        )
    left = tuple(p for p in scene.placements if p.id != placement.id)
    setups = tuple(
        replace(s, hidden=tuple(h for h in s.hidden if h != placement.id), swap=tuple(w for w in s.swap if w[0] != placement.id))
        for s in scene.setups
    )
    used = {p.prop for p in left} | {prop for s in setups for _, prop in s.swap}
    props = tuple(p for p in scene.props if p.id in used)
    return Edit(replace(scene, placements=left, props=props, setups=setups), f"{name} taken away")


def hide(scene: Scene, fields: Fields) -> Edit:
    """Leave it out of one set-up, or bring it back there."""
    placement, name = _held(scene, fields)
    setup = scene.setup(fields.text("setup", 120))
    is_hidden = placement.id in setup.hidden
    hidden = tuple(h for h in setup.hidden if h != placement.id) if is_hidden else setup.hidden + (placement.id,)
    label = f"{name} back in {setup.name}" if is_hidden else f"{name} left out of {setup.name}"
    return Edit(scene.with_setup(setup.name, replace(setup, hidden=hidden)), label, selected=placement.id)


def add_prop(scene: Scene, prop: Prop, role_name: str, x: float, y: float) -> Edit:
    """Put a prop on the table at x, y, mm. The scene keeps its own copy of the prop; one with the same id is shared when alike."""
    known = next((p for p in scene.props if replace(p, id=prop.id) == prop and stem_of(p.id) == prop.id), None)
    if known is None:
        known = replace(prop, id=free_id(prop.id, {p.id for p in scene.props}))
        scene = replace(scene, props=scene.props + (known,))
    if role_name == "hero" and any(p.role == "hero" for p in scene.placements):
        role_name = "support"
    placement = Placement(
        id=free_id(known.id, {p.id for p in scene.placements}), prop=known.id, x=round(x, 1), y=round(y, 1), role=role_name
    )
    return Edit(replace(scene, placements=scene.placements + (placement,)), f"{prop.name} put on the table", selected=placement.id)


def stem_of(prop_id: str) -> str:
    """The id without the number that ``free_id`` put after it."""
    stem, _, tail = prop_id.rpartition("-")
    return stem if stem and tail.isdigit() else prop_id


def free_id(wish: str, taken: set[str]) -> str:
    """``wish``, or with the first number that makes it free."""
    stem = stem_of(wish)[:56]
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in range(2, 10_000) if f"{stem}-{n}" not in taken)


def free_place(scene: Scene, setup_name: str, shape: Shape) -> tuple[float, float]:
    """Where a new thing may stand: the place nearest the camera's aim with clear table round it, on the surface."""
    aim = next((s for s in scene.setups if s.name == setup_name), scene.setups[0]).camera.aim
    taken = [
        pose(p, scene.prop(p.prop).shape).footprint for p in scene.placements if not isinstance(scene.prop(p.prop).shape, Cloth | Scatter)
    ]
    own = pose(Placement("new", "new", 0.0, 0.0), shape).footprint
    left, front, right, back = own.bounds
    tries = sorted(
        ((x, y) for x in range(0, int(scene.surface.width) + 1, 30) for y in range(0, int(scene.surface.depth) + 1, 30)),
        key=lambda at: (at[0] - aim[0]) ** 2 + (at[1] - aim[1]) ** 2,
    )
    for x, y in tries:
        if x + left < 0 or x + right > scene.surface.width or y + front < 0 or y + back > scene.surface.depth:
            continue
        here = translate(own, x, y)
        if all(here.distance(other) >= 12 for other in taken):
            return float(x), float(y)
    return float(aim[0]), float(aim[1])
