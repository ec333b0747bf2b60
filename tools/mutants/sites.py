"""Places in the source where Cosmic Ray can put a fault, and what the source looks like with it."""

from __future__ import annotations

import ast
import random
from collections import defaultdict
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import cosmic_ray.ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator, operator_names

#: Left out: what needs arguments of its own, what changes nothing by design, and decorators (without a cache the answer is the same, only slower).
_LEFT_OUT = ("VariableReplacer", "VariableInserter", "NoOp", "RemoveDecorator")


@dataclass(frozen=True)
class Mutant:
    """A fault: ``path`` from the root, the line it is on, and the source with it in. ``what`` says it in words."""

    path: str
    line: int
    what: str
    source: str


@dataclass(frozen=True)
class _Site:
    path: str
    position: tuple[int, int]
    family: str


@cache
def _operators() -> dict[str, object]:
    names = [n for n in operator_names() if not n.split("/")[-1].startswith(_LEFT_OUT)]
    return {n: get_operator(n)() for n in sorted(names)}


def _family(name: str) -> str:
    """``core/ReplaceComparisonOperator_Lt_Eq`` -> ``ReplaceComparisonOperator``: one place is sampled once, not once for each exchange."""
    return name.split("/")[-1].split("_")[0]


def _not_run(source: str) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    """Spans in which an exchange is no fault: annotations never run, and what a decorator is given (slots, the size of a cache) changes no answer."""
    spans = []
    for node in ast.walk(ast.parse(source)):
        noted = [getattr(node, "annotation", None), getattr(node, "returns", None), *getattr(node, "decorator_list", ())]
        spans += [((n.lineno, n.col_offset), (n.end_lineno or 0, n.end_col_offset or 0)) for n in noted if isinstance(n, ast.AST)]
    return spans


def sites(root: Path, paths: list[Path]) -> dict[_Site, list[tuple[str, int]]]:
    """Every place of the files, with the exchanges (operator, occurrence) that can be made at it."""
    found: dict[_Site, list[tuple[str, int]]] = defaultdict(list)
    for path in paths:
        source = path.read_text(encoding="utf-8")
        spans = _not_run(source)
        tree = cosmic_ray.ast.get_ast(source)
        nodes = list(cosmic_ray.ast.ast_nodes(tree))
        for name, operator in _operators().items():
            occurrence = 0
            for node in nodes:
                for start, _ in operator.mutation_positions(node):  # type: ignore[attr-defined]
                    if not any(low <= start < high for low, high in spans):
                        found[_Site(str(path.relative_to(root)), start, _family(name))].append((name, occurrence))
                    occurrence += 1
    return dict(found)


def sample(root: Path, paths: list[Path], count: int, seed: int) -> list[Mutant]:
    """``count`` faults at places chosen by ``seed``, each with one exchange chosen by it."""
    hand = random.Random(seed)
    every = sites(root, paths)
    chosen = hand.sample(sorted(every, key=lambda s: (s.path, s.position, s.family)), k=min(count, len(every)))
    return [_made(root, site, *hand.choice(every[site])) for site in chosen]


def _made(root: Path, site: _Site, name: str, occurrence: int) -> Mutant:
    source = (root / site.path).read_text(encoding="utf-8")
    changed = mutate_code(source, _operators()[name], occurrence)
    assert changed is not None, f"{name} has no place {occurrence} in {site.path}"
    before, after = source.splitlines(), changed.splitlines()
    line = next((i for i, (a, b) in enumerate(zip(before, after, strict=False)) if a != b), site.position[0] - 1)
    return Mutant(site.path, line + 1, f"{before[line].strip()}  ->  {after[line].strip()}", changed)
