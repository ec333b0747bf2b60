"""Arrangements looked for beside the bench: begun, asked about, taken, stopped; a job whose server has gone is told as failed."""

from __future__ import annotations

import html
import json
import threading
from datetime import timedelta

import psutil
import pytest
from django.utils import timezone

from tideflat.core.findings.registry import findings
from tideflat.web.bridge.told_words import told_words
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.queries import picture_of
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.starters import starter
from tideflat.web.work import services
from tideflat.web.work.models import Work
from tideflat.web.work.worker import _plain


class NoThread:
    """Instead of a thread: the job is kept, and done when the test says so."""

    jobs: list[tuple] = []

    def __init__(self, target, args, **more):
        self.jobs.append((target, args))

    def start(self):
        pass


@pytest.fixture
def row(studio, monkeypatch) -> Scene:
    NoThread.jobs.clear()
    monkeypatch.setattr(services.threading, "Thread", NoThread)
    return begin_scene(studio, starter("marmalade"), None, "laid out")


def begin(ada, row, **more):
    return ada.post(f"/scenes/{row.pk}/propose/", {"scheme": "any", "setup": "from above", **more}).content.decode()


def work_it(effort=0.15):
    _, (pk, kind, job) = NoThread.jobs[-1]
    services._work(pk, kind, {**job, "effort": effort})
    return Work.objects.get(pk=pk)


def test_a_search_is_begun_tells_how_far_it_is_and_what_it_found_is_taken_in_one_step(row, ada):
    page = begin(ada, row, keep="jar-1 nobody", seed="7", together="1")
    assert 'name="together"' in page
    assert "<progress" in page and "data-stop" in page
    job = NoThread.jobs[-1][1][2]
    assert (job["scheme"], job["keep"], job["seed"], job["setup"], job["together"]) == ("any", ["jar-1"], 7, "from above", True)
    told = ada.get(f"/scenes/{row.pk}/proposals/", {"have": "0", "setup": "from above"})
    assert 'id="proposal-status"' in told.content.decode() and "HX-Retarget" not in told.headers
    done = work_it(0.35)
    found = json.loads(done.told)
    assert done.state == Work.DONE and done.share == 1.0 and 2 <= len(found) <= 8
    assert all("jar-1" not in [i for i, *_ in p["leads"]] for p in found)
    told = ada.get(f"/scenes/{row.pk}/proposals/", {"have": "0", "setup": "from above"})
    assert told.headers["HX-Retarget"] == "#proposals" and told.content.decode().count('class="proposal"') == len(found)
    before = json.loads(row.document)["placements"]
    taken = ada.post(f"/scenes/{row.pk}/do/take-proposal/", {"revision": 1, "work": done.pk, "number": 1, "setup": "from above"})
    assert taken.status_code == 200 and "arranged" in html.unescape(taken.content.decode())
    row.refresh_from_db()
    after = {p["id"]: p for p in json.loads(row.document)["placements"]}
    for i, x, y, turn in found[1]["leads"]:
        assert (after[i]["x"], after[i]["y"]) == (x, y)
        assert (after[i]["turn"] - turn) % 360 == 0
    ada.post(f"/scenes/{row.pk}/undo/", {"revision": 2})
    row.refresh_from_db()
    assert json.loads(row.document)["placements"] == before
    (i, x, y, _), *others = found[1]["leads"]
    take = {"work": done.pk, "number": 1, "setup": "from above", "part": "1"}
    row.refresh_from_db()
    assert ada.post(f"/scenes/{row.pk}/do/take-proposal/", {**take, "revision": row.revision, "selected": "nobody"}).status_code == 400
    ada.post(f"/scenes/{row.pk}/do/take-proposal/", {**take, "revision": row.revision, "selected": i})
    row.refresh_from_db()
    now = {p["id"]: p for p in json.loads(row.document)["placements"]}
    was = {p["id"]: p for p in before}
    assert (now[i]["x"], now[i]["y"]) == (x, y) and all((now[j]["x"], now[j]["y"]) == (was[j]["x"], was[j]["y"]) for j, *_ in others)
    ada.post(f"/scenes/{row.pk}/undo/", {"revision": row.revision})
    assert begin_count(ada, row) == len(found)  # they are still there, for another to be tried


