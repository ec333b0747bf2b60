"""Begin a job, ask how far it is, stop it.

A job runs in a process of its own (`worker`), which knows no database: it is given what it needs and says what it finds, a line at a time;
a thread of the server that was asked writes that down. A job whose server has gone is told as failed by whoever asks next.
"""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from datetime import timedelta
from typing import Any

from django.db import connection
from django.utils import timezone

from tideflat.core.render.compiled import named
from tideflat.web.accounts.models import Studio

from . import quicker
from .models import Work

#: Jobs of one process of the server at a time; others wait.
_AT_ONCE = threading.BoundedSemaphore(2)
#: A job that has not been heard of for so long has lost its server; one that is kept longer than that is forgotten.
SILENT, KEPT = timedelta(seconds=30), timedelta(days=2)
BEAT = timedelta(seconds=8)
#: So often it is looked whether a job is to stop, s.
_LOOK_S = 0.4
_REAL_THREAD = threading.Thread
_LOST = "The server was stopped while this was worked on. Ask once more."


Then = Callable[[Work], None]


def begin(studio: Studio, kind: str, about: int, job: dict[str, Any], task: str = "", then: Then | None = None) -> Work:
    """A new job of the kind; what was under way for the same is stopped, and what is old is forgotten. ``task``: what of it is done, where
    there are several ways to it. ``then``: called with the job when it is done."""
    mine = Work.objects.filter(studio=studio, kind=kind, about=about)
    mine.filter(state__in=(Work.WAITING, Work.WORKING)).update(is_to_stop=True)
    Work.objects.filter(studio=studio, begun_at__lt=timezone.now() - KEPT).delete()
    work = Work.objects.create(studio=studio, kind=kind, about=about, beat_at=timezone.now())
    threading.Thread(target=_run, args=(work.pk, task or kind, job), kwargs={"then": then}, daemon=True, name=f"work-{work.pk}").start()
    return work


def newest(studio: Studio, kind: str, about: int) -> Work | None:
    """The newest job about it that is still of use."""
    work = Work.objects.filter(studio=studio, kind=kind, about=about).order_by("-pk").first()
    return None if work is None else _seen(work)


def one(studio: Studio, kind: str, about: int, pk: int) -> Work | None:
    work = Work.objects.filter(studio=studio, kind=kind, about=about, pk=pk).first()
    return None if work is None else _seen(work)


def _seen(work: Work) -> Work:
    if work.is_under_way and work.beat_at < timezone.now() - SILENT:
        Work.objects.filter(pk=work.pk, state__in=(Work.WAITING, Work.WORKING)).update(state=Work.FAILED, reason=_LOST)
        work.refresh_from_db()
    return work


def stop(work: Work) -> None:
    """What there is by now stays."""
    Work.objects.filter(pk=work.pk).update(is_to_stop=True)


def put_away(work: Work) -> None:
    stop(work)
    Work.objects.filter(pk=work.pk).delete()


class _Spare:
    """One process that has loaded what jobs need and waits for one: half a second less until something is seen."""

    def __init__(self, kind: str = "") -> None:
        self._kind = kind
        self._waiting: subprocess.Popen[str] | None = None
        self._turn = threading.Lock()

    def made(self) -> None:
        with self._turn:
            if self._waiting is None or self._waiting.poll() is not None:
                self._waiting = self._new()

    def taken(self) -> subprocess.Popen[str]:
        with self._turn:
            process, self._waiting = self._waiting, None
        return process if process is not None and process.poll() is None else self._new()

    def _new(self) -> subprocess.Popen[str]:
        command = [sys.executable, "-m", "tideflat.web.work.worker", *([self._kind] if self._kind else [])]
        return subprocess.Popen(  # noqa: S603
            command,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
            start_new_session=True,
            env=_environment(self._kind),
        )


def _environment(kind: str) -> dict[str, str] | None:
    """A proof's process is told by what it may compile its renderer."""
    return named(quicker.library()) if kind == "proof" else None


