"""Plane geometry: clipping, distances and overlaps of outlines. It knows arrays and outlines only, no props and no cameras."""
