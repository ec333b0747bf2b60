"""The demo studio: people, full stores, and a scene of each story."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from importlib.resources import files

from django.db import transaction
from django.utils import timezone

from tideflat.core.formats.photograph import read_photograph
from tideflat.web.accounts.models import Membership, Studio
from tideflat.web.accounts.services import add_person, make_studio
from tideflat.web.stores.models import StoreProp
from tideflat.web.stores.queries import record_of
from tideflat.web.stores.services import fill_with_starters, keep_prop

from .demo_frames import framed
from .demo_versions import keep_demo_versions
from .services.history import begin_scene
from .services.references import add_references, prepared
from .services.reservations import reserve_table, set_day
from .starters import starter

STUDIO = "Low Water studio"
PASSWORD = "low-water-demo"  # noqa: S105 - the demo's own, printed at its start; for 127.0.0.1 only
PEOPLE = (("wren", Membership.OWNER, "Wren"), ("guest", Membership.VIEWER, "Guest"))

#: Reference pictures of the demo scenes, and what each is for.
REFERENCES = {
    "supper": (("harbour-dusk", "the late light, the depth of the shadows"),),
    "marmalade": (("morning-sill", "blue-grey against orange"),),
}


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
    today = timezone.localdate()
    lent = StoreProp.objects.get(studio=studio, key="preserving-pan")
    keep_prop(studio, replace(record_of(lent), lender="the copper cupboard", return_on=today + timedelta(days=6)), lent.pk)
    for kind, days in (("fig", 12), ("tea", 9), ("supper", 3), ("marmalade", 3)):
        row = begin_scene(studio, framed(kind, starter(kind)), owner, "demo scene laid out")
        set_day(studio, row.pk, today + timedelta(days=days))
        reserve_table(studio, row.pk)
        for name, note in REFERENCES.get(kind, ()):
            add_references(studio, row.pk, [prepared(read_photograph(shipped_reference(name)))], note)
        if kind == "marmalade" and owner is not None:
            keep_demo_versions(row, owner)
    return studio


def shipped_reference(name: str) -> bytes:
    """A picture drawn for the demo by tools/skins."""
    return files("tideflat.web.stores").joinpath("references", f"{name}.webp").read_bytes()
