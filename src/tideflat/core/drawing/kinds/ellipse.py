"""An oval thing: drawn as round ones are, but that no picture goes round its wall."""

from __future__ import annotations

from ...shapes.ellipse import Ellipse
from .drawing import Drawing
from .turned import turned

DRAWING = Drawing((Ellipse,), turned)
