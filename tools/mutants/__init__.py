"""Mutation testing: small faults are put into the core, one at a time, and the tests that cover the place must notice.

Cosmic Ray's operators make the faults; a seeded sample of places is tried, with the tests that coverage says pass through each. `make mutants`.
Nothing of the program belongs here, and no judgement of what a survivor means: that is for whoever reads the list.
"""
