"""People, studios, roles."""
