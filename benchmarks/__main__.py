"""Print the benchmark tables (Markdown); ``--write FILE`` also keeps them."""

from __future__ import annotations

import platform
import sys
from pathlib import Path

from threadpoolctl import threadpool_limits

from benchmarks import (
    accuracy,
    browser_drag,
    clearances,
    crossings,
    deviation,
    edit_loop,
    helix,
    previews,
    repeats,
    routes,
    sketch_study,
    sketches,
    strands,
    thread_cut,
)

HEAD = """# Benchmarks

Made by `./lead bench --write docs/benchmarks.md`. Ratios are of two things measured in the same run; milliseconds are
of a shared, noisy machine ({machine}) and are best of nine unless it says otherwise.
"""


def main() -> None:
    threadpool_limits(1)
    parts = [HEAD.format(machine=f"{platform.machine()}, 2 cores")]
    print(parts[0], flush=True)
    for module in (helix, strands, thread_cut, accuracy, deviation, sketches, sketch_study, browser_drag, edit_loop, previews, routes, crossings, repeats, clearances):
        parts.append(module.report())
        print(parts[-1], flush=True)
    if "--write" in sys.argv:
        Path(sys.argv[sys.argv.index("--write") + 1]).write_text("\n".join(parts))


if __name__ == "__main__":
    main()
