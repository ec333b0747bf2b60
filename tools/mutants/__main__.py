"""`make mutants`: a seeded sample of faults in the core, and those that were named by hand; prints what survived, exits 1 under 85 % killed."""

from __future__ import annotations

import argparse
import json
import multiprocessing
import os
import subprocess
import sys
import tempfile
import time
from collections import defaultdict
from pathlib import Path

import coverage

from .named import named_mutants
from .sites import Mutant, sample
from .trying import Tried, copied_tree, prepare, try_one

ROOT = Path(__file__).parents[2]
MUTATED = ("src/tideflat/core/findings", "src/tideflat/core/remedies", "src/tideflat/core/camera", "src/tideflat/core/acts")
TESTS = ("tests/core", "tests/reference")
#: Of the tests that pass through a place, the quickest that together take so long, seconds.
ENOUGH_S = 25.0
LEAST_KILLED = 0.85
#: Tests that notice most are run before all others.
FIRST = ("tests/core/test_record.py", "tests/core/test_limits.py", "tests/core/test_act_arguments.py")


class Covering:
    """Which tests pass through a line: the record first, then the quickest. Where none does while it runs (a constant), those that use its file."""

    def __init__(self, tree: Path, kept: Path) -> None:
        self.seconds: dict[str, float] = json.loads((kept / "seconds.json").read_text())
        data = coverage.CoverageData(str(kept / "coverage.sqlite"))
        data.read()
        self._by_file = {}
        for name in data.measured_files():
            with_tests = {line: {c for c in contexts if c} for line, contexts in data.contexts_by_lineno(name).items()}
            self._by_file[str(Path(name).relative_to(tree))] = with_tests

    def tests(self, path: str, line: int) -> list[str]:
        lines = self._by_file.get(path, {})
        found = lines.get(line) or set().union(*lines.values())
        chosen = sorted(n for n in found if n.startswith(FIRST))
        total = 0.0
        for name in sorted(found - set(chosen), key=lambda n: (self.seconds.get(n, 0.0), n)):
            total += self.seconds.get(name, 0.0)
            if total > ENOUGH_S:
                break
            chosen.append(name)
        return chosen

    def expected_s(self, tests: list[str]) -> float:
        return sum(self.seconds.get(t, 0.0) for t in tests)


def covered(tree: Path, kept: Path) -> Covering:
    """Run the tests once with coverage, in the copy."""
    config = kept / "coveragerc"
    config.write_text(f"[run]\nsource = {tree}/src/tideflat/core\ndata_file = {kept}/coverage.sqlite\n", encoding="utf-8")
    environment = os.environ | {
        "PYTHONPATH": f"{tree}/src:{tree}", "TIDEFLAT_TEST_SECONDS": str(kept / "seconds.json"), "PYTHONDONTWRITEBYTECODE": "1",
    }  # fmt: skip
    command = [sys.executable, "-m", "coverage", "run", f"--rcfile={config}", "-m", "pytest", "-q", "-p", "no:logging", "-p", "tools.mutants.coverage_plugin", *TESTS]  # fmt: skip
    done = subprocess.run(command, cwd=tree, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, check=False)
    if done.returncode:
        sys.exit(f"The tests must pass before faults are tried:\n{done.stdout[-3000:]}")
    return Covering(tree, kept)


def _work(tree: Path, jobs: multiprocessing.Queue, done: multiprocessing.Queue) -> None:
    prepare(tree)
    while (job := jobs.get()) is not None:
        done.put(try_one(tree, *job))


def tried(trees: list[Path], mutants: list[Mutant], covering: Covering) -> list[Tried]:
    """All faults, one worker for each copy of the tree."""
    jobs: multiprocessing.Queue = multiprocessing.Queue()
    done: multiprocessing.Queue = multiprocessing.Queue()
    for mutant in mutants:
        tests = covering.tests(mutant.path, mutant.line)
        jobs.put((mutant, tests, covering.expected_s(tests)))
    workers = [multiprocessing.Process(target=_work, args=(tree, jobs, done)) for tree in trees]
    for worker in workers:
        jobs.put(None)
        worker.start()
    found = []
    for k in range(len(mutants)):
        found.append(done.get())
        if found[-1].outcome == "survived":
            print(f"{k + 1}/{len(mutants)}  survived  {found[-1].mutant.path}:{found[-1].mutant.line}  {found[-1].mutant.what}", flush=True)
    for worker in workers:
        worker.join()
    return found


def _report(found: list[Tried], began: float) -> float:
    by_folder: dict[str, list[Tried]] = defaultdict(list)
    for one in found:
        by_folder[str(Path(one.mutant.path).parent)].append(one)
    for folder, ones in sorted(by_folder.items()):
        print(f"{folder}: {sum(o.outcome != 'survived' for o in ones)} of {len(ones)} noticed")
    share = sum(o.outcome != "survived" for o in found) / max(1, len(found))
    print(f"{share:.1%} of {len(found)} noticed in {(time.monotonic() - began) / 60:.0f} minutes")
    return share


def main() -> int:
    asked = argparse.ArgumentParser(prog="make mutants")
    asked.add_argument("--count", type=int, default=400)
    asked.add_argument("--seed", type=int, default=9)
    asked.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    asked.add_argument("--named", action="store_true", help="only the faults that are named by hand")
    given = asked.parse_args()
    began = time.monotonic()
    files = [p for folder in MUTATED for p in sorted((ROOT / folder).rglob("*.py"))]
    named = named_mutants(ROOT)
    mutants = [] if given.named else sample(ROOT, files, given.count, given.seed)
    with tempfile.TemporaryDirectory(prefix="tideflat-mutants-") as work:
        trees = [copied_tree(ROOT, Path(work) / f"copy{k}") for k in range(given.workers)]
        (kept := Path(work) / "kept").mkdir()
        covering = covered(trees[0], kept)
        print(f"covered after {(time.monotonic() - began) / 60:.1f} minutes", flush=True)
        found = tried(trees, [*named, *mutants], covering)
    by_hand = [one for one in found if one.mutant in named]
    alive = [one for one in by_hand if one.outcome == "survived"]
    print(f"Named by hand: {len(by_hand) - len(alive)} of {len(by_hand)} noticed")
    share = _report([one for one in found if one not in by_hand], began)
    return int(bool(alive) or (share < LEAST_KILLED and not given.named))


if __name__ == "__main__":
    sys.exit(main())
