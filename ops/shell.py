"""Saying what is done, and running other programs."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


class CannotGoOn(Exception):  # noqa: N818
    """Something that is needed could not be done; the text says what and how to help."""


def say(text: str) -> None:
    print(text, flush=True)


@contextmanager
def task(title: str) -> Iterator[None]:
    """Announce something that takes a while, and how long it took."""
    print(f"  {title} ...", end="", flush=True)
    began = time.monotonic()
    try:
        yield
    except BaseException:
        print(" failed", flush=True)
        raise
    print(f" {time.monotonic() - began:.1f} s", flush=True)


def run(
    command: Sequence[str | Path], cwd: Path = ROOT, env: Mapping[str, str] | None = None, log: Path | None = None
) -> None:
    """Run quietly; on failure show the end of what it printed. Raises CannotGoOn."""
    done = subprocess.run(
        [str(c) for c in command],
        cwd=cwd,
        env={**os.environ, **(env or {})},
        text=True,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        errors="replace",
    )
    if log is not None:
        log.parent.mkdir(parents=True, exist_ok=True)
        log.write_text(done.stdout)
    if done.returncode:
        tail = "\n".join(done.stdout.splitlines()[-30:])
        raise CannotGoOn(f"{' '.join(str(c) for c in command[:4])} ended with {done.returncode}:\n{tail}")


def show(command: Sequence[str | Path], cwd: Path = ROOT, env: Mapping[str, str] | None = None) -> int:
    """Run with its output shown; returns its exit code."""
    sys.stdout.flush()
    return subprocess.run([str(c) for c in command], cwd=cwd, env={**os.environ, **(env or {})}).returncode
