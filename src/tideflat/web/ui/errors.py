"""Pages for what is not there and what failed."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return render(
        request,
        "ui/error.html",
        {"title": "Not here", "text": "There is nothing at this address, or it belongs to another studio."},
        status=404,
    )


def failed(request: HttpRequest) -> HttpResponse:
    return render(
        request,
        "ui/error.html",
        {"title": "That failed", "text": "The fault is ours. What was saved before is safe; go back and try once more."},
        status=500,
    )


def refused(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    text = str(exception) if exception and str(exception) else "Your role here does not allow this."
    return render(request, "ui/error.html", {"title": "Not allowed", "text": text[:1].upper() + text[1:] + "."}, status=403)


def token_missing(request: HttpRequest, reason: str = "") -> HttpResponse:
    text = "The page was open too long or cookies are off. Reload it and try once more; nothing was changed."
    return render(request, "ui/error.html", {"title": "Not taken", "text": text}, status=403)
