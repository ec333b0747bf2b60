"""A database for ``tools.load``: people, their scenes and their sessions; prints the seats as JSON. Runs in a process of its own."""

from __future__ import annotations

import json
import os
import sys


def main() -> None:
    os.environ["DJANGO_SETTINGS_MODULE"] = "tideflat.web.settings.demo"
    import django
    from django.core.management import call_command

    os.makedirs(os.environ["TIDEFLAT_VAR"], exist_ok=True)
    django.setup()
    call_command("migrate", verbosity=0, interactive=False)
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
    from django.contrib.auth.models import User
    from django.contrib.sessions.backends.db import SessionStore

    from tests.support.scenes import crowded_value
    from tideflat.core.formats.scene_reader import scene_from_value
    from tideflat.web.accounts.models import Membership
    from tideflat.web.accounts.services import make_studio
    from tideflat.web.scenes.services.history import begin_scene
    from tideflat.web.stores.services import fill_with_starters
    from tools.bench import spread

    studio = make_studio("Load quay")
    fill_with_starters(studio)

    def session(name: str, role: str) -> str:
        person = User.objects.create(username=name, first_name=name, password="!")
        Membership.objects.create(studio=studio, person=person, role=role)
        kept = SessionStore()
        kept[SESSION_KEY], kept[BACKEND_SESSION_KEY] = str(person.pk), "django.contrib.auth.backends.ModelBackend"
        kept[HASH_SESSION_KEY] = person.get_session_auth_hash()
        kept.create()
        return str(kept.session_key)

    seats = []
    for k in range(int(sys.argv[1])):
        value = spread(crowded_value(15 + k * 15 // max(1, int(sys.argv[1]) - 1), elevation=30 + k, distance=1400))
        for p in value["placements"]:
            p["x"] += 3.1 * k  # no two tables alike, so that nothing computed for one serves another
        row = begin_scene(studio, scene_from_value(value), None, "laid out")
        things = [{"id": p["id"], "x": p["x"], "y": p["y"]} for p in value["placements"] if p.get("on") is None]
        seats.append(
            {
                "cookie": session(f"person{k}", Membership.STYLIST),
                "watching": session(f"window{k}", Membership.VIEWER),
                "scene": row.pk,
                "things": things,
                "setup": value["setups"][0]["name"],
                "revision": row.revision,
                "seen": row.revision,
            }
        )
    print(json.dumps(seats))


if __name__ == "__main__":
    main()
