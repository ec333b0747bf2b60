"""The app of long work."""

from __future__ import annotations

from django.apps import AppConfig


class WorkConfig(AppConfig):
    name = "tideflat.web.work"
    label = "work"
    default_auto_field = "django.db.models.BigAutoField"