def begin_count(client, row) -> int:
    return client.get(f"/scenes/{row.pk}/proposals/", {"setup": "from above"}).content.decode().count('class="proposal"')


def test_a_new_search_stops_the_old_one_and_a_stop_keeps_what_there_is(row, ada):
    begin(ada, row)
    first = Work.objects.get()
    begin(ada, row)
    first.refresh_from_db()
    assert first.is_to_stop and Work.objects.count() == 2
    newest = Work.objects.latest("pk")
    page = ada.post(f"/scenes/{row.pk}/proposals/{newest.pk}/stop/").content.decode()
    newest.refresh_from_db()
    assert newest.is_to_stop and "proposals" in page
    assert work_it().state == Work.STOPPED
    ada.post(f"/scenes/{row.pk}/proposals/{newest.pk}/stop/", {"away": "1"})
    assert not Work.objects.filter(pk=newest.pk).exists()


def test_what_cannot_be_is_told_with_its_reason(row, ada):
    value = json.loads(row.document)
    for p in value["placements"]:
        p["locked"] = True
    Scene.objects.filter(pk=row.pk).update(document=json.dumps(value))
    begin(ada, row)
    assert work_it().state == Work.DONE
    page = html.unescape(ada.get(f"/scenes/{row.pk}/proposals/").content.decode())
    assert "None: everything is locked or held" in page
    assert ada.post(f"/scenes/{row.pk}/propose/", {"scheme": "star"}).status_code == 400


def test_a_job_whose_server_has_gone_is_told_as_failed(row, ada):
    begin(ada, row)
    Work.objects.update(beat_at=timezone.now() - services.SILENT - timedelta(seconds=1))
    page = ada.get(f"/scenes/{row.pk}/proposals/").content.decode()
    assert "Ask once more" in page and Work.objects.get().state == Work.FAILED
    Work.objects.update(begun_at=timezone.now() - services.KEPT - timedelta(seconds=1))
    begin(ada, row)
    assert Work.objects.count() == 1


def test_a_worker_that_dies_is_a_failure_and_a_number_that_is_not_there_is_told(row, ada):
    begin(ada, row)
    _, (pk, _, job) = NoThread.jobs[-1]
    services._work(pk, "propose", {**job, "document": "{}"})
    assert Work.objects.get(pk=pk).state == Work.FAILED
    said = ada.post(f"/scenes/{row.pk}/do/take-proposal/", {"revision": 1, "work": pk, "number": 0})
    assert said.status_code == 400 and b"look for arrangements once more" in said.content


def test_who_only_looks_on_sees_them_and_takes_none(row, ada, vic):
    begin(ada, row)
    work_it()
    page = vic.get(f"/scenes/{row.pk}/proposals/", {"setup": "from above"}).content.decode()
    assert 'class="proposal"' in page and "data-do=" not in page and "data-propose" not in page
    assert vic.post(f"/scenes/{row.pk}/propose/").status_code == 403


def test_what_stands_is_mended_as_one_proposal_and_taken_in_one_step(row, ada):
    page = ada.post(f"/scenes/{row.pk}/propose/", {"scheme": "any", "setup": "from above", "way": "mend"}).content.decode()
    assert "<progress" in page
    done = work_it()
    (found,) = json.loads(done.told)
    assert found["said"] == "mended by small moves" and any("clears" in s for s in found["strengths"] if isinstance(s, dict))
    taken = ada.post(f"/scenes/{row.pk}/do/take-proposal/", {"revision": 1, "work": done.pk, "number": 0, "setup": "from above"})
    assert taken.status_code == 200
    row.refresh_from_db()
    after = {p["id"]: p for p in json.loads(row.document)["placements"]}
    for i, x, y, turn in found["leads"]:
        assert (after[i]["x"], after[i]["y"], (after[i]["turn"] - turn) % 360) == (x, y, 0)
    assert ada.post(f"/scenes/{row.pk}/propose/", {"way": "paint"}).status_code == 400


