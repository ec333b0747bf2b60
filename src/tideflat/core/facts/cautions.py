"""What must be said of a thing where it is planned. Common practice; local codes, the venue's rules and licensed practice come first."""

from __future__ import annotations

CAUTIONS: dict[str, str] = {
    "glass": "Glass: sharp edges if it breaks; keep it out of hard sun.",
    "flame": "Open flame: with permission only, extinguisher at hand, nothing flammable near, one person watching; local codes come first.",
    "not-food": "Do not eat: styled with what is no food; keep it apart from what is served.",
    "sharp": "Sharp: keep it away from the table's edge.",
    "allergen": "Allergens: tell everyone on set.",
}
