"""Remedies: changes that clear a finding, searched, proven, and told as lists of acts.

Makers propose candidates, each by its name, which a kind of finding declares; `search` proves one or drops them all.
"""
