"""Where the camera could be, and with what: the chart of lenses, the fit to a group, and why a wish cannot be met."""
