"""Scenes: the shelf and the bench."""
