"""Random contradictions: is what is named infeasible, and feasible without any one of it?"""

from __future__ import annotations

import statistics
import time

import numpy as np

from benchmarks.timing import table, verdict
from tests.support.contradictions import can_be, contradiction, refusal

COUNT, SEED = 200, 7


def report(count: int = COUNT) -> str:
    random = np.random.default_rng(SEED)
    feasible = idle = turned = done = 0
    seconds, sizes = [], []
    while done < count:
        draw = contradiction(random)
        if draw is None:
            continue
        done += 1
        began = time.perf_counter()
        message = refusal(draw)
        seconds.append(time.perf_counter() - began)
        named = message.place["items"]
        sizes.append(len(named))
        if message.code == "turned-over":
            turned += 1
            continue
        feasible += can_be(draw, named)
        idle += any(not can_be(draw, [n for n in named if n != gone], 60) for gone in named)
    rows = [
        [
            f"{count} contradictions: named sets that can be satisfied all the same",
            str(feasible),
            "0",
            verdict(feasible == 0),
        ],
        ["… with a member that they do not need, as far as 60 searches tell", str(idle), "0", verdict(idle == 0)],
        ["… said to need turning over, not to contradict", str(turned), "", ""],
        ["members, median and most", f"{statistics.median(sizes):g}, {max(sizes)}", "", ""],
        ["seconds, median and most", f"{statistics.median(seconds):.2f}, {max(seconds):.2f}", "", ""],
    ]
    return table("Sketches that contradict themselves", ["what", "reached", "target", ""], rows)
