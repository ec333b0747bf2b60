"""Judgement: every finding has a code, a measure against a limit, whom it concerns, and a remedy or the reason for none.

One module a family; `registry` runs them all; `remedies` searches the change that clears one.
"""
