"""Measures in the person's unit, and icons."""

from __future__ import annotations

from typing import Any

from django import template
from django.templatetags.static import static
from django.utils.html import format_html
from django.utils.safestring import SafeString

from tideflat.core.remember import counted
from tideflat.core.units import format_length

register = template.Library()


@register.filter
def measure(value_mm: float, unit: str) -> str:
    """mm as text with its unit."""
    return format_length(float(value_mm), unit or "mm")


@register.filter
def plain(value: Any) -> str:
    """A number without useless noughts."""
    return f"{float(value):.6g}"


@register.filter
def negated(value: Any) -> str:
    """The same the other way: what is drawn has its y downward."""
    return f"{-float(value):.6g}"


@register.filter
def percent(share: Any) -> str:
    """A share as per cent, to a tenth."""
    return f"{float(share) * 100:.3g}"


@register.filter
def typed(value_mm: float, unit: str) -> str:
    """mm as a person would type it into a field, precise to a tenth of a millimetre."""
    value = float(value_mm)
    if unit == "cm":
        return f"{value / 10:.2f}".rstrip("0").rstrip(".")
    if unit == "in":
        return f"{value / 25.4:.3f}".rstrip("0").rstrip(".")
    return f"{value:.1f}".rstrip("0").rstrip(".")


@register.simple_tag
@counted(128)
def icon(name: str) -> SafeString:
    """A Lucide icon from the sprite; always beside a word or with a label on its button."""
    return format_html('<svg class="icon" aria-hidden="true"><use href="{}#{}"></use></svg>', static("tideflat/icons.svg"), name)
