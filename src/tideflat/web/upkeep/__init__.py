"""Keeping the database: backup, restore, check, versions, and the lock that says who is using it."""
