"""Tideflat in the browser: Django over the core, never the other way."""
