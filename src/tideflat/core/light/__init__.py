"""What light does on a table, in closed forms: no renderer is asked here."""
