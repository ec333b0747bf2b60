"""Open formats in and out: the scene document and what `tideflat evaluate` prints."""
