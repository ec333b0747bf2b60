"""Versions: a step is kept, judged, laid over what stands now, set side by side, and gone back to; nothing of the history is touched."""

from __future__ import annotations

import html
import json

import cv2
import numpy as np
import pytest
from django.utils import timezone

from tideflat.web.scenes.building import about
from tideflat.web.scenes.models import Change, Scene, Version, VersionProof
from tideflat.web.scenes.proofs import _settled
from tideflat.web.scenes.queries import picture_of
from tideflat.web.scenes.services.versions import MOST_VERSIONS
from tideflat.web.work.models import Work
from tideflat.web.work.proving import _address

pytestmark = pytest.mark.django_db


def at(row: Scene, rest: str = "") -> str:
    return f"/scenes/{row.pk}/versions/{rest}"


def test_a_step_is_kept_once_judged_and_let_go(row, ada):
    page = ada.post(at(row, "keep/"), {"tray": "versions", "note": "as  laid first"}).content.decode()
    assert "as laid first" in page and "What stands now is kept." in page
    ada.post(at(row, "keep/"), {"tray": "versions", "note": "again"})
    kept = Version.objects.get()
    assert (kept.number, kept.note, kept.verdict) == (0, "as laid first", "")
    ada.post(at(row, "0/"), {"tray": "versions", "verdict": "yes", "note": "the calm one"})
    kept.refresh_from_db()
    assert (kept.note, kept.verdict) == ("the calm one", "yes")
    bench = html.unescape(ada.get(f"/scenes/{row.pk}/").content.decode())
    assert "1 kept, 1 chosen" in bench
    steps = Change.objects.count()
    page = ada.post(at(row, "0/"), {"tray": "versions", "way": "let-go"}).content.decode()
    assert "Nothing is kept yet" in page and not Version.objects.exists() and Change.objects.count() == steps


@pytest.mark.parametrize(("data", "said"), [({"verdict": "grand"}, "Verdict must be one of"), ({"note": "n" * 301}, "300 characters")])
def test_what_cannot_be_thought_of_it_is_refused_and_changes_nothing(row, ada, data, said):
    ada.post(at(row, "keep/"))
    answer = ada.post(at(row, "0/"), data)
    assert answer.status_code == 400 and said in html.unescape(answer.content.decode())
    assert (Version.objects.get().note, Version.objects.get().verdict) == ("", "")


def test_there_is_an_end_to_them_and_a_version_that_is_not_there_is_404(row, ada):
    Version.objects.bulk_create(Version(scene=row, number=1000 + k) for k in range(MOST_VERSIONS))
    refused = ada.post(at(row, "keep/"))
    assert refused.status_code == 400 and f"at most {MOST_VERSIONS}" in refused.content.decode()
    Version.objects.filter(number=1000).delete()
    assert ada.post(at(row, "keep/")).status_code == 200
    assert ada.post(at(row, "7/"), {"verdict": "no"}).status_code == 404
    assert ada.get(at(row, "7/over/")).status_code == 404
    assert ada.get(at(row, "1001/over/")).status_code == 404  # kept, but the step is not there


def first_moved(ada, row) -> tuple[str, str]:
    """Keeps step 0, moves a thing by 60 mm to the right; its id and name."""
    ada.post(at(row, "keep/"), {"note": "before"})
    value = json.loads(row.document)
    thing = next(p for p in value["placements"] if p["on"] is None and not p["locked"])
    name = next(p["name"] for p in value["props"] if p["id"] == thing["prop"])
    moved = ada.post(f"/scenes/{row.pk}/do/move/", {"revision": 1, "id": thing["id"], "x": thing["x"] + 60, "y": thing["y"], "z": thing["z"]})
    assert moved.status_code == 200
    return thing["id"], name


def test_one_is_laid_over_what_stands_now_with_what_differs_in_words(row, ada):
    _, name = first_moved(ada, row)
    page = html.unescape(ada.get(at(row, "0/over/")).content.decode())
    assert page.count("data-over=") == 2 and "<b>Step 0</b>" in page
    assert f"{name}: 60 mm left" in page.replace("\u202f", " ").replace("\u00a0", " ")
    gone = ada.get(at(row, "0/over/"), {"setup": "no such"})
    assert gone.status_code == 200  # the first set-up is shown, as everywhere


def test_a_set_up_that_a_version_has_not_is_said(row, ada):
    ada.post(at(row, "keep/"))
    ada.post(f"/scenes/{row.pk}/do/setup-add/", {"revision": 1})
    row.refresh_from_db()
    fresh = json.loads(row.document)["setups"][-1]["name"]
    answer = ada.get(at(row, "0/over/"), {"setup": fresh})
    assert answer.status_code == 400 and "has no set-up called" in answer.content.decode()
    tray = ada.get(f"/scenes/{row.pk}/tray/", {"tray": "versions", "setup": fresh}).content.decode()
    assert "not in this set-up" in tray


