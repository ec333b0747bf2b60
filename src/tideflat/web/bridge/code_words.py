"""A finding in a few words, by its code: what happens when something drifts too far."""

from __future__ import annotations

CODE_WORDS: dict[str, str] = {
    "hero.cut": "the hero is cut", "hero.small": "the hero gets small", "spacing.overlap": "things stand in each other",
    "spacing.tight": "it crowds a neighbour", "tangent.pair": "two outlines just touch", "tangent.edge": "it kisses an edge",
    "edge.sliver": "a sliver at an edge", "focus.hero": "the hero goes soft", "copy.occupied": "it is in the room for words",
    "copy.illegible": "words get hard to read", "support.floating": "it loses what bears it", "support.leaning": "it would tip",
    "feature.hidden": "what must be seen is hidden", "feature.turned": "what must be seen looks away",
    "feature.small": "what must be seen gets small", "feature.soft": "what must be seen goes soft", "colour.merge": "it melts into what is behind",
    "order.crooked": "it is crooked", "order.off_centre": "it is off the middle", "order.margins": "margins get uneven",
    "hero.hidden": "something stands before the hero",
}  # fmt: skip
