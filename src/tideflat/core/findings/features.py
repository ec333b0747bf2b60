"""What must be seen is a promise, checked in every set-up and crop: not hidden, not turned away, large and sharp enough."""

from __future__ import annotations

from collections.abc import Iterator

from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import FEATURE_PIXELS, FEATURE_SEEN, FEATURE_TURNED
from ..features.seen import FeatureInFrame, FeatureSeen, in_frame, seen_within
from ..model import Feature
from ..patches import asked_for
from .finding import Finding, Mark, Segment
from .kind import Kind, Rule

HIDDEN = Kind(
    code="feature.hidden", rank=42, severity="mend", unit="%", measure="% of what must be seen that is seen in a crop", limit=FEATURE_SEEN,
    gives="what stands before it, or the crop, would have to give", makers=("show the feature",),
)  # fmt: skip
TURNED = Kind(
    code="feature.turned", rank=43, severity="mend", unit="degrees", measure="degrees between the way it faces and the way to the lens",
    limit=FEATURE_TURNED, gives="the thing, or the camera, would have to be turned further than is tried", makers=("turn it to the lens",),
)  # fmt: skip
SMALL = Kind(
    code="feature.small", rank=44, severity="mend", unit="px", measure="delivered pixels that it is high", limit=FEATURE_PIXELS,
    gives="a tighter crop, or a longer lens, would have to give", makers=("come to the feature",),
)  # fmt: skip
SOFT = Kind(
    code="feature.soft", rank=45, severity="mend", unit="times", measure="its worst blur, of defocus and diffraction, over what passes in the crop",
    limit=Fact(1, "times", "optics"), leaning="focus", gives="another focus or stop, or a stack of frames, would have to give",
    makers=("focus on the feature",),
)  # fmt: skip


def find(picture: Picture) -> Iterator[Finding]:
    """One finding for each fault of each feature that is asked for; what faces away is not also called hidden, small or soft."""
    for item, feature in asked_for(picture):
        shown = in_frame(picture, item.placement, feature)
        if shown is None:
            continue
        mark = _outlined(shown)
        for crop, window in picture.windows:
            seen = seen_within(picture, shown, window, delivered_across(picture, crop))
            yield from _faults(picture, item.placement, feature, crop, seen, mark)


def delivered_across(picture: Picture, crop: str | None) -> float:
    """Delivered pixels that the whole frame would be wide at the size of a crop."""
    own = next((c for c in picture.crops if c.name == crop), None)
    pixels = picture.setup.camera.frame_pixels[0]
    return float(pixels) if own is None else pixels * own.enlargement


def _outlined(shown: FeatureInFrame) -> Mark:
    """The place's own outline, in the frame and as seen from above."""
    level = tuple((float(x), float(y)) for x, y, _ in shown.patch.corners)
    return Mark(_ring(shown.outline or ()), _ring(level))


def _ring(corners: tuple[tuple[float, float], ...]) -> tuple[Segment, ...]:
    return tuple(zip(corners, corners[1:] + corners[:1], strict=True))


def _faults(picture: Picture, i: str, feature: Feature, crop: str | None, seen: FeatureSeen, mark: Mark) -> Iterator[Finding]:
    name, where = f"{feature.name} of the {label(picture, i)}", "the frame" if crop is None else crop
    shared = {"crop": crop, "sides": (feature.name,), "figures": (("feature", feature.id), ("by", seen.hidden_by)), "mark": mark}
    if seen.angle_deg > FEATURE_TURNED.value:
        away = "faces away" if seen.angle_deg >= 90 else f"is turned {seen.angle_deg:.0f} degrees from the lens"
        yield TURNED.found((i,), round(seen.angle_deg, 1), FEATURE_TURNED.value, f"the {name} {away}", **shared)  # type: ignore[arg-type]
        return
    if seen.seen * 100 < FEATURE_SEEN.value:
        by = f", behind the {label(picture, seen.hidden_by)}" if seen.hidden_by else ""
        words = f"{seen.seen * 100:.0f} % of the {name} is seen in {where}{by}"
        yield HIDDEN.found((i,), round(seen.seen * 100, 1), FEATURE_SEEN.value, words, **shared)  # type: ignore[arg-type]
    if seen.seen > 0 and seen.pixels_high < FEATURE_PIXELS.value:
        words = f"the {name} is {seen.pixels_high:.0f} px high in {where}; from {FEATURE_PIXELS.value:g} it can be read"
        yield SMALL.found((i,), round(seen.pixels_high, 1), FEATURE_PIXELS.value, words, **shared)  # type: ignore[arg-type]
    if seen.seen > 0 and seen.blur > 1 + BLUR_SLACK:
        words = f"the {name} is {seen.blur:.1f} times as blurred as passes in {where}"
        yield SOFT.found((i,), round(seen.blur, 2), 1, words, **shared)  # type: ignore[arg-type]


#: A blur so little over what passes is rounding of the focus to a tenth of a millimetre.
BLUR_SLACK = 0.01

RULES = (Rule(find, (HIDDEN, TURNED, SMALL, SOFT), cost=1),)
