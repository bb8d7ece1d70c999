"""What the routes share, hung on the application."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from flask import current_app
from sqlalchemy import text

from leadline.server.blobs import Blobs
from leadline.server.builds import Builds, Ordering
from leadline.server.database import Database
from leadline.server.desk import Where
from leadline.server.desks import Desks
from leadline.server.editors import Editors
from leadline.server.events import Broker, Others
from leadline.server.files import Files, Sources
from leadline.server.following import Following, Order
from leadline.server.parts import Parts
from leadline.server.results import Results
from leadline.server.settings import Settings
from leadline.server.shelves import Shelves
from leadline.server.turns import Turns
from leadline.worker.pool import WorkerPool
from leadline.worker.worker import preload

DESK, READER = "leadline.server.desk_process:main", "leadline.server.desk_process:reader"
LONG_BUILD = 2.0  # seconds from which on a build makes others wait
LONG_ANSWER = 1.0  # seconds from which on an answer makes others wait
preload("leadline.server.desk_process")


@dataclass
class InThisProcess:
    """Documents read where builds are ordered, for who has no open windows to be held up."""

    parts: Parts
    following: Following

    def order(self, part_id: str) -> Order:
        return self.following.order(self.parts.get(part_id))


@dataclass
class Workshop:
    """What it takes to build parts of a database."""

    database: Database
    parts: Parts
    blobs: Blobs
    broker: Broker
    others: Others
    turns: Turns
    pool: WorkerPool
    builds: Builds
    files: Files
    following: Following
    shelves: Shelves

    @classmethod
    def open(cls, settings: Settings, warm: bool = True, ordering: Ordering | None = None) -> Workshop:
        """``ordering`` reads documents outside this process; without it they are read here."""
        database = Database(settings.database_url)
        database.migrate()
        parts, blobs, broker, others, turns = (
            Parts(database),
            Blobs(database),
            Broker(),
            Others(database),
            Turns(database),
        )
        blobs.trim()
        pool = WorkerPool(settings.builders, settings.worker_entry, warm, more=1, long=LONG_BUILD, gives_way=True)
        files = Files(database)
        files.trim_beside()
        shelves = Shelves(database)
        shelves.put_shipped()
        following = Following(parts, files, shelves)
        own = ordering or InThisProcess(parts, following)
        builds = Builds(
            pool, Sources(blobs, files), parts, own, Results(database), broker, others, turns, settings.build_seconds
        )
        others.start(builds.hear)
        return cls(database, parts, blobs, broker, others, turns, pool, builds, files, following, shelves)

    def close(self) -> None:
        self.builds.close()
        self.blobs.close()
        self.others.close()
        self.turns.close()
        self.database.close()


@dataclass
class Services(Workshop):
    """A workshop with the processes that answer open editors, and those that read what they send."""

    settings: Settings
    editors: Editors
    desks: Desks

    @classmethod
    def start(cls, settings: Settings) -> Services:
        pools: dict[Where, WorkerPool] = {
            "editors": WorkerPool(settings.editors, DESK, more=2 * settings.editors, long=LONG_ANSWER),
            "documents": WorkerPool(settings.editors, READER, more=settings.editors, long=LONG_ANSWER),
            "files": WorkerPool(settings.editors, READER, warm=False, more=1, long=LONG_ANSWER),
        }
        desks = Desks(settings.database_url, pools)
        workshop = Workshop.open(settings, ordering=desks)
        return cls(**vars(workshop), settings=settings, editors=Editors(pools["editors"]), desks=desks)

    def check(self) -> None:
        with self.database.session() as session:
            session.execute(text("select 1"))

    def close(self) -> None:
        self.desks.close()
        super().close()


def services() -> Services:
    return cast(Services, current_app.extensions["leadline"])
