"""What the system tells of processes."""

from __future__ import annotations

import contextlib
import os
import signal
import time
from collections.abc import Iterable
from pathlib import Path

MARK = "LEADLINE_KEPT_FOR"
"""The variable by which all that is kept going for a data folder is known, also when who looked after it is gone; its
value is the folder.
"""


def stopped(pid: int) -> bool:
    """Whether a signal has stopped a process."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] == "T"
    except OSError:
        return False


def children(parent: int) -> list[int]:
    """The processes that a process has started."""
    try:
        return [int(pid) for pid in Path(f"/proc/{parent}/task/{parent}/children").read_text().split()]
    except OSError:
        return []


def family(pid: int) -> list[int]:
    """A process with all that it and those have started."""
    return [pid, *(below for child in children(pid) for below in family(child))]


def kept_for(data: Path) -> list[int]:
    """The processes that have been started to be kept going for a data folder, whoever their parents are now."""
    wanted = f"{MARK}={data.resolve()}".encode()
    return [
        int(entry.name)
        for entry in Path("/proc").iterdir()
        if entry.name.isdigit() and wanted in _environment(entry) and not _ended(entry)
    ]


def _environment(entry: Path) -> list[bytes]:
    try:
        return (entry / "environ").read_bytes().split(b"\0")
    except OSError:  # it has ended, or is another user's
        return []


def _ended(entry: Path) -> bool:
    """Whether a process is only waited for by its parent."""
    try:
        return (entry / "stat").read_text().rpartition(")")[2].split()[0] == "Z"
    except OSError:
        return True


def end_all(pids: Iterable[int], patience: float) -> None:
    """Ends processes, also those that a signal has paused; by force after so many seconds."""
    left = set(pids)
    for sign in (signal.SIGCONT, signal.SIGTERM):
        _send(left, sign)
    end = time.monotonic() + patience
    while (left := {pid for pid in left if not _ended(Path(f"/proc/{pid}"))}) and time.monotonic() < end:
        time.sleep(0.1)
    _send(left, signal.SIGKILL)


def _send(pids: Iterable[int], sign: signal.Signals) -> None:
    for pid in pids:
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, sign)
