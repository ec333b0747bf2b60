"""Candidates that arrange: two change places, one comes nearer or steps aside, long things turn, things go to their scheme."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from itertools import combinations

import numpy as np

from ..acts.things import Hide, Move, Turn
from ..composition.eye import Eye, eye_of
from ..composition.relations import label, related
from ..evaluate import Picture
from ..findings.composed import balance_point
from ..findings.finding import Finding
from ..findings.scheme_kept import follows
from ..table.carrying import wrapped
from .candidate import Candidate, Stores, where
from .moves import LONGEST_MOVE_MM, is_free, lesser_first, move, table_shift, turned

#: Turns that are tried, degrees, the smallest first.
_TURNS = (6, 10, 15, 20, 27, 35, 45, 60, 75, 90)
#: So many pairs of things are tried for changing places.
_PAIRS = 24
#: What has stepped aside is clear of the other by so much, heights of the frame.
_CLEAR = 0.02
#: A shade more than the bare need, heights of the frame.
_SHADE = 0.004


def _movable(picture: Picture, eye: Eye) -> list[str]:
    """What shapes the picture, stands by itself and may be moved; the least first, never the hero."""
    return [i for i in lesser_first(picture, tuple(eye.ids)) if i != eye.hero and picture.bodies[i].placement.held_by is None]


def _shifts(picture: Picture, eye: Eye, i: str, ways: Iterable[np.ndarray]) -> Iterator[Candidate]:
    """A thing shifted by ways in the frame, heights of it."""
    for du, dv in ways:
        shift = table_shift(picture, i, float(du) / eye.aspect, float(dv))
        if shift is not None and np.hypot(*shift) > 0:
            yield move(picture, i, *shift)


def _marked(eye: Eye, finding: Finding) -> tuple[np.ndarray, np.ndarray]:
    """The two ends of a finding's mark, heights of the frame."""
    (a, b) = finding.mark.frame[0]
    return np.array([a[0] * eye.aspect, a[1]]), np.array([b[0] * eye.aspect, b[1]])


