"""Long lists to choose from, as markup: a template's loop over thirty things costs a millisecond of every answer."""

from __future__ import annotations

from collections.abc import Iterable

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe


def options(choices: Iterable[tuple[str, str]], chosen: str | None) -> SafeString:
    """``<option>`` for each (value, words), the chosen one selected."""
    return mark_safe(
        "".join(
            f'<option value="{escape(value)}"{" selected" if value == chosen else ""}>{escape(words)}</option>' for value, words in choices
        )
    )
