"""One job in a process of its own, without a database: the job comes in as JSON, what is found goes out a line at a time."""

from __future__ import annotations

import json
import os
import select
import sys
from concurrent.futures import ProcessPoolExecutor
from contextlib import suppress
from dataclasses import asdict
from multiprocessing import get_context
from typing import Any

from tideflat.core.acts.registry import act_value
from tideflat.core.arrange.drift import Drift, drift
from tideflat.core.arrange.mend import mend
from tideflat.core.arrange.one_more import Change, one_less, one_more
from tideflat.core.arrange.proposal import Proposal
from tideflat.core.arrange.propose import propose, scheme_named
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.frame.one_frame import gains, one_frame
from tideflat.core.render.giving_way import session_gives_way

#: So many are looked for at first, with hardly any effort, so that there is something to see at once.
_FIRST_COUNT = 2


#: A process that has loaded the renderer and is not asked for so long ends, s.
_IDLE_S = 300


def main() -> None:
    if sys.argv[1:] == ["proof"]:
        os.nice(15)  # whoever works on the bench goes first; before the renderer makes its threads, which keep what they were made with
        _load_renderer()
        if not select.select([sys.stdin], [], [], _IDLE_S)[0]:
            return
        session_gives_way(10)  # not while it loads, or it would not be ready when it is asked
    given = sys.stdin.read()
    if given:  # else whoever made this process has gone
        asked = json.loads(given)
        _JOBS[asked["kind"]](asked["job"])


def _load_renderer() -> None:
    """While nothing is asked yet; where it is not installed, the job itself will say so."""
    with suppress(ImportError):
        from tideflat.core.render.mitsuba_scene import mitsuba

        from . import proving  # noqa: F401  (what the job needs beside the renderer)

        mitsuba()


def _proposals(job: dict[str, Any]) -> None:
    """Arrangements of one set-up. job: document, setup, scheme, count, seed, keep, together; effort, of the usual search."""
    parent = os.getppid()
    scene = read_scene(job["document"].encode())
    picture = Picture(scene, scene.setup(job["setup"]))
    wish: dict[str, Any] = {"scheme": scheme_named(job["scheme"]), "seed": job["seed"], "keep": job["keep"], "together": job.get("together", False)}
    first: list[dict[str, Any]] = []

    def look(share: float, there: tuple[Proposal, ...]) -> bool:
        first[:] = [_told(p) for p in there]
        _say({"share": 0.1, **({"told": first} if first else {})})
        return os.getppid() == parent  # a server that has gone asks for nothing more

    def watch(share: float, there: tuple[Proposal, ...]) -> bool:
        told = [_told(p) for p in there] or first
        _say({"share": round(0.1 + 0.9 * share, 3), **({"told": told} if told else {})})
        return os.getppid() == parent

    _say({"share": 0.02})
    propose(picture, **wish, count=_FIRST_COUNT, is_first_look=True, watch=look)
    effort = job.get("effort", 1.0)
    whole = {**wish, "count": job["count"], "effort": effort, "helpers": 2, "is_polished": effort >= 1}
    found = propose(picture, **whole, watch=watch)
    if found.proposals:
        _say({"share": 1.0, "told": [_told(p) for p in found.proposals]})
    _say({"end": True, "reason": found.reason})


def _mended(job: dict[str, Any]) -> None:
    """What stands now, mended by the smallest moves, as the only one proposed. job: document, setup, keep."""
    parent = os.getppid()
    scene = read_scene(job["document"].encode())
    picture = Picture(scene, scene.setup(job["setup"]))

    def goes_on(share: float) -> bool:
        _say({"share": round(share, 3)})
        return os.getppid() == parent

    found = mend(picture, job["keep"], goes_on)
    left = [f.message for f in found.left]
    if not found.leads:
        _say({"end": True, "reason": f"no small move mends it; {'; '.join(left[:2])}" if left else "nothing has to be mended"})
        return
    count = len(found.leads)
    strengths = [*({"clears": _plain(f)} for f in found.cleared), {"count": count, "total_mm": found.total_mm}]
    leads = [[p.id, p.x, p.y, p.turn] for p in found.leads]
    told: dict[str, Any] = {"scheme": None, "said": "mended by small moves", "leads": leads, "strengths": strengths, "energy": 0.0}
    told["weaknesses"] = [{"finding": _plain(f)} for f in found.left[:3]]
    _say({"share": 1.0, "told": [told]})
    _say({"end": True, "reason": None})


def _one_more_or_less(job: dict[str, Any]) -> None:
    """What might be taken away or come in, each as an act. job: document, setup, props of the stores."""
    scene = read_scene(job["document"].encode())
    picture = Picture(scene, scene.setup(job["setup"]))
    parent = os.getppid()
    told: list[dict[str, Any]] = []

    def goes_on(share: float) -> bool:
        _say({"share": round(0.15 + 0.7 * share, 3), **({"told": told} if told else {})})
        return os.getppid() == parent

    _say({"share": 0.05})
    told += [_told_change(c) for c in one_less(picture)]
    told += [_told_change(c) for c in one_more(picture, [prop_from_value(v) for v in job["props"]], goes_on=goes_on)]
    if told:
        _say({"share": 1.0, "told": told})
    _say({"end": True, "reason": None if told else "nothing to take away or to add would clear anything"})


