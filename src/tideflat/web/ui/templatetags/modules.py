"""The script modules of a page, asked for at once instead of one import after the other."""

from __future__ import annotations

from pathlib import Path

from django import template
from django.templatetags.static import static
from django.utils.html import format_html_join
from django.utils.safestring import SafeString

register = template.Library()
_FOLDER = Path(__file__).parents[1] / "static" / "tideflat"


@register.simple_tag
def module_preloads(folder: str) -> SafeString:
    """A preload link for every module in ``static/tideflat/<folder>``."""
    names = sorted(path.name for path in _FOLDER.joinpath(*folder.split("/")).glob("*.js"))
    return format_html_join("\n", '<link rel="modulepreload" href="{}">', ((static(f"tideflat/{folder}/{name}"),) for name in names))
