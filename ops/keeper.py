"""Keeps the server and its database going: what has ended is started again, what is paused is woken, what is dumb
replaced.

``python -m ops.keeper`` runs beside them until it is told to end; what the server says goes to a log that rotates.
"""

from __future__ import annotations

import contextlib
import logging
import logging.handlers
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path

from ops.install import PYTHON, database_programs
from ops.postgres import Cluster
from ops.processes import family, stopped
from ops.shell import ROOT, CannotGoOn

LOOK_EVERY = 1.0  # seconds
PAUSED = 4.0  # seconds that a process may be stopped by a signal before it is woken
SILENT = 40.0  # seconds without an answer after which the server is replaced; it may be busy, or wait for the database
STARTING = 240.0  # seconds that a server may take to its first answer, on a machine that is busy with other things
SOON = 3.0  # seconds: a server that ends so soon after its start is not started again at once
LOG_BYTES, LOGS = 4_000_000, 3
SERVE = [str(PYTHON), "-m", "leadline", "serve"]
WORK = [str(PYTHON), "-m", "leadline", "work", "--at-once", "1"]


class Kept:
    """A process in a group of its own, whose output goes to the log."""

    def __init__(self, what: str, command: list[str], log: logging.Logger) -> None:
        self.what, self.command, self.log = what, command, log
        self.start()

    def start(self) -> None:
        self.process = subprocess.Popen(
            self.command,
            cwd=ROOT,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            errors="replace",
            start_new_session=True,
        )
        self.started = time.monotonic()
        threading.Thread(target=self._copy_log, args=(self.process,), daemon=True).start()

    def end(self, how: signal.Signals) -> None:
        """End it with all that it has started, by force if it does not go."""
        for sign in (how, signal.SIGKILL):
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, sign)
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(8)

    def again_if_ended(self, ending: threading.Event) -> bool:
        """Start it again when it has ended; returns whether it had."""
        if self.process.poll() is None:
            return False
        self.log.warning("keeper: the %s has ended (%s); it is started again", self.what, self.process.returncode)
        if time.monotonic() - self.started < SOON:
            ending.wait(SOON)
        self.end(signal.SIGKILL)  # of what it has started some may be left
        self.start()
        return True

    def _copy_log(self, process: subprocess.Popen[str]) -> None:
        assert process.stdout is not None
        for line in process.stdout:
            self.log.info(line.rstrip())


class Keeper:
    """``command`` starts the server, which answers on ``port`` and needs the ``cluster``; ``jobs``, if there is any,
    the one that takes jobs.
    """

    def __init__(
        self, command: list[str], port: int, cluster: Cluster, log: logging.Logger, jobs: list[str] | None = None
    ) -> None:
        self.port, self.cluster, self.log = port, cluster, log
        self.ending = threading.Event()
        self.paused_since: dict[int, float] = {}
        self.heard = 0.0
        self.server = Kept("server", command, log)
        self.kept = [self.server, *([Kept("worker for jobs", jobs, log)] if jobs else [])]

    def run(self) -> None:
        """Look after both until it is told to end."""
        while not self.ending.wait(LOOK_EVERY):
            try:
                self._look()
            except (OSError, CannotGoOn):
                self.log.exception("keeper: could not look")
        for kept in self.kept:
            kept.end(signal.SIGTERM)

    def _look(self) -> None:
        self._wake_paused()
        if self.paused_since:
            return  # to wait for their answers, seconds each, would let them stand for longer
        if not self._database_answers():
            self.cluster.start()
        if any(kept.again_if_ended(self.ending) for kept in self.kept):
            return
        if self._server_answers():
            self.heard = time.monotonic()
        elif time.monotonic() > self._patience():
            self.log.warning("keeper: the server does not answer; it is replaced")
            self.server.end(signal.SIGKILL)

    def _patience(self) -> float:
        """When a server that does not answer is given up."""
        started = self.server.started
        return self.heard + SILENT if self.heard > started else started + STARTING

    def _wake_paused(self) -> None:
        now = time.monotonic()
        paused = {pid for pid in self._kept() if stopped(pid)}
        self.paused_since = {pid: self.paused_since.get(pid, now) for pid in paused}
        for pid, since in self.paused_since.items():
            if now - since >= PAUSED:
                self.log.warning("keeper: process %s was paused; it is woken", pid)
                os.kill(pid, signal.SIGCONT)

    def _kept(self) -> list[int]:
        """The processes that are kept, with those of the database."""
        return [*(pid for kept in self.kept for pid in family(kept.process.pid)), *self.cluster.processes()]

    def _database_answers(self) -> bool:
        ask = [database_programs() / "pg_isready", "-q", "-h", "127.0.0.1", "-p", str(self.cluster.port), "-t", "3"]
        return subprocess.run([str(w) for w in ask], capture_output=True).returncode != 2  # 1 is: not just now

    def _server_answers(self) -> bool:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=3):
                return True
        except urllib.error.HTTPError:
            return True  # a refusal is an answer
        except (urllib.error.URLError, OSError):
            return False


def rotating_log(file: Path) -> logging.Logger:
    """A log that keeps its last few megabytes."""
    log = logging.getLogger("keeper")
    handler = logging.handlers.RotatingFileHandler(file, maxBytes=LOG_BYTES, backupCount=LOGS)
    handler.setFormatter(logging.Formatter("%(message)s"))
    log.addHandler(handler)
    log.setLevel(logging.INFO)
    log.propagate = False
    return log


def main(data: Path, port: int, database_port: int) -> None:
    cluster, log = Cluster(data, database_port), rotating_log(data / "server.log")
    keeper = Keeper(SERVE, port, cluster, log, WORK)
    for sign in (signal.SIGTERM, signal.SIGINT):
        signal.signal(sign, lambda *_: keeper.ending.set())
    keeper.run()


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3]))
