"""Another studio's things are not there: every address is walked, for strangers, other studios and viewers."""

from __future__ import annotations

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver
from django.utils import timezone

from tideflat.core.formats.photograph import Photograph
from tideflat.web.accounts.models import Former, Invitation, Membership, Studio
from tideflat.web.scenes.models import Scene, Version
from tideflat.web.scenes.services.references import add_references, prepared
from tideflat.web.scenes.views.changes import VERBS
from tideflat.web.stores.images import keep_picture
from tideflat.web.stores.kit_forms import KINDS
from tideflat.web.stores.models import CameraBody, StoreBackdrop, StoreLens, StoreProp, StoreSurface
from tideflat.web.work.models import Work

#: A link that an owner handed over stands for itself.
OPEN = {"sign_in", "sign_out", "set_password"}
PERSONAL = {"shelf", "people", "new_scene", "import_scene", "password_change", "preferences"}
#: Everyone's own stores are at the same addresses.
PERSONAL |= {"stores", "fill_stores", "change_many", "new_prop", "export_table", "import_table", "kit", "new_kit_item"}
PERSONAL |= {"put_away_several", "measure", "keep_measured", "keep_several", "printable_sheet", "example_photograph"}
#: An owner withdraws an invitation: of another studio there is none to withdraw, and nothing is said of it.
OWNERS = {"withdraw_invitation"}
#: What a viewer may not do: verbs of scenes, and whatever changes the stores.
CHANGING = {"change", "undo", "redo", "put_away_scene", "bring_back_scene", "new_scene", "import_scene"}
CHANGING |= {"fill_stores", "change_many", "new_prop", "prop_page", "remove_prop", "import_table", "measure", "keep_measured", "keep_several"}
CHANGING |= {"send_reference", "one_reference", "shoot_day", "reserve", "usual_leanings", "what_if"}
CHANGING |= {"look_for_one_frame", "keep_version", "judge_version", "work_out_drift", "propose", "stop_proposing", "begin_proof", "stop_proof", "copy_scene", "copy_things", "put_away_several", "new_kit_item", "kit_item", "remove_kit_item", "measure_lens"}


def patterns(resolver=None, prefix=""):
    for entry in (resolver or get_resolver()).url_patterns:
        if isinstance(entry, URLResolver):
            yield from patterns(entry, prefix + str(entry.pattern))
        elif isinstance(entry, URLPattern):
            yield entry.name, "/" + prefix + str(entry.pattern)


def addresses(row: Scene, studio: Studio):
    """Every address of the program with this studio's own things filled in."""
    fill = {
        "<int:scene_id>": row.pk,
        "<int:studio_id>": studio.pk,
        "<int:member_id>": studio.memberships.first().pk,
        "<int:former_id>": Former.objects.get_or_create(studio=studio, person=User.objects.create(username=f"former{row.pk}"), role="viewer")[0].pk,
        "<int:invitation_id>": Invitation.objects.get_or_create(studio=studio, person=User.objects.get(username=f"former{row.pk}"), role="viewer")[0].pk,
        "<slug:uidb64>": "MQ",
        "<slug:token>": "a-b",
        "<int:prop_id>": StoreProp.objects.filter(studio=studio).first().pk,
        "<slug:key>": keep_picture(studio, np.full((9, 9, 3), 90, np.uint8), 64).key,
        "<slug:name>": "jar",
        "sheet-<slug:kind>": "sheet-a4",
        "<int:reference_id>": add_references(studio, row.pk, [prepared(Photograph(np.full((9, 9, 3), 90, np.uint8)))])[0].pk,
        "<slug:palette_kind>": "gpl",
        "<int:number>": Version.objects.get_or_create(scene=row, number=row.position)[0].number,
        "<int:work_id>": Work.objects.create(studio=studio, kind="propose", about=row.pk, beat_at=timezone.now(), state=Work.DONE).pk,
    }
    for name, pattern in patterns():
        address = pattern
        for hole, value in fill.items():
            address = address.replace(hole, str(value))
        if "<slug:kind>" in address:
            for kind in KINDS:
                item = KINDS[kind].model.objects.filter(studio=studio, **({"fixed_on": None} if kind == "lens" else {})).first()
                yield name, address.replace("<slug:kind>", kind).replace("<int:item_id>", str(item.pk))
        elif name == "measure_lens":
            yield name, address.replace("<int:item_id>", str(StoreLens.objects.filter(studio=studio, fixed_on=None)[0].pk))
        elif "<slug:verb>" in address:
            for verb in VERBS:
                yield name, address.replace("<slug:verb>", verb)
        else:
            assert "<" not in address, f"{address}: tell this test how to fill it"
            yield name, address


def test_everything_that_belongs_to_a_studio_is_404_for_another(row, studio, olu):
    walked = 0
    for name, address in addresses(row, studio):
        if name in OPEN | PERSONAL | OWNERS:
            continue
        for ask in (olu.get, lambda a: olu.post(a, {"revision": 1, "setup": "main", "id": "p1", "key": "x", "item": 1})):
            status = ask(address).status_code
            assert status in (404, 405), f"{address} answered {status} to another studio"
        walked += 1
    assert walked > 40
    row.refresh_from_db()
    assert row.revision == 1


def test_nothing_but_sign_in_answers_a_stranger(row, studio):
    stranger = Client()
    for name, address in addresses(row, studio):
        if name in OPEN:
            continue
        response = stranger.get(address)
        assert response.status_code in (302, 405), address
        if response.status_code == 302:
            assert response["Location"].startswith("/sign-in/"), address
    assert Scene.objects.get(pk=row.pk).revision == 1


