"""Server and page for whoever works on them: each anew as soon as one of its files is changed."""

from __future__ import annotations

import os
import subprocess
import time
from collections.abc import Callable, Sequence
from pathlib import Path

from ops.described import for_the_browser
from ops.keeper import SERVE, WORK
from ops.processes import end_all
from ops.server import Server
from ops.shell import ROOT, CannotGoOn, say

LOOK = 0.5  # seconds between two looks at the files
PATIENCE = 10.0  # seconds that a process may take to end


def dev(server: Server, page_port: int) -> int:
    """Serve the program from its sources until it is interrupted. The page comes from Vite, which sends each change to
    the browser; the server's processes are started again when a file of ``src`` changes.
    """
    server.stop()
    vite = ["npx", "--no-install", "vite", "--strictPort", "--port", str(page_port)]
    page = subprocess.Popen(vite, cwd=ROOT / "web", env=server.env)
    try:
        restarted(lambda: _anew(server), ROOT / "src", lambda: page.poll() is None)
    except KeyboardInterrupt:
        say("")
    finally:
        ended([page])
    return 0


def _anew(server: Server) -> list[subprocess.Popen[bytes]]:
    try:
        for_the_browser()
    except CannotGoOn as problem:
        say(f"The page goes by what the models were: {problem}")
    return [_started(SERVE, server), _started(WORK, server)]


def _started(command: Sequence[str], server: Server) -> subprocess.Popen[bytes]:
    return subprocess.Popen(command, cwd=ROOT, env=server.env)


def restarted(
    start: Callable[[], list[subprocess.Popen[bytes]]], folder: Path, wanted: Callable[[], bool] = lambda: True
) -> None:
    """Keep processes going as long as they are ``wanted``, and start them again when a Python file in a folder changes.

    One that ends by itself, as with a fault in the file that was just saved, is started again with the next change.
    """
    while wanted():
        saved, processes = saved_at(folder), start()
        try:
            while wanted() and saved_at(folder) == saved:
                time.sleep(LOOK)
        finally:
            ended(processes)


def saved_at(folder: Path) -> dict[str, int]:
    """When each Python file in a folder was last saved, ns."""
    found = {}
    for where, _, names in os.walk(folder):
        for name in names:
            if name.endswith(".py"):
                path = os.path.join(where, name)
                if os.path.exists(path):  # an editor may put another in its place just now
                    found[path] = os.stat(path).st_mtime_ns
    return found


def ended(processes: Sequence[subprocess.Popen[bytes]]) -> None:
    """End processes, those that do not listen after a while too."""
    end_all([process.pid for process in processes], PATIENCE)
    for process in processes:
        process.wait()
