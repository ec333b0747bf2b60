"""Open formats in and out: the scene document."""
