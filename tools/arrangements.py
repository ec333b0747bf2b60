"""How well arrangements are proposed, over many seeds: `make arrangements`. Prints; asserts nothing.

For each scene and seed: how many hold and differ, in how many schemes, how long it took, and their median energy beside that of arrangements
strewn by chance that hold as well (nothing overlaps, the hero whole, words clear).
"""

from __future__ import annotations

import argparse
import statistics
import time
from typing import Any

import numpy as np


def main() -> None:
    from tests.support.arranged import PROBLEMS
    from tideflat.core.arrange.problem import problem_of
    from tideflat.core.arrange.propose import propose
    from tideflat.core.evaluate import Picture

    parser = argparse.ArgumentParser()
    parser.add_argument("--seeds", type=int, default=20)
    parser.add_argument("--only", default="")
    asked = parser.parse_args()
    for name, make in PROBLEMS.items():
        if asked.only and asked.only != name:
            continue
        scene = make()
        picture = Picture(scene, scene.setups[0])
        problem = problem_of(picture)
        chance = by_chance(problem)
        rows: list[Any] = []
        for seed in range(1, asked.seeds + 1):
            began = time.perf_counter()
            found = propose(picture, scheme="any", count=8, seed=seed, helpers=2)
            rows.append((len(found.proposals), len({p.scheme.kind for p in found.proposals}), time.perf_counter() - began, [p.energy for p in found.proposals]))
        whole = sum(r[0] == 8 for r in rows)
        energies = [e for r in rows for e in r[3]]
        print(
            f"{name:<24} {len(problem.mobile)} units: eight in {whole} of {len(rows)}, least {min(r[0] for r in rows)}, schemes at least "
            f"{min(r[1] for r in rows)}; {statistics.median(r[2] for r in rows):.1f} s; energy {statistics.median(energies or [0]):.1f}, "
            f"by chance {np.median(chance) if len(chance) else float('nan'):.1f} (n {len(chance)})"
        )


def by_chance(problem: Any, tries: int = 300, wanted: int = 40) -> np.ndarray:
    """Energies of arrangements strewn by chance over what the frame sees, each unit put anew until it is not wrong."""
    from tideflat.core.arrange.energy import FAULT, Judge
    from tideflat.core.arrange.search import _State, on_table
    from tideflat.core.composition.schemes import curves

    rng = np.random.default_rng(1)
    curve = curves(problem.layout)[:1]
    judge = Judge(problem, curve)
    found = []
    for _ in range(tries):
        places = np.zeros((1, len(problem.units), 3))
        for u, unit in enumerate(problem.units):
            places[:, u, :2] = unit.x, unit.y
        state = _State(judge, places)
        for u in problem.mobile:
            for _ in range(12):
                spot = on_table(problem, rng.uniform(0.05, 0.95, (1, 2)), problem.units[u].top / 2, places[:, u, :2])
                place = np.column_stack([spot, rng.uniform(-1, 1, 1) * problem.units[u].turns])
                own = judge.looks(u, *place.T)
                if judge.cost(u, own, state.table, state.frame, state.depth)[1][0] < 0.02:
                    state.put(u, np.array([True]), place, own)
                    break
        energy, wrong = state.totals()
        if wrong[0] < 0.05:
            found.append(float(energy[0] - FAULT * wrong[0]))
        if len(found) == wanted:
            break
    return np.array(found)


if __name__ == "__main__":
    main()
