"""What puts the frame right: plumb, level, a lens from further off, a wider stop, a shorter time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from ..acts.camera import SetCamera, UseLens
from ..acts.exposing import SetExposure
from ..camera.stance import LENS_CLEARANCE_MM
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..findings.finding import Finding
from ..findings.frame_kept import off_level_deg
from .candidate import Candidate, Stores

#: The longest lenses are tried, so many.
_MOST_LENSES = 4
#: A body is set to no more.
MOST_ISO = 1e6
#: Whole and third stops of time are not told apart: a shade shorter than what just does.
_SHADE = 0.98


def hang_plumb(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Straight down on the same place."""
    yield _camera(picture, "plumb", "look straight down", elevation=90.0)


def stand_level(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Without the roll."""
    roll = round(picture.setup.camera.roll - off_level_deg(picture.setup.camera.roll), 6)
    yield _camera(picture, "level", "take the roll out", roll=roll)


def look_level(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Level, at the height of its aim, or of a lens that clears the table."""
    x, y, z = picture.setup.camera.aim
    for height in dict.fromkeys((max(z, LENS_CLEARANCE_MM), max(z, LENS_CLEARANCE_MM) + 30)):
        yield _camera(picture, "look_level", "look level", elevation=0.0, aim=(x, y, height))


def longer_lens(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A longer lens, from so much further that the picture shows as much; the least longer first."""
    now = picture.setup.camera.lens.focal_length
    longer = sorted((n for n in stores.lenses if n.lens.focal_length > now), key=lambda n: n.lens.focal_length)
    for named in longer[:_MOST_LENSES]:
        act = UseLens(setup=picture.setup.name, lens=named.lens, called=named.name, keep="picture")
        yield Candidate("lens", (("lens", named.name),), f"take the {named.name} from further off", (act,))


def open_up(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The widest-set of the smaller f-numbers at which diffraction stays under its limit."""
    camera = picture.setup.camera
    allowed = camera.aperture * finding.limit / finding.measure
    able = [n for n in THIRD_STOPS if camera.lens.max_aperture <= n <= allowed]
    for n in able[:-3:-1]:
        yield _camera(picture, "aperture", f"open up to f/{n:g}", (("aperture", n),), aperture=n)


def expose_for_less(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """So short a time, the sensitivity raised as much."""
    exposure = picture.setup.exposed
    longest = dict(finding.figures)["longest_s"] * _SHADE
    if exposure is None or longest >= exposure.time_s:
        return
    shorter = replace(exposure, time_s=float(f"{longest:.3g}"), iso=float(f"{exposure.iso * exposure.time_s / longest:.3g}"))
    figures = (("time_s", shorter.time_s), ("iso", shorter.iso))
    act = SetExposure(setup=picture.setup.name, exposure=shorter)
    yield Candidate("expose", figures, f"expose {1000 * shorter.time_s:.3g} ms at ISO {shorter.iso:.0f}", (act,))


def expose_each_frame(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Half as long as each frame lasts (common practice, no source), by light that burns on; else as long as it lasts."""
    exposure = picture.setup.exposed
    if exposure is None:
        return
    lasts = dict(finding.figures)["longest_s"]
    for time_s in (lasts / 2, lasts * _SHADE):
        time_s = float(f"{min(time_s, exposure.time_s):.3g}")
        iso = float(f"{min(exposure.iso * exposure.time_s / time_s, MOST_ISO):.3g}")
        act = SetExposure(setup=picture.setup.name, exposure=replace(exposure, time_s=time_s, iso=iso, flash=False))
        lit = ", by light that burns on" if exposure.flash else ""
        yield Candidate("expose", (("time_s", time_s), ("iso", iso)), f"expose {1000 * time_s:.3g} ms at ISO {iso:.0f}{lit}", (act,))


def on_its_legs(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Held by what does not tremble."""
    exposure = picture.setup.exposed
    if exposure is not None:
        act = SetExposure(setup=picture.setup.name, exposure=replace(exposure, handheld=False))
        yield Candidate("legs", (), "put the camera on its legs", (act,))


def _camera(picture: Picture, kind: str, words: str, figures: tuple[tuple[str, object], ...] = (), **changes: object) -> Candidate:
    return Candidate(kind, figures, words, (SetCamera(setup=picture.setup.name, **changes),))  # type: ignore[arg-type]


MAKERS = {
    "hang plumb": hang_plumb,
    "stand level": stand_level,
    "look level": look_level,
    "a longer lens from further off": longer_lens,
    "open up": open_up,
    "expose for less": expose_for_less,
    "expose each frame": expose_each_frame,
    "put it on its legs": on_its_legs,
}
