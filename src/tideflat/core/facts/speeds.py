"""How fast what is photographed in motion moves. Common practice, no source, but for what falls, which is worked out."""

from __future__ import annotations

from .optics import Fact

_PRACTICE = "common practice, no source"
#: By name: mm/s.
SPEEDS: dict[str, Fact] = {
    "hands": Fact(400, "mm/s", _PRACTICE),
    "clink": Fact(900, "mm/s", _PRACTICE),
    "powder": Fact(1800, "mm/s", _PRACTICE),
    "splash": Fact(3500, "mm/s", _PRACTICE),
}
