"""Settings: base, and demo, production and test on top of it."""
