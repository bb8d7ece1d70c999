"""Work that nobody waits for: jobs in the database, which any machine that reaches it may take (``./lead worker``).

What a job does depends on nothing but the database, so that it does not matter where it runs. One whose machine died is
taken again.
"""

from __future__ import annotations

import asyncio
import logging
import os
import time

from procrastinate import App, BaseConnector, JobContext, PsycopgConnector, SyncPsycopgConnector
from procrastinate.exceptions import AlreadyEnqueued, ConnectorException

from leadline.server.services import Workshop
from leadline.server.settings import Settings

LOOK_EVERY = 60.0  # seconds from one look for jobs of dead machines to the next
AGAIN = 5.0  # seconds from a lost database to the next try
log = logging.getLogger(__name__)


class Jobs:
    """Where jobs are put in."""

    def __init__(self, dsn: str) -> None:
        self.app = _app(SyncPsycopgConnector(conninfo=dsn, min_size=0, max_size=1))

    def build(self, part_ids: list[str]) -> None:
        """Have parts built, for their pictures and to have them built; each waits only once."""
        with self.app.open():
            for part_id in part_ids:
                try:
                    self.app.configure_task("build", queueing_lock=part_id).defer(part_id=part_id)
                except AlreadyEnqueued:
                    continue


def _app(connector: BaseConnector) -> App:
    app = App(connector=connector)
    app.task(name="build", pass_context=True)(_build)
    return app


def _build(context: JobContext, part_id: str) -> None:
    workshop: Workshop = context.additional_context["workshop"]
    workshop.builds.finish(part_id)


def work(settings: Settings, until_done: bool = False) -> None:
    """Take jobs, as many at once as there may be builders, for ever (or until there are none).

    A signal ends the process at once: what it had begun is taken again by another one.
    """
    workshop = Workshop.open(settings, warm=False)  # the kernel is loaded when the first job comes
    try:
        while True:
            try:
                asyncio.run(_work(workshop, until_done))
                return
            except ConnectorException:
                log.exception("the database is away; jobs are taken when it is there again")
                time.sleep(AGAIN)
    finally:
        workshop.close()


async def _work(workshop: Workshop, until_done: bool) -> None:
    app = _app(PsycopgConnector(conninfo=workshop.database.dsn, min_size=1, max_size=4))
    async with app.open_async():
        await _take_again(app)
        again = asyncio.create_task(_keep_taking_again(app))
        try:
            await app.run_worker_async(
                name=f"{os.uname().nodename}-{os.getpid()}",
                concurrency=workshop.pool.size,
                wait=not until_done,
                install_signal_handlers=False,
                delete_jobs="successful",
                additional_context={"workshop": workshop},
            )
        finally:
            again.cancel()


async def _take_again(app: App) -> None:
    """Put the jobs of machines that have died back in."""
    for job in await app.job_manager.get_stalled_jobs():
        log.warning("job %s of a machine that is gone is taken again", job.id)
        await app.job_manager.retry_job(job)


async def _keep_taking_again(app: App) -> None:
    while True:
        await asyncio.sleep(LOOK_EVERY)
        await _take_again(app)
