"""What the routes share, hung on the application."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from flask import current_app
from sqlalchemy import text

from leadline.server.blobs import Blobs
from leadline.server.builds import Builds
from leadline.server.database import Database
from leadline.server.editors import Editors
from leadline.server.events import Broker, Others
from leadline.server.files import Files, Sources
from leadline.server.following import Following
from leadline.server.parts import Parts
from leadline.server.results import Results
from leadline.server.settings import Settings
from leadline.server.shelves import Shelves
from leadline.server.turns import Turns
from leadline.worker.pool import WorkerPool


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
    def open(cls, settings: Settings, warm: bool = True) -> Workshop:
        database = Database(settings.database_url)
        database.migrate()
        parts, blobs, broker, others, turns = Parts(database), Blobs(database), Broker(), Others(database), Turns(database)
        blobs.trim()
        pool = WorkerPool(settings.builders, settings.worker_entry, warm)
        files = Files(database)
        files.trim_beside()
        shelves = Shelves(database)
        shelves.put_shipped()
        following = Following(parts, files, shelves)
        builds = Builds(pool, Sources(blobs, files), parts, following, Results(database), broker, others, turns, settings.build_seconds)
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
    """A workshop with the processes that answer open editors."""

    settings: Settings
    editors: Editors

    @classmethod
    def start(cls, settings: Settings) -> Services:
        workshop = Workshop.open(settings)
        editors = Editors(WorkerPool(settings.editors, "leadline.worker.editor:main"), workshop.blobs)
        return cls(**vars(workshop), settings=settings, editors=editors)

    def check(self) -> None:
        with self.database.session() as session:
            session.execute(text("select 1"))

    def close(self) -> None:
        self.editors.pool.close()
        super().close()


def services() -> Services:
    return cast(Services, current_app.extensions["leadline"])
