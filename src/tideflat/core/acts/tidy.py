"""No mention of what is no longer there."""

from __future__ import annotations

from dataclasses import replace

from ..model import MustShow, Scene


def tidied(scene: Scene) -> Scene:
    """The scene without props that stand nowhere, and without mention of placements, features and set-ups that it has no more: in groups,
    must_show, differs, hidden, swap, guides, and what is meant. A scene without such things comes back as it is."""
    here = {p.id for p in scene.placements}
    setups = tuple(
        replace(
            s,
            hidden=tuple(i for i in s.hidden if i in here),
            swap=tuple((i, prop) for i, prop in s.swap if i in here),
            differs=tuple(d for d in s.differs if d.placement in here),
            guides=tuple(g if g.of is None or g.of in here else replace(g, of=None) for g in s.guides),
        )
        for s in scene.setups
    )
    used = {p.prop for p in scene.placements} | {prop for s in setups for _, prop in s.swap}
    props = tuple(p for p in scene.props if p.id in used)
    made = replace(scene, props=props, setups=setups)
    shown = tuple(item for item in scene.brief.must_show if isinstance(item, str) or _is_there(made, item))
    groups = tuple(replace(g, placements=tuple(i for i in g.placements if i in here)) for g in scene.groups)
    names = {s.name for s in setups}
    made = replace(
        made,
        brief=replace(scene.brief, must_show=shown),
        groups=tuple(g for g in groups if g.placements),
        meant=tuple(m for m in scene.meant if m.setup in names and here.issuperset(m.placements)),
    )
    return scene if made == scene else made


def _is_there(scene: Scene, item: MustShow) -> bool:
    props = {p.prop for p in scene.placements if p.id == item.placement}
    props |= {prop for s in scene.setups for i, prop in s.swap if props and i == item.placement}
    return any(f.id == item.feature for prop in props for f in scene.prop(prop).features)
