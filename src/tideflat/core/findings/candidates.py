"""Changes that might clear a finding, the smallest first. They are proposals only; `remedies` proves or drops them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..camera.coverage import backdrop_seen
from ..camera.crops import crop_size, ratio_of
from ..camera.optics import aperture_for_depth, focus_reach_mm
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..facts.practice import TANGENT
from ..model import Camera, Placement, Scene
from . import focus
from .finding import Finding
from .relations import label
from .spacing import collision
from .support import fall_mm

#: No remedy carries a thing further than this (mm) or turns the picture into another one.
LONGEST_MOVE_MM = 160.0
#: A move a shade longer than the bare need, so that the limit is cleared and not just met.
SHADE_MM = 0.5


@dataclass(frozen=True)
class Candidate:
    """One possible change: what it is, its figures, and the scene after it."""

    kind: str
    figures: tuple[tuple[str, Any], ...]
    sentence: str
    scene: Scene


def candidates(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    """Candidates for one finding. Nothing locked is ever moved."""
    makers: dict[str, Callable[[Picture, Finding], Iterator[Candidate]]] = {
        "hero.missing": _name_hero,
        "hero.several": _keep_one_hero,
        "hero.cut": _for_cut_hero,
        "hero.small": _come_closer,
        "spacing.overlap": _part,
        "spacing.tight": _part,
        "tangent.pair": _part_in_frame,
        "tangent.edge": _off_the_edge,
        "edge.sliver": _off_the_edge,
        "rig.ceiling": _come_closer,
        "lens.min_focus": _into_focus_reach,
        "lens.too_far": _into_focus_reach,
        "surface.edge": _see_less,
        "backdrop.narrow": _for_narrow_backdrop,
        "focus.hero": _sharpen,
        "copy.occupied": _clear_copy,
        "support.floating": _lower,
    }
    if finding.code in makers:  # colour and variety are cleared by exchanges out of the stores
        yield from makers[finding.code](picture, finding)


def moved(scene: Scene, placement_id: str, dx: float, dy: float) -> Scene:
    """The placement and all it carries, shifted on the table to tenths of a millimetre."""
    for i in (placement_id, *scene.carried_by(placement_id)):
        p = scene.placement(i)
        scene = scene.with_placement(replace(p, x=round(p.x + dx, 1), y=round(p.y + dy, 1)))
    return scene


def _is_free(scene: Scene, placement_id: str) -> bool:
    return not any(scene.placement(i).locked for i in (placement_id, *scene.carried_by(placement_id)))


def _move(picture: Picture, placement_id: str, dx: float, dy: float) -> Candidate:
    length = float(np.hypot(dx, dy))
    name = label(picture, placement_id)
    return Candidate(
        "move",
        (("placement", placement_id), ("dx", round(dx, 1)), ("dy", round(dy, 1)), ("mm", round(length, 1))),
        f"move {name} {length:.0f} mm",
        moved(picture.scene, placement_id, dx, dy),
    )


def _lesser_first(picture: Picture, ids: tuple[str, ...]) -> list[str]:
    """Free ones only; the hero is moved last, small things before large ones."""
    free = [i for i in ids if _is_free(picture.scene, i)]
    return sorted(free, key=lambda i: (picture.bodies[i].placement.role == "hero", picture.bodies[i].footprint.area))


def _fan(direction: np.ndarray) -> list[np.ndarray]:
    """The direction, then others ever further to both sides of it."""
    turned = []
    for degrees in (0, 30, -30, 60, -60, 90, -90, 135, -135, 180):
        c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        turned.append(np.array([c * direction[0] - s * direction[1], s * direction[0] + c * direction[1]]))
    return turned


def _spread(picture: Picture, ids: tuple[str, ...], away: dict[str, np.ndarray], need: float) -> Iterator[Candidate]:
    for stretch in (1.0, 1.6, 2.5, 4.0, 7.0):
        for i in _lesser_first(picture, ids):
            for k, direction in enumerate(_fan(away[i])):
                length = (need * stretch) + SHADE_MM
                if length <= LONGEST_MOVE_MM and (k < 5 or stretch > 1):
                    yield _move(picture, i, *(direction * length))


def _part(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    a, b = finding.placements
    first, second = picture.bodies[a], picture.bodies[b]
    if finding.code == "spacing.overlap":
        direction = np.array(collision(first, second)[1])
    else:
        (ax, ay), (bx, by) = finding.mark.table[0]
        direction = np.array([bx - ax, by - ay])
        direction /= np.linalg.norm(direction)
    need = abs(finding.limit - finding.measure) if finding.code == "spacing.tight" else finding.measure + 8.0
    yield from _spread(picture, (a, b), {b: direction, a: -direction}, need)


def _part_in_frame(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    a, b = finding.placements
    view = picture.view
    centres = {i: picture.silhouettes[i].outline.centroid for i in (a, b)}
    toward = np.array([centres[b].x - centres[a].x, centres[b].y - centres[a].y])
    toward = toward / (np.linalg.norm(toward * [view.aspect, 1]) or 1.0)
    long_side = max(view.frame_width, view.frame_height)
    gap = finding.limit - finding.measure if finding.sides == ("apart",) else finding.limit + finding.measure
    for i in _lesser_first(picture, (a, b)):
        sign = 1 if i == b else -1
        depth = float((picture.bodies[i].centroid - view.position) @ view.forward)
        need = gap / 100 * long_side * depth / view.principal_distance
        for share in (1.0, 1.4, 2.0, 3.5):
            for du, dv in ((toward[0], toward[1]), (toward[0], 0.0), (0.0, toward[1]), (-toward[0], -toward[1])):
                shift = table_shift(picture, i, sign * du * share * gap / 100 * 1.1, sign * dv * share * gap / 100 * 1.1)
                if shift is not None:
                    yield _move(picture, i, *shift)
        # Deeper into each other, or further round: what overlaps plainly is as good as what is clear.
        for direction in _fan(np.array([1.0, 0.0])):
            yield _move(picture, i, *(direction * (need * 1.5 + SHADE_MM)))


def table_shift(picture: Picture, placement_id: str, du: float, dv: float) -> tuple[float, float] | None:
    """The move on the table (mm) that shifts a thing by du, dv in the frame; None when no move within reach does."""
    body = picture.bodies[placement_id]
    u, v, _ = picture.view.project(body.centroid)
    there = picture.view.on_plane(float(u) + du, float(v) + dv, float(body.centroid[2]))
    if there is None:
        return None
    shift = (there[0] - float(body.centroid[0]), there[1] - float(body.centroid[1]))
    return shift if np.hypot(*shift) <= LONGEST_MOVE_MM else None


def _off_the_edge(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    """Further in, or further out, whichever is shorter and does no harm; or the crop steps aside."""
    (i,) = finding.placements
    window = next(box for name, box in picture.windows if name == finding.crop)
    box = picture.silhouettes[i].box
    margin_u = TANGENT.value / 100 * max(1.0, 1 / picture.view.aspect) * 1.15
    margin_v = TANGENT.value / 100 * max(picture.view.aspect, 1.0) * 1.15
    shifts: list[tuple[float, float]] = []
    for side in finding.sides:
        inward, outward = {
            "left": (window[0] + margin_u - box[0], window[0] - margin_u - (box[2] if finding.code == "edge.sliver" else box[0])),
            "right": (window[2] - margin_u - box[2], window[2] + margin_u - (box[0] if finding.code == "edge.sliver" else box[2])),
            "top": (window[1] + margin_v - box[1], window[1] - margin_v - (box[3] if finding.code == "edge.sliver" else box[1])),
            "bottom": (window[3] - margin_v - box[3], window[3] + margin_v - (box[1] if finding.code == "edge.sliver" else box[3])),
        }[side]
        reaches = [inward, outward]
        if finding.code == "edge.sliver":  # or show a good part of it
            size = (box[2] - box[0]) if side in ("left", "right") else (box[3] - box[1])
            reaches += [inward * 0.5, inward * 0.35] if size else []
        for reach in reaches:
            shifts.append((reach, 0.0) if side in ("left", "right") else (0.0, reach))
    shifts.sort(key=lambda s: abs(s[0]) + abs(s[1]))
    if _is_free(picture.scene, i):
        for stretch in (1.0, 1.3, 1.8):
            for du, dv in shifts:
                shift = table_shift(picture, i, du * stretch, dv * stretch)
                if shift is not None:
                    yield _move(picture, i, *shift)
    if finding.crop is not None:
        for du, dv in shifts:
            yield from _shift_crop(picture, finding.crop, -du, -dv)
    yield from _camera_nudges(picture)


def _shift_crop(picture: Picture, crop_name: str, du: float, dv: float) -> Iterator[Candidate]:
    setup = picture.setup
    deliverable = next(d for d in setup.deliverables if d.name == crop_name)
    wide, high = crop_size(ratio_of(deliverable), deliverable.scale, picture.view.aspect)
    u = min(max(deliverable.centre[0] + du, wide / 2), 1 - wide / 2)
    v = min(max(deliverable.centre[1] + dv, high / 2), 1 - high / 2)
    centre = (round(u, 7), round(v, 7))
    if centre == deliverable.centre:
        return
    changed = replace(deliverable, centre=centre)
    others = tuple(changed if d.name == crop_name else d for d in setup.deliverables)
    yield Candidate(
        "crop",
        (("crop", crop_name), ("centre", list(centre))),
        f"move the crop {crop_name}",
        picture.scene.with_setup(setup.name, replace(setup, deliverables=others)),
    )


def _with_camera(picture: Picture, kind: str, sentence: str, figures: tuple[tuple[str, Any], ...], **changes: Any) -> Candidate:
    camera: Camera = replace(picture.setup.camera, **changes)
    return Candidate(kind, figures, sentence, picture.scene.with_setup(picture.setup.name, replace(picture.setup, camera=camera)))


def _step(picture: Picture, distance: float) -> Candidate:
    distance = round(distance, 1)
    change = distance - picture.setup.camera.distance
    way = "back" if change > 0 else "closer"
    return _with_camera(
        picture,
        "step",
        f"step {way} {abs(change):.0f} mm",
        (("distance", distance), ("mm", round(abs(change), 1)), ("way", way)),
        distance=distance,
    )


def _aim(picture: Picture, right_mm: float, up_mm: float) -> Candidate:
    """The camera carried sideways and up or down with its aim, along its own axes laid on the table."""
    camera, view = picture.setup.camera, picture.view
    onward = np.array([view.up[0], view.up[1], 0.0])
    onward = onward / np.linalg.norm(onward) if np.linalg.norm(onward) > 0.5 else np.array([0, 0, 1.0])
    shift = right_mm * view.right + up_mm * onward
    aim = tuple(round(float(a + s), 1) for a, s in zip(camera.aim, shift, strict=True))
    return _with_camera(
        picture,
        "aim",
        f"carry the camera {np.hypot(right_mm, up_mm):.0f} mm",
        (("aim", list(aim)), ("mm", round(float(np.hypot(right_mm, up_mm)), 1)), ("right", round(right_mm, 1)), ("up", round(up_mm, 1))),
        aim=aim,
    )


def _camera_nudges(picture: Picture) -> Iterator[Candidate]:
    for mm in (6.0, 12.0, 20.0, 35.0):
        for right, up in ((mm, 0), (-mm, 0), (0, mm), (0, -mm)):
            yield _aim(picture, right, up)
    for factor in (1.02, 0.98, 1.05, 0.95):
        yield _step(picture, picture.setup.camera.distance * factor)


def _for_cut_hero(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    (i,) = finding.placements
    silhouette = picture.silhouettes.get(i)
    if silhouette is None:
        return
    box = silhouette.box
    window = next((c.box for c in picture.crops if c.name == finding.crop), (0.0, 0.0, 1.0, 1.0))
    margin = TANGENT.value / 100 * max(picture.view.aspect, 1.0) * 1.3
    du = max(0.0, window[0] + margin - box[0]) - max(0.0, box[2] + margin - window[2])
    dv = max(0.0, window[1] + margin - box[1]) - max(0.0, box[3] + margin - window[3])
    if finding.crop is not None:
        yield from _shift_crop(picture, finding.crop, -du, -dv)
        yield from _shift_crop(
            picture, finding.crop, (box[0] + box[2]) / 2 - (window[0] + window[2]) / 2, (box[1] + box[3]) / 2 - (window[1] + window[3]) / 2
        )
    per_u = picture.size_at_aim[0]
    per_v = picture.size_at_aim[1] / max(float(np.hypot(*picture.view.up[:2])), 0.3)
    for stretch in (1.0, 1.4):
        yield _aim(picture, -du * per_u * stretch, dv * per_v * stretch)
    if _is_free(picture.scene, i):
        shift = table_shift(picture, i, du, dv)
        if shift is not None:
            yield _move(picture, i, *shift)
    for factor in (1.05, 1.1, 1.18, 1.28, 1.4, 1.6, 1.9):
        yield _step(picture, picture.setup.camera.distance * factor)


def _come_closer(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    distance = picture.setup.camera.distance
    if finding.code == "hero.small":
        best = distance * float(np.sqrt(finding.measure / finding.limit))
        factors = (1.0, 0.96, 0.9, 0.82)
    else:
        rise = max(float(np.sin(np.radians(picture.setup.camera.elevation))), 0.05)
        best = distance - (finding.limit - finding.measure + 2) / rise
        factors = (1.0, 0.98, 0.94, 0.9)
    for factor in factors:
        if best * factor > picture.view.focal_length * 1.5:
            yield _step(picture, best * factor)


def _into_focus_reach(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    camera = picture.setup.camera
    nearest, furthest = focus_reach_mm(camera.lens, camera.sensor)
    change = nearest - picture.view.focus_distance if finding.code == "lens.min_focus" else (furthest or 0) - picture.view.focus_distance
    for shade in (1.0, 4.0, 12.0):
        yield _step(picture, camera.distance + change + (shade if change > 0 else -shade))


def _see_less(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    """Away from the edge that shows, or closer; both when more than one shows."""
    across = {"left": 1.0, "right": -1.0}
    along = {"front": 1.0, "back": -1.0}
    need = finding.measure + 3
    right = sum(across.get(side, 0.0) for side in finding.sides) * need
    up = sum(along.get(side, 0.0) for side in finding.sides) * need
    if (right or up) and need < 400:
        for stretch in (1.0, 1.3):
            yield _aim(picture, right * stretch, up * stretch)
    for factor in (0.97, 0.94, 0.9, 0.86, 0.8, 0.72):
        yield _step(picture, picture.setup.camera.distance * factor)
        if (right or up) and need < 400:
            yield from _also_closer(_aim(picture, right * 0.5, up * 0.5), picture, factor)


def _also_closer(candidate: Candidate, picture: Picture, factor: float) -> Iterator[Candidate]:
    after = picture.changed(candidate.scene)
    step = _step(after, after.setup.camera.distance * factor)
    yield Candidate("aim_and_step", candidate.figures + step.figures[:1], f"{candidate.sentence} and {step.sentence}", step.scene)


def _for_narrow_backdrop(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    backdrop = picture.scene.backdrop
    assert backdrop is not None
    window = next(box for name, box in picture.windows if name == finding.crop)
    slide = backdrop_seen(picture.view, backdrop, window).slide
    whole = picture.backdrop_seen.slide if picture.backdrop_seen else slide
    for way in (slide, slide + np.sign(slide), whole):
        if way:
            x = round(backdrop.x + float(way), 1)
            yield Candidate(
                "slide",
                (("x", x), ("mm", round(abs(float(way)), 1)), ("way", "right" if way > 0 else "left")),
                f"slide the backdrop {abs(way):.0f} mm",
                replace(picture.scene, backdrop=replace(backdrop, x=x)),
            )
    across = {"left": 1.0, "right": -1.0}
    right = sum(across.get(side, 0.0) for side in finding.sides) * (finding.measure + 2)
    if right and abs(right) < 300:
        yield _aim(picture, right, 0.0)
    for factor in (0.97, 0.94, 0.9, 0.86, 0.8):
        yield _step(picture, picture.setup.camera.distance * factor)


def _sharpen(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    """Focus where the near and far ends are equally soft; then stop down as far as it takes."""
    camera, view = picture.setup.camera, picture.view
    (hero,) = finding.placements
    near, far = focus.needed_depth(picture, hero)
    balance = 2 * near * far / (near + far)  # the plane of focus that splits near and far evenly (harmonic mean)
    point = view.position + balance * view.forward
    refocused = {"focus": tuple(round(float(p), 1) for p in point)}
    stops = [n for n in THIRD_STOPS if camera.aperture < n <= camera.lens.min_aperture]
    confusion = picture.depth_of_field.circle_of_confusion
    here = aperture_for_depth(view.focal_length, view.focus_distance, near, far, confusion)
    there = aperture_for_depth(view.focal_length, balance, near, far, confusion)
    yield _with_camera(picture, "refocus", "focus through the middle of the hero", (("point", list(refocused["focus"])),), **refocused)
    for n in [n for n in stops if n >= here * 0.999][:2]:
        yield _with_camera(picture, "aperture", f"stop down to f/{n:g}", (("aperture", n),), aperture=n)
    for n in [n for n in stops if n >= there * 0.999][:2]:
        yield _with_camera(
            picture,
            "refocus_and_aperture",
            f"focus through the middle of the hero at f/{n:g}",
            (("point", list(refocused["focus"])), ("aperture", n)),
            aperture=n,
            **refocused,
        )


def _clear_copy(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    crop = next(c for c in picture.crops if c.name == finding.crop)
    assert crop.copy_box is not None
    room = crop.copy_box
    margin = 0.012
    scene, moves = picture.scene, []
    for i in finding.placements:  # all occupants out, each by its shortest way
        if not _is_free(picture.scene, i):
            scene = None  # type: ignore[assignment]
            break
        box = picture.silhouettes[i].box
        ways = [
            (room[0] - margin - box[2], 0.0),
            (room[2] + margin - box[0], 0.0),
            (0.0, room[1] - margin - box[3]),
            (0.0, room[3] + margin - box[1]),
        ]
        shifts = [s for s in (table_shift(picture, i, du, dv) for du, dv in ways) if s is not None]
        if not shifts:
            scene = None  # type: ignore[assignment]
            break
        best = min(shifts, key=lambda s: float(np.hypot(*s)))
        scene = moved(scene, i, *best)
        moves.append((i, float(np.hypot(*best))))
        if len(finding.placements) == 1:
            for shift in sorted(shifts, key=lambda s: float(np.hypot(*s))):
                for stretch in (1.0, 1.2):
                    yield _move(picture, i, shift[0] * stretch, shift[1] * stretch)
    if scene is not None and len(moves) > 1:
        total = max(mm for _, mm in moves)
        yield Candidate(
            "move_several",
            (("placements", [i for i, _ in moves]), ("mm", round(total, 1))),
            f"move {len(moves)} things out of the words, at most {total:.0f} mm",
            scene,
        )
    for du, dv in ((0.05, 0), (-0.05, 0), (0, 0.05), (0, -0.05), (0.12, 0), (-0.12, 0), (0, 0.12), (0, -0.12)):
        yield from _shift_crop(picture, crop.name, du, dv)
    yield from _camera_nudges(picture)


def _name_hero(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    ranked = sorted(picture.things, key=lambda i: -picture.things[i].frame_area_share)
    for i in ranked:
        placement = picture.bodies[i].placement
        if placement.role in ("support", "accent"):
            yield _with_role(picture, placement, "hero")


def _with_role(picture: Picture, placement: Placement, role: str) -> Candidate:
    return Candidate(
        "role",
        (("placement", placement.id), ("role", role)),
        f"make {label(picture, placement.id)} the {role}",
        picture.scene.with_placement(replace(placement, role=role)),
    )


def _keep_one_hero(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    for kept in sorted(finding.placements, key=lambda i: -picture.things[i].frame_area_share):
        scene = picture.scene
        for i in finding.placements:
            if i != kept:
                scene = scene.with_placement(replace(scene.placement(i), role="support"))
        yield Candidate("role", (("placement", kept), ("role", "hero")), f"keep {label(picture, kept)} as the only hero", scene)


def _lower(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    (i,) = finding.placements
    if not _is_free(picture.scene, i):
        return
    body = picture.bodies[i]
    drop = fall_mm(picture, body)
    z = round(body.z_min - drop, 1)
    if z < 0:
        return
    scene = picture.scene
    for k in (i, *scene.carried_by(i)):
        p = scene.placement(k)
        scene = scene.with_placement(replace(p, z=round(max(0.0, p.z - drop), 1)))
    yield Candidate("lower", (("placement", i), ("z", z), ("mm", round(drop, 1))), f"set {label(picture, i)} down by {drop:.0f} mm", scene)
