"""One prop alone, through the lens, filling its small frame."""

from __future__ import annotations

from tideflat.core.evaluate import Picture
from tideflat.core.model import Brief, Camera, Colour, Lens, Placement, Prop, Scene, Sensor, Setup, Surface
from tideflat.core.remember import counted, remembered
from tideflat.core.shapes.shape import Shape
from tideflat.core.solids.body import pose

from .drawing import frame_drawing
from .worn import inline_address


@counted(4096)
def portrait_field_mm(shape: Shape) -> float:
    """How wide the portrait's frame is at the thing: 1.55 times as wide as the thing is, or is high."""
    body = pose(Placement("p", "p", 0.0, 0.0), shape)
    x0, y0, x1, y1 = body.footprint.bounds
    return float(max(x1 - x0, (y1 - y0) * 0.8 + body.z_max, body.z_max * 1.15)) * 1.55


@remembered(8)
def portrait_svg(prop: Prop, worn: tuple[tuple[str, bytes], ...] = ()) -> str:
    """An SVG document of 4:3 with the prop on nothing. ``worn``: the pictures of its skins by key, which go into the document."""
    placement = Placement("p", prop.id, 0.0, 0.0)
    body = pose(placement, prop.shape)
    camera = Camera(
        Sensor(36, 27, 4000, 3000),
        "landscape",
        Lens(85, 1.8, 22),
        8.0,
        (0.0, 0.0, body.z_max / 2),
        85 * (1 + portrait_field_mm(prop.shape) / 36),
        35.0,
    )
    # 85 mm at the distance where the frame is as wide as the field: u = f (1 + field / sensor width)
    surface = Surface("none", 10_000, 10_000, 0, (Colour("#ffffff", 1),), "matte", None)
    scene = Scene("", Brief(), surface, None, None, (prop,), (placement,), None, (Setup("main", camera),))
    drawn = frame_drawing(Picture(scene, scene.setups[0]), prefix="p", live=False, address=inline_address(dict(worn)))
    sheet = drawn["sheet"]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {sheet.width:g} {sheet.height:g}">'
        f"<defs>{drawn['defs']}</defs>{drawn['things']}</svg>"
    )
