"""Tideflat: compose in the frame, measure on the table. The computation is in core, which knows no Django; what people see is in web."""

__version__ = "0.1.0"
