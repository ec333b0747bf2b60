"""Faults named by hand: each lived through the tests once. (path under core/, what stands there, what the fault makes of it)."""

from __future__ import annotations

from pathlib import Path

from .sites import Mutant

NAMED: tuple[tuple[str, str, str], ...] = (
    ("camera/stance.py", "BODY_REACH_MM = 80.0", "BODY_REACH_MM = 0.0"),
    ("camera/crops.py", "> 0.5 + ", "> 3.5 + "),
    ("camera/crops.py", "max(asked[0] / covered[0], asked[1] / covered[1])", "min(asked[0] / covered[0], asked[1] / covered[1])"),
    ("camera/hiding.py", "if rim is None or dish.placement.lean != 0:", "if rim is None:"),
    ("camera/hiding.py", "return sign if eye[2] >= low.z_max else -sign  # cloth", "return sign  # cloth"),
    ("findings/standing_out.py", "abs(seen[i] - seen[o]) for o in others", "(seen[i] - seen[o]) for o in others"),
    ("findings/standing_out.py", "+ [abs(seen[i] - ground)]", "+ [(seen[i] - ground)]"),
    ("findings/standing_out.py", " + [abs(seen[i] - ground)]", ""),
    ("findings/edges.py", "if abs(gap) >= TANGENT.value", "if gap >= TANGENT.value"),
    ("findings/edges.py", "round(abs(gap), 3)", "round(gap, 3)"),
    ("findings/edges.py", '        if silhouette.body.placement.role == "hero":\n            continue  # hero.cut says it\n', ""),
    ("findings/edges.py", '            if silhouette.body.placement.role == "hero" and 1 - inside > CUT_SHARE:\n                continue  # hero.cut says it\n', ""),
    ("findings/spacing.py", "np.linspace(0.02, 0.98, 9)", "(0.5,)"),
    ("findings/support.py", "> 0.2 * upper.footprint.area", "> 0.6 * upper.footprint.area"),
    ("findings/support.py", "> 0.2 * upper.footprint.area", "> 0.05 * upper.footprint.area"),
    ("findings/focus.py", "FALLS_AWAY = 0.5", "FALLS_AWAY = 0.95"),
    ("findings/focus.py", "FALLS_AWAY = 0.5", "FALLS_AWAY = 0.1"),
    ("findings/surroundings.py", "in past.items() if amount > CONTACT_MM", "in past.items() if amount > 20 * CONTACT_MM"),
    ("findings/surroundings.py", "in short.items() if amount > CONTACT_MM", "in short.items() if amount > 20 * CONTACT_MM"),
    ("findings/copy_space.py", "OCCUPANT = 0.2", "OCCUPANT = 1.5"),
    ("findings/copy_space.py", "OCCUPANT = 0.2", "OCCUPANT = 0.02"),
    ("findings/variety.py", "1.2 * max(", "2.4 * max("),
    ("findings/variety.py", "1.2 * max(", "0.9 * max("),
    ("findings/variety.py", "-0.77", "-0.97"),
    ("findings/variety.py", "-0.77", "-0.5"),
    ("remedies/moves.py", "LONGEST_MOVE_MM = 160.0", "LONGEST_MOVE_MM = 1600.0"),
    ("remedies/moves.py", "LONGEST_MOVE_MM = 160.0", "LONGEST_MOVE_MM = 60.0"),
    ("remedies/moves.py", "    if z >= 0:\n", "    if True:\n"),
    ("remedies/moves.py", "for i in moving_with(picture.scene, placement_id))", "for i in (placement_id,))"),
    ("table/carrying.py", "z=round(max(0.0, p.z + dz), STIFF_DIGITS)", "z=round(p.z + dz, STIFF_DIGITS)"),
    ("table/carrying.py", "z=round(max(0.0, float(z)), STIFF_DIGITS)", "z=round(float(z), STIFF_DIGITS)"),
    ("table/carrying.py", "refuse_locked(seen, (lead.id, *loads, *shifted))", "refuse_locked(seen, (lead.id, *shifted))"),
    ("drawing/skins.py", "shares[:, 1:] * down", "(1 - shares[:, 1:]) * down"),
    ("drawing/skins.py", "shares[:, :1] * right", "(1 - shares[:, :1]) * right"),
)  # fmt: skip


def named_mutants(root: Path) -> list[Mutant]:
    """Each of them in its file as it is now, everywhere that text stands; stops where the text is no longer there."""
    found = []
    for path, old, new in NAMED:
        place = Path("src/tideflat/core") / path
        source = (root / place).read_text(encoding="utf-8")
        start = source.find(old)
        assert start >= 0, f"{path} no longer holds {old!r}: mend tools/mutants/named.py"
        line = source.count("\n", 0, start) + 1
        found.append(Mutant(str(place), line, f"{old.strip()}  ->  {new.strip()}", source.replace(old, new)))
    return found
