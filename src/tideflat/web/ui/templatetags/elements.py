"""Elements: the parts that pages and drawers are laid out with, a template each in ``ui/elements/``, drawn with Tailwind's utilities."""

from __future__ import annotations

from typing import Any

from django import template
from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe

register = template.Library()


@register.simple_block_tag
def element(content: str, name: str, **values: Any) -> SafeString:
    """The element ``name`` round what stands between the tags; each template says in its first line what it takes."""
    return mark_safe(get_template(f"ui/elements/{name}.html").render({**values, "content": content}))