def give_air(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The lesser of the two further off, straight or somewhat aside."""
    eye, hero = eye_of(picture), finding.placements[0]
    own, other = _marked(eye, finding)
    away = (other - own) / max(float(np.hypot(*(other - own))), _SHADE)
    need = (finding.limit - finding.measure) / 100 + _SHADE
    for stretch in (1.0, 1.5, 2.3):
        for i in lesser_first(picture, finding.placements):
            toward = -away if i == hero else away
            yield from _shifts(picture, eye, i, [w * need * stretch for w in turned(toward, 0, 35, -35, 70, -70)])


def bring_nearer(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The island toward what is nearest to it, as far as needed or further."""
    (i,) = finding.placements
    if not is_free(picture, i):
        return
    eye = eye_of(picture)
    own, other = _marked(eye, finding)
    gap = max(float(np.hypot(*(other - own))), _SHADE)
    need = gap - finding.limit / 100 + _SHADE
    for stretch in (1.0, 1.3, 1.8):
        yield from _shifts(picture, eye, i, [w * min(need * stretch, gap * 0.9) / gap for w in turned(other - own, 0, 20, -20)])


def gather_two(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """One of them half of the way to its neighbour."""
    eye = eye_of(picture)
    for share in (0.35, 0.55):
        for i in _movable(picture, eye):
            k = eye.ids.index(i)
            toward = eye.middles[int(eye.gaps[k].argmin())] - eye.middles[k]
            length = max(float(np.hypot(*toward)), _SHADE)
            yield from _shifts(picture, eye, i, [toward / length * float(eye.gaps[k].min()) * share])


def shift_the_weight(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """One thing moved across so far that the middle of weight comes within its limit."""
    eye = eye_of(picture)
    middle = eye.weight_middle
    if middle is None:
        return
    off = balance_point(picture, eye) - middle
    need = (finding.measure - finding.limit) / 100 + _SHADE
    weighs = {i: picture.things[i].frame_area_share for i in _movable(picture, eye)}
    of_all = sum(t.frame_area_share for t in picture.things.values())
    for stretch in (1.0, 1.6, 2.4):
        for i in sorted(weighs, key=lambda i: -weighs[i]):
            way = off / max(float(np.hypot(*off)), _SHADE) * need * stretch * of_all / max(weighs[i], _SHADE)
            yield from _shifts(picture, eye, i, [way])


def lay_on_the_scheme(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Toward its place so far that it follows, then all the way."""
    (i,) = finding.placements
    if not is_free(picture, i):
        return
    eye = eye_of(picture)
    own, to = _marked(eye, finding)
    off = float(np.hypot(*(to - own)))
    bare = min(1.0, (off - finding.limit / 100 + _SHADE) / off)
    yield from _shifts(picture, eye, i, [w * share for share in (bare, (bare + 1) / 2, 1.0) for w in turned(to - own, 0, 15, -15)])


def fill_the_stretch(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """One thing to the middle of the empty part, the nearest first."""
    eye, curve = eye_of(picture), follows(picture)
    if curve is None:
        return
    along = float(dict(finding.figures)["along"])
    to = curve.points[round(along * (len(curve.points) - 1))] * [eye.aspect, 1.0]
    ways = {i: to - eye.middles[eye.ids.index(i)] for i in _movable(picture, eye)}
    for i in sorted(ways, key=lambda i: float(np.hypot(*ways[i]))):
        yield from _shifts(picture, eye, i, [ways[i] * share for share in (0.5, 0.75, 1.0)])


def point_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A long thing turned either way until it points at something."""
    yield from _spun(picture, finding.placements)


def turn_apart(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """One of two that run alike turned either way."""
    yield from _spun(picture, tuple(lesser_first(picture, finding.placements)))


def _spun(picture: Picture, ids: tuple[str, ...]) -> Iterator[Candidate]:
    free = [i for i in ids if is_free(picture, i)]
    for degrees in _TURNS:
        for i in free:
            for by in (degrees, -degrees):
                turn = round(wrapped(picture.scene.placement(i).turn + by), 1)
                figures = (("placement", i), ("turn", turn), ("degrees", float(degrees)))
                words = f"turn {label(picture, i)} by {degrees} degrees"
                yield Candidate("turn", figures, words, (Turn(placement=i, turn=turn, **where(picture, i, "turn")),))


def step_aside(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """What stands before something, or that itself, sideways until enough of it is clear; or past it to the front or back."""
    eye = eye_of(picture)
    one, other = (picture.silhouettes[i].box for i in finding.placements)
    ways = []
    right, left = (other[2] - one[0]) * eye.aspect, (one[2] - other[0]) * eye.aspect
    for share in (0.45, 0.7, 1 + _CLEAR / max(min(left, right), _CLEAR)):
        ways += [(right * share, 0.0), (-left * share, 0.0), (0.0, (one[3] - other[1]) * share), (0.0, (one[1] - other[3]) * share)]
    ways.sort(key=lambda w: abs(w[0]) + abs(w[1]))
    for i in lesser_first(picture, finding.placements):
        sign = 1 if i == finding.placements[0] else -1
        yield from _shifts(picture, eye, i, [np.array(w) * sign for w in ways])


def step_back(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """One of them away from the lens along the table, or toward it."""
    forward = np.array(picture.view.forward[:2])
    forward = forward / max(float(np.hypot(*forward)), _SHADE)
    need = (finding.limit - finding.measure) / 100 * picture.setup.camera.distance
    for stretch in (1.15, 1.8, 2.6):
        for i in _movable(picture, eye_of(picture)):
            if need * stretch <= LONGEST_MOVE_MM:
                yield move(picture, i, *(forward * need * stretch))
                yield move(picture, i, *(-forward * need * stretch))


def take_one_away(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The least of what shapes the picture, with what it carries, left out of this set-up."""
    for i in _movable(picture, eye_of(picture)):
        acts = tuple(Hide(placement=j, setup=picture.setup.name) for j in (i, *picture.scene.carried_by(i)) if j in picture.bodies)
        yield Candidate("leave_out", (("placement", i),), f"leave {label(picture, i)} out", acts)


def change_places(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Two things each where the other stood, those first that promise most by the kind of finding."""
    eye = eye_of(picture)
    free = _movable(picture, eye)
    promise = _PROMISE[finding.code](picture, eye, finding)
    pairs = [(a, b) for a, b in combinations(free, 2) if not related(picture, a, b)]
    promised = sorted(((promise(a, b), a, b) for a, b in pairs), key=lambda p: -p[0])
    for value, a, b in promised[:_PAIRS]:
        if value > 0:
            first, second = picture.scene.placement(a), picture.scene.placement(b)
            acts = tuple(
                Move(placement=p.id, x=q.x, y=q.y, **where(picture, p.id, "x", "y")) for p, q in ((first, second), (second, first))
            )
            figures = (("placement", a), ("other", picture.props[b].name))
            yield Candidate("exchange", figures, f"let {label(picture, a)} and {label(picture, b)} change places", acts)


Promise = Callable[[str, str], float]


def _by_size(picture: Picture, eye: Eye, finding: Finding) -> Promise:
    """A large thing far off for a small one near the hero."""
    hero = eye.middles[eye.ids.index(eye.hero or "")]
    far = {i: float(np.hypot(*(m - hero))) for i, m in zip(eye.ids, eye.middles, strict=True)}
    size = dict(zip(eye.ids, eye.areas.tolist(), strict=True))
    return lambda a, b: (far[a] - far[b]) * (size[a] - size[b])


def _by_weight(picture: Picture, eye: Eye, finding: Finding) -> Promise:
    """What of the offset goes away."""
    point, middle = balance_point(picture, eye), eye.weight_middle
    off = point - (point if middle is None else middle)
    at = dict(zip(eye.ids, eye.middles, strict=True))
    size = dict(zip(eye.ids, eye.areas.tolist(), strict=True))
    return lambda a, b: float((at[b] - at[a]) @ off) * (size[a] - size[b])


def _by_lightness(picture: Picture, eye: Eye, finding: Finding) -> Promise:
    """One of each side, whichever: what is light goes over."""
    middle = eye.room.centroid.x
    at = {i: float(m[0]) - middle for i, m in zip(eye.ids, eye.middles, strict=True)}
    return lambda a, b: min(abs(at[a]), abs(at[b])) if at[a] * at[b] < 0 else 0.0


def _by_echo(picture: Picture, eye: Eye, finding: Finding) -> Promise:
    """One of the two for something far from the other."""
    at = dict(zip(eye.ids, eye.middles, strict=True))

    def promise(a: str, b: str) -> float:
        ours = [i for i in (a, b) if i in finding.placements]
        kept = [i for i in finding.placements if i not in ours and i in at]
        if len(ours) != 1 or not kept:
            return 0.0
        other = b if ours[0] == a else a
        return float(np.hypot(*(at[other] - at[kept[0]])))

    return promise


def _by_these(picture: Picture, eye: Eye, finding: Finding) -> Promise:
    """The two themselves."""
    return lambda a, b: float({a, b} == set(finding.placements))


_PROMISE: dict[str, Callable[[Picture, Eye, Finding], Promise]] = {
    "size.growing": _by_size,
    "balance.off": _by_weight,
    "balance.light": _by_lightness,
    "echo.close": _by_echo,
    "height.before": _by_these,
}

MAKERS = {
    "give it air": give_air,
    "bring it nearer": bring_nearer,
    "gather two": gather_two,
    "shift the weight": shift_the_weight,
    "change places": change_places,
    "lay it on the scheme": lay_on_the_scheme,
    "fill the stretch": fill_the_stretch,
    "point it": point_it,
    "turn them apart": turn_apart,
    "step aside": step_aside,
    "step back": step_back,
    "take one away": take_one_away,
}
