"""What is trimmed off a deliverable, or has to stay clear at its edge, must not take the hero."""

from __future__ import annotations

from collections.abc import Iterator

from ..composition.relations import label
from ..delivered import hero_outline
from ..evaluate import Picture, share_within
from ..facts.practice import HERO_CUT
from .finding import Finding
from .kind import Kind, Rule

MARGIN_KIND = Kind(
    code="crop.margin", rank=32, severity="mend", unit="%",
    measure="% of the hero's outline that lies in the rim that is trimmed off or kept clear, and not past the crop itself", limit=HERO_CUT,
    gives="a wider crop, a smaller hero, or less of a rim would have to give", makers=("clear of the rim",),
)  # fmt: skip


def find(picture: Picture) -> Iterator[Finding]:
    """Deliverables with bleed or a safe margin."""
    for crop in picture.crops:
        if crop.safe_box == crop.box:
            continue
        for hero in picture.hero_ids():
            outline = hero_outline(picture, hero)
            if outline is None:
                continue
            lost = 100 * (share_within(outline, crop.box) - share_within(outline, crop.safe_box))
            if lost < HERO_CUT.value:
                continue
            trimmed = 100 * (share_within(outline, crop.box) - share_within(outline, crop.trim_box)) >= HERO_CUT.value
            words = (
                f"{lost:.1f} % of the hero {label(picture, hero)} lie in the rim that {crop.name} {'loses' if trimmed else 'keeps clear'}"
            )
            yield MARGIN_KIND.found(
                (hero,), round(lost, 2), HERO_CUT.value, words, crop=crop.name, sides=("trimmed" if trimmed else "clear",)
            )


RULES = (Rule(find, (MARGIN_KIND,)),)
