"""What light does on a table, in closed forms: where the sun stands. No renderer is asked here, and nothing is judged: that is findings/."""
