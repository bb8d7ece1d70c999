"""A script of edits while processes are killed and paused: the server, its builders, the database."""

from __future__ import annotations

import json
import logging
import os
import signal
import socket
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from http.client import HTTPException
from pathlib import Path
from typing import Any

from ops.keeper import Keeper
from ops.postgres import Cluster
from ops.processes import children, family
from tests.support.parts import bar, step

PYTHON = Path(__file__).resolve().parents[2] / ".venv" / "bin" / "python"
DEADLINE = 240.0  # seconds in which everything has to work again


@dataclass
class House:
    """A database, a server and their keeper, all of their own."""

    cluster: Cluster
    keeper: Keeper
    url: str

    def pids(self, what: str) -> list[int]:
        """The processes of the "server", its "web process", the "builders" and editors (with the one that they are
        forked from) or the "database".
        """
        server = self.keeper.server.process.pid
        if what == "server":
            return [server]
        if what == "web process":
            return children(server)
        if what == "builders":
            return [pid for pid in family(server)[1:] if pid not in children(server)]
        return self.cluster.processes()


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextmanager
def house(data: Path, web_processes: int = 1) -> Iterator[House]:
    """Start all of it, with no demo parts; in the end it is gone."""
    cluster, port = Cluster(data, free_port()), free_port()
    cluster.start()
    (data / "demo").mkdir(exist_ok=True)
    settings = {"LEADLINE_DB_URL": cluster.url(), "LEADLINE_PORT": str(port), "LEADLINE_DEMO": str(data / "demo")}
    os.environ.update({**settings, "LEADLINE_WEB_PROCESSES": str(web_processes)})
    keeper = Keeper([str(PYTHON), "-m", "leadline", "serve"], port, cluster, logging.getLogger("keeper"))
    watch = threading.Thread(target=keeper.run, daemon=True)
    watch.start()
    try:
        while not keeper.heard:
            assert watch.is_alive()
            time.sleep(0.1)
        yield House(cluster, keeper, f"http://127.0.0.1:{port}")
    finally:
        keeper.ending.set()
        watch.join(30)
        cluster.remove()


@dataclass
class Designer:
    """Changes one part as the front end does: each change on the one before it, sent again until it is answered."""

    url: str
    document: dict[str, Any] = field(default_factory=bar)
    id: str = ""
    base: int = 0
    window: str = ""
    acknowledged: list[str] = field(default_factory=list)

    def ask(self, method: str, path: str, body: object = None, seconds: float = 20.0) -> Any:
        request = urllib.request.Request(f"{self.url}/api{path}", method=method, headers={"Lead-Window": self.window})
        if body is not None:
            request.data = json.dumps(body).encode()
            request.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(request, timeout=seconds) as answer:
            return json.load(answer)

    def insist(self, method: str, path: str, body: object = None) -> Any:
        """Ask until there is an answer. Raises HTTPError for a refusal that would be one again."""
        end = time.monotonic() + DEADLINE
        while True:
            try:
                return self.ask(method, path, body, 12.0)
            except (
                OSError,
                ValueError,
                HTTPException,
            ) as error:  # the last: a process that ended in the middle of its answer
                refused = isinstance(error, urllib.error.HTTPError) and error.code < 500
                if refused or time.monotonic() > end:
                    raise
                time.sleep(0.2)

    def open(self) -> None:
        view = self.insist("POST", "/parts/file", self.document)
        self.id, self.base = view["id"], view["revision"]

    def change(self, number: int) -> None:
        label = f"Change {number}"
        step(self.document, "path")["sketch"]["dimensions"][0]["value"] = 100 + number % 50
        body = {
            "base": self.base,
            "token": str(uuid.uuid4()),
            "label": label,
            "document": {**self.document, "name": label},
        }
        view = self.insist("PUT", f"/parts/{self.id}/document", body)
        assert view["label"] == label
        self.base = view["revision"]
        self.acknowledged.append(label)

    def labels(self) -> list[str]:
        """The changes that the part has now, by going back through all of them."""
        view = self.insist("GET", f"/parts/{self.id}")
        found = []
        while view["can_undo"]:
            found.append(view["label"])
            view = self.insist("POST", f"/parts/{self.id}/undo", {"base": view["revision"], "token": str(uuid.uuid4())})
        for _ in found:
            view = self.insist("POST", f"/parts/{self.id}/redo", {"base": view["revision"], "token": str(uuid.uuid4())})
        self.base = view["revision"]
        return found[::-1]

    def wait_built(self) -> dict[str, Any]:
        """The build of the newest revision, whatever happened to the one before.

        Raises AssertionError when there is none in time.
        """
        end = time.monotonic() + DEADLINE
        while time.monotonic() < end:
            self.insist("GET", f"/parts/{self.id}")  # as a page that comes back does
            build = self.insist("GET", f"/parts/{self.id}/build")
            if build["state"] == "done" and build["revision"] == self.base:
                return dict(build["result"])
            time.sleep(0.2)
        raise AssertionError(f"not built: {build}")


@dataclass(frozen=True)
class Fault:
    """What is done to which processes."""

    what: str
    sign: signal.Signals

    def strike(self, at: House) -> None:
        for pid in at.pids(self.what):
            try:
                os.kill(pid, self.sign)
            except ProcessLookupError:
                continue

    @property
    def title(self) -> str:
        return f"{'kill -9' if self.sign is signal.SIGKILL else 'pause'} of the {self.what}"


FAULTS = [
    Fault(what, sign)
    for what in ("server", "web process", "builders", "database")
    for sign in (signal.SIGKILL, signal.SIGSTOP)
]


def edits_under(
    at: House, fault: Fault, edits: int, strikes: int, told: Callable[[str], None] = lambda _: None
) -> float:
    """Make edits while a fault strikes several times; returns the longest time (s) that one edit took.

    Raises AssertionError when an acknowledged change is missing or done twice, or when the part is not built in the
    end.
    """
    designer = Designer(at.url)
    designer.open()
    longest = 0.0
    when = {round((k + 0.5) * edits / strikes) for k in range(strikes)}
    for number in range(edits):
        if number in when:
            fault.strike(at)
            told(f"{fault.title} at edit {number}")
        began = time.monotonic()
        designer.change(number)
        longest = max(longest, time.monotonic() - began)
    assert designer.labels() == designer.acknowledged == [f"Change {n}" for n in range(edits)]
    result = designer.wait_built()
    assert len(result["bodies"]) == 1
    return longest
