"""Print the benchmark tables (Markdown); ``--write FILE`` also keeps them."""

from __future__ import annotations

import platform
import re
import sys
from pathlib import Path

from threadpoolctl import threadpool_limits

from benchmarks import (
    accuracy,
    booleans,
    browser_drag,
    clearances,
    compact,
    conflicts,
    crossings,
    crowd,
    deviation,
    edit_loop,
    fairness,
    faults,
    folds,
    heavy,
    helix,
    hollows,
    lofts,
    opening,
    previews,
    reading,
    repeats,
    routes,
    sketch_study,
    sketches,
    springs,
    strands,
    thread_cut,
    trades,
    worst,
)

HEAD = """# Benchmarks

Made by `./lead bench --write docs/benchmarks.md`. Ratios are of two things measured in the same run; milliseconds are
of a shared, noisy machine ({machine}) and are best of nine unless it says otherwise. Single tables are made again by
`./lead bench --only springs,booleans --write docs/benchmarks.md`.
"""


MODULES = (
    helix,
    strands,
    thread_cut,
    trades,
    booleans,
    springs,
    accuracy,
    deviation,
    sketches,
    sketch_study,
    conflicts,
    browser_drag,
    opening,
    edit_loop,
    previews,
    routes,
    compact,
    crossings,
    lofts,
    hollows,
    repeats,
    heavy,
    clearances,
    reading,
    folds,
    crowd,
    worst,
    fairness,
    faults,
)


def main() -> None:
    """All tables, or those of ``--only helix,springs``; with ``--write FILE`` they take the place of their like
    in it.
    """
    threadpool_limits(1)
    only = sys.argv[sys.argv.index("--only") + 1].split(",") if "--only" in sys.argv else None
    file = Path(sys.argv[sys.argv.index("--write") + 1]) if "--write" in sys.argv else None
    for module in MODULES:
        name = module.__name__.rsplit(".", 1)[1]
        if only is None or name in only:
            text = module.report()
            print(text, flush=True)
            if file is not None:
                file.write_text(_with(file.read_text() if file.exists() else "", text))


def _with(document: str, text: str) -> str:
    """A document with the tables of ``text`` in place of those with their titles, or behind all."""
    found = _sections(document) | _sections(text)
    found.pop("", None)
    head = HEAD.format(machine=f"{platform.machine()}, 2 cores")
    return "\n".join([head, *(body.rstrip() + "\n" for body in found.values())])


def _sections(document: str) -> dict[str, str]:
    """The parts of a document from one second-level title to the next, by title; what is before the first is ""."""
    parts = re.split(r"(?m)^(?=## )", document)
    return {part.split("\n", 1)[0] if part.startswith("## ") else "": part for part in parts}


if __name__ == "__main__":
    main()
