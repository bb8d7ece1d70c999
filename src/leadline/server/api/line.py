"""The line to each open editor: a WebSocket for what follows a hand, and on which it is told how the builds of its part
go on.

To the server go ``{"part": {...}}``, the document that what follows is about, and asks
``{"ask": k, "slot": "...", "changed": [steps], "given": {...}}``. Of the asks of one slot the newest wins: one that
waits while another is computed gives way to the next. Each is answered by ``{"ask": k}`` with ``answer`` (and the ms
``spent`` on it), ``error`` (a message) or ``dropped``. Where a mesh comes along the message is binary: four bytes that
tell the length of the JSON, the JSON, the mesh as GLB. Besides come the events "step", "build" and "picture".
"""

from __future__ import annotations

import json
import struct
import threading
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from flask import Flask, request
from flask_sock import Sock
from simple_websocket import ConnectionClosed, Server

from leadline.core.problems import Problem
from leadline.limits import DOCUMENT_BYTES, LINE_SLOTS
from leadline.server.builds import Builds
from leadline.server.desks import Desks
from leadline.server.editors import Editors
from leadline.server.errors import told
from leadline.server.events import Broker
from leadline.server.kept_text import LONG, Kept
from leadline.server.services import services
from leadline.worker.asks import Answer, Head, head_of
from leadline.worker.requests import PreviewOf

PING = 25  # seconds; a window that is gone without a word is found out by it
TOO_MANY = Problem("busy", f"More than {LINE_SLOTS} things are asked at once.", "Wait for the answers, then ask again.")
LONGEST = DOCUMENT_BYTES + (1 << 16)  # bytes of a message


def register(app: Flask) -> None:
    app.config["SOCK_SERVER_OPTIONS"] = {"ping_interval": PING, "max_message_size": LONGEST}
    sock = Sock(app)

    @app.before_request
    def plain() -> None:
        """Messages are not compressed: most come from this machine, and it takes longer than to send them."""
        if request.headers.get("Upgrade", "").lower() == "websocket":
            request.environ.pop("HTTP_SEC_WEBSOCKET_EXTENSIONS", None)

    @sock.route("/api/parts/<string:part_id>/line")  # type: ignore[untyped-decorator]  # the package has no types
    def line(socket: Server, part_id: str) -> None:
        own = services()
        Line(socket, part_id, request.args.get("window", ""), own.editors, own.desks, own.builds).run(own.broker)


class _Whole:
    """A socket whose messages go out as a whole and one after the other, whoever sends them."""

    def __init__(self, sock: Any) -> None:
        self._sock, self._lock = sock, threading.Lock()

    def send(self, data: bytes) -> None:
        with self._lock:
            self._sock.sendall(data)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._sock, name)


@dataclass(frozen=True)
class _Ask:
    """An ask as it came, and what the line showed then."""

    head: Head
    message: Kept
    name: str
    shown: Kept


class Line:
    """One editor's line.

    Asks are computed by its ``window``'s process, those that need the kernel by a process that builds; those of one
    slot one after the other.
    """

    def __init__(
        self, socket: Server, part_id: str, window: str, editors: Editors, desks: Desks, builds: Builds
    ) -> None:
        socket.sock = _Whole(socket.sock)
        self.socket, self.part_id, self.window, self.editors, self.desks, self.builds = (
            socket,
            part_id,
            window,
            editors,
            desks,
            builds,
        )
        self.shown = "", Kept(b"")  # the message with the document, with the name that the processes know it by
        self.waiting: dict[str, _Ask | None] = {}  # by slot, the ask that comes next; a slot that is here is at work
        self.slots = threading.Lock()

    def run(self, broker: Broker) -> None:
        """Serve the line until the window closes it."""
        with broker.watch(self.part_id) as events:
            threading.Thread(target=self._tell, args=(events,), daemon=True).start()
            try:
                while True:
                    self._take(self.socket.receive())
            except (ConnectionClosed, ValueError, TypeError):
                return  # closed; or no message of ours, and then the window has nothing to say on this line

    def _tell(self, events: Iterator[dict[str, Any] | None]) -> None:
        """Pass events of builds on until the line is closed."""
        try:
            for event in events:
                if event is not None:
                    self._say(event)
                elif not self.socket.connected:
                    return
        except ConnectionClosed:
            return

    def _take(self, said: str | bytes) -> None:
        """A message. What is long is looked into by another process."""
        text = said.encode() if isinstance(said, str) else said
        head = head_of(text) if len(text) < LONG else self.editors.head(self.window, text)
        if head is None:
            raise TypeError("no message of ours")
        if head.shows:
            self.shown = uuid.uuid4().hex, Kept(text)
            return
        wrong = self._wrong(head)
        if wrong is not None:
            self._say({"ask": head.ask, "error": told(wrong)[1]})
            return
        ask, slot = _Ask(head, Kept(text), *self.shown), head.slot
        with self.slots:
            at_work = slot in self.waiting
            if not at_work and len(self.waiting) >= LINE_SLOTS:
                self._say({"ask": head.ask, "error": told(TOO_MANY)[1]})
                return
            before = self.waiting.get(slot)
            self.waiting[slot] = ask if at_work else None
        if before is not None:
            self._say({"ask": before.head.ask, "dropped": True})
        if not at_work:
            threading.Thread(target=self._work, args=(slot, ask), daemon=True).start()

    def _wrong(self, head: Head) -> Problem | None:
        """What is wrong with an ask, before anything is worked out for it."""
        if type(head.ask) is not int:
            return Problem("bad-field", "An ask has no whole number.", "Number it.", field="ask")
        if not isinstance(head.slot, str):
            return Problem("bad-field", "An ask names no slot.", "Name one.", field="slot")
        return None

    def _work(self, slot: str, ask: _Ask) -> None:
        """Answer an ask, and then the newest that came in its slot meanwhile, until there is none."""
        while True:
            try:
                self._answer(ask)
            except ConnectionClosed:
                return
            with self.slots:
                following = self.waiting[slot]
                if following is None:
                    del self.waiting[slot]
                    return
                ask, self.waiting[slot] = following, None

    def _answer(self, ask: _Ask) -> None:
        try:
            answer, mesh, spent = self._answered(ask)
        except Exception as error:
            self._say({"ask": ask.head.ask, "error": told(error)[1]})
            return
        text = b'{"ask":%d,"spent":%.2f,"answer":%b}' % (ask.head.ask, spent, answer)
        if mesh is None:
            self.socket.send(text.decode())
        else:
            self.socket.send(struct.pack("<I", len(text)) + text + mesh)

    def _answered(self, ask: _Ask) -> Answer:
        if not ask.head.built:
            return self.editors.follow(self.window, ask.name, ask.shown, ask.message.text())
        text = self.desks.previewed(self.window, self.part_id, ask.shown.text(), ask.message.text())
        return self.builds.run(self.part_id, PreviewOf(text, ask.head.step))

    def _say(self, message: dict[str, Any]) -> None:
        self.socket.send(json.dumps(message))
