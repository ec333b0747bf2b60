"""The demo studio: people, full stores, and the three scenes."""

from __future__ import annotations

from django.db import transaction

from tideflat.web.accounts.models import Membership, Studio
from tideflat.web.accounts.services import add_person, make_studio
from tideflat.web.stores.services import fill_with_starters

from .services.history import begin_scene
from .starters import starter

STUDIO = "Low Water studio"
PASSWORD = "low-water-demo"  # noqa: S105 - the demo's own, printed at its start; for 127.0.0.1 only
PEOPLE = (("wren", Membership.OWNER, "Wren"), ("guest", Membership.VIEWER, "Guest"))


@transaction.atomic
def make_demo() -> Studio | None:
    """The demo studio, once; None when it is there already."""
    if Studio.objects.filter(name=STUDIO).exists():
        return None
    studio = make_studio(STUDIO)
    owner = None
    for name, role, first in PEOPLE:
        person = add_person(studio, name, PASSWORD, role, first)
        owner = owner or person
    fill_with_starters(studio)
    for kind in ("tea", "supper", "marmalade"):
        begin_scene(studio, starter(kind), owner, "demo scene laid out")
    return studio
