"""What one person sends does not hold the others up: many connections, large documents, requests that do not end, parts
deleted while they are built.
"""

from __future__ import annotations

import json
import logging
import resource
import socket
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from urllib.parse import urlsplit

import pytest

from leadline.limits import BODY_SECONDS
from leadline.server.parts import NotFound
from leadline.server.tables import PartRow
from ops.server import memory_of
from tests.support.faults import Designer, House, house
from tests.support.follower import Follower, idle_lines
from tests.support.parts import bar, long_sketches, part

MANY = 1000


@pytest.fixture(scope="module")
def at(tmp_path_factory: pytest.TempPathFactory) -> Iterator[House]:
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))
    with house(tmp_path_factory.mktemp("held-up")) as found:
        yield found


@pytest.fixture
def designer(at: House) -> Designer:
    designer = Designer(at.url)
    designer.open()
    return designer


def connected(at: House, said: bytes) -> socket.socket:
    to = urlsplit(at.url)
    line = socket.create_connection((to.hostname, to.port))
    line.sendall(said)
    return line


def post_to(at: House, path: str, length: int) -> bytes:
    return (
        f"POST /api{path} HTTP/1.1\r\nHost: {urlsplit(at.url).netloc}\r\nContent-Type: "
        f"application/json\r\nContent-Length: {length}\r\n"
    ).encode()


def test_a_thousand_lines_and_a_thousand_slow_senders_leave_it_answering(at, designer):
    with ExitStack() as stack, idle_lines(at.url, designer.id, MANY):
        for k in range(MANY):  # half of them in the middle of their headers, half in the middle of their bodies
            stack.enter_context(connected(at, post_to(at, "/parts", 1000) + (b"X-Slow" if k % 2 else b"\r\n{")))
        assert designer.ask("GET", "/status")["open_editors"] >= MANY
        assert designer.ask("GET", "/health")["state"] == "ok"
        designer.change(1)
        assert designer.wait_built()["bodies"]


def test_a_body_that_does_not_come_to_its_end_is_given_up(at, designer):
    """Of what is worked on there, and of what is passed on."""
    with (
        connected(at, post_to(at, "/parts", 1000) + b"\r\n{") as told,
        connected(
            at, post_to(at, f"/parts/{designer.id}/document", 1000).replace(b"POST", b"PUT", 1) + b"\r\n{"
        ) as saved,
        connected(at, post_to(at, "/sketch/read-svg", 5_000_000) + b"\r\n{") as large,
    ):
        for line in (told, saved, large):
            line.settimeout(3 * BODY_SECONDS + 60)
            assert b" 408 " in line.recv(1000).splitlines()[0]


def test_what_is_too_large_is_refused_in_words_though_it_was_sent_whole(at, designer):
    body = json.dumps({"given": {"a": ["x"] * 400_000}}).encode()
    request = urllib.request.Request(
        f"{at.url}/api/parts/{designer.id}/ask/sweep/least",
        method="POST",
        data=body,
        headers={"Content-Type": "application/json"},
    )
    with pytest.raises(urllib.error.HTTPError) as refused:
        urllib.request.urlopen(request, timeout=60)
    assert refused.value.code == 413
    assert "at most 100 kB" in json.load(refused.value)["error"]["way_out"]


def test_large_documents_of_many_windows_do_not_fill_the_web_process(at, designer):
    (web,) = at.pids("web process")
    said = json.dumps({"part": {**bar(), "steps": long_sketches(15)}})
    assert len(said) > 4_000_000
    before = memory_of(web)
    lines = [Follower(at.url, window=f"large-{k}", part=designer.id) for k in range(12)]
    for line in lines:
        line.client.send(said)
        answered, _ = line.ask(question="drag", step="s0", item="p5", to=[1, 2])
        assert "answer" in answered, answered
    assert memory_of(web) - before < 100  # MB; as dicts they had a gigabyte
    for line in lines:
        line.client.close()


def test_an_ask_before_any_part_is_shown_and_changed_steps_that_are_none_are_told(at, designer):
    line = Follower(at.url, part=designer.id)
    for question in ("preview", "built"):
        message, _ = line.ask(question=question, step="sweep")
        assert (message["error"]["code"], message["error"]["way_out"]) == (
            "no-document",
            "Show one, then ask about it.",
        )
    line.show(bar())
    for question in ("preview", "built"):
        message, _ = line.ask(question=question, step="sweep", changed=7)
        assert message["error"]["place"]["field"] == "changed"
    message, _ = line.ask(question="preview", step="sweep")
    assert "answer" in message
    line.client.close()


def test_a_part_that_is_deleted_while_it_is_built_leaves_no_error(client, caplog):
    with caplog.at_level(logging.WARNING):
        for k in range(12):
            view = client.post(
                "/api/parts/file", data=json.dumps({**bar(100 + k), "name": "hang" if k % 4 == 3 else "Bar"})
            ).get_json()
            time.sleep(0.06 * k)
            assert client.delete(f"/api/parts/{view['id']}").status_code == 204
            assert client.get(f"/api/parts/{view['id']}").status_code == 404
        end = time.monotonic() + 60
        while client.get("/api/status").get_json()["building"] and time.monotonic() < end:
            time.sleep(0.1)
    assert [r.message for r in caplog.records if r.levelno >= logging.WARNING] == []


@pytest.mark.parametrize(
    ("asked", "told"), [("set_picture", None), ("delete", NotFound)], ids=["its picture is kept", "it is deleted twice"]
)
def test_what_is_done_to_a_part_while_it_is_being_deleted_finds_it_gone(app, asked, told):
    """Another transaction has deleted it, and ends only once this one waits for it."""
    parts = app.extensions["leadline"].parts
    part_id = parts.create(part(bar())).id
    given = (part_id, b"png") if asked == "set_picture" else (part_id,)
    with ThreadPoolExecutor(1) as pool:
        with parts.database.session.begin() as session:
            session.delete(session.get(PartRow, part_id))
            session.flush()
            done = pool.submit(getattr(parts, asked), *given)
            with pytest.raises(TimeoutError):
                done.result(0.5)
        assert told is None or isinstance(done.exception(60), told)
        assert told is not None or done.result(60) is None
    with pytest.raises(NotFound):
        parts.picture(part_id)
