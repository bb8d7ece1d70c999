"""Springs of round wire, ground flat at both ends by planes."""

from __future__ import annotations

from benchmarks.timing import best, table, verdict
from leadline.recipe.build import build
from tests.support.parts import part
from tests.support.spring_solid import spring

TARGETS = {20: 1.0, 60: 2.0, 200: 6.0}


def report() -> str:
    rows = []
    for turns, target in TARGETS.items():
        document = part(spring(turns, 4.0, 15.0, 8.0, 1.0))
        seconds, result = best(lambda: build(document), 3)  # noqa: B023
        built = result.reports["sweep"].state == "fresh" and result.bodies[0].body.valid()
        rows.append(
            [
                f"{turns} turns of 4 mm wire, from nothing to mesh, s",
                f"{seconds:.2f}",
                f"{target:g}",
                verdict(built and seconds < target),
            ]
        )
    return table("Springs ground at both ends (best of three)", ["what", "reached", "target", ""], rows)
