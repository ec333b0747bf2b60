"""Reading true sizes and colours out of a photograph in which a sheet of paper lies beside the thing."""
