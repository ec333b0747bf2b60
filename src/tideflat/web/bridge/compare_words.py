"""What differs between two states of a scene, in words and in the reader's unit."""

from __future__ import annotations

from dataclasses import dataclass

from tideflat.core.arrange.compare import Compared, Moved
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.units import format_length

from .finding_words import finding_words
from .measure_words import measure_words

#: Lines of one kind that are told; of more, how many.
_MOST = 5


@dataclass(frozen=True)
class Told:
    """Lines each. better, worse: findings that are gone or new. weighed: what the eye weighs, (words, whether better; None: taste)."""

    moved: tuple[str, ...]
    better: tuple[str, ...]
    worse: tuple[str, ...]
    weighed: tuple[tuple[str, bool | None], ...]
    is_same: bool


def compare_words(compared: Compared, second: Picture, unit: str) -> Told:
    moved = [_moved(m, unit) for m in compared.moved if not m.is_carried]
    moved += [f"{name} is there besides" for _, name in compared.added] + [f"{name} is not there" for _, name in compared.gone]
    moved += [_camera(*entry, unit) for entry in compared.camera]
    weighed = [(words, c.is_better) for c in compared.measures if (words := measure_words(c)) is not None]
    return Told(
        _short(moved),
        _short([_title(second, f, unit) for f in compared.cleared]),
        _short([_title(second, f, unit) for f in compared.fresh]),
        tuple(weighed),
        compared.is_same,
    )


def _short(lines: list[str]) -> tuple[str, ...]:
    return (*lines[:_MOST], f"and {len(lines) - _MOST} more") if len(lines) > _MOST + 1 else tuple(lines)


def _title(picture: Picture, finding: Finding, unit: str) -> str:
    if all(i in picture.props for i in finding.placements):
        return finding_words(picture, finding, unit)[0]
    return finding.message  # of something that is not there any more


_ELSE = {"role": "another role", "on": "stands on something else", "held_by": "held otherwise", "lean": "leans otherwise", "prop": "another specimen"}


def _moved(m: Moved, unit: str) -> str:
    said = []
    if m.dx or m.dy:
        ways = [(m.dx, "right", "left"), (m.dy, "back", "forward")]
        parts = [f"{format_length(abs(d), unit)} {a if d > 0 else b}" for d, a, b in ways if abs(d) >= 0.5]
        said.append(" and ".join(parts) if parts else f"moved {format_length(m.mm, unit)}")
    if m.dz:
        said.append(f"{'raised' if m.dz > 0 else 'lowered'} {format_length(abs(m.dz), unit)}")
    if m.turn:
        said.append(f"turned {abs(m.turn):.3g}° to the {'left' if m.turn > 0 else 'right'}")
    said += dict.fromkeys(_ELSE[key] for key in m.changed if key in _ELSE)
    return f"{m.name}: {', '.join(said) or 'otherwise'}"


def _camera(key: str, before: float, after: float, unit: str) -> str:
    if key == "aperture":
        return f"aperture f/{before:g}, there f/{after:g}"
    if key in ("elevation", "azimuth", "roll"):
        return f"camera's {key} {before:g}°, there {after:g}°"
    return f"camera's {key} {format_length(before, unit)}, there {format_length(after, unit)}"
