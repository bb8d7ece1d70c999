"""The process at which requests are worked on that were passed on to it (``desk.py``), and what lines ask."""

from __future__ import annotations

import os
from multiprocessing.connection import Connection
from typing import Any

from flask import Flask, request

from leadline.limits import ANSWER_MEMORY
from leadline.recipe.build import Memory
from leadline.recipe.part_file import refuse_crowded
from leadline.server.app import bare_app
from leadline.server.database import Database
from leadline.server.desk import Answered, Desk, Passed, desk_of
from leadline.server.following import Order
from leadline.server.parts import NotFound
from leadline.worker.asks import head_of
from leadline.worker.editor import ASKED
from leadline.worker.flag import Flag
from leadline.worker.following import Documents
from leadline.worker.link import Link, serve

NICE = 5  # between answers and builds


def reader(pipe: Connection, stop: Flag) -> None:
    """As ``main``, for what is no answer to a hand that moves and lets those go before."""
    os.nice(NICE)
    main(pipe, stop)


def main(pipe: Connection, stop: Flag) -> None:  # noqa: ARG001
    """Serve requests until the pipe closes. They are short: one that is to stop is killed."""
    documents = Documents()
    apps: dict[str, Flask] = {}

    def app_on(database_url: str) -> Flask:
        if database_url not in apps:
            apps[database_url] = app = bare_app()
            app.before_request(_count)
            app.extensions["desk"] = Desk.at(Database(database_url), ASKED, Memory())
        return apps[database_url]

    def work(memory: Memory, link: Link, asked: tuple[Any, ...]) -> None:
        what, *given = asked
        if what == "pass":
            link.send("done", _passed(app_on(given[0]), given[1], memory))
        elif what == "order":
            link.send("done", _ordered(desk_of(app_on(given[0])), given[1]))
        elif what == "previewed":
            link.send("done", desk_of(app_on(given[0])).following.previewed(*given[1:]))
        elif what == "follow":
            link.send("done", documents.answer(memory, *given))
        elif what == "head":
            link.send("done", head_of(*given))
        else:
            link.send("done", ASKED[what](memory, *given))

    serve(pipe, ANSWER_MEMORY, work)


def _passed(app: Flask, passed: Passed, memory: Memory) -> Answered:
    own = desk_of(app)
    own.memory, own.orders, own.changed = memory, [], []
    response = app.test_client(use_cookies=False).open(
        passed.path, method=passed.method, headers=passed.headers, data=passed.body
    )
    return Answered(response.status_code, list(response.headers), response.data, own.orders, own.changed)


def _count() -> None:
    """Raises Problem at JSON with more in it than there may be, before anything is made of it."""
    if request.mimetype == "application/json":
        refuse_crowded(request.get_data())


def _ordered(own: Desk, part_id: str) -> Order | None:
    """A part as it is to be built; None where there is none."""
    try:
        return own.following.order(own.parts.get(part_id))
    except NotFound:
        return None
