"""The search for arrangements against dual annealing (SciPy) and CMA-ES (Hansen's cma), each given the same time on the same energy.

Both are given the scheme of the best that was found, so that all their time goes to one; Tideflat's search divides its own among all of them.
Prints; asserts nothing: `make bench`.
"""

from __future__ import annotations

import time
import warnings
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import numpy as np

#: CMA-ES is judged in populations of so many at once.
_POPULATION = 32


def main(names: tuple[str, ...] = ("14 from above", "24 from above"), seed: int = 1) -> None:
    from tests.support.arranged import PROBLEMS
    from tideflat.core.arrange.problem import problem_of
    from tideflat.core.arrange.search import search
    from tideflat.core.composition.schemes import curves
    from tideflat.core.evaluate import Picture

    for name in names:
        scene = PROBLEMS[name]()
        problem = problem_of(Picture(scene, scene.setups[0]))
        every = curves(problem.layout)
        began = time.perf_counter()
        found = search(problem, every * 2, seed)
        seconds = time.perf_counter() - began
        best = min(found, key=lambda f: f.energy)
        held = sum(f.wrong < 0.05 for f in found)
        print(f"{name}: {seconds:.1f} s, best energy {best.energy:.1f}, wrong {best.wrong:.2f}; {held} of {len(found)} chains hold")
        for method, run in (("dual annealing", _dual_annealing), ("CMA-ES", _cma)):
            energy, wrong = run(*_objective(problem, best.curve), seconds, seed)
            print(f"{name}: {method}, the same time for one scheme: energy {energy:.1f}, wrong {wrong:.2f}")


def _objective(problem: Any, curve: Any) -> tuple[Callable[[np.ndarray], np.ndarray], int]:
    """(energies and wrongs of (n, dimensions) vectors of shares of the table and of turns, dimensions)."""
    from tideflat.core.arrange.energy import Judge
    from tideflat.core.arrange.search import _State

    mobile = list(problem.mobile)
    x0, y0, x1, y1 = problem.table

    def judged(vectors: np.ndarray) -> np.ndarray:
        vectors = np.clip(vectors, 0.0, 1.0).reshape(len(vectors), len(mobile), 3)
        places = np.zeros((len(vectors), len(problem.units), 3))
        for u, unit in enumerate(problem.units):
            places[:, u, :2] = unit.x, unit.y
        for k, u in enumerate(mobile):
            turn = (2 * vectors[:, k, 2] - 1) * problem.units[u].turns
            places[:, u] = np.column_stack([x0 + vectors[:, k, 0] * (x1 - x0), y0 + vectors[:, k, 1] * (y1 - y0), turn])
        energy, wrong = _State(Judge(problem, (curve,) * len(vectors)), places).totals()
        return np.column_stack([energy, wrong])

    return judged, 3 * len(mobile)


def _dual_annealing(judged: Callable[[np.ndarray], np.ndarray], size: int, seconds: float, seed: int) -> tuple[float, float]:
    from scipy.optimize import dual_annealing

    until = time.perf_counter() + seconds
    best = [np.inf, np.inf]

    def one(vector: np.ndarray) -> float:
        if time.perf_counter() > until:
            raise TimeoutError
        energy, wrong = judged(vector[None])[0]
        if energy < best[0]:
            best[:] = energy, wrong
        return float(energy)

    with suppress(TimeoutError):
        dual_annealing(one, [(0.0, 1.0)] * size, seed=seed, maxiter=10**6)
    return best[0], best[1]


def _cma(judged: Callable[[np.ndarray], np.ndarray], size: int, seconds: float, seed: int) -> tuple[float, float]:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import cma

        until = time.perf_counter() + seconds
        best = (np.inf, np.inf)
        round_number = 0
        while time.perf_counter() < until:
            options = {"bounds": [0, 1], "popsize": _POPULATION, "seed": seed + round_number + 1, "verbose": -9}
            start = np.random.default_rng(seed + round_number).uniform(0.2, 0.8, size)
            strategy = cma.CMAEvolutionStrategy(start, 0.25, options)
            round_number += 1
            while time.perf_counter() < until and not strategy.stop():
                asked = strategy.ask()
                told = judged(np.array(asked))
                strategy.tell(asked, told[:, 0].tolist())
                k = int(told[:, 0].argmin())
                best = min(best, (float(told[k, 0]), float(told[k, 1])))
    return best


if __name__ == "__main__":
    main()
