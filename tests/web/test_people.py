"""The first studio; people added, back again, of several studios; lost passwords; and the pace of failed tries to sign in."""

from __future__ import annotations

import re

import pytest
from django.contrib.auth.models import User
from django.test import Client

from tests.conftest import PASSWORD, signed_in
from tests.support.serving import tideflat
from tideflat.web.accounts.guessing import ACCOUNT, ADDRESS, OWN, Pace
from tideflat.web.accounts.models import Count, Former, Invitation, Membership
from tideflat.web.accounts.names import known_as
from tideflat.web.accounts.services import add_person, make_studio

NEW = "quay-lamp-and-tide-9"


def test_begin_asks_and_works_once(tmp_path):
    wrong = tideflat(tmp_path, "begin", typed="Quay <b>\nmara\nkelp-and-lantern-9\n")
    assert wrong.returncode == 2 and "without < or >" in wrong.stderr
    weak = tideflat(tmp_path, "begin", typed="Quay\nmara\nshort\n")
    assert weak.returncode == 2 and "too short" in weak.stderr and len(weak.stderr.strip().splitlines()) == 1
    assert tideflat(tmp_path, "begin", typed="Quay\nma ra\nkelp-and-lantern-9\n").returncode == 2
    assert tideflat(tmp_path, "begin").returncode == 2  # nobody answers
    begun = tideflat(tmp_path, "begin", typed="Quay\nmara\nkelp-and-lantern-9\n")
    assert begun.returncode == 0 and "mara is its owner" in begun.stdout, begun.stderr
    again = tideflat(tmp_path, "begin", typed="Other\nolu\nkelp-and-lantern-9\n")
    assert again.returncode == 2 and "there is a studio here already" in again.stderr
    lost = tideflat(tmp_path, "password", "mara", typed="lantern-and-kelp-7\n")
    assert lost.returncode == 0 and "new password" in lost.stdout
    assert tideflat(tmp_path, "password", "nobody", typed="x\n").returncode == 2


@pytest.fixture
def mara(studio):
    add_person(studio, "mara", PASSWORD, Membership.OWNER, "Mara")
    return signed_in("mara")


def link_in(page: str) -> str:
    found = re.search(r'handed-link">http://testserver(/set-password/[^<]+)<', page)
    assert found is not None, page[:600]
    return found[1]


def test_an_owner_hands_out_a_link_that_sets_a_password_once_and_signs_the_person_out(mara, vic, studio):
    member = Membership.objects.get(person__username="vic")
    shown = mara.post(f"/people/{member.pk}/password/")
    link = link_in(shown.content.decode())
    assert "no-store" in shown["Cache-Control"] and link not in mara.get("/people/").content.decode()
    anybody = Client()
    form = anybody.get(link, follow=True)
    assert form.status_code == 200
    weak = anybody.post(form.request["PATH_INFO"], {"new_password1": "short", "new_password2": "short"})
    assert weak.status_code == 200 and b"at least 10" in weak.content
    assert anybody.post(form.request["PATH_INFO"], {"new_password1": NEW, "new_password2": NEW}).status_code == 302
    assert Client().login(username="vic", password=NEW) and not Client().login(username="vic", password=PASSWORD)
    assert vic.get("/").status_code == 302  # the old session is over
    assert b"used already" in Client().get(link, follow=True).content


def test_nobody_but_an_owner_and_no_owner_of_another_studio_sets_a_password(ada, olu, mara, studio, other_studio):
    vic = Membership.objects.get(person__username="vic")
    assert ada.post(f"/people/{vic.pk}/password/").status_code == 403
    assert olu.post(f"/people/{vic.pk}/password/").status_code == 404
    # Nor by way of adding the person to one's own studio: they have been of another, now or before.
    for leave in (False, True):
        if leave:
            assert mara.post(f"/people/{vic.pk}/", {"role": "none"}).status_code == 302
        member = Membership.objects.create(studio=other_studio, person=vic.person, role="viewer")
        answer = olu.post(f"/people/{member.pk}/password/")
        assert answer.status_code == 400 and b"not yours to set" in answer.content and b"set-password" not in answer.content
        member.delete()


def test_a_person_who_left_is_added_again_with_the_password_they_had(mara, studio):
    vic = Membership.objects.get(person__username="vic")
    mara.post(f"/people/{vic.pk}/", {"role": "none"})
    assert Client().login(username="vic", password=PASSWORD) and not Membership.objects.filter(person__username="vic").exists()
    page = mara.get("/people/").content.decode()
    former = Former.objects.get()
    assert f"/people/former/{former.pk}/" in page
    mara.post(f"/people/former/{former.pk}/")
    assert Membership.objects.get(person__username="vic").role == "viewer" and not Former.objects.exists()
    mara.post(f"/people/{Membership.objects.get(person__username='vic').pk}/", {"role": "none"})
    by_name = mara.post("/people/", {"username": "vic", "password": "", "role": "stylist"}, follow=True)
    assert b"is back" in by_name.content and Membership.objects.get(person__username="vic").role == "stylist"


