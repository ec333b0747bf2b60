"""Elements, icons, styles and scripts; knows no app."""
