"""Open formats in and out: the scene document, photographs, tables of props, palettes. Readers refuse with the exact path; writers write
every key in one order. What the values mean is the model's business.
"""
