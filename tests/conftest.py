"""Shared set-up of the tests."""