def test_one_less_is_told_as_such_and_taken_as_one_step(row, ada):
    ada.post(f"/scenes/{row.pk}/propose/", {"setup": "from above", "way": "one"})
    _, (pk, kind, job) = NoThread.jobs[-1]
    assert kind == "one" and job["props"]
    services._work(pk, kind, {**job, "props": job["props"][:3]})
    done = Work.objects.get(pk=pk)
    found = json.loads(done.told)
    assert found[0]["said"].startswith("take away the ") and found[0]["act"]["act"] == "remove_all"
    page = html.unescape(ada.get(f"/scenes/{row.pk}/proposals/", {"setup": "from above"}).content.decode())
    assert page.count('class="proposal"') == len(found) and "clears:" in page
    before = len(json.loads(row.document)["placements"])
    taken = ada.post(f"/scenes/{row.pk}/do/take-proposal/", {"revision": 1, "work": pk, "number": 0, "setup": "from above"})
    assert taken.status_code == 200
    row.refresh_from_db()
    assert len(json.loads(row.document)["placements"]) == before - len(found[0]["act"]["placements"])
    ada.post(f"/scenes/{row.pk}/undo/", {"revision": 2})
    row.refresh_from_db()
    assert len(json.loads(row.document)["placements"]) == before


def test_a_scheme_is_laid_over_both_views_followed_while_it_is_bent_and_taken_away(row, ada, vic):
    page = ada.post(f"/scenes/{row.pk}/do/scheme/", {"revision": 1, "setup": "from above", "kind": "crescent"}).content.decode()
    assert 'id="frame-scheme"' in page and 'id="table-scheme"' in page and page.count('data-grip="scheme"') == 2
    row.refresh_from_db()
    assert json.loads(row.document)["scheme"]["radius"] > 0
    follow = ada.get(f"/scenes/{row.pk}/follow/bend/", {"revision": row.revision, "setup": "from above", "key": "radius", "u": "0.75", "v": "0.5"})
    told = json.loads(html.unescape(follow.content.decode().split('data-scheme="')[1].split('"')[0]))
    assert told["frame"].startswith("M") and told["table"].startswith("M") and told["places"]
    before = {p["id"]: (p["x"], p["y"]) for p in json.loads(row.document)["placements"]}
    bent = ada.post(f"/scenes/{row.pk}/do/bend/", {"revision": row.revision, "setup": "from above", "key": "radius", "u": "0.75", "v": "0.5"})
    assert bent.status_code == 200
    row.refresh_from_db()
    after = {p["id"]: (p["x"], p["y"]) for p in json.loads(row.document)["placements"]}
    for i, (x, y, _) in told["places"].items():
        assert after[i] == pytest.approx((x, y), abs=0.11) and after[i] != before[i]
    assert ada.get(f"/scenes/{row.pk}/follow/bend/", {"revision": row.revision, "key": "none", "u": "0", "v": "0"}).status_code == 204
    assert ada.post(f"/scenes/{row.pk}/do/scheme/", {"revision": row.revision, "kind": "star"}).status_code == 400
    looked = vic.get(f"/scenes/{row.pk}/", {"setup": "from above"}).content.decode()
    assert 'id="frame-scheme"' in looked and 'data-grip="scheme"' not in looked
    none = ada.post(f"/scenes/{row.pk}/do/scheme/", {"revision": row.revision, "kind": ""}).content.decode()
    assert 'id="frame-scheme"' not in none