def test_somebody_of_another_studio_is_asked_and_works_in_both(mara, olu, studio, other_studio):
    asked = mara.post("/people/", {"username": "olu", "password": "", "role": "viewer"}, follow=True)
    assert b"was asked to join" in asked.content and not Membership.objects.filter(studio=studio, person__username="olu").exists()
    invitation = Invitation.objects.get()
    assert signed_in("vic").post(f"/invitations/{invitation.pk}/", {"answer": "yes"}).status_code == 404
    assert b"asks you to join" in olu.get("/preferences/").content
    olu.post(f"/invitations/{invitation.pk}/", {"answer": "yes"})
    assert b"Quay studio" in olu.get("/").content and b"Work in another studio" in olu.get("/").content
    olu.post(f"/studios/{other_studio.pk}/")
    assert b"Far studio" in olu.get("/").content
    mara.post("/people/", {"username": "olu", "password": PASSWORD, "role": "viewer"})
    assert not Invitation.objects.exists()  # of the studio already: the name is taken
    far = make_studio("Third studio")
    add_person(far, "tom", PASSWORD, Membership.OWNER)
    tom = signed_in("tom")
    tom.post("/people/", {"username": "olu", "role": "viewer"})
    olu.post(f"/invitations/{Invitation.objects.get().pk}/", {"answer": "no"})
    assert not Invitation.objects.exists() and not Membership.objects.filter(studio=far, person__username="olu").exists()
    tom.post("/people/", {"username": "olu", "role": "viewer"})
    tom.post(f"/people/asked/{Invitation.objects.get().pk}/")
    assert not Invitation.objects.exists()


# ---- guessing


def attempt(client: Client, name: str, password: str = "wrong", address: str = "192.0.2.1"):
    return client.post("/sign-in/", {"username": name, "password": password}, REMOTE_ADDR=address)


def test_waits_grow_and_end():
    pace = Pace(free=3, longest_s=10)
    assert [pace.wait_s(n, 0.0) for n in (0, 2, 3, 4, 5, 6, 60)] == [0, 0, 2, 4, 8, 10, 10]
    assert pace.wait_s(4, 3.5) == 0.5 and pace.wait_s(4, 4.0) == 0
    assert OWN.longest_s > ADDRESS.longest_s > ACCOUNT.longest_s


@pytest.mark.parametrize("typed", ["ada", "ada ", " ada", "ａｄａ", "ad\u0061"])
def test_all_ways_to_write_an_account_are_one_account(typed):
    assert known_as(typed) == "ada"


def test_trimmed_and_wide_letters_do_not_get_tries_of_their_own(studio):
    client = Client()
    spelt = ["ada", "ada ", " ada", "ａｄａ"]
    answers = [attempt(client, spelt[k % 4]).status_code for k in range(OWN.free + 1)]
    assert answers == [200] * OWN.free + [429]
    late = attempt(client, "ada", PASSWORD)
    assert late.status_code == 429 and 1 <= int(late["Retry-After"]) <= 4 and b"Wait" in late.content


def test_after_the_wait_the_right_password_is_taken_and_the_wrong_one_waits_longer(studio):
    client = Client()
    for _ in range(OWN.free):
        attempt(client, "ada")
    first = int(attempt(client, "ada")["Retry-After"])
    Count.objects.update(last_at=models_minus(first))
    assert attempt(client, "ada").status_code == 200
    second = int(attempt(client, "ada")["Retry-After"])
    assert second > first
    Count.objects.update(last_at=models_minus(second))
    assert attempt(client, "ada", PASSWORD).status_code == 302
    client.logout()
    assert attempt(client, "ada").status_code == 200  # the count began anew


def models_minus(seconds: float):
    from django.db.models import F

    return F("last_at") - seconds


def test_successes_are_not_counted(studio):
    for _ in range(OWN.free + ADDRESS.free):
        assert attempt(Client(), "ada", PASSWORD).status_code == 302


def test_a_stranger_who_guesses_shuts_nobody_out(studio):
    own_browser = Client()
    assert attempt(own_browser, "ada", PASSWORD, "198.51.100.9").status_code == 302
    own_browser.get("/sign-out/")
    own_browser.post("/sign-out/")
    stranger = Client()
    for k in range(OWN.free + 20):
        attempt(stranger, "ada", f"guess {k}")
    assert attempt(stranger, "ada", PASSWORD).status_code == 429
    assert attempt(Client(), "ada", PASSWORD, "198.51.100.10").status_code == 302  # from elsewhere, a browser never seen before
    # From many addresses at once; and from the stranger's own address, in the browser that is known.
    for k in range(ACCOUNT.free + 5):
        attempt(Client(), "ada", "guess", f"203.0.{k}.1")
    assert attempt(Client(), "ada", "guess", "203.0.200.1").status_code == 429
    assert attempt(own_browser, "ada", PASSWORD, "192.0.2.1").status_code == 302


def test_one_address_that_tries_many_names_is_slowed_and_ipv6_counts_by_network(studio):
    client = Client()
    answers = [attempt(client, f"name{k}", address=f"2001:db8:1:2::{k:x}").status_code for k in range(ADDRESS.free + 1)]
    assert answers == [200] * ADDRESS.free + [429]
    assert attempt(client, "name", address="2001:db8:1:3::1").status_code == 200


def test_the_note_of_a_known_browser_signs_nobody_in(studio):
    client = Client()
    attempt(client, "ada", PASSWORD)
    forged = Client()
    forged.cookies["tideflat_known"] = client.cookies["tideflat_known"].value
    assert forged.get("/").status_code == 302
    forged.cookies["tideflat_known"] = "nonsense:1:2"
    assert attempt(forged, "ada").status_code == 200
    assert User.objects.get(username="ada").check_password(PASSWORD)
