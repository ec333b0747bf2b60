"""Facts with their value, unit and source; calculating modules hold no bare tables."""
