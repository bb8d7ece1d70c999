"""A page of another origin that is open in the same browser tries to read and to change parts."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import LiveServer
from tests.support.parts import bar

# Each way of asking, and what comes of it: what was read, or that it was refused.
TRIES = """async (server) => {
  const json = { 'Content-Type': 'application/json' };
  const ask = (path, options = {}) => fetch(server + path, options).then((r) => r.text(), () => 'refused');
  const silent = (path, options = {}) =>
    fetch(server + path, { mode: 'no-cors', ...options }).then((r) => r.type, () => 'refused');
  const line = (path) => new Promise((resolve) => {
    const socket = new WebSocket(server.replace('http', 'ws') + path);
    socket.onopen = () => resolve('open');
    socket.onerror = () => resolve('refused');
  });
  const shown = (tag, path) => new Promise((resolve) => {
    const element = document.createElement(tag);
    element.onload = () => resolve('shown');
    element.onerror = () => resolve('refused');
    element.src = server + path;
    document.body.append(element);
  });
  const form = (path, type) => new Promise((resolve) => {
    const target = document.createElement('iframe');
    target.name = 'target' + Math.random();
    const sent = document.createElement('form');
    Object.assign(sent, { method: 'POST', action: server + path, enctype: type, target: target.name });
    sent.innerHTML = '<input name=\\'{"name": "Stranger", "x": "\\' value=\\'"}\\'>';
    document.body.append(target, sent);
    target.onload = () => setTimeout(() => resolve('sent'), 300);
    sent.submit();
  });
  return {
    read: await ask('/api/parts'),
    'read without looking': await silent('/api/parts'),
    'made by JSON': await ask('/api/parts', { method: 'POST', headers: json, body: '{"name": "Stranger"}' }),
    'made by text': await silent('/api/parts', { method: 'POST', body: '{"name": "Stranger"}' }),
    'made by a file': await silent('/api/parts/file', { method: 'POST', body: FILE }),
    deleted: await ask('/api/parts/' + PART, { method: 'DELETE' }),
    line: await line('/api/parts/' + PART + '/line'),
    picture: await shown('img', '/api/parts/' + PART + '/picture.png'),
    script: await shown('script', '/api/parts'),
    form: await form('/api/parts', 'text/plain'),
    'form of a file': await form('/api/parts/file', 'text/plain'),
  };
}"""


class _Stranger(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(b"<!doctype html><title>Stranger</title><body>")

    def log_message(self, *_: object) -> None:
        pass


@pytest.fixture
def stranger() -> Iterator[str]:
    server = ThreadingHTTPServer(("127.0.0.1", 0), _Stranger)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()


def test_a_page_on_another_port_reads_and_changes_nothing(page: Page, live: LiveServer, stranger: str):
    own = page.request.post(f"{live.url}/api/parts/file", data=json.dumps({**bar(), "name": "Own"})).json()
    before = {p["id"] for p in page.request.get(f"{live.url}/api/parts").json()}
    page.goto(stranger)
    tries = TRIES.replace("PART", json.dumps(own["id"])).replace(
        "FILE", json.dumps(json.dumps({**bar(), "name": "Stranger"}))
    )
    came = page.evaluate(tries, live.url)
    told = {"refused", "opaque", "sent"}  # opaque: the browser shows nothing of the answer, which is a refusal
    assert {way: said for way, said in came.items() if said not in told} == {}
    assert (came["line"], came["picture"], came["script"], came["deleted"], came["read"]) == ("refused",) * 5
    assert {p["id"] for p in page.request.get(f"{live.url}/api/parts").json()} == before
    assert page.request.get(f"{live.url}/api/parts/{own['id']}").json()["revision"] == own["revision"]


def test_no_page_shows_this_one_inside_of_it(page: Page, live: LiveServer, stranger: str):
    page.goto(stranger)
    page.evaluate(
        "(url) => { const f = document.createElement('iframe'); f.src = url; document.body.append(f); }", live.url
    )
    page.wait_for_function("document.querySelector('iframe').contentDocument === null || window.frames.length === 1")
    frame = next(f for f in page.frames if f is not page.main_frame)
    frame.wait_for_load_state()
    assert not frame.url.startswith(live.url) or "Lead Line" not in frame.content()
