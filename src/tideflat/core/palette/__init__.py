"""Colours as the frame sees them: how much of each, what each thing lies against, and palettes made from pictures or the subject."""
