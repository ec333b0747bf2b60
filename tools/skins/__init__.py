"""What the starter store's things wear, drawn in code from seeds; nobody's photographs. Evenly lit: the drawing lays the light over them.

Run ``python -m tools.skins``: writes the WebP files and manifest.json of src/tideflat/web/stores/skins, the demo's references, and the
photographs to try measuring with.
"""
