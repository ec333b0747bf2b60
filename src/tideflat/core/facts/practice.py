"""Limits of the trade that findings judge by. None has a published source: common practice, no source."""

from __future__ import annotations

from .optics import Fact

_PRACTICE = "common practice, no source"

#: Two large things with less clear table between them than this look pushed together.
GAP_TIGHT = Fact(8, "mm", _PRACTICE)
GAP_TIGHT_AIRY = Fact(15, "mm", _PRACTICE + "; when spacing leans to airy")
#: Two outlines, or an outline and an edge, nearer in the frame than this read as just touching.
TANGENT = Fact(0.8, "% of the frame's long side", _PRACTICE)
#: A thing of which less than this is seen at an edge peeks in like a mistake.
SLIVER = Fact(15, "% of the thing's outline", _PRACTICE)
#: A hero smaller than this in the frame is not the subject of the picture.
HERO_SHARE = Fact(2.5, "% of the frame", _PRACTICE)
#: Room for clamp and arm above the camera body.
CEILING_CLEARANCE = Fact(60, "mm", _PRACTICE)
#: Words stay legible when no more than this of their area is occupied.
COPY_OCCUPIED = Fact(2, "% of the copy space", _PRACTICE)
