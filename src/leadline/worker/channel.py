"""The end of a worker's pipe that is not the worker's: it never waits longer than it is told to.

The worker has a ``multiprocessing`` connection, which waits as long as it takes. Whoever uses a worker has other things
to do and may meet one that is stopped in the middle of a message, so that this end is a plain socket with time limits.
It speaks the form of such connections: a length of four bytes, then a pickle.
"""

from __future__ import annotations

import os
import pickle
import socket
import struct
import time
from multiprocessing.connection import Connection
from multiprocessing.reduction import ForkingPickler
from typing import Any

CHUNK = 1 << 18
LONGEST = 0x7FFFFFFF  # bytes that the four of the length can tell; a longer message has eight more


class Channel:
    """Messages are what can be pickled. ``theirs`` is for the worker's process, until ``given_away``."""

    def __init__(self) -> None:
        self._socket, other = socket.socketpair()
        handle = other.detach()
        os.set_blocking(handle, True)  # where sockets are cooperative, this one came as one that does not wait
        self.theirs = Connection(handle)
        self._read = bytearray()

    def given_away(self) -> None:
        """The worker's process has its end; this one keeps none of it, so that the end of the process ends the
        messages.
        """
        self.theirs.close()

    def send(self, message: object, seconds: float) -> None:
        """Raises OSError when the worker does not take it in that time, or is gone."""
        data = ForkingPickler.dumps(message)  # a view of bytes that may be many: not copied
        head = struct.pack("!i", len(data)) if len(data) <= LONGEST else struct.pack("!iQ", -1, len(data))
        self._socket.settimeout(seconds)
        self._socket.sendall(head)
        self._socket.sendall(data)

    def receive(self, seconds: float) -> Any:
        """The next message; None when none has come as a whole in that time.

        Raises EOFError or OSError when the worker is gone.
        """
        end = time.monotonic() + seconds
        while True:
            message = self._next()
            if message is not None:
                return message
            left = end - time.monotonic()
            if left <= 0:
                return None
            self._socket.settimeout(left)
            try:
                data = self._socket.recv(CHUNK)
            except TimeoutError:
                return None
            if not data:
                raise EOFError
            self._read += data

    def close(self) -> None:
        self._socket.close()

    def _next(self) -> Any:
        head = 4
        if len(self._read) < head:
            return None
        (length,) = struct.unpack_from("!i", self._read)
        if length == -1:
            head = 12
            if len(self._read) < head:
                return None
            (length,) = struct.unpack_from("!Q", self._read, 4)
        if len(self._read) < head + length:
            return None
        message = pickle.loads(memoryview(self._read)[head : head + length].tobytes())
        del self._read[: head + length]
        return message
