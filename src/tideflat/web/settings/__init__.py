"""Settings: base, and demo, production and test on top of it. Secrets and addresses come from the environment; nothing else is decided here."""
