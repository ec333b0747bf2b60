"""How things are drawn, in both views, from one set of outlines in space.

Every drawn path is a `Piece`: points and circles in mm on the table, so that the same piece can be seen from above or through
the lens, by the core or by a browser that was sent the projection matrix.
"""
