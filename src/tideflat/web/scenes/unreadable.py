"""A scene that cannot be read is shown as such, wherever it was asked for, and takes nothing else down with it."""

from __future__ import annotations

import logging
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from tideflat.core.errors import FieldError
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.errors import told

from .services.history import UnreadableScene
from .steps import names_around

log = logging.getLogger("tideflat.scenes")


class UnreadableSceneMiddleware:
    """Answers for any view that meets an unreadable scene: a page with its fault and what can be done, or one line over the bench."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        if isinstance(exception, FieldError):  # a row of the stores that the core does not take
            log.warning("%s: %s", request.path, exception)
            return told(request, "Cannot be shown", f"Something kept here cannot be read. {error_words(exception)}", 422)
        if not isinstance(exception, UnreadableScene):
            return None
        log.warning("%s", exception)
        row = exception.row
        if request.headers.get("HX-Request"):
            text = f"{row.title} cannot be shown: {exception.fault}. Undo the last step, or take the scene away as a document; nothing is lost."
            return told(request, "Cannot be shown", text, 422)
        undo_name, _ = names_around(row, "mm")
        return render(request, "scenes/unreadable.html", {"row": row, "fault": exception.fault, "undo_name": undo_name}, status=422)
