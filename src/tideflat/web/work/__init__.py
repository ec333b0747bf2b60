"""Work that takes seconds: a job with what it was asked, its progress, whether it is to stop, and what came of it, all in the database, so
that any process of the server may be asked. What is worked on is none of its affair.
"""
