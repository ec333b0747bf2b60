"""Facts with their value, unit and source; calculating modules hold no bare tables. Limits of the trade without a published source say so."""
