"""Plane geometry: clipping, distances and overlaps of outlines."""