def test_a_viewer_sees_and_cannot_change(row, studio, vic):
    assert vic.get(f"/scenes/{row.pk}/").status_code == 200
    assert vic.get(f"/scenes/{row.pk}/export/").status_code == 200
    for name, address in addresses(row, studio):
        if name in CHANGING:
            assert vic.post(address, {"revision": 1, "setup": "main", "id": "p1"}).status_code == 403, address
    row.refresh_from_db()
    assert row.revision == 1
    assert b"data-do=" not in vic.get(f"/scenes/{row.pk}/").content


FROM_STORES = {"add": StoreProp, "swap": StoreProp, "surface": StoreSurface, "backdrop": StoreBackdrop, "lens": StoreLens, "body": CameraBody}


@pytest.mark.parametrize(("verb", "model"), FROM_STORES.items())
def test_another_studios_stores_cannot_be_taken_from(verb, model, hand, other_studio):
    theirs = model.objects.filter(studio=other_studio).first()
    before = hand.document
    assert hand.do(verb, item=theirs.pk, id="p1").status_code == 404
    assert hand.document == before


def test_policy_forbids_inline_and_eval_on_every_page(row, ada):
    pages = (
        "/",
        f"/scenes/{row.pk}/",
        "/preferences/",
        "/password/",
        "/nowhere/",
        "/stores/",
        "/stores/kit/",
        "/stores/measure/",
        "/stores/import/",
    )
    for address in pages:
        response = ada.get(address)
        policy = response["Content-Security-Policy"]
        assert "unsafe" not in policy and "default-src 'none'" in policy
        assert b"<script>" not in response.content and b" style=" not in response.content and b"<style" not in response.content
        assert b"javascript:" not in response.content and b" onclick=" not in response.content


def test_posts_without_the_token_are_refused(row, studio):
    client = Client(enforce_csrf_checks=True)
    assert client.login(username="ada", password="a-long-enough-word")
    assert client.post(f"/scenes/{row.pk}/do/move/", {"revision": 1, "id": "p1", "x": 1, "y": 1}).status_code == 403
    assert Scene.objects.get(pk=row.pk).revision == 1


def test_sign_in_is_limited_by_name_and_nothing_tells_which_was_wrong(studio):
    client = Client()
    answers = [client.post("/sign-in/", {"username": "ada", "password": "wrong"}) for _ in range(13)]
    assert [a.status_code for a in answers[:12]] == [200] * 12 and answers[12].status_code == 429
    assert b"do not go together" in answers[0].content
    assert client.post("/sign-in/", {"username": "ada", "password": "a-long-enough-word"}).status_code == 429


def test_a_person_in_two_studios_chooses(studio, other_studio, ada):
    from django.contrib.auth.models import User

    Membership.objects.create(studio=other_studio, person=User.objects.get(username="ada"), role=Membership.VIEWER)
    assert b"Quay studio" in ada.get("/").content
    ada.post(f"/studios/{other_studio.pk}/")
    assert b"Far studio" in ada.get("/").content
    assert ada.post("/scenes/new/", {"from": "empty"}).status_code == 403


def test_a_changed_password_must_be_a_good_one(ada):
    short = ada.post("/password/", {"old_password": "a-long-enough-word", "new_password1": "short", "new_password2": "short"})
    assert short.status_code == 200 and b"at least 10" in short.content
    good = "quay-lamp-and-tide-9"
    assert ada.post("/password/", {"old_password": "a-long-enough-word", "new_password1": good, "new_password2": good}).status_code == 302
    assert Client().login(username="ada", password=good)


def test_a_part_asked_for_after_signing_out_sends_the_whole_page_to_sign_in(row, ada):
    ada.logout()
    response = ada.get(f"/scenes/{row.pk}/stage/", headers={"HX-Request": "true", "HX-Current-URL": f"http://testserver/scenes/{row.pk}/"})
    assert response["HX-Redirect"] == f"/sign-in/?next=%2Fscenes%2F{row.pk}%2F" and b"stage" not in response.content


def test_an_owner_adds_people_and_changes_their_roles_and_nobody_else_does(olu, other_studio, ada):
    assert ada.get("/people/").status_code == 403
    new = {"username": "pim", "password": "a-long-enough-word", "role": "viewer"}
    assert olu.post("/people/", new).status_code == 302
    pim = Membership.objects.get(person__username="pim")
    assert (pim.studio, pim.role) == (other_studio, "viewer")
    assert olu.post(f"/people/{pim.pk}/", {"role": "stylist"}).status_code == 302
    pim.refresh_from_db()
    assert pim.role == "stylist"
    assert olu.post(f"/people/{pim.pk}/", {"role": "none"}).status_code == 302
    assert not Membership.objects.filter(person__username="pim").exists()


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"username": "olu"}, "is taken"),
        ({"username": "a b"}, "letters, digits"),
        ({"password": "short"}, "at least 10"),
        ({"role": "king"}, "owner, stylist or viewer"),
    ],
)
def test_a_person_is_added_whole_or_not_at_all(olu, change, says):
    response = olu.post("/people/", {"username": "pim", "password": "a-long-enough-word", "role": "viewer", **change})
    assert response.status_code == 400 and says in response.content.decode()
    assert not Membership.objects.exclude(person__username__in=("olu", "ada", "vic")).exists()


def test_a_studio_keeps_an_owner(olu, other_studio):
    owner = Membership.objects.get(studio=other_studio)
    for role in ("viewer", "none"):
        assert b"needs an owner" in olu.post(f"/people/{owner.pk}/", {"role": role}, follow=True).content
    owner.refresh_from_db()
    assert owner.role == "owner"
