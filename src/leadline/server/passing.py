"""What is marked as done elsewhere (``desk.py``) is passed on to there; of the rest the body has to be small."""

from __future__ import annotations

import time
from contextlib import AbstractContextManager, nullcontext
from urllib.parse import quote

from flask import Flask, Response, current_app, request
from gevent import Timeout
from gevent.monkey import is_module_patched
from werkzeug.exceptions import RequestTimeout

from leadline.limits import BODY_SECONDS, LARGE_BYTES, SMALL_BYTES
from leadline.server.desk import Passed
from leadline.server.editors import WINDOW
from leadline.server.errors import refusal
from leadline.server.guard import CHANGING
from leadline.server.services import services

CHUNK = 1 << 16  # bytes of a body that are read before others have their turn
HOP = frozenset(
    {"connection", "keep-alive", "transfer-encoding", "content-length", "upgrade"}
)  # of one connection alone (RFC 9110, 7.6.1)


def pass_on_what_is_done_elsewhere(app: Flask) -> None:
    """Look at each request before it is served."""

    @app.before_request
    def look() -> Response | None:
        where = getattr(current_app.view_functions.get(request.endpoint or ""), "elsewhere", None)
        if where is None:
            return _small()
        large = (request.content_length or 0) >= LARGE_BYTES or request.content_length is None
        with services().desks.large if large and request.method != "GET" else nullcontext():
            answered = services().desks.pass_on(where, request.headers.get(WINDOW, ""), _passed())
        for changed in answered.changed:
            services().builds.changed(changed)
        for order in answered.orders:
            services().builds.ensure(order)
        return Response(answered.body, answered.status, [(k, v) for k, v in answered.headers if k.lower() not in HOP])


def _small() -> Response | None:
    """Have a small body read for whoever serves the request; None unless it is refused."""
    if (request.content_length or 0) > SMALL_BYTES:
        _body()  # read all the same: who still sends does not hear an answer
        return refusal(
            413,
            "too-large",
            "The request is too large.",
            f"What is asked here has at most {SMALL_BYTES / 1000:.0f} kB.",
        )
    request.max_content_length = SMALL_BYTES
    if request.method in CHANGING:
        with _in_time():
            request.get_data()
    return None


def _in_time() -> AbstractContextManager[object]:
    """What raises RequestTimeout when it is not left in time; where sockets are not cooperative, as in tests, there is
    no such limit.
    """
    return Timeout(BODY_SECONDS, RequestTimeout) if is_module_patched("socket") else nullcontext()


def _passed() -> Passed:
    query = request.query_string.decode("latin-1")
    path = quote(request.path, safe="/") + (f"?{query}" if query else "")
    return Passed(request.method, path, [(k, v) for k, v in request.headers if k.lower() not in HOP], _body())


def _body() -> bytes:
    """The request's body, read in pieces, so that others have their turns meanwhile.

    Raises RequestTimeout when it does not come to an end.
    """
    pieces = []
    with _in_time():
        while piece := request.stream.read(CHUNK):
            pieces.append(piece)
            time.sleep(0)
    return b"".join(pieces)
