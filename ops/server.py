"""The application server as a background process."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from ops.install import fingerprint
from ops.keeper import SERVE, WORK
from ops.processes import MARK, end_all, kept_for
from ops.shell import ROOT, CannotGoOn, task

# the environment of every process: one BLAS thread, and compiled modules kept
ONE_THREAD = {"OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1", "PYTHONDONTWRITEBYTECODE": ""}

KEEPER_PATIENCE, LEFT_PATIENCE = 20.0, 8.0  # seconds that the keeper may take to end all, and what is left without one


class Server:
    """The server, with the keeper that looks after it and the database on ``database_port``."""

    def __init__(self, data: Path, port: int, database_port: int, database_url: str) -> None:
        self.data, self.port, self.database_port = data, port, database_port
        self.log = data / "server.log"
        self._state = data / "server.json"
        self.env = {
            **os.environ,
            **ONE_THREAD,
            "LEADLINE_DB_URL": database_url,
            "LEADLINE_PORT": str(port),
            MARK: str(data.resolve()),
        }

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}/"

    def start(self) -> None:
        """Start in the background; an older one of this checkout is replaced when the program has changed."""
        mark = fingerprint([*(ROOT / "src").rglob("*.py"), *(ROOT / "ops").rglob("*.py")])
        running = self._running()
        if running and running["mark"] == mark and running["port"] == self.port and self.healthy():
            return
        self.stop()
        if self.healthy():
            raise CannotGoOn(f"Another program answers on port {self.port}. Set LEADLINE_PORT to a free one.")
        with task(f"starting the server on {self.address}"), self.log.open("a") as log:
            process = subprocess.Popen(
                [sys.executable, "-m", "ops.keeper", self.data, str(self.port), str(self.database_port)],
                cwd=ROOT,
                env=self.env,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                start_new_session=True,
            )
            self._state.write_text(json.dumps({"pid": process.pid, "port": self.port, "mark": mark}))
            end = time.monotonic() + 60
            while not self.healthy():
                if process.poll() is not None or time.monotonic() > end:
                    tail = "\n".join(self.log.read_text(errors="replace").splitlines()[-20:])
                    raise CannotGoOn(f"The server did not start (log: {self.log}):\n{tail}")
                time.sleep(0.1)

    def foreground(self) -> int:
        self.stop()
        jobs = subprocess.Popen(WORK, cwd=ROOT, env=self.env)
        try:
            return subprocess.run(SERVE, cwd=ROOT, env=self.env).returncode
        finally:
            jobs.terminate()

    def stop(self) -> bool:
        """Stop the server of this data folder, with all that a keeper has left that was killed; returns whether
        anything was running.
        """
        running = self._running()
        if running is not None:
            end_all([int(str(running["pid"]))], KEEPER_PATIENCE)  # it ends what it keeps
        left = kept_for(self.data)
        end_all(left, LEFT_PATIENCE)
        self._state.unlink(missing_ok=True)
        return running is not None or bool(left)

    def status(self) -> dict[str, Any] | None:
        """What the server says of itself; None when it does not answer."""
        try:
            with urllib.request.urlopen(f"{self.address}api/status", timeout=5) as answer:
                return dict(json.load(answer))
        except (urllib.error.URLError, OSError):
            return None

    def processes(self) -> list[tuple[int, str, float]]:
        """The processes that are kept going: id, what it is, memory of its own in MB; those too whose keeper has been
        killed.
        """
        return [(pid, _what(pid), memory_of(pid)) for pid in kept_for(self.data)]

    def healthy(self) -> bool:
        try:
            with urllib.request.urlopen(f"{self.address}api/health", timeout=2) as answer:
                return bool(answer.status == 200)
        except (urllib.error.URLError, OSError):
            return False

    def _running(self) -> dict[str, object] | None:
        if not self._state.exists():
            return None
        state = json.loads(self._state.read_text())
        try:
            words = Path(f"/proc/{state['pid']}/cmdline").read_bytes()
        except OSError:
            return None
        return state if b"ops.keeper" in words else None


def _what(pid: int) -> str:
    """A process in a word or two, by its command."""
    try:
        words = Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
    except OSError:
        return "gone"
    known = {
        "ops.keeper": "keeper",
        "leadline serve": "server",
        "leadline work": "worker for jobs",
        "resource_tracker": "resource tracker",
        "forkserver": "builder or editor",
    }
    return next((name for part, name in known.items() if part in words), words[:40])


def memory_of(pid: int) -> float:
    """The memory (MB) that a process has, what it shares with others divided among them."""
    try:
        lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
    except OSError:
        return 0.0
    return sum(int(line.split()[1]) for line in lines if line.startswith("Pss:")) / 1024
