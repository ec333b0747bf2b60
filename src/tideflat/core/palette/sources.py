"""Palettes out of pictures and out of the subject, and what a reference picture is like."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..colour.clusters import colours_with_shares
from ..colour.delta_e_2000 import difference
from ..colour.spaces import hex_from_rgb, lab_from_rgb, oklch_from_rgb, oklch_of, rgb_from_oklch
from ..facts.practice import ONE_COLOUR, PALETTE_SHARES
from ..model import Colour, Palette, PaletteColour
from ..tolerances import LEAST_VIVID


@dataclass(frozen=True, slots=True)
class ImageFacts:
    """colours: (hex, share). key: median L*. contrast: L* from the 5th to the 95th per cent. warm: -1 all cool .. +1 all warm, hues
    weighed by chroma."""

    colours: tuple[tuple[str, float], ...]
    key: float
    contrast: float
    warm: float

    @property
    def key_words(self) -> str:
        """Bounds are common practice, no source."""
        return "low key, mostly dark" if self.key < 35 else "high key, mostly light" if self.key > 68 else "middle key"

    @property
    def contrast_words(self) -> str:
        return "soft" if self.contrast < 40 else "hard" if self.contrast > 75 else "moderate"

    @property
    def warm_words(self) -> str:
        return "warm" if self.warm > 0.25 else "cool" if self.warm < -0.25 else "balanced between warm and cool"


def facts_of(rgb: np.ndarray) -> ImageFacts:
    """Of a picture (h, w, 3) sRGB uint8."""
    step = max(1, int(np.sqrt(rgb.shape[0] * rgb.shape[1] / 40_000)))
    pixels = rgb[::step, ::step].reshape(-1, 3)
    lightness = lab_from_rgb(pixels / 255)[:, 0]
    low, middle, high = np.percentile(lightness, [5, 50, 95])
    lch = oklch_from_rgb(pixels / 255)
    # Warm and cool lie either side of the line through yellow-green (130) and purple (310): warmest at 40 degrees (practice, no source).
    side = np.cos(np.radians(lch[:, 2] - 40))
    weight = lch[:, 1].sum()
    return ImageFacts(
        tuple(colours_with_shares(pixels, most=6, least_share=0.02)),
        float(middle),
        float(high - low),
        float((side * lch[:, 1]).sum() / weight) if weight > LEAST_VIVID * len(lch) else 0.0,
    )


def in_common(pictures: Sequence[Sequence[tuple[str, float]]]) -> tuple[tuple[str, float], ...]:
    """Colours of several pictures together, (hex, share): near ones joined under the larger, with their mean shares, the largest first."""
    joined: dict[str, float] = {}
    for colour, share in sorted((c for picture in pictures for c in picture), key=lambda c: -c[1]):
        same = next((h for h in joined if difference(h, colour) < ONE_COLOUR.value), colour)
        joined[same] = joined.get(same, 0.0) + share
    return tuple(sorted(((h, s / len(pictures)) for h, s in joined.items()), key=lambda c: -c[1]))


def palette_from_shares(colours: tuple[tuple[str, float], ...]) -> Palette:
    """The largest is the base, the next the second; of the rest, the most colourful are accents."""
    if not colours:
        return Palette(())
    ordered = sorted(colours, key=lambda c: -c[1])
    base, rest = ordered[0], ordered[1:]
    found = [PaletteColour(base[0], "base", PALETTE_SHARES["base"])]
    if rest:
        found.append(PaletteColour(rest[0][0], "second", PALETTE_SHARES["second"]))
        accents = sorted(rest[1:], key=lambda c: -oklch_of(c[0])[1])[:2]
        found += [PaletteColour(h, "accent", round(PALETTE_SHARES["accent"] / len(accents), 3)) for h, _ in accents]
    return Palette(tuple(found))


def palette_from_subject(colours: tuple[Colour, ...], leaning: float = 0.0) -> Palette:
    """From the hero's own colours: it is the accent; the base is quiet, so that it stands clear of it in lightness; the second is near the
    base's hue. ``leaning`` palette: -1 muted and tonal, +1 with a pop opposite the subject's hue."""
    main = max(colours, key=lambda c: oklch_of(c.hex)[1] * (0.3 + c.share))
    lightness, chroma, hue = oklch_of(main.hex)
    ground = 0.42 if lightness > 0.6 else 0.86 if lightness < 0.4 else (0.36 if chroma > 0.09 else 0.84)
    other = (hue + 180) % 360
    base = (ground, min(0.02, chroma * 0.2), hue if leaning < 0 else other)
    second = (0.5 * ground + 0.5 * (1 - ground) + 0.12, min(0.05, chroma * 0.45), hue)
    found = [
        PaletteColour(_shown(base), "base", PALETTE_SHARES["base"]),
        PaletteColour(_shown(second), "second", PALETTE_SHARES["second"]),
        PaletteColour(main.hex, "accent", PALETTE_SHARES["accent"] if leaning <= 0 else 0.06),
    ]
    if leaning > 0:
        found.append(PaletteColour(_shown((0.55, max(0.09, chroma * 0.8), other)), "accent", 0.04))
    return Palette(tuple(found))


def _shown(lch: tuple[float, float, float]) -> str:
    return hex_from_rgb(rgb_from_oklch(np.array([lch])))[0]
