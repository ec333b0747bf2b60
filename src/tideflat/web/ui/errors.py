"""Pages for what is not there and what failed."""

from __future__ import annotations

import sys

from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent, TooManyFilesSent
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django_htmx.http import reswap


def told(request: HttpRequest, title: str, text: str, status: int) -> HttpResponse:
    """One honest sentence, as a page or, where htmx asked, as the line over what is on the page, which stays as it is.

    Reads nothing of the person and nothing of the database, so that it can be said when that is what failed.
    """
    if request.headers.get("HX-Request"):
        response = reswap(HttpResponse(render_to_string("ui/fragments/notice.html", {"text": text, "swap": True}), status=status), "none")
    else:
        response = HttpResponse(render_to_string("ui/error.html", {"title": title, "text": text}), status=status)
    # It may be said so far out that the middleware of policies is not asked any more.
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'self'; font-src 'self'; img-src 'self'; frame-ancestors 'none'"
    response["X-Content-Type-Options"] = "nosniff"
    return response


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return render(
        request,
        "ui/error.html",
        {"title": "Not here", "text": "There is nothing at this address, or it belongs to another studio."},
        status=404,
    )


def failed(request: HttpRequest) -> HttpResponse:
    """Also asked by Django when a middleware fails, such as a session that the full disk does not take."""
    from tideflat.web.serving.bad_times import answer

    fault = sys.exc_info()[1]
    known = answer(request, fault) if isinstance(fault, Exception) else None
    return known or told(request, "That failed", "The fault is ours. What was saved before is safe; go back and try once more.", 500)


def misread(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """A request that Django itself refused to read."""
    if isinstance(exception, RequestDataTooBig):
        return told(request, "Too much at once", "That is more text than is taken at once. Send less; nothing was changed.", 413)
    if isinstance(exception, TooManyFieldsSent | TooManyFilesSent):
        return told(
            request, "Too much at once", "Those are too many things at once. Choose fewer and send them in turns; nothing was changed.", 400
        )
    return told(request, "Not understood", "That could not be read. Go back and try once more; nothing was changed.", 400)


def refused(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    text = str(exception) if exception and str(exception) else "Your role here does not allow this."
    return render(request, "ui/error.html", {"title": "Not allowed", "text": text[:1].upper() + text[1:] + "."}, status=403)


def token_missing(request: HttpRequest, reason: str = "") -> HttpResponse:
    text = "The page was open too long or cookies are off. Reload it and try once more; nothing was changed."
    return told(request, "Not taken", text, 403)