def test_what_is_strong_and_weak_is_told_in_the_readers_own_unit(row):
    picture = picture_of(row, "from above")
    assert told_words(picture, {"clear_mm": 25.4}, "in") == "the hero stands clear of everything large by 1 in"
    assert told_words(picture, {"count": 2, "total_mm": 41.0}, "cm") == "2 moved, 4.1 cm in all"
    assert told_words(picture, "nothing kisses another thing", "cm") == "nothing kisses another thing"
    (tight, *_) = [f for f in findings(picture) if f.code == "tangent.pair"]
    plain = json.loads(json.dumps(_plain(tight)))
    assert told_words(picture, {"clears": plain}, "mm") == "clears: Chopping board and preserving pan only just touch"
    assert told_words(picture, {"finding": {**plain, "placements": ["gone"]}}, "mm") == tight.message
    missing = told_words(picture, {"missing": [50.8, 25.4], "hex": "#101010", "finish": "matte"}, "in")
    assert "2 in × 1 in, black, matte" in missing and "list to borrow" in missing


def test_a_job_that_is_ended_takes_along_the_processes_that_it_began(row):
    process = services._Spare()._new()
    job = {"document": row.document, "setup": "from above", "ids": ["pan", "jar-1", "sugar", "knife"]}
    process.stdin.write(json.dumps({"kind": "drift", "job": job}))
    process.stdin.close()
    for line in process.stdout:
        if json.loads(line).get("told"):
            break
    begun = psutil.Process(process.pid).children(recursive=True)
    assert len(begun) >= 2
    services.end_process(process)
    _, left = psutil.wait_procs(begun, timeout=5)
    assert [p for p in left if p.status() != psutil.STATUS_ZOMBIE] == []


def test_a_job_that_waits_or_thinks_long_is_still_heard_of(row, ada, monkeypatch):
    begin(ada, row)
    monkeypatch.undo()  # a timer is a thread
    monkeypatch.setattr(services.connection, "close", lambda: None)  # the test's own connection
    work = Work.objects.get()
    Work.objects.update(beat_at=timezone.now() - services.SILENT - timedelta(seconds=1))
    beating = services._Beating(work.pk)
    monkeypatch.setattr(beating, "_next", lambda: threading.Timer(60, lambda: None))
    beating._beat()
    beating._timer.cancel()
    assert services.newest(row.studio, "propose", row.pk).is_under_way
    Work.objects.update(state=Work.STOPPED)
    kept = Work.objects.get().beat_at
    beating._beat()
    assert Work.objects.get().beat_at == kept


@pytest.mark.parametrize(
    ("kind", "typed"),
    [
        ("crescent", [("opens", "top", "top"), ("centre.0", "45 %", (0.45, None)), ("radius", "31", 0.31)]),
        ("diagonal", [("from", "top-right", "top-right")]), ("off-centre", [("at.1", "40%", (None, 0.4))]), ("s-curve", [("mirrored", "yes", True)]),
        ("triangle", [("points.2.0", "80", (None, None, (0.8, None)))]), ("arc", [("v", "60", 0.6), ("bow", "-20", -0.2)]), ("border", [("margin", "22", 0.22)]),
        ("squared", [("columns", "5", 5)]),
    ],
)  # fmt: skip
def test_a_scheme_is_bent_by_what_is_typed_too(row, ada, kind, typed):
    def now():
        row.refresh_from_db()
        document = json.loads(row.document)
        return next((s["scheme"] for s in document["setups"] if s.get("scheme")), None) or document["scheme"]

    def do(verb, **values):
        row.refresh_from_db()
        return ada.post(f"/scenes/{row.pk}/do/{verb}/", {"revision": row.revision, "setup": "from above", "tray": "things", **values})

    def agrees(found, wanted):
        if isinstance(wanted, tuple):
            return all(w is None or agrees(f, w) for f, w in zip(found, wanted, strict=True))
        return found == (pytest.approx(wanted) if isinstance(wanted, float) else wanted)

    page = do("scheme", kind=kind).content.decode()
    for at, value, wanted in typed:
        assert f'data-at="{at}"' in page
        assert do("bend", at=at, value=value).status_code == 200
        assert agrees(now()[at.split(".")[0]], wanted)
    before = now()
    for at, value in (("colour", "1"), (typed[0][0], "askew"), ("radius" if kind == "crescent" else typed[0][0], "9000")):
        do("bend", at=at, value=value)
        assert now() == before or kind == "s-curve"
