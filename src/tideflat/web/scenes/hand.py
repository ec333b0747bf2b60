"""What is in hand, as the one line under the views says it."""

from __future__ import annotations

from typing import Any

from tideflat.core.model import ROLES
from tideflat.web.ui.options import options

from .stations.station import Look


def hand_of(look: Look) -> dict[str, Any] | None:
    """The thing in hand, or how many there are; None with nothing in hand."""
    scene, glance = look.picture.scene, look.glance
    if glance.several:
        names = [scene.prop(scene.placement(i).prop).name for i in glance.several]
        return {"count": len(names), "names": ", ".join(names), "ids": " ".join(glance.several)}
    if not glance.selected:
        return None
    placement = scene.placement(glance.selected)
    beneath = {placement.id, *scene.carried_by(placement.id)}
    carriers = ((p.id, scene.prop(p.prop).name) for p in scene.placements if p.id not in beneath)
    return {
        "placement": placement,
        "name": scene.prop(placement.prop).name,
        "supports": options(carriers, placement.on),
        "on": scene.prop(scene.placement(placement.on).prop).name if placement.on else "the table",
        "roles": ROLES,
        "hidden": placement.id in look.picture.setup.hidden,
    }
