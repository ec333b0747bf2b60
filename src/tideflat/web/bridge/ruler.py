"""The ruler along two edges of the drawn table."""

from __future__ import annotations

from typing import Any

from tideflat.core.model import Surface


def table_text_size(surface: Surface) -> float:
    """Height of the ruler's figures in mm on the table, so that they are 12.5 px high on a bench of usual size (520 x 290 px)."""
    return round(max(surface.width / 520, surface.depth / 285) * 1.13 * 12.5, 1)


def ruler(surface: Surface, unit: str) -> dict[str, list[dict[str, Any]]]:
    """Marks along the front and left edges: every 10 or 20 cm, or every 4 or 8 inches."""
    step = (101.6 if unit == "in" else 100.0) * (2 if surface.width > 1000 else 1)
    text = table_text_size(surface)

    def label(mm: float) -> str:
        return {"mm": f"{mm:g}", "cm": f"{mm / 10:g}", "in": f"{mm / 25.4:.0f}"}[unit]

    across = [
        {"at": k * step, "text": surface.depth + 1.5 * text, "end": surface.depth + 0.45 * text, "label": label(k * step)}
        for k in range(int(surface.width // step) + 1)
    ]
    up = [
        {"at": surface.depth - k * step, "text": surface.depth - k * step + 0.36 * text, "end": -0.45 * text, "label": label(k * step)}
        for k in range(1, int(surface.depth // step) + 1)
    ]
    return {"x": across, "y": up}
