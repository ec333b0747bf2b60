"""Arrangements proposed: schemes in the frame, what moves as one, one energy, a search bounded by moves, and a choice among what it finds.

Order is judged where the eye judges, in the frame; things stand on the table. Nothing here changes a scene: what comes out are places.
"""
