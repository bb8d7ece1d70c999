"""What the system tells of processes."""

from __future__ import annotations

from pathlib import Path


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
