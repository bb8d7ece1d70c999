"""Timing side by side: the best of a few runs, so that a noisy machine matters less."""

from __future__ import annotations

import gc
import time
from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")


def best(work: Callable[[], T], runs: int = 9) -> tuple[float, T]:
    """Seconds of the fastest of ``runs`` runs, and what the last one returned."""
    fastest = float("inf")
    for _ in range(runs):
        gc.collect()
        began = time.perf_counter()
        result = work()
        fastest = min(fastest, time.perf_counter() - began)
    return fastest, result


def table(title: str, head: list[str], rows: list[list[str]]) -> str:
    """A table in Markdown."""
    lines = [f"## {title}", "", "| " + " | ".join(head) + " |", "|" + "---|" * len(head)]
    lines += ["| " + " | ".join(row) + " |" for row in rows]
    return "\n".join([*lines, ""])


def verdict(reached: bool) -> str:
    return "reached" if reached else "**not reached**"
