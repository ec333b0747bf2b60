"""The computation of Tideflat: no Django, no interface; importable and tested alone.

Lengths are millimetres and angles degrees at every public boundary; the axes and the words are those of
docs/glossary.md. "No answer" is ``None``; bad input raises an error from :mod:`tideflat.core.errors`.
"""
