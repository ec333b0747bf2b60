"""A proof: the scene as any renderer would take it (meshes, finishes, lit faces, camera), then as Mitsuba takes it; pictures of it, masks,
and
how they are exposed. Mitsuba is loaded only where something is rendered.
"""
