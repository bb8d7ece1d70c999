"""The fold test of the demo parts beside a plain look at 65 stations on each smooth stretch, which misses folds between
them.
"""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import numpy as np

from benchmarks.timing import best, table, verdict
from leadline.core.geometry.plane import Array
from leadline.core.sweep.fold import bend_use, folds, reaching
from leadline.core.sweep.motion import Motion
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import read_part
from leadline.recipe.products import Swept

DEMO = Path(__file__).resolve().parents[1] / "demo"
STATIONS = 65
TARGET = 2.0


def report() -> str:
    rows = [row for file in sorted(DEMO.glob("*.json")) if (row := _row(file)) is not None]
    return table(
        "Fold test of the demo parts (ms, best of nine, and the ratio to a look at 65 stations on each smooth stretch)",
        ["demo part", "a look", "fold test", "ratio", "target", ""],
        rows,
    )


def _row(file: Path) -> list[str] | None:
    part, memory = read_part(file.read_bytes()), Memory()
    build(part, memory, quick=True)
    plans = [e.product for e in memory.entries.values() if isinstance(e.product, Swept)]
    todo = [(plan.motion, reaching(plan.motion, region)) for plan in plans for region in plan.regions]
    if not todo:
        return None
    plain, _ = best(lambda: [_look(motion, hull) for motion, hull in todo])
    tested, _ = best(lambda: [folds(motion, hull) for motion, hull in todo])
    ratio = tested / plain
    return [
        part.name,
        f"{plain * 1000:.1f}",
        f"{tested * 1000:.1f}",
        f"{ratio:.2f}",
        f"{TARGET:g}",
        verdict(ratio < TARGET),
    ]


def _look(motion: Motion, hull: Array) -> Array:
    smooth = [pair for i in range(len(motion.path.pieces)) for pair in pairwise(motion.breaks(i))]
    return bend_use(motion.frames(np.unique(np.concatenate([np.linspace(a, b, STATIONS) for a, b in smooth]))), hull)
