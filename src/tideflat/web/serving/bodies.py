"""Requests whose body is too large: refused in our own words before anything is read into memory."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from tideflat.web.ui.errors import told

#: A photograph has at most 25 MiB; the rest is the form round it.
MOST_BYTES = 26_500_000
#: A body up to this is taken off the wire and thrown away, so that the client hears the answer; a longer one is cut off.
MOST_DRAINED = 400_000_000
_CHUNK = 1 << 16


class BodyLimitMiddleware:
    """413 with a page of ours for a body over MOST_BYTES, by its announced length; 411 for one that does not announce it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if "chunked" in request.META.get("HTTP_TRANSFER_ENCODING", "").lower():
            return told(request, "Not taken", "What is sent must say its length first. Send it once more from a browser.", 411)
        length = _length(request.META.get("CONTENT_LENGTH") or "0")
        if length is None:
            return told(request, "Not understood", "The length of what was sent is no number. Send it once more.", 400)
        if length > MOST_BYTES:
            _drain(request, length)
            text = f"At most {MOST_BYTES / 1e6:.0f} MB can be sent at once. Make it smaller, or send it in turns; nothing was changed."
            return told(request, "Too large", text, 413)
        return self.get_response(request)


def _length(text: str) -> int | None:
    return int(text) if text.isascii() and text.isdigit() and len(text) < 18 else None


def _drain(request: HttpRequest, length: int) -> None:
    stream = request.META["wsgi.input"]
    left = min(length, MOST_DRAINED)
    try:
        while left > 0:
            read = len(stream.read(min(_CHUNK, left)))
            if not read:
                return
            left -= read
    except OSError:
        return  # the client is gone; there is nobody to tell
