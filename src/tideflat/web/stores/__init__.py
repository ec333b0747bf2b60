"""What a studio owns: props, surfaces, backdrops, bodies, lenses, supports, images; how they are searched, measured and brought in as
tables.

Scenes keep their own copies of what stands in them, so nothing here knows a scene but by its reservations.
"""