def _told_change(change: Change) -> dict[str, Any]:
    first, *others = change.names
    said = {"away": f"take away the {first}", "add": f"add the {first}", "missing": f"missing: {first}"}[change.kind]
    strengths: list[Any] = [{"clears": _plain(f)} for f in change.cleared[:4]]
    weaknesses: list[Any] = [{"brings": _plain(f)} for f in change.fresh[:2]]
    if others:
        strengths.append("with what is on it: " + ", ".join(dict.fromkeys(others)))
    if change.kind == "missing" and change.prop is not None:
        weaknesses.append({"missing": list(change.prop.shape.sides()), "hex": change.prop.colours[0].hex, "finish": change.prop.finish})
    return {"scheme": None, "said": said, "leads": [], "act": act_value(change.acts[0]), "strengths": strengths, "weaknesses": weaknesses, "energy": 0.0}


def _drifts(job: dict[str, Any]) -> None:
    """How far each thing may drift. job: document, setup, ids in the order in which they are worked out."""
    parent = os.getppid()
    ids = job["ids"]
    told: list[dict[str, Any]] = []
    _say({"share": 0.0})
    with ProcessPoolExecutor(2, mp_context=get_context("fork"), initializer=_look_at, initargs=(job["document"], job["setup"])) as pool:
        for found in pool.map(_drift_of, ids):
            told.append({"id": found.id, **found.value()})
            _say({"share": round(len(told) / len(ids), 3), "told": told})
            if os.getppid() != parent:
                pool.shutdown(wait=False, cancel_futures=True)
                return
    _say({"end": True, "reason": None})


_looked_at: list[Picture] = []


def _look_at(document: str, setup: str) -> None:
    scene = read_scene(document.encode())
    _looked_at[:] = [Picture(scene, scene.setup(setup))]


def _drift_of(placement_id: str) -> Drift:
    return drift(_looked_at[0], placement_id)


def _told(p: Proposal) -> dict[str, Any]:
    """Words that hold a length or a finding go as what they are of, so that whoever reads them has them in their own unit."""
    leads = [[q.id, q.x, q.y, q.turn] for q in p.leads]
    messages = {f.message: f for f in p.weak}
    strengths = [{"clear_mm": p.clear_mm} if p.clear_mm is not None and "stands clear" in s else s for s in p.strengths]
    weaknesses = [{"finding": _plain(messages[w])} if w in messages else w for w in p.weaknesses]
    return {"scheme": p.scheme.kind, "said": p.said, "leads": leads, "strengths": strengths, "weaknesses": weaknesses, "energy": round(p.energy, 2)}


def _plain(f: Finding) -> dict[str, Any]:
    keys = ("code", "severity", "placements", "measure", "limit", "unit", "message", "crop", "sides", "crops", "count")
    return {**{key: getattr(f, key) for key in keys}, "figures": dict(f.figures)}


def _say(value: dict[str, Any]) -> None:
    sys.stdout.write(json.dumps(value) + "\n")
    sys.stdout.flush()


def _one_frame(job: dict[str, Any]) -> None:
    """Where one frame serves every deliverable best, and what would be gained were each dropped. job: document, setup."""
    scene = read_scene(job["document"].encode())
    picture = Picture(scene, scene.setup(job["setup"]))
    parent = os.getppid()
    gone = len(picture.setup.deliverables) if len(picture.setup.deliverables) > 1 else 0

    def goes_on(begins: float, part: float, share: float) -> bool:
        _say({"share": round(begins + part * share, 3)})
        return os.getppid() == parent

    try:
        first = 1 / (1 + gone)
        found = one_frame(picture, lambda share: goes_on(0.0, first, share))
        told = {
            "aim": list(found.camera.aim),
            "distance": found.camera.distance,
            "centres": [list(centre) for _, centre in found.centres],
            "now": asdict(found.now),
            "worth": asdict(found.worth),
            "dropped": [],
        }
        _say({"share": first, "told": [told]})
        told["dropped"] = [asdict(d) for d in gains(picture, lambda share: goes_on(first, 1 - first, share))]
        _say({"share": 1.0, "told": [told]})
        _say({"end": True, "reason": None})
    except FieldError as error:
        _say({"end": True, "reason": f"{error.path} {error.rule}"})


def _proof(job: dict[str, Any]) -> None:
    """A picture by light paths (proving.py): the renderer is loaded in this process alone."""
    from .proving import prove

    parent = os.getppid()
    prove(job, _say, lambda: os.getppid() == parent)


_JOBS = {"proof": _proof, "frame": _one_frame, "propose": _proposals, "mend": _mended, "one": _one_more_or_less, "drift": _drifts}

if __name__ == "__main__":
    main()