def test_side_by_side_tells_each_against_the_first(row, ada):
    _, name = first_moved(ada, row)
    page = html.unescape(ada.get(at(row), {"step": 0}).content.decode())
    assert page.count('role="img"') == 2 and "As it stands now" in page and f"{name}: 60 mm left" in page.replace("\u202f", " ").replace("\u00a0", " ")
    both = html.unescape(ada.get(at(row), {"step": [0, 1]}).content.decode())
    assert both.index("Before") < both.index("As it stands now") and "60 mm right" in both.replace("\u202f", " ").replace("\u00a0", " ")
    alone = html.unescape(ada.get(at(row), {"step": ["x", "99"]}).content.decode())
    assert "nothing to set beside it" in alone


def test_going_to_a_version_is_a_way_through_the_history(row, ada):
    before = row.document
    first_moved(ada, row)
    assert ada.post(f"/scenes/{row.pk}/go-to/", {"revision": 2, "number": 0}).status_code == 200
    row.refresh_from_db()
    assert row.document == before and Version.objects.get().number == 0


def test_who_only_looks_on_compares_and_keeps_nothing(row, ada, vic):
    first_moved(ada, row)
    assert vic.post(at(row, "keep/")).status_code == 403 and vic.post(at(row, "0/"), {"way": "let-go"}).status_code == 403
    assert vic.get(at(row, "0/over/")).status_code == 200
    tray = vic.get(f"/scenes/{row.pk}/tray/", {"tray": "versions"}).content.decode()
    assert "before" in tray and "hx-post" not in tray


def _proved(row, setup: str = "main", shade: int = 90):
    """A settled proof of what stands now, as the worker leaves it."""
    picture = picture_of(row, setup)
    told = {"picture": _address(np.full((6, 9, 3), shade, dtype=np.uint8)), "groups": [], "words": "settled", "is_usual": True, "size": [9, 6]}
    return Work.objects.create(
        studio=row.studio, kind="proof", about=about(row, picture), state=Work.DONE, share=1.0, told=json.dumps([told]), beat_at=timezone.now()
    )


def _shade(answer) -> float:
    return float(cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR).mean())


def test_a_proof_is_kept_with_its_version_and_outlives_the_job(row, ada, olu, hand):
    _proved(row)
    assert ada.post(f"/scenes/{row.pk}/versions/keep/", {"note": "as lit", "setup": "main"}).status_code == 200
    row.refresh_from_db()
    address = f"/scenes/{row.pk}/versions/{row.position}/proof.webp"
    Work.objects.all().delete()
    kept = ada.get(address, {"setup": "main"})
    assert kept.status_code == 200 and kept["Content-Type"] == "image/webp" and _shade(kept) == pytest.approx(90, abs=4)
    assert ada.get(address, {"setup": "another"}).status_code == 404
    assert olu.get(address, {"setup": "main"}).status_code == 404
    step = row.position
    hand.do("move", id="p1", x="470", y="310")
    page = ada.get(f"/scenes/{row.pk}/proof/", {"setup": "main"}).content.decode()
    assert "proof-against" not in page  # nothing to wipe it against it before this state is proved
    row.refresh_from_db()
    _proved(row, shade=40)
    page = ada.get(f"/scenes/{row.pk}/proof/", {"setup": "main"}).content.decode()
    assert f"versions/{step}/proof.webp?setup=main" in page and "as lit" in page
    beside = ada.get(f"/scenes/{row.pk}/versions/", {"step": [str(step)], "setup": "main"}).content.decode()
    assert f"versions/{step}/proof.webp?setup=main" in beside


def test_a_proof_that_settles_after_its_step_was_kept_is_kept_with_it_and_no_other_is(row, ada, hand):
    ada.post(f"/scenes/{row.pk}/versions/keep/", {"note": "", "setup": "main"})
    row.refresh_from_db()
    version = row.versions.get()
    assert not version.proofs.exists()
    _settled(row.pk, row.position, "main", _proved(row))
    assert version.proofs.get().setup == "main"
    _settled(row.pk, row.position, "main", _proved(row, shade=200))  # proved anew: the newer one
    assert version.proofs.count() == 1
    _settled(row.pk, row.position + 1, "main", _proved(row))
    assert VersionProof.objects.count() == 1


def test_a_proof_that_was_stopped_is_not_kept(row, ada):
    found = _proved(row)
    Work.objects.filter(pk=found.pk).update(state=Work.STOPPED)
    ada.post(f"/scenes/{row.pk}/versions/keep/", {"setup": "main"})
    assert not VersionProof.objects.exists()
