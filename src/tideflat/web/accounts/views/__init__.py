"""Signing in, people, preferences: requests and answers only; what they change is in services, who may in access."""
