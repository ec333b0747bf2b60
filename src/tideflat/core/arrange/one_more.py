"""One thing more, or one less: which, where and why; and the thing that is missing, whether it is in the stores or has to be borrowed.

Each is tried and judged by every rule; what is told as cleared is gone with it, and nothing graver than what it clears is new.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from itertools import islice, product

import numpy as np

from ..acts.act import Act
from ..acts.putting_in import Add
from ..acts.registry import tried
from ..acts.several import RemoveAll
from ..colour.delta_e_2000 import delta_e_2000
from ..colour.spaces import lab_of
from ..errors import FieldError
from ..evaluate import Picture
from ..findings.finding import SEVERITY_RANK, Finding
from ..findings.merging import meant_of
from ..findings.registry import each_finding
from ..model import Colour, Prop
from ..remedies.exchanges import places_in_the_picture
from ..shapes.box import Box
from ..shapes.cylinder import Cylinder
from .building import TO_BORROW
from .problem import problem_of

#: What a finding weighs, by its severity [practice].
_WEIGHTS = (1.0, 4.0, 12.0)
#: Places and props that are tried.
_PLACES, _PROPS = 2, 14
#: Sizes of what may be missing, of the hero's longer side; without one, of so many mm.
_SIZES, _USUAL_MM = (0.35, 0.65), 160.0
_LEAST_MM, _MOST_MM = 20.0, 400.0
_DARK, _LIGHT = "#2b2a29", "#ece7dc"
#: As like to what is missing as this, CIEDE2000 and by factor of size, a prop of the stores stands for it.
_LIKE_COLOUR, _LIKE_SIZE = 25.0, 1.7
Key = tuple[str, tuple[str, ...]]


@dataclass(frozen=True, eq=False)
class Change:
    """kind: "away", "add" (out of the stores) or "missing" (in no store). names: of what goes or comes. cleared, fresh: findings that are
    gone or new with it. prop, place: of what comes."""

    kind: str
    names: tuple[str, ...]
    acts: tuple[Act, ...]
    cleared: tuple[Finding, ...]
    fresh: tuple[Finding, ...]
    prop: Prop | None = None
    place: tuple[float, float] | None = None

    @property
    def gain(self) -> float:
        return sum(_weight(f) for f in self.cleared) - sum(_weight(f) for f in self.fresh)


def one_less(picture: Picture, count: int = 2) -> tuple[Change, ...]:
    """Which things might be taken away, what gains most first; nothing locked, never the hero, and only where something is gained."""
    before = _judged(picture)
    found = []
    for unit in problem_of(picture).units:
        if unit.is_hero or any(picture.scene.placement(i).locked for i in unit.ids):
            continue
        names = tuple(picture.props[i].name for i in unit.ids)
        change = _tried(picture, before, "away", names, (RemoveAll(placements=unit.ids),))
        if change is not None:
            found.append(change)
    return _best(picture, found, count)


def one_more(
    picture: Picture, props: Iterable[Prop], count: int = 2, goes_on: Callable[[float], bool] = lambda share: True
) -> tuple[Change, ...]:
    """What would clear most if it lay there: out of ``props`` where one of them clears anything, and, where that clears less, as the thing
    that is missing. ``goes_on`` is told the share that is done; False stops."""
    before = _judged(picture)
    imagined = list(_imagined(picture))
    able: list[Change] = []
    for k, prop in enumerate(imagined):
        if not goes_on(k / len(imagined)):
            return ()
        able += _laid(picture, before, "missing", prop)
    wanted = _best(picture, able, count)
    found: list[Change] = []
    own = list(props)
    for missing in wanted:
        like = _like(own, missing.prop)
        there = _best(picture, [c for p in like[:_PROPS] for c in _laid(picture, before, "add", p)], 1)
        found += there if there and there[0].gain >= missing.gain else [*there, missing]
    return tuple({c.names: c for c in reversed(found)}.values())[::-1]


def _laid(picture: Picture, before: dict[Key, Finding], kind: str, prop: Prop) -> Iterator[Change]:
    """The prop on each of the first places for it."""
    role = "accent" if max(prop.shape.sides()) < _hero_mm(picture) * _SIZES[-1] else "support"
    for x, y in islice(places_in_the_picture(picture, prop), _PLACES):
        change = _tried(picture, before, kind, (prop.name,), (Add(prop=prop, x=round(x, 1), y=round(y, 1), role=role),))
        if change is not None:
            yield replace(change, prop=prop, place=(x, y))


def _tried(picture: Picture, before: dict[Key, Finding], kind: str, names: tuple[str, ...], acts: tuple[Act, ...]) -> Change | None:
    """None where it gains nothing, or makes something as grave as the gravest that it clears."""
    try:
        after = _judged(picture.changed(tried(picture.whole, acts)))
    except FieldError:
        return None
    cleared = tuple(f for key, f in before.items() if key not in after)
    fresh = tuple(f for key, f in after.items() if key not in before)
    change = Change(kind, names, acts, cleared, fresh)
    gravest = max((SEVERITY_RANK[f.severity] for f in cleared), default=-1)
    return change if change.gain > 0 and all(SEVERITY_RANK[f.severity] < max(gravest, 1) for f in fresh) else None


def _judged(picture: Picture) -> dict[Key, Finding]:
    """What is found of the set-up, one for each fault of the same things; of what is for nobody to mend, and what is meant, nothing."""
    found: dict[Key, Finding] = {}
    for f in each_finding(picture):
        if meant_of(picture, f.code, f.placements) is None:
            found.setdefault((f.code, f.placements), f)
    return found


def _weight(finding: Finding) -> float:
    return _WEIGHTS[SEVERITY_RANK[finding.severity]]


def _best(picture: Picture, found: list[Change], count: int) -> tuple[Change, ...]:
    """Those that gain most, each for other reasons than those before, and none that another set-up pays for."""
    chosen: list[Change] = []
    for change in sorted(found, key=lambda c: -c.gain):
        if all({f.code for f in change.cleared} - {f.code for f in c.cleared} or c.kind == "away" for c in chosen) and not _harms_elsewhere(
            picture, change
        ):
            chosen.append(change)
        if len(chosen) == count:
            break
    return tuple(chosen)


def _harms_elsewhere(picture: Picture, change: Change) -> bool:
    """Whether something above the line is new in another set-up: the table is shared by all."""
    after = tried(picture.whole, change.acts)
    for setup in picture.whole.setups:
        if setup.name != picture.setup.name:
            before = _judged(picture.changed(picture.whole, setup.name))
            fresh = (f for key, f in _judged(picture.changed(after, setup.name)).items() if key not in before)
            if any(f.severity != "taste" for f in fresh):
                return True
    return False


def _hero_mm(picture: Picture) -> float:
    sides = [max(picture.props[i].shape.sides()) for i in picture.hero_ids()]
    return max(sides, default=_USUAL_MM)


def _imagined(picture: Picture) -> Iterator[Prop]:
    """Things there might be: round or with straight edges, small or larger, low or tall, dark, light or of the palette, matt or glossy."""
    palette = picture.scene.palette
    colours = [*dict.fromkeys([*(c.hex for c in palette.colours if c.part != "base")] if palette else []), _DARK, _LIGHT]
    surfaces = (("matte", "rough"), ("gloss", "smooth"))
    for share, is_boxed, is_tall, (finish, texture), colour in product(_SIZES, (False, True), (False, True), surfaces, colours[:5]):
        across = min(max(share * _hero_mm(picture), _LEAST_MM), _MOST_MM)
        high = round(across * (1.3 if is_tall else 0.3), 1)
        wide = round(across, 1)
        shape = Box(width=wide, depth=round(across * 0.7, 1), height=high) if is_boxed else Cylinder(diameter=wide, height=high)
        name = f"a {'tall' if is_tall else 'low'} {texture} {'square' if is_boxed else 'round'} thing"
        yield Prop("missing", name, shape, (Colour(colour, 1.0),), finish, texture, TO_BORROW, tuple(picture.scene.brief.tags))


def _like(props: list[Prop], missing: Prop | None) -> list[Prop]:
    """Those that might stand for it, the likest first."""
    if missing is None:
        return []
    return sorted((p for p in props if _is_like(p, missing)), key=lambda p: (_apart(p, missing), p.id))


def _is_like(prop: Prop, missing: Prop) -> bool:
    size = max(prop.shape.sides()) / max(missing.shape.sides())
    return 1 / _LIKE_SIZE <= size <= _LIKE_SIZE and _apart(prop, missing) <= _LIKE_COLOUR


def _apart(prop: Prop, missing: Prop) -> float:
    """CIEDE2000 between the colours that each shows most of."""
    one, other = (np.array(lab_of(max(p.colours, key=lambda c: c.share).hex)) for p in (prop, missing))
    return float(delta_e_2000(one, other))
