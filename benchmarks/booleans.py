"""Random pairs of bodies with a seed that changes: none refused that a mesh boolean finds sound, none wrong."""

from __future__ import annotations

import statistics
import time

import numpy as np

from benchmarks.timing import table, verdict
from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.solids.body import Body
from leadline.core.solids.booleans import ALGORITHMS, listed
from leadline.core.solids.merging import merged_before
from tests.support.boolean_pairs import Pair, judged, random_pair

PAIRS, TIMED = 500, 60
OPERATIONS: tuple[Operation, ...] = ("add", "cut", "common")


def report(pairs: int = PAIRS, seed: int | None = None) -> str:
    seed = int(time.time()) if seed is None else seed
    random = np.random.default_rng(seed)
    refused, wrong, seconds, both = [], [], [], []
    for i in range(pairs):
        pair, operation = random_pair(random), OPERATIONS[i % 3]
        began = time.perf_counter()
        found = judged(pair, operation)
        seconds.append(time.perf_counter() - began)
        if found.refused:
            refused.append(f"{i} {pair.title} {operation}: {found.refused}")
        if found.wrong:
            wrong.append(f"{i} {pair.title} {operation}: {found.wrong}")
        if i < TIMED:
            both.append(_both_ways(pair, operation))
    plain, merged = (statistics.median(b[k] for b in both) for k in range(2))
    rows = [
        [f"{pairs} pairs of seed {seed}, refused", str(len(refused)), "0", verdict(not refused)],
        ["… wrong", str(len(wrong)), "0", verdict(not wrong)],
        ["median with all checks and their judging by meshes, ms", f"{1e3 * statistics.median(seconds):.0f}", "", ""],
        [
            f"the kernel alone, median of {TIMED}: planes and cylinders merged before against faces as they are",
            f"{merged / plain:.2f}",
            "",
            "",
        ],
        ["… ms, for orientation only", f"{1e3 * merged:.0f} / {1e3 * plain:.0f}", "", ""],
    ]
    return table("Random pairs of bodies", ["what", "reached", "target", ""], rows) + "".join(
        f"\n- {line}" for line in refused + wrong
    )


def _both_ways(pair: Pair, operation: Operation) -> tuple[float, float]:
    """Seconds of the kernel's boolean on faces as they are, and with planes and cylinders merged, merging included."""
    began = time.perf_counter()
    _boolean(pair.base, pair.tool, operation)
    halfway = time.perf_counter()
    _boolean(merged_before(pair.base), merged_before(pair.tool), operation)
    return halfway - began, time.perf_counter() - halfway


def _boolean(base: Body, tool: Body, operation: Operation) -> None:
    algorithm = ALGORITHMS[operation]()
    algorithm.SetArguments(listed(base.shape))
    algorithm.SetTools(listed(tool.shape))
    algorithm.Build()
