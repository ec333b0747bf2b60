"""What every page may show of the person."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest


def person(request: HttpRequest) -> dict[str, Any]:
    """``membership`` and ``preference`` of the request, for the page's head."""
    return {"membership": getattr(request, "membership", None), "preference": getattr(request, "preference", None)}
