"""What follows a hand, by the line of an open editor."""

from __future__ import annotations

import copy
import json
import threading
import time

import pytest
from simple_websocket import ConnectionClosed
from werkzeug.serving import make_server

from leadline.core.sketch.dragging import Drag
from leadline.core.sketch.model import Sketch
from leadline.limits import LINE_SLOTS
from tests.support.follower import Follower
from tests.support.parts import bar, step


@pytest.fixture(scope="module")
def url(app):
    server = make_server("127.0.0.1", 0, app, threaded=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.port}"
    server.shutdown()


@pytest.fixture
def line(url):
    follower = Follower(url)
    yield follower
    follower.client.close()


def loose():
    document = bar()
    step(document, "path")["sketch"]["dimensions"] = []
    return document


def test_a_drag_says_what_moved_and_the_document_goes_over_once(line, app, monkeypatch):
    editors, documents = app.extensions["leadline"].editors, []
    run = editors._run
    monkeypatch.setattr(editors, "_run", lambda window, request: documents.append(request[3]) or run(window, request))
    line.show(loose())
    drag = Drag(Sketch.model_validate(step(loose(), "path")["sketch"]))
    for x, y in ((120, 5), (130, 9), (80, -40)):
        message, _ = line.ask(question="drag", step="path", item="p2", to=[x, y])
        expected = next(p for p in drag.to("p2", (x, y)).points if p.id == "p2")
        assert message["answer"]["points"]["p2"] == pytest.approx([expected.x, expected.y], abs=1e-9)
        assert "sketch" not in message["answer"]
    assert [d is not None for d in documents] == [False, True, False, False]  # asked for once


def test_a_preview_brings_its_mesh_along_whole_and_takes_changed_steps(line):
    line.show(bar())
    message, mesh = line.ask(question="preview", step="sweep", moving=True)
    assert mesh[:4] == b"glTF"
    assert int.from_bytes(mesh[8:12], "little") == len(mesh)
    twisted = {**step(bar(), "sweep"), "twist": 150}
    changed, moving = line.ask(question="preview", step="sweep", moving=True, changed=(twisted,))
    assert changed["answer"]["report"]["data"]["lanes"]["twist"][-1] == pytest.approx(150 * 360)
    _, few = line.ask(question="preview", step="sweep", moving=True, points=1000, changed=(twisted,))
    _, fine = line.ask(question="preview", step="sweep", moving=False, changed=(twisted,))
    assert int.from_bytes(fine[8:12], "little") == len(fine) > max(1_000_000, len(moving))
    assert len(few) < len(moving) / 2
    assert (
        line.ask(question="preview", step="sweep")[0]["answer"]["report"]["figure"]
        == message["answer"]["report"]["figure"]
    )


def test_what_only_the_kernel_can_tell_is_built_and_shown(line):
    document = bar()
    document["steps"].append(
        {"kind": "rounding", "id": "soft", "name": "Soft", "edges": [], "how": {"by": "even", "radius": 1}}
    )
    line.show(document)
    message, mesh = line.ask(question="built", step="soft")
    assert (message["answer"]["report"]["messages"][0]["code"], mesh) == ("no-edges", None)
    edge = {"step": "sweep", "edge": "sweep/cap/end&sweep/side/e1/e1"}
    picked = {**step(document, "soft"), "edges": [edge]}
    message, mesh = line.ask(question="built", step="soft", changed=(picked,))
    assert message["answer"]["report"]["state"] == "fresh", message
    assert message["answer"]["replaces"] == ["soft", "sweep"]
    assert mesh[:4] == b"glTF"
    message, _ = line.ask(
        question="built", step="soft", changed=({**picked, "how": {"by": "even", "radius": "nonsense("}},)
    )
    assert message["answer"]["report"]["state"] == "failed"


def test_of_the_asks_of_one_slot_the_newest_wins(line, app, monkeypatch):
    gate, asked = threading.Event(), []

    def follow(*given):
        asked.append(json.loads(given[-1])["given"]["step"])
        gate.wait(20)
        return b"1", None, 0.0

    monkeypatch.setattr(app.extensions["leadline"].editors, "follow", follow)
    numbers = [line.send(step=f"s{i}") for i in range(5)]
    other = line.send(slot="b", step="other")
    dropped = [line.hear()[0] for _ in range(3)]
    assert dropped == [{"ask": n, "dropped": True} for n in numbers[1:4]]
    gate.set()
    assert {line.hear()[0]["ask"] for _ in range(3)} == {numbers[0], numbers[4], other}
    assert sorted(asked) == ["other", "s0", "s4"]


