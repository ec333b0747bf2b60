"""Forms for findings: meant, or judged again. A remedy is no form: it comes sealed (services/judgement.py)."""

from __future__ import annotations

from tideflat.web.stores.images import SkinBook

from ..services.judgement import find
from .asked import Asked, Form, Value


def mean(asked: Asked) -> Value:
    """The finding under ``key``, which has to be there now, kept with its reason."""
    _, finding = find(asked.scene, asked.setup.name, asked.fields.text("key", 2000), SkinBook(asked.studio.pk))
    fields = asked.fields
    more = {"retouch": fields.number("minutes")} if fields.has("minutes") else {}
    return asked.of_setup("mean", code=finding.code, placements=list(finding.placements), reason=fields.text("reason", 300), **more)


def reconsider(asked: Asked) -> Value:
    """What is meant under ``key`` is judged again."""
    code, _, *ids = asked.fields.text("key", 2000).split("|") + [""]
    return asked.of_setup("reconsider", code=code, placements=[i for i in ids if i])


FORMS: dict[str, Form] = {"accept": mean, "reconsider": reconsider}
