"""A worker's end of its pipe, and the loop that serves requests from it.

Messages to a worker: ``("run", n, request)`` and answers to its questions ``("blob", n, bytes | None)``, n being the
number of the request. Messages from it: once ``("ready", 0)``, then for each request ``("taken", n)``,
``("event", n, dict)``, ``("get", n, key)``, ``("put", n, key, bytes)``, the outcome, one of ``("done", n, result)``,
``("stopped", n)`` and ``("problem", n, message)``, and at the very end ``("idle", n)``.
"""

from __future__ import annotations

import resource
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from pydantic import ValidationError
from threadpoolctl import threadpool_limits

from leadline.core.problems import Message, Problem, unexpected
from leadline.limits import GB
from leadline.recipe.build import Memory, Stopped
from leadline.recipe.files import FILE, unpacked
from leadline.recipe.part_file import describe_invalid, field_of


class Link:
    """The pipe as one request has it.

    It is the content-keyed store, too, which is kept at the other end; files are unpacked at this one.
    """

    def __init__(self, pipe: Connection, number: int) -> None:
        self.pipe, self.number = pipe, number

    def send(self, kind: str, *rest: object) -> None:
        self.pipe.send((kind, self.number, *rest))

    def get(self, key: str) -> bytes | None:
        self.send("get", key)
        _, number, data = self.pipe.recv()
        assert number == self.number
        if not isinstance(data, bytes):
            return None
        return unpacked(data) if key.startswith(FILE) else data

    def put(self, key: str, data: bytes) -> None:
        self.send("put", key, data)


def serve(pipe: Connection, memory_limit: int, work: Callable[[Memory, Link, Any], None]) -> None:
    """Have ``work`` done for each request until the pipe closes, with at most so many bytes of addresses.

    ``work`` sends the result by the link; what it raises becomes the outcome instead.
    """
    resource.setrlimit(resource.RLIMIT_AS, (memory_limit, memory_limit))
    threadpool_limits(1)
    memory = Memory()
    Link(pipe, 0).send("ready")
    while True:
        try:
            _, number, request = pipe.recv()
            link = Link(pipe, number)
            link.send("taken")
            try:
                work(memory, link, request)
            except ConnectionError:
                raise
            except Stopped:
                link.send("stopped")
            except Exception as error:
                if isinstance(error, MemoryError):
                    memory = Memory()
                link.send("problem", _told(error, memory_limit))
            link.send("idle")
        except (EOFError, ConnectionError):  # whoever asked is gone
            return


def _told(error: Exception, memory_limit: int) -> Any:
    """An error as a message."""
    if isinstance(error, Problem):
        return error.message.as_dict(error.unit)
    if isinstance(error, ValidationError):
        return Message("error", "bad-field", *describe_invalid(error), {"field": field_of(error)}).as_dict()
    if isinstance(error, MemoryError):
        return Message(
            "error",
            "memory",
            f"This takes more than the {memory_limit / GB:g} GB of memory that it may have.",
            "Make the part smaller or coarser.",
        ).as_dict()
    return unexpected(error).message.as_dict()
