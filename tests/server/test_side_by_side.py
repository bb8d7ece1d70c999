"""Several servers and machines on one database: each part is built by one of them, and all see how it goes on."""

import os
import signal
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import pytest
from sqlalchemy import text

from leadline.recipe.part_file import part_from
from leadline.server import jobs
from leadline.server.app import create_app
from leadline.server.settings import Settings
from tests.support.client import opened, save
from tests.support.parts import bar, step

PATIENCE = 240.0  # seconds


@pytest.fixture(scope="module")
def sides(database_url):
    """Two servers."""
    settings = Settings(database_url, worker_entry="tests.support.entries:crash_on_request", builders=1, editors=1)
    apps = [create_app(settings) for _ in range(2)]
    yield apps
    for app in apps:
        app.extensions["leadline"].close()


def wait_for(condition, what):
    end = time.monotonic() + PATIENCE
    while time.monotonic() < end:
        found = condition()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError(f"did not come: {what}")


def named(name):
    return {**bar(), "name": name}


def build_of(client, part_id):
    return client.get(f"/api/parts/{part_id}/build").get_json()


def works_on(app, part_id):
    """Whether a process of a server has the part; it may still draw the picture of another one."""
    return any(worker.part == part_id for worker in app.extensions["leadline"].pool._leased)


def test_a_window_sees_what_another_server_builds(sides):
    here, there = (app.test_client() for app in sides)
    part_id = opened(here)["id"]
    wait_for(lambda: build_of(here, part_id)["state"] == "done", "the first build")
    with sides[1].extensions["leadline"].broker.watch(part_id) as events:
        view = there.get(f"/api/parts/{part_id}").get_json()
        assert build_of(there, part_id)["state"] == "done"  # from the database
        longer = {**view["document"]}
        step(longer, "sweep")["twist"] = 1
        save(here, view, longer)
        news = (event for event in events if event is not None)
        begun = {"event": "build", "state": "building", "revision": 2}
        assert next(event for event in news if event == begun)  # what comes before it is late news of the first build
        seen = list(iter(lambda: next(news), {"event": "build", "state": "done", "revision": 2}))
    assert [e["id"] for e in seen if e["event"] == "step" and e.get("state") == "fresh"] == [
        s["id"] for s in longer["steps"]
    ]
    here_built, there_built = build_of(here, part_id), build_of(there, part_id)
    assert here_built == there_built
    assert there_built["revision"] == 2
    assert there_built["result"]["seconds"]["worker"] > 0


def test_a_server_that_ends_keeps_what_it_has_told(sides, monkeypatch):
    ending = create_app(sides[0].extensions["leadline"].settings)
    builds = ending.extensions["leadline"].builds
    keep = builds.results.keep

    def slowly(*given):
        time.sleep(1.0)
        keep(*given)

    monkeypatch.setattr(builds.results, "keep", slowly)
    view = opened(ending.test_client(), named("Told early"))
    wait_for(lambda: build_of(ending.test_client(), view["id"])["state"] == "done", "the build")
    ending.extensions["leadline"].close()
    there = sides[1].test_client()
    assert there.get(f"/api/parts/{view['id']}").status_code == 200
    assert build_of(there, view["id"])["state"] == "done"  # from the database, where it need not be built


def test_what_two_servers_are_asked_for_is_built_once(sides):
    here, there = (app.test_client() for app in sides)
    hung = opened(here, named("hang"))
    wait_for(lambda: build_of(here, hung["id"])["steps"].get("sweep") == "building", "the build here")
    there.get(f"/api/parts/{hung['id']}")
    wait_for(lambda: build_of(there, hung["id"])["steps"].get("sweep") == "building", "news of it there")
    assert not works_on(sides[1], hung["id"])
    saved = save(there, hung, named("Calm")).get_json()  # what is built here is of no use any more
    wait_for(lambda: build_of(there, hung["id"])["state"] == "done", "the build there")
    assert (
        wait_for(
            lambda: build_of(here, hung["id"])["state"] == "done" and build_of(here, hung["id"]), "news of it here"
        )["revision"]
        == saved["revision"]
    )
    assert not works_on(sides[0], hung["id"])


def test_a_build_is_stopped_from_another_server(sides):
    here, there = (app.test_client() for app in sides)
    hung = opened(here, named("hang"))
    wait_for(lambda: build_of(here, hung["id"])["steps"].get("sweep") == "building", "the build here")
    there.post(f"/api/parts/{hung['id']}/build/stop")
    wait_for(lambda: build_of(here, hung["id"])["state"] == "stopped", "its end")


def test_the_turn_of_a_server_that_died_is_free(sides):
    turns = [app.extensions["leadline"].turns for app in sides]
    assert turns[0].take("some part")
    assert not turns[1].take("some part")
    turns[0]._connection.pgconn.finish()  # as when its process is gone
    wait_for(lambda: turns[1].take("some part"), "the turn")
    turns[1].give_back("some part")
    assert turns[0].take("some part")  # by a new connection
    turns[0].give_back("some part")


def command(database_url):
    """The command of a worker for jobs, and its environment."""
    return [sys.executable, "-m", "leadline", "work", "--at-once", "1"], {**os.environ, "LEADLINE_DB_URL": database_url}


def test_jobs_are_done_by_a_machine_of_its_own_also_when_one_dies(sides, database_url):
    services = sides[0].extensions["leadline"]
    ids = [services.parts.create(part_from(named(f"Job {n}"))).id for n in range(2)]
    job_queue = jobs.Jobs(services.database.dsn)
    job_queue.build([ids[0], *ids, "no such part"])

    def ask(words):
        with services.database.session.begin() as session:
            return session.execute(text(words)).scalar()

    own = (
        "select count(*) from procrastinate_jobs where args->>'part_id' = any(array['{}', '{}', 'no such part'])"
    ).format(*ids)
    assert ask(own) == 3
    words, env = command(database_url)
    first = subprocess.Popen(words, env=env)
    wait_for(lambda: ask("select count(*) from procrastinate_jobs where status = 'doing'"), "the first job")
    first.send_signal(signal.SIGKILL)
    first.wait()
    with services.database.session.begin() as session:  # the time in which a machine has to show life is over
        session.execute(text("update procrastinate_workers set last_heartbeat = now() - interval '1 hour'"))
    with ThreadPoolExecutor(
        1
    ) as pool:  # in a thread of its own: this one may have the event loop of a browser that was driven in it
        pool.submit(jobs.work, replace(services.settings, builders=1), until_done=True).result()
    assert ask(own) == 0
    for part_id in ids:
        assert services.parts.picture(part_id) is not None
        there = sides[1].test_client()
        there.get(f"/api/parts/{part_id}")
        assert build_of(there, part_id)["state"] == "done"
