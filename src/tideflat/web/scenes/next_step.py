"""The next sensible step of a scene that has hardly begun, in one line that is done by doing; silent once there is enough to judge."""

from __future__ import annotations

from dataclasses import dataclass

from tideflat.core.evaluate import Picture

#: With so many things on the table nobody needs to be told to put down another [practice].
_ENOUGH = 4


@dataclass(frozen=True)
class NextStep:
    """words: what to do. kind: ``name`` to type what it is (put down as ``role``), ``hero`` to say which one leads, ``tray`` to open one."""

    words: str
    kind: str
    tray: str = ""
    role: str = ""


def next_step(picture: Picture) -> NextStep | None:
    """What is missing first, in working order; None when nothing is."""
    scene, setup = picture.scene, picture.setup
    if not picture.bodies:
        return NextStep("Lay down the hero: what is it?", "name", role="hero")
    if not picture.hero_ids():
        return NextStep("Which one leads? Take it in hand and make it the hero.", "hero")
    if not setup.deliverables:
        return NextStep("What is the picture for? Say its shape, and every crop is judged.", "tray", tray="deliverables")
    if len(picture.bodies) < _ENOUGH:
        return NextStep("What stands with it?", "name", role="")
    if not scene.brief.story.strip():
        return NextStep("Say in one sentence what it tells.", "tray", tray="brief")
    return None
