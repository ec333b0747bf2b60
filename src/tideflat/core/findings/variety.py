"""Too much of the same: outline, texture, gloss; one piece in two sizes; and what has nothing to do with the story."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from itertools import combinations

from ..composition.relations import LARGE_ROLES, SHAPING_ROLES, label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import SAMENESS, TWO_SIZES, TWO_SIZES_PLAIN
from ..model import Placement, Prop
from ..solids.body import Body, pose
from .finding import Finding
from .kind import Kind, Rule

#: Tags of things that are at home in every kitchen's story.
_ANYWHERE = frozenset({"kitchen", "tool", "cloth", "board", "knife", "table", "linen"})
_SHINING = frozenset({"gloss", "metal", "glass"})


def _of_another_outline(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    forward_z = picture.view.forward[2]
    return lambda p: outline_kind(pose(Placement("t", p.id, 0, 0), p.shape), forward_z) != finding.sides[0]


def _of_another_texture(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    return lambda p: (p.texture or "smooth") != finding.sides[0]


def _dull(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    return lambda p: p.finish not in _SHINING


def _any(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    return lambda p: True


def _of_the_story(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    theme = {t.lower() for t in picture.scene.brief.tags}
    return lambda p: bool(theme & {t.lower() for t in p.tags})


SAME = {
    what: Kind(
        code=f"sameness.{what}", rank=rank, severity="taste", unit="things", measure="shaping things, all alike", limit=SAMENESS,
        leaning="likeness", gives=gives, makers=("stand-in",), fits=fits,
    )
    for what, rank, gives, fits in (
        ("outline", 280, "a straight edge among curves, or a curve among straight edges, would wake it", _of_another_outline),
        ("texture", 290, "a rough thing among smooth ones, or a smooth one among rough, would wake it", _of_another_texture),
        ("gloss", 300, "a dull thing among shining ones would calm it", _dull),
    )
}  # fmt: skip
SIZES = Kind(
    code="sameness.sizes", rank=310, severity="taste", unit="times",
    measure="size of the larger over the smaller of the same kind of piece", limit=TWO_SIZES,
    limit_note=f"and up to {TWO_SIZES_PLAIN.value:g}", leaning="likeness",
    gives="two alike, or two that differ plainly, in the stores would have to give", makers=("stand-in",), fits=_any,
)  # fmt: skip
UNRELATED = Kind(
    code="story.unrelated", rank=320, severity="taste", unit="tags in common", measure="tags shared with the story",
    limit=Fact(1, "tags in common", "practice"), gives="tell in the story what it does there, or take it away",
    makers=("stand-in",), fits=_of_the_story,
)  # fmt: skip


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
        yield SAME[what].found(
            (), len(shown), SAMENESS.value - 1, f"all {len(shown)} things are {kind}; one of another kind would wake the set", sides=(kind,)
        )


def outline_kind(body: Body, forward_z: float) -> str:
    """``round`` or ``straight`` or ``free``, as the lens sees it: looking down a round thing is a disc, from the side a jar is an
    upright."""
    form = body.shape.form
    if form == "ball":
        return "round"
    if form == "turned":
        tall = body.local.height > 1.2 * max(body.footprint_bounds[2] - body.footprint_bounds[0], 1.0)
        return "straight" if tall and forward_z > -0.77 else "round"
    return form


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
            yield SIZES.found(
                tuple(sorted((a, b))),
                round(times, 2),
                TWO_SIZES.value,
                f"{label(picture, a)} and {label(picture, b)} are the same piece in two sizes ({times:.2f} times); match them, or differ plainly",
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
        if picture.scene.carried_by(i):
            continue  # a plate with something of the story on it serves it
        if b.placement.role not in SHAPING_ROLES or b.placement.role == "hero" or not tags or tags & (theme | _ANYWHERE):
            continue
        yield UNRELATED.found(
            (i,),
            0,
            1,
            f"{label(picture, i)} ({', '.join(sorted(tags))}) shares nothing with the story ({', '.join(sorted(theme))})",
            sides=tuple(sorted(theme)),
        )


RULES = (
    Rule(find_sameness, tuple(SAME.values()), cost=2),
    Rule(find_sizes, (SIZES,), cost=2),
    Rule(find_strangers, (UNRELATED,), cost=2),
)
