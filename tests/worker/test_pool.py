"""Workers: warm, cancelled, limited in time, replaced when they die."""

import gzip
import json
import os
import signal
import threading
from collections.abc import Iterator

import pytest

from leadline.worker.asks import Built
from leadline.worker.picture import draw_picture
from leadline.worker.pool import Cancelled, Worker, WorkerDied, WorkerPool, WorkFailed
from leadline.worker.requests import BuildAll, Export, MeshOf
from tests.support.parts import Shelf, bar
from tests.support.shapes import bent, box

ENTRY = "tests.support.entries:crash_on_request"


@pytest.fixture(scope="module")
def pool() -> Iterator[WorkerPool]:
    pool = WorkerPool(size=2, entry=ENTRY)
    yield pool
    pool.close()


def run(pool, part_id, document, limit=60.0, kind=BuildAll, cancelled=None, store=None, **more):
    events = []
    with pool.lease(part_id, cancelled) as worker:
        result = worker.run(
            kind(text_of(document), **more),
            Shelf() if store is None else store,
            events.append,
            limit,
            cancelled,
        )
    return json.loads(result.text) if isinstance(result, Built) else result, events


def text_of(document):
    return json.dumps(document).encode()


def pid_of(pool, part_id):
    with pool.lease(part_id) as worker:
        return worker.process.pid


def named(name):
    return {**bar(), "name": name}


def test_a_build_in_a_worker_reports_progress_and_result(pool):
    result, events = run(pool, "a", bar())
    assert result["steps"]["sweep"]["state"] == "fresh"
    assert [e["id"] for e in events if e.get("state") == "fresh"] == ["path", "plane", "profile", "sweep"]
    assert len(result["bodies"]) == 1
    assert events[-1]["event"] == "picture"
    assert events[-1]["png"].startswith(b"\x89PNG")


def test_a_warm_worker_remembers(pool):
    run(pool, "a", bar())
    pid = pid_of(pool, "a")
    result, _ = run(pool, "a", bar())
    assert pid_of(pool, "a") == pid
    assert result["seconds"]["kernel"] == 0


def test_a_crash_is_told_with_its_step_and_the_next_request_works(pool):
    with pytest.raises(WorkerDied) as caught:
        run(pool, "b", named("crash"))
    assert (caught.value.reason, caught.value.step) == ("crash", "sweep")
    result, _ = run(pool, "b", bar())
    assert result["steps"]["sweep"]["state"] == "fresh"


def test_a_hang_ends_at_the_time_limit(pool):
    with pytest.raises(WorkerDied) as caught:
        run(pool, "c", named("hang"), limit=4.0)
    assert caught.value.reason == "time"
    assert run(pool, "c", bar())[0]["bodies"]


@pytest.mark.parametrize("after", [0.0, 3.0])
def test_cancel_stops_what_does_not_listen_and_counts_before_the_start(pool, after):
    cancelled = threading.Event()
    threading.Timer(after, cancelled.set).start()
    with pytest.raises(Cancelled):
        run(pool, f"d{after}", named("hang"), cancelled=cancelled)
    assert run(pool, f"d{after}", bar())[0]["bodies"]


def test_exports_and_refusals_come_back(pool):
    (data, media_type), _ = run(pool, "a", bar(), kind=Export, form="step")
    assert data.startswith(b"ISO-10303-21")
    assert media_type == "model/step"
    with pytest.raises(WorkFailed, match="There is no format"):
        run(pool, "a", bar(), kind=Export, form="dwx")
    broken = bar()
    broken["steps"][3]["wall"] = 99
    with pytest.raises(WorkFailed) as caught:
        run(pool, "a", broken, kind=Export, form="stl")
    assert caught.value.message["code"] == "nothing-built"


def test_a_mesh_is_kept_of_what_is_shown_alone_and_of_what_is_asked_for_later(pool):
    """A bar with a hole: the whole bar is on the way only, until the cord is cut off before the hole; a mesh that is
    gone is made and kept again.
    """
    profile = {"quick": "round", "width": 4}
    hole = {
        "kind": "sweep",
        "id": "hole",
        "name": "Hole",
        "path": {"step": "path"},
        "profile": profile,
        "result": "cut",
    }
    own = bar(61)  # that no other test has had meshed
    holed = {**own, "steps": [*own["steps"], hole]}
    store = Shelf()
    result, _ = run(pool, "kept", holed, store=store)
    (body,) = result["bodies"]
    assert [k for k in store if k.endswith("/mesh")] == [f"{body['mesh']}/mesh"]
    (whole,) = run(pool, "kept", {**holed, "sinker": "sweep"}, store=store)[0]["bodies"]
    assert whole["mesh"] != body["mesh"]
    assert f"{whole['mesh']}/mesh" in store
    del store[f"{body['mesh']}/mesh"]
    made, _ = run(pool, "kept", holed, kind=MeshOf, key=body["mesh"], fineness="normal", store=store)
    assert store[f"{body['mesh']}/mesh"] == made


