"""The line to each open editor: a WebSocket on which it is told how the builds of its part go on."""

from __future__ import annotations

import json

from flask import Flask
from flask_sock import Sock
from simple_websocket import ConnectionClosed, Server

from leadline.server.services import services

PING = 25  # seconds; a window that is gone without a word is found out by it


def register(app: Flask) -> None:
    app.config["SOCK_SERVER_OPTIONS"] = {"ping_interval": PING, "max_message_size": 1 << 16}
    sock = Sock(app)

    @sock.route("/api/parts/<string:part_id>/line")
    def line(socket: Server, part_id: str) -> None:
        """Events "step" and "build" (progress) and "picture", as JSON, until the window closes it."""
        with services().broker.watch(part_id) as events:
            try:
                for event in events:
                    if event is not None:
                        socket.send(json.dumps(event))
                    elif not socket.connected:
                        return
            except ConnectionClosed:
                return
