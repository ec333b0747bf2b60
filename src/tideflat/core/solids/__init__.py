"""Props as solids: the shapes of the scene document, posed on the table."""