#: One for most jobs, and one that has loaded the renderer.
_SPARE, _PROVING = _Spare(), _Spare("proof")


def prepare(kind: str = "") -> None:
    """Somebody may ask soon. A process that waits ends by itself with the server that made it."""
    quicker.look()
    (_PROVING if kind == "proof" else _SPARE).made()


def _run(pk: int, kind: str, job: dict[str, Any], then: Then | None = None) -> None:
    try:
        with _Beating(pk), _AT_ONCE:
            _work(pk, kind, job)
        done = Work.objects.filter(pk=pk, state=Work.DONE).first() if then is not None else None
        if then is not None and done is not None:
            then(done)
    finally:
        connection.close()


class _Beating:
    """While it waits for its turn, and while it works on something that takes long to say anything, a job is still heard of."""

    def __init__(self, pk: int) -> None:
        self._pk, self._is_over = pk, False
        self._timer = self._next()

    def _next(self) -> threading.Timer:
        timer = threading.Timer(BEAT.total_seconds(), self._beat)
        timer.daemon = True
        return timer

    def _beat(self) -> None:
        try:
            alive = Work.objects.filter(pk=self._pk, state__in=(Work.WAITING, Work.WORKING)).update(beat_at=timezone.now())
        finally:
            connection.close()
        if alive and not self._is_over:
            self._timer = self._next()
            self._timer.start()

    def __enter__(self) -> None:
        self._timer.start()

    def __exit__(self, *fault: object) -> None:
        self._is_over = True
        self._timer.cancel()


class _Watching:
    """Between what a job says, whether it is to stop: then it is ended at once, however long it would go on without a word."""

    def __init__(self, pk: int, process: subprocess.Popen[str]) -> None:
        self._pk, self._process = pk, process
        self._over = threading.Event()
        self._thread = _REAL_THREAD(target=self._watch, daemon=True, name=f"watch-{pk}")

    def _watch(self) -> None:
        try:
            while not self._over.wait(_LOOK_S):
                if Work.objects.filter(pk=self._pk, is_to_stop=True).exists():
                    return end_process(self._process)
        finally:
            connection.close()

    def __enter__(self) -> None:
        self._thread.start()

    def __exit__(self, *fault: object) -> None:
        self._over.set()
        self._thread.join()


def end_process(process: subprocess.Popen[str]) -> None:
    """It and whatever processes it began: those would wait for ever for work that nobody gives them."""
    with suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()


def _work(pk: int, kind: str, job: dict[str, Any]) -> None:
    process = (_PROVING if kind == "proof" else _SPARE).taken()
    given, found = process.stdin, process.stdout
    if given is None or found is None:  # pipes were asked for
        raise RuntimeError("a process without pipes")
    end: dict[str, Any] = {"state": Work.FAILED, "reason": "That failed on our side. Ask once more; nothing is lost."}
    try:
        given.write(json.dumps({"kind": kind, "job": job}))
        given.close()
        with _Watching(pk, process):
            for line in found:
                said = json.loads(line)
                if "end" in said:
                    end = {"state": Work.DONE, "reason": said["reason"] or "", "share": 1.0}
                    break
                told = {"told": json.dumps(said["told"])} if "told" in said else {}
                beat = {"state": Work.WORKING, "share": said["share"], "beat_at": timezone.now()}
                kept = Work.objects.filter(pk=pk, is_to_stop=False).update(**beat, **told)
                if not kept:
                    break
        if end["state"] == Work.FAILED and not Work.objects.filter(pk=pk, is_to_stop=False).exists():
            end = {"state": Work.STOPPED, "reason": ""}
        if end["state"] == Work.FAILED and kind == "proof":
            quicker.distrust()
    except (BrokenPipeError, ValueError):
        pass
    finally:
        end_process(process)
        Work.objects.filter(pk=pk).update(beat_at=timezone.now(), **end)
