"""Wishes that no arrangement can meet, told before anything is searched, with what would be nearest."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely

from ..composition.relations import heights_meet, related
from ..composition.schemes import Curve, length_of
from ..evaluate import Picture
from ..findings.spacing import collision
from ..model import Scheme
from ..tolerances import CONTACT_MM
from .checked import faults
from .energy import Judge
from .problem import Problem

#: So many units are moved at once at the most, among so many: a search takes longer with the square of them.
MOST_MOVED, MOST_UNITS = 60, 120
#: Things stand on both sides of a line and behind each other: together they may be so many times as wide as it is long [practice].
_BESIDE = 4.0


def why_not(problem: Problem, every: tuple[Curve, ...], wanted: Scheme | None) -> str | None:
    """The reason, in one sentence with its cure; None where it may be tried."""
    if not problem.units:
        return "there is nothing on the table to arrange; lay something down first"
    if not problem.mobile:
        return "everything is locked or held, so nothing can be arranged; unlock one of the things"
    if len(problem.mobile) > MOST_MOVED or len(problem.units) > MOST_UNITS:
        return f"{len(problem.units)} things are too many to arrange at once; lock all but {MOST_MOVED}, or leave some out of this set-up"
    if not every:
        kind = wanted.kind if wanted is not None else "no scheme"
        return f"{kind} cannot be seen with this camera; another scheme, or a lower angle, can"
    return _words(problem) or _locked(problem) or _hero(problem) or _too_long(problem, every, wanted)


def _words(problem: Problem) -> str | None:
    for crop in problem.picture.crops:
        if crop.copy_box is None:
            continue
        (a, b, c, d), (u0, v0, u1, v1) = crop.copy_box, crop.box
        share = (c - a) * (d - b) / ((u1 - u0) * (v1 - v0))
        if share > 0.9:
            return f"the room for words in {crop.name} takes {100 * share:.0f} % of it; at 60 % or less things have a place beside it"
    return None


def _locked(problem: Problem) -> str | None:
    """Two that stay where they are and stand in each other; or one that by itself, wherever all others go, is what no proposal may show."""
    picture = problem.picture
    fixed = [i for u in problem.units if u.is_fixed for i in u.ids if not picture.bodies[i].is_soft]
    for k, a in enumerate(fixed):
        for b in fixed[k + 1 :]:
            if not heights_meet(picture, a, b) or related(picture, a, b):
                continue
            if shapely.intersects(picture.bodies[a].footprint, picture.bodies[b].footprint):
                depth, _ = collision(picture.bodies[a], picture.bodies[b])
                if depth > CONTACT_MM:
                    one, other = (picture.props[i].name for i in (a, b))
                    both = f"{one} and {other} stay where they are and stand {depth:.0f} mm in each other"
                    return f"{both}; unlock one, or move it {depth:.0f} mm"
    told = faults(alone(problem), stays=problem.fixed_ids) if problem.fixed_ids else []
    return f"{told[0]}, and what does so stays where it is; unlock it, or move it first" if told else None


def alone(problem: Problem) -> Picture:
    """What stays where it is, without all that may move."""
    moving = tuple(i for u in problem.units if not u.is_fixed for i in u.ids)
    setup = replace(problem.setup, hidden=(*problem.setup.hidden, *moving))
    whole = problem.picture.whole
    return Picture(replace(whole, setups=tuple(setup if s.name == setup.name else s for s in whole.setups)), setup, problem.picture.skins)


def _hero(problem: Problem) -> str | None:
    """A hero that is wider or higher in the frame than a crop that must keep it whole."""
    if not problem.heroes:
        return None
    judge = Judge(problem, ())
    aim = problem.setup.camera.aim
    for u in problem.heroes:
        unit = problem.units[u]
        core = judge.core_at(u, *((unit.x, unit.y) if unit.is_fixed else aim[:2]))
        wide, high = (core[0] + core[12]) / judge.aspect, core[6] + core[18]
        for crop in problem.picture.crops:
            box = crop.box
            if wide > box[2] - box[0] or high > box[3] - box[1]:
                much = max(wide / (box[2] - box[0]), high / (box[3] - box[1]))
                name = problem.picture.props[next(i for i in unit.ids if problem.picture.scene.placement(i).role == "hero")].name
                cure = f"it would have to be {much:.2f} times as far from the lens, or the crop wider, to be whole in it"
                return f"{name} is too large for {crop.name}: {cure}"
    return None


def _too_long(problem: Problem, every: tuple[Curve, ...], wanted: Scheme | None) -> str | None:
    """A scheme that was asked for and whose line is shorter than the things along it are wide."""
    if wanted is None or all(c.is_places for c in every):
        if wanted is not None and wanted.kind == "squared":
            return _too_few(problem, every)
        return None
    longest, widths = line_and_needs(problem, every)
    along = _along(problem)
    if len(along) < 2 or widths <= _BESIDE * longest:
        return None
    fewer = max(1, round(len(along) * (1 - longest / widths)))
    has = f"the {wanted.kind} has {longest:.2f} of the frame's height to lie along and the things need {widths:.2f}"
    return f"{has}; take away {fewer} of them, or any scheme"


def _along(problem: Problem) -> list[int]:
    return [u for u in range(len(problem.units)) if problem.units[u].is_shaping and not problem.units[u].is_fixed]


def line_and_needs(problem: Problem, every: tuple[Curve, ...]) -> tuple[float, float]:
    """(how long the longest line is without what runs through room for words, how wide what lies along it is together), heights of the
    frame."""
    judge = Judge(problem, ())
    widths = sum(min(_seen_size(judge, problem, u)) for u in _along(problem))
    return max(length_of(c, judge.aspect, problem.copies) for c in every), float(widths)


def _too_few(problem: Problem, every: tuple[Curve, ...]) -> str | None:
    places = max(len(c.points) for c in every)
    count = sum(1 for u in problem.units if not u.is_laid and not u.is_strewn)
    if count <= places:
        return None
    return f"a grid of {places} places is asked for and {count} things are to lie on it; {count} places would do"


def _seen_size(judge: Judge, problem: Problem, u: int) -> tuple[float, float]:
    aim = problem.setup.camera.aim
    core = judge.looks(u, *(np.array([v]) for v in (aim[0], aim[1], 0.0))).frame[0]
    return float(core[0] + core[12]), float(core[6] + core[18])
