"""The other end of an editor's line, as the front end has it."""

from __future__ import annotations

import base64
import json
import os
import socket
import struct
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

from simple_websocket import Client


@dataclass
class Follower:
    url: str
    window: str = "window"
    part: str = "none"
    serial: int = 0
    client: Client = field(init=False)

    def __post_init__(self) -> None:
        self.client = Client(f"{self.url.replace('http', 'ws', 1)}/api/parts/{self.part}/line?window={self.window}")

    def show(self, document: dict[str, Any]) -> None:
        self.client.send(json.dumps({"part": document}))

    def send(self, slot: str = "a", changed: tuple[Any, ...] = (), **given: Any) -> int:
        self.serial += 1
        self.client.send(json.dumps({"ask": self.serial, "slot": slot, "changed": changed, "given": given}))
        return self.serial

    def hear(self, seconds: float = 120.0) -> tuple[dict[str, Any], bytes | None]:
        """The next answer, and the mesh that comes along; events are passed over."""
        while True:
            said = self.client.receive(seconds)
            assert said is not None, "no answer"
            if isinstance(said, bytes):
                (length,) = struct.unpack_from("<I", said)
                return json.loads(said[4 : 4 + length]), said[4 + length :]
            message = json.loads(said)
            if "ask" in message:
                return message, None

    def ask(self, **given: Any) -> tuple[dict[str, Any], bytes | None]:
        number = self.send(**given)
        message, mesh = self.hear()
        assert message["ask"] == number
        return message, mesh


@contextmanager
def idle_lines(url: str, part: str, count: int) -> Iterator[None]:
    """So many WebSockets, each upgraded by hand and then left open."""
    to = urlsplit(url)
    with ExitStack() as stack:
        for _ in range(count):
            line = stack.enter_context(socket.create_connection((to.hostname, to.port)))
            key = base64.b64encode(os.urandom(16)).decode()
            line.sendall(
                f"GET /api/parts/{part}/line HTTP/1.1\r\nHost: {to.netloc}\r\nUpgrade: "
                "websocket\r\nConnection: Upgrade\r\n"
                f"Sec-WebSocket-Key: {key}\r\nSec-WebSocket-Version: 13\r\n\r\n".encode()
            )
            assert b" 101 " in line.recv(200)
        yield
