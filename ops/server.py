"""The application server as a background process."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path

from ops.install import PYTHON, fingerprint
from ops.shell import ROOT, CannotGoOn, task

# the environment of every process: one BLAS thread, and compiled modules kept
ONE_THREAD = {"OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1", "PYTHONDONTWRITEBYTECODE": ""}


class Server:
    def __init__(self, data: Path, port: int, database_url: str) -> None:
        self.data, self.port = data, port
        self.log = data / "server.log"
        self._state = data / "server.json"
        self.env = {**os.environ, **ONE_THREAD, "LEADLINE_DB_URL": database_url, "LEADLINE_PORT": str(port)}

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}/"

    def start(self) -> None:
        """Start in the background; an older one of this checkout is replaced when the program has changed."""
        mark = fingerprint((ROOT / "src").rglob("*.py"))
        running = self._running()
        if running and running["mark"] == mark and running["port"] == self.port and self.healthy():
            return
        if running:
            self.stop()
        if self.healthy():
            raise CannotGoOn(f"Another program answers on port {self.port}. Set LEADLINE_PORT to a free one.")
        with task(f"starting the server on {self.address}"), self.log.open("a") as log:
            process = subprocess.Popen(
                [PYTHON, "-m", "leadline", "serve"], cwd=ROOT, env=self.env, stdin=subprocess.DEVNULL, stdout=log, stderr=log,
                start_new_session=True,
            )  # fmt: skip
            self._state.write_text(json.dumps({"pid": process.pid, "port": self.port, "mark": mark}))
            end = time.monotonic() + 60
            while not self.healthy():
                if process.poll() is not None or time.monotonic() > end:
                    tail = "\n".join(self.log.read_text(errors="replace").splitlines()[-20:])
                    raise CannotGoOn(f"The server did not start (log: {self.log}):\n{tail}")
                time.sleep(0.1)

    def foreground(self) -> int:
        self.stop()
        return subprocess.run([PYTHON, "-m", "leadline", "serve"], cwd=ROOT, env=self.env).returncode

    def stop(self) -> bool:
        """Stop the server of this checkout; returns whether one was running."""
        running = self._running()
        if running is None:
            return False
        os.killpg(running["pid"], signal.SIGTERM)
        for _ in range(50):
            if self._running() is None:
                break
            time.sleep(0.1)
        else:
            os.killpg(running["pid"], signal.SIGKILL)
        self._state.unlink(missing_ok=True)
        return True

    def healthy(self) -> bool:
        try:
            with urllib.request.urlopen(f"{self.address}api/health", timeout=2) as answer:
                return answer.status == 200
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
        return state if b"leadline" in words else None
