"""People, studios, roles, preferences, and the slowing of guesses. It knows nothing of scenes and stores; they ask it who may."""
