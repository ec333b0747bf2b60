"""Too much of the same: outline, texture, gloss; one piece in two sizes; and what has nothing to do with the story."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from itertools import combinations

from ..evaluate import Picture
from ..facts.practice import SAMENESS, TWO_SIZES, TWO_SIZES_PLAIN
from ..model import Prop
from ..shapes import Bottle, Bowl, Cone, Cylinder, Ellipse, Outline, Sphere
from ..solids.body import Body
from .finding import Finding
from .relations import LARGE_ROLES, SHAPING_ROLES, label

#: Tags of things that are at home in every kitchen's story.
_ANYWHERE = frozenset({"kitchen", "tool", "cloth", "board", "knife", "table", "linen"})
_SHINING = frozenset({"gloss", "metal", "glass"})


def find_sameness(picture: Picture) -> Iterator[Finding]:
    """All discs, all smooth, or all shining: a straight edge among curves, or a rough thing among smooth, wakes a set."""
    if picture.scene.brief.leaning("likeness") < 0:
        return
    shown = [i for i, b in picture.bodies.items() if b.placement.role in SHAPING_ROLES and picture.things[i].visible_share > 0.05]
    if len(shown) < SAMENESS.value:
        return
    judged = (
        ("outline", {i: outline_kind(picture.bodies[i], picture.view.forward[2]) for i in shown}),
        ("texture", {i: picture.props[i].texture or "smooth" for i in shown}),
        ("gloss", {i: "shining" if picture.props[i].finish in _SHINING else "dull" for i in shown}),
    )
    for what, kinds in judged:
        (kind, count), *_ = Counter(kinds.values()).most_common(1)
        if count < len(shown) or (what == "gloss" and kind == "dull"):
            continue
        yield Finding(
            f"sameness.{what}",
            "taste",
            (),
            len(shown),
            SAMENESS.value - 1,
            "things",
            f"all {len(shown)} things are {kind}; one of another kind would wake the set",
            leaning="likeness",
            sides=(kind,),
        )


def outline_kind(body: Body, forward_z: float) -> str:
    """``round`` or ``straight`` or ``free``, as the lens sees it: looking down a round thing is a disc, from the side a jar is an upright."""
    shape = body.shape
    if isinstance(shape, Sphere):
        return "round"
    if isinstance(shape, Outline):
        return "free"
    if isinstance(shape, Cylinder | Bowl | Cone | Bottle | Ellipse):
        tall = body.local.height > 1.2 * max(body.footprint.bounds[2] - body.footprint.bounds[0], 1.0)
        return "straight" if tall and forward_z > -0.77 else "round"
    return "straight"


def find_sizes(picture: Picture) -> Iterator[Finding]:
    """The same kind of piece in two sizes needs a reason."""
    shown = [i for i, b in picture.bodies.items() if b.placement.role in LARGE_ROLES and picture.things[i].visible_share > 0.05]
    for a, b in combinations(shown, 2):
        first, second = picture.props[a], picture.props[b]
        if not _same_piece(first, second):
            continue
        one, two = sorted((picture.bodies[a].footprint.area ** 0.5, picture.bodies[b].footprint.area ** 0.5))
        times = two / one if one > 0 else 1.0
        if TWO_SIZES.value < times < TWO_SIZES_PLAIN.value:
            yield Finding(
                "sameness.sizes",
                "taste",
                tuple(sorted((a, b))),
                round(times, 2),
                TWO_SIZES.value,
                "times",
                f"{label(picture, a)} and {label(picture, b)} are the same piece in two sizes ({times:.2f} times); match them, or differ plainly",
                leaning="likeness",
            )


def _same_piece(first: Prop, second: Prop) -> bool:
    alike = first.shape.kind == second.shape.kind and first.material == second.material and first.texture == second.texture
    nouns = {first.name.split()[-1].lower(), second.name.split()[-1].lower()}
    return first.id != second.id and alike and len(nouns) == 1 and first.material != "fruit"


def find_strangers(picture: Picture) -> Iterator[Finding]:
    """Things whose tags share nothing with the story's; things without tags are not judged, nor stories without."""
    theme = {t.lower() for t in picture.scene.brief.tags}
    if not theme:
        return
    for i, b in picture.bodies.items():
        tags = {t.lower() for t in picture.props[i].tags}
        if b.placement.role not in SHAPING_ROLES or b.placement.role == "hero" or not tags or tags & (theme | _ANYWHERE):
            continue
        yield Finding(
            "story.unrelated",
            "taste",
            (i,),
            0,
            1,
            "tags in common",
            f"{label(picture, i)} ({', '.join(sorted(tags))}) shares nothing with the story ({', '.join(sorted(theme))})",
            sides=tuple(sorted(theme)),
        )