def test_no_window_asks_for_everything_at_once(line, app, monkeypatch):
    gate = threading.Event()

    def follow(*_):
        gate.wait(20)
        return b"1", None, 0.0

    monkeypatch.setattr(app.extensions["leadline"].editors, "follow", follow)
    numbers = [line.send(slot=f"{i}") for i in range(LINE_SLOTS + 3)]
    refused = [line.hear()[0] for _ in range(3)]
    assert [m["ask"] for m in refused] == numbers[-3:]
    assert all(str(LINE_SLOTS) in m["error"]["text"] for m in refused)
    gate.set()
    assert {line.hear()[0]["ask"] for _ in range(LINE_SLOTS)} == set(numbers[:-3])


def test_each_ask_is_about_the_document_that_was_shown_before_it(line, app, monkeypatch):
    gate, about = threading.Event(), []

    def follow(*given):
        about.append((json.loads(given[-1])["given"]["step"], json.loads(given[2].text())["part"]))
        gate.wait(20)
        return b"1", None, 0.0

    monkeypatch.setattr(app.extensions["leadline"].editors, "follow", follow)
    line.show({"a": 1})
    line.send(step="first")
    line.send(step="second")
    line.show({"a": 2})
    line.send(slot="b", step="third")
    time.sleep(0.2)
    gate.set()
    for _ in range(3):
        line.hear()
    assert sorted(about) == [("first", {"a": 1}), ("second", {"a": 1}), ("third", {"a": 2})]


@pytest.mark.parametrize(
    "given",
    [
        {"question": "drag", "step": "nope", "item": "p2", "to": [0, 0]},
        {"question": "drag", "step": "sweep", "item": "p2", "to": [0, 0]},
        {"question": "drag", "step": "path", "item": "p9", "to": [0, 0]},
        {"question": "drag", "step": "path", "item": "p1", "to": ["a", 0]},
        {"question": "drag", "step": "path", "item": "p1", "to": [1e999, 0]},
        {"question": "preview", "step": "nope"},
        {"question": "built", "step": "nope"},
        {"question": "built", "step": 5},
        {"question": "built"},
        {"question": "what", "step": "path"},
        {},
        {"question": "preview", "step": "sweep", "changed": ({"id": "sweep", "kind": "sweep"},)},
        {"question": "preview", "step": "sweep", "changed": (5, None, {"id": ["x"]})},
    ],
)
def test_what_cannot_be_answered_is_said_and_the_line_goes_on(line, given):
    line.show(bar())
    message, _ = line.ask(**given)
    if given.get("changed") != (5, None, {"id": ["x"]}):
        assert message["error"]["text"]
        assert message["error"]["way_out"]
    assert "answer" in line.ask(question="preview", step="sweep")[0]


def test_a_document_that_does_not_fit_is_refused_and_the_next_one_taken(line):
    broken = copy.deepcopy(bar())
    broken["steps"][0]["kind"] = "nothing"
    for document in (broken, {}, [1], {**bar(), "name": "a\0b"}):
        line.show(document)
        assert line.ask(question="preview", step="sweep")[0]["error"]["text"]
    line.show(bar())
    assert "answer" in line.ask(question="preview", step="sweep")[0]


def test_an_editor_process_that_ends_is_replaced_and_gets_the_document_again(line, app):
    line.show(bar())
    assert "answer" in line.ask(question="preview", step="sweep")[0]
    for _ in range(4):  # all that are idle at once, and asked before anybody has heard of it
        for worker in list(app.extensions["leadline"].editors.pool._workers):
            worker.process.kill()
        assert "answer" in line.ask(question="preview", step="sweep")[0]


@pytest.mark.parametrize("nonsense", ["", "no json", "[]", "5", "{}", b"\0\1"])
def test_a_message_that_is_none_closes_its_line_alone(url, line, nonsense):
    other = Follower(url)
    other.client.send(nonsense)
    with pytest.raises(ConnectionClosed):
        other.client.receive(10)
    line.show(bar())
    assert "answer" in line.ask(question="preview", step="sweep")[0]


def test_asks_that_are_none_are_told_and_the_line_goes_on(url):
    follower = Follower(url)
    try:
        follower.show(bar())
        for wrong, field in (({"ask": 2}, "slot"), ({"ask": "two", "slot": "a"}, "ask"), ({"slot": "a"}, "ask")):
            follower.client.send(json.dumps(wrong))
            answer = json.loads(follower.client.receive(20))
            assert (answer["error"]["code"], answer["error"]["place"]["field"]) == ("bad-field", field)
        assert "answer" in follower.ask(question="preview", step="sweep")[0]
    finally:
        follower.client.close()
