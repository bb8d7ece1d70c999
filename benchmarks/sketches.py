"""The sketch solver at growing sizes: a chain of tangent lines and arcs."""

from __future__ import annotations

from benchmarks.timing import best, table, verdict
from leadline.core.sketch import stepping
from leadline.core.sketch.diagnosis import diagnose
from leadline.core.sketch.dragging import Drag
from leadline.core.sketch.solver import build_system, solve_sketch
from leadline.core.sketch.system import External
from tests.support.families import rack
from tests.support.shapes import Draw, tangent_chain

RACKS = {10: 25, 20: 50, 40: 67, 80: 134}  # teeth, and ms: the table's targets, linear beyond it
TARGETS = {30: (8, 12, 2), 100: (15, 12, 3), 300: (30, 20, 6), 1000: (70, 40, 15)}


def chain_of(rows: int) -> tuple[Draw, str]:
    """A tangent chain with about so many equations, and the name of its driven dimension."""
    draw = tangent_chain(max(3, rows // 2))
    return draw, draw.size("length", 12, "e0")


def _rack(teeth: int) -> list[str]:
    """A rack of filleted teeth whose radius changes: many small edges."""
    draw = rack(teeth)
    name = draw.size("radius", 1.0, "r1")
    target = External({**draw.values, name: 0.7})
    system = build_system(draw.sketch(), target)
    reached, outcome = best(lambda: stepping.solve(system, system.state()), 5)
    if not outcome.solved:
        raise RuntimeError("the rack did not solve")
    limit = RACKS[teeth]
    return [
        f"{len(system.equations.rows)} (rack)",
        f"{1000 * reached:.1f} / {limit} ({verdict(1000 * reached <= limit)})",
        "",
        "",
    ]


def report() -> str:
    rows = []
    for size, targets in TARGETS.items():
        draw, name = chain_of(size)
        start = solve_sketch(draw.sketch(), External(draw.values)).sketch
        target = External({**draw.values, name: 16.0})
        count = len(build_system(start, target).equations.rows)

        def solve(start=start, target=target):
            system = build_system(start, target)
            outcome = stepping.solve(system, system.state())
            if not outcome.solved:
                raise RuntimeError("the chain did not solve")

        solved, _ = best(solve)
        last = start.points[-2] if start.points[-1].id.startswith("c") else start.points[-1]
        begun = Drag(start, External(draw.values))  # made once, when the drag begins
        pulled, _ = best(lambda: begun.to(last.id, (last.x + 6, last.y - 4)))  # noqa: B023
        system = build_system(start, External(draw.values))
        judged, _ = best(lambda: diagnose(system, system.state()))  # noqa: B023
        reached = [t * 1000 for t in (solved, pulled, judged)]
        rows.append(
            [str(count)] + [f"{r:.1f} / {t} ({verdict(r <= t)})" for r, t in zip(reached, targets, strict=True)]
        )
    rows += [_rack(teeth) for teeth in RACKS]
    return table(
        "Sketch: solve a changed dimension, one drag step, diagnosis (ms, reached / target)",
        ["equations", "solve", "drag step", "diagnosis"],
        rows,
    )
