"""Base templates, elements, icons, styles and scripts. It knows no app: what belongs to one screen stands beside that screen's views."""
