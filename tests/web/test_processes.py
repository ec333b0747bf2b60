"""Several processes on one database: what must be shared is shared, who only looks costs little, and one's work does not stop another's."""

from __future__ import annotations

import threading
import time

from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.support.scenes import scene_value
from tests.support.serving import Person, Serving
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.accounts.guessing import OWN
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.acting import performed
from tideflat.web.scenes.services.history import Edit, begin_scene, change_scene, scene_at
from tideflat.web.scenes.turns import in_turn


def test_two_processes_count_failed_tries_together_and_both_answer(tmp_path):
    server = Serving(tmp_path, "demo", "--processes", "2")
    try:
        assert len(server.workers(2)) == 2
        # Each person has connections of their own, which the system deals out between the two processes.
        answers = [Person(server.port, f"http://127.0.0.1:{server.port}").sign_in("wren", "wrong") for _ in range(OWN.free)]
        assert answers == [200] * OWN.free
        # The first wait is two seconds, and a slow machine may outlast it; each further failure doubles it. Two counts apart would be
        # free for as many tries again.
        more = (Person(server.port, f"http://127.0.0.1:{server.port}").sign_in("wren", "wrong") for _ in range(OWN.free // 2))
        assert 429 in more
        assert Person(server.port, f"http://127.0.0.1:{server.port}").sign_in("guest", "low-water-demo") == 302
    finally:
        server.kill()


def test_a_worker_that_dies_is_replaced_and_serves_its_socket_again(tmp_path):
    import os
    import signal

    server = Serving(tmp_path, "demo", "--processes", "2")
    try:
        first = server.workers(2)
        os.kill(first[0], signal.SIGKILL)
        deadline = time.monotonic() + 20
        while (now := server.workers(2)) and (len(now) < 2 or first[0] in now) and time.monotonic() < deadline:
            time.sleep(0.1)
        assert len(now) == 2 and first[0] not in now
        people = [Person(server.port, f"http://127.0.0.1:{server.port}") for _ in range(12)]
        assert [p.ask("GET", "/sign-in/")[0] for p in people] == [200] * 12
    finally:
        server.kill()


def test_a_question_whether_something_changed_reads_no_document_and_computes_nothing(ada, row, monkeypatch):
    from tideflat.web.scenes.views import bench

    monkeypatch.setattr(bench, "_newest_stage", lambda *_: (_ for _ in ()).throw(AssertionError("computed")))
    with CaptureQueriesContext(connection, ) as asked:
        assert ada.get(f"/scenes/{row.pk}/stage/", {"if_newer_than": row.revision}).status_code == 204
    assert len(asked) <= 4 and not any("document" in q["sql"] for q in asked)


def test_who_looks_on_is_sent_what_changed_and_a_window_that_is_new_to_the_process_everything(hand, vic, row):
    whole = vic.get(f"/scenes/{row.pk}/stage/", {"setup": "main"})
    hand.do("move", id="p1", x=300, y=300)
    news = vic.get(f"/scenes/{row.pk}/stage/", {"if_newer_than": 1, "setup": "main"})
    assert b'data-revision="2"' in news.content and b"data-kept" in news.content and len(news.content) < 0.6 * len(whole.content)
    assert b'id="t-p1"' in news.content and b'<g id="t-p1" data-kept' not in news.content
    unknown = vic.get(f"/scenes/{row.pk}/stage/", {"if_newer_than": 77, "setup": "main"})
    other = vic.get(f"/scenes/{row.pk}/stage/", {"if_newer_than": 1, "setup": ""})
    assert b"data-kept" not in unknown.content and b"data-kept" not in other.content
    assert scene_at(row.pk, 1).placement("p1").x == 430 and scene_at(row.pk, 2).placement("p1").x == 300


def test_a_change_is_worked_out_before_the_database_is_locked(studio, row):
    """While one change is being worked out, another scene's is written."""
    from django.db import transaction

    other = begin_scene(studio, scene_from_value(scene_value()), None, "laid out")
    seen: list[bool] = []

    def slow(scene):
        seen.append(connection.in_atomic_block and len(connection.savepoint_ids) > depth)
        change_scene(studio, other.pk, 1, None, lambda s: performed(s, {"act": "move", "placement": "p1", "x": 400, "y": 300}))
        return Edit(scene, "looked at")

    with transaction.atomic():  # the test's own
        depth = len(connection.savepoint_ids)
        change_scene(studio, row.pk, 1, None, slow)
    assert seen == [False] and Scene.objects.get(pk=other.pk).revision == 2 and Scene.objects.get(pk=row.pk).revision == 2


def test_a_heavy_scene_keeps_only_heavy_ones_waiting(monkeypatch):
    from tideflat.web.scenes import turns

    monkeypatch.setattr(turns, "_taken", type(turns._taken)({1: 9.0, 2: 8.0}))
    order: list[str] = []
    begun = threading.Event()

    @in_turn
    def view(request, scene_id):
        if scene_id == 1:
            begun.set()
            time.sleep(0.3)
        order.append(f"scene {scene_id}")

    hands = [threading.Thread(target=view, args=(None, 1))]
    hands[0].start()
    begun.wait(5)
    hands += [threading.Thread(target=view, args=(None, k)) for k in (2, 3, 4)]
    for hand in hands[1:]:
        hand.start()
    for hand in hands:
        hand.join()
    assert set(order[:2]) == {"scene 3", "scene 4"} and order[2:] == ["scene 1", "scene 2"]
