"""The server's own process that draws light: begun when it is first needed, asked in turn, ended when nobody has asked for a while."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from concurrent.futures import Future
from threading import Lock, Thread, Timer
from typing import Any

from .services import end_process

#: It ends after so long without a question, s.
IDLE_S = 180.0
#: So many answers are kept for who asks.
_MOST_EXPECTED = 20
#: Its matrices are small: more threads take no time off them, only the processor from whoever works on the bench.
_ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}


class LightKeeper:
    """One process, one question at a time; a question that has been overtaken by a newer one about the same scene is not asked."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[str] | None = None
        self._turn = Lock()
        self._newest: dict[int, int] = {}
        self._count = 0
        self._expected: dict[int, tuple[dict[str, Any], Future[dict[str, Any] | None]]] = {}
        self._idle: Timer | None = None

    def expect(self, about: int, question: dict[str, Any]) -> None:
        """The question is asked now: whoever asks the same next is told its answer."""
        future: Future[dict[str, Any] | None] = Future()
        self._expected.pop(about, None)
        self._expected[about] = question, future
        while len(self._expected) > _MOST_EXPECTED:  # of scenes whose windows never asked
            self._expected.pop(next(iter(self._expected)))
        Thread(target=self._answer, args=(future, about, question), daemon=True).start()

    def _answer(self, future: Future[dict[str, Any] | None], about: int, question: dict[str, Any]) -> None:
        answer = None
        try:
            answer = self._ask(about, question)
        finally:
            future.set_result(answer)  # or whoever asks would wait for ever

    def ask(self, about: int, question: dict[str, Any]) -> dict[str, Any] | None:
        """The answer; None where a newer question about the same was asked meanwhile, or the process failed."""
        expected = self._expected.get(about)
        if expected is not None and expected[0] == question:
            self._expected.pop(about, None)
            return expected[1].result() or self._ask(about, question)
        return self._ask(about, question)

    def _ask(self, about: int, question: dict[str, Any]) -> dict[str, Any] | None:
        self._count += 1
        mine = self._newest[about] = self._count
        with self._turn:
            if self._newest.get(about) != mine:
                return None
            try:
                return self._asked(question)
            except (BrokenPipeError, ValueError, OSError):
                self._end()
                return None
            finally:
                if self._newest.get(about) == mine:
                    del self._newest[about]
                self._rest()

    def _asked(self, question: dict[str, Any]) -> dict[str, Any]:
        if self._process is None or self._process.poll() is not None:
            command = [sys.executable, "-m", "tideflat.web.work.light_worker"]
            self._process = subprocess.Popen(  # noqa: S603
                command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, start_new_session=True,
                env=os.environ | _ONE_THREAD,
            )  # fmt: skip
        given, found = self._process.stdin, self._process.stdout
        if given is None or found is None:  # pipes were asked for
            raise OSError("a process without pipes")
        given.write(json.dumps(question) + "\n")
        given.flush()
        answer: dict[str, Any] = json.loads(found.readline())
        return answer

    def _rest(self) -> None:
        if self._idle is not None:
            self._idle.cancel()
        self._idle = Timer(IDLE_S, self.end)
        self._idle.daemon = True
        self._idle.start()

    def end(self) -> None:
        """The process goes; the next question begins another."""
        with self._turn:
            self._end()

    def _end(self) -> None:
        process, self._process = self._process, None
        if process is not None:
            end_process(process)


KEEPER = LightKeeper()
