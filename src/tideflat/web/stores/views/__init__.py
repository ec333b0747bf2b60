"""The pages of the stores, a module a screen or a job. A view reads what was asked, calls one service or query, and answers; it works
nothing out and writes no rows itself.
"""
