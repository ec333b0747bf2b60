"""Shapes posed on the table: turned, leaned, lifted; and their meshes for rays and level sections. What a shape is at rest is in shapes,
how it is seen in camera.
"""