def test_a_body_is_meshed_coarser_and_finer_without_being_built_again(pool):
    result, _ = run(pool, "a", bar())
    (body,) = result["bodies"]
    sizes = {}
    for fineness in ("coarse", "fine"):
        data, _ = run(pool, "a", bar(), kind=MeshOf, key=body["mesh"], fineness=fineness)
        assert gzip.decompress(data).startswith(b"glTF")
        sizes[fineness] = len(data)
    assert sizes["fine"] > 2 * sizes["coarse"]
    coloured, _ = run(pool, "a", {**bar(), "colours": {"sweep": "brass"}})
    assert coloured["seconds"]["kernel"] == 0
    assert coloured["bodies"] == result["bodies"]
    with pytest.raises(WorkFailed) as caught:
        run(pool, "a", bar(), kind=MeshOf, key="gone", fineness="fine")
    assert caught.value.message["code"] == "no-body"


def test_there_are_only_so_many_processes_and_a_part_finds_its_own_again(pool):
    started = pool.started
    pids = {part_id: (run(pool, part_id, bar()), pid_of(pool, part_id))[1] for part_id in ("x", "y", "z")}
    assert len(set(pids.values())) <= pool.size
    assert pool.started <= started + pool.size
    assert pid_of(pool, "z") == pids["z"]


def test_one_process_is_never_had_by_two_and_a_dead_one_is_never_handed_out(pool):
    held, most, died = [], [], []

    def work(i):
        for k in range(6):
            with pool.lease(f"part {(i + k) % 5}") as worker:
                held.append(worker)
                most.append(len(held) - len(set(held)))
                died.append(not worker.alive)
                if k == i % 3:
                    worker.process.kill()
                    worker.process.join()
                held.remove(worker)

    threads = [threading.Thread(target=work, args=(i,)) for i in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert max(most) == 0
    assert not any(died)
    assert run(pool, "part 1", bar())[0]["bodies"]


def test_a_picture_gives_way_to_one_who_waits_but_not_to_one_who_is_patient():
    pool = WorkerPool(size=1, entry="tests.support.entries:draw_for_ever")
    drawing, drawn = threading.Event(), []
    try:

        def draw():
            drawn.append(
                pool.run(
                    "a",
                    BuildAll(text_of(named("picture"))),
                    Shelf(),
                    60,
                    on_result=lambda _: drawing.set(),
                )
            )

        first = threading.Thread(target=draw)
        first.start()
        assert drawing.wait(60)
        cancelled = threading.Event()
        patient: list[type[BaseException]] = []

        def wait_patiently():
            try:
                pool.run("b", BuildAll(text_of(bar())), Shelf(), 60, cancelled=cancelled, patient=True)
            except Cancelled:
                patient.append(Cancelled)

        second = threading.Thread(target=wait_patiently)
        second.start()
        second.join(0.5)
        assert second.is_alive()
        assert first.is_alive()
        cancelled.set()
        second.join(10)
        assert patient == [Cancelled]
        events: list[dict] = []
        assert pool.run("c", BuildAll(text_of(bar())), Shelf(), 60, events.append).has_bodies
        assert events[-1]["event"] == "picture"
        first.join(10)
        assert drawn[0].has_bodies
    finally:
        pool.close()


def test_an_answer_is_never_taken_for_that_of_another_request(pool):
    class Torn(Shelf):
        def get(self, key):  # noqa: ARG002
            raise RuntimeError("the database went away")

    with pytest.raises(RuntimeError), pool.lease("torn") as worker:
        worker.run(BuildAll(text_of(bar(twist=0.37))), Torn(), lambda _: None, 60)
    assert not worker.alive
    (data, _), _ = run(pool, "torn", bar(), kind=Export, form="stl")
    assert len(data) > 1000


def test_a_process_that_is_paused_is_given_up(pool):
    started = threading.Event()

    def stop_it(event):
        if event.get("state") == "building" and not started.is_set():
            started.set()
            os.kill(worker.process.pid, signal.SIGSTOP)

    with pytest.raises(WorkerDied) as caught, pool.lease("paused") as worker:
        worker.run(BuildAll(text_of(bar())), Shelf(), stop_it, 60)
    assert caught.value.reason == "paused"
    assert run(pool, "paused", bar())[0]["bodies"]


def test_the_same_bodies_are_drawn_once(pool):
    """A step that is renamed, by a process that has not built the part: the picture is the one that is kept."""
    store, own = Shelf(), bar(47)
    first, told = run(pool, "drawn 1", own, store=store)
    (key,) = [k for k in store if k.endswith("/picture")]
    store[key] = b"as it is kept"
    own["steps"][0]["name"] = "Another name"
    again, told = run(pool, "drawn 2", own, store=store)
    assert again["bodies"] == first["bodies"]
    assert told[-1] == {"event": "picture", "png": b"as it is kept"}


def test_a_picture_is_a_png_that_shows_something():
    from leadline.core.sweep.grid import display_mesh
    from leadline.core.sweep.motion import Motion

    picture = draw_picture([display_mesh(Motion(bent()), [box(8, 5)], 0.1)])
    assert picture.startswith(b"\x89PNG")
    assert len(picture) > 1500


def test_one_that_is_killed_while_it_looks_at_its_flag_can_still_be_told_to_stop():
    for _ in range(8):
        worker = Worker("tests.support.entries:look_for_ever")
        assert worker.channel.receive(30.0) is not None
        worker.process.kill()
        setting = threading.Thread(target=worker.stop.set, daemon=True)
        setting.start()
        setting.join(5.0)
        assert not setting.is_alive()
        worker.kill()
