"""Tideflat: compose in the frame, measure on the table."""

__version__ = "0.1.0"
