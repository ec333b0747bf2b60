"""Tideflat in the browser: Django over the core, never the other way. Who may do what, in which words, and what is kept; geometry, optics
and judgement belong to the core.
"""
