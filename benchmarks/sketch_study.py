"""Driven sketches against a fine path-following reference: right, flipped or stopped.

Each case drives one size of a drawn sketch by a factor from 0.1 to 10 in one step, as a designer types it. The
reference drives the same size in 60 small geometric steps with plain least-change Newton corrections. A case is
*right* when every frozen side, base angle and arc sense stands as in the reference; *flipped* when one does
not; *stopped* when the solver says that it cannot get there although the reference does.
"""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Iterator

import numpy as np

from benchmarks.timing import table, verdict
from leadline.core.problems import Problem
from leadline.core.sketch import stepping
from leadline.core.sketch.model import Arc, Line, Sketch
from leadline.core.sketch.outline import coordinates
from leadline.core.sketch.rows import Kind
from leadline.core.sketch.solver import build_system, solve_sketch
from leadline.core.sketch.system import External
from tests.support.families import belt, bracket, keyhole, mirrored_arcs, polyline, rack, rounded_triangle
from tests.support.shapes import Draw, filleted_rectangle, hexagon, rectangle, slot, tangent_chain

FACTORS = tuple(float(f) for f in np.geomspace(0.1, 10, 13) if abs(f - 1) > 1e-9)
STEPS = 60
STOPPED_TARGET = 0.02

Case = tuple[str, Draw, str]


def arc_and_line(radius: float, length: float) -> Draw:
    """A line, an arc tangent to it, and a line tangent to the arc, held level at the start."""
    d = Draw()
    for name, x, y in (
        ("a", 0, 0),
        ("b", length, 0),
        ("c", length, radius),
        ("e", length + radius, radius),
        ("f", length + radius, radius + length),
    ):
        d.point(name, x, y)
    d.line("l1", "a", "b")
    d.arc("arc", "c", "b", "e")
    d.line("l2", "e", "f")
    for kind, *items in (
        ("coincident", "a", "O"),
        ("horizontal", "l1"),
        ("tangent", "l1", "arc"),
        ("tangent", "arc", "l2"),
        ("vertical", "l2"),
    ):
        d.hold(kind, *items)
    return d


def symmetric_box(width: float, height: float) -> Draw:
    d = rectangle(width, height, at_origin=False)
    for p in d.data["points"]:
        p["x"] -= width / 2
    d.hold("symmetric", "a", "b", "Y")
    d.hold("on_curve", "a", "X")
    return d


def spline_with_line(step: float) -> Draw:
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (step, step / 2), (2.2 * step, -step / 4), (3.3 * step, step / 3)]):
        d.point(f"s{i}", x, y)
    d.point("t", -step, -step / 3)
    d.line("l", "t", "s0")
    d.spline("sp", "s0", "s1", "s2", "s3")
    d.hold("coincident", "t", "O")
    d.hold("tangent", "l", "sp")
    return d


def cases() -> Iterator[Case]:
    """Sketches with one size each that is driven, some otherwise free and some held by further sizes."""
    for length, radius in ((40, 10), (25, 18)):
        for kind, items in (("radius", ("left",)), ("distance", ("c1", "c2")), ("length", ("top",))):
            yield f"slot {kind}", slot(length, radius), slot_size(kind, items)
    for width, height in ((60, 40), (45, 45)):
        for kind, items in (("radius", ("a0",)), ("length", ("l0",)), ("horizontal_distance", ("p7", "p2"))):
            yield f"rounded rectangle {kind}", filleted_rectangle(width, height), slot_size(kind, items)
    for kind, items in (("length", ("l0",)), ("distance", ("l0", "l3"))):
        yield f"hexagon {kind}", hexagon(), slot_size(kind, items)
    for count in (6, 16):
        for kind, items in (("length", ("e0",)), ("radius", ("e1",)), ("length", ("e2",))):
            yield f"chain of {count} {kind}", tangent_chain(count), slot_size(kind, items)
    for radius, length in ((12, 30), (30, 12)):
        for kind, items in (("radius", ("arc",)), ("length", ("l1",)), ("vertical_distance", ("a", "f"))):
            yield f"line, arc, line {kind}", arc_and_line(radius, length), slot_size(kind, items)
    for width, height in ((50, 20), (20, 50)):
        yield "symmetric box length", symmetric_box(width, height), slot_size("length", ("l1",))
    yield from further_cases()
    for step in (20, 35):
        for kind, items in (("length", ("l",)), ("distance", ("s0", "s2"))):
            yield f"spline after a line {kind}", spline_with_line(step), slot_size(kind, items)


def further_cases() -> Iterator[Case]:
    """Families whose sizes hang together in other ways than those above."""
    families: list[tuple[str, Draw, list[tuple[str, tuple[str, ...]]]]] = [
        ("keyhole", keyhole(), [("radius", ("head",)), ("radius", ("end",)), ("distance", ("c", "m"))]),
        ("belt", belt(), [("radius", ("k1",)), ("radius", ("k2",)), ("distance", ("c1", "c2"))]),
        (
            "bracket",
            bracket(),
            [("radius", ("fillet",)), ("radius", ("h1",)), ("length", ("l1",)), ("distance", ("u", "v"))],
        ),
        ("rounded triangle", rounded_triangle(), [("radius", ("r0",)), ("length", ("l0",))]),
        ("mirrored arcs", mirrored_arcs(), [("radius", ("left",)), ("length", ("top",))]),
        ("polyline", polyline(), [("length", ("l0",)), ("angle", ("l1", "l2")), ("distance", ("p0", "p8"))]),
        ("rack of 6 teeth", rack(6), [("radius", ("r1",)), ("length", ("l2",))]),
    ]
    for title, draw, sizes in families:
        for kind, items in sizes:
            yield f"{title} {kind}", draw, slot_size(kind, items)


def slot_size(kind: str, items: tuple[str, ...]) -> str:
    return " ".join((kind, *items))


def signature(sketch: Sketch, external: External) -> list[int]:
    """Everything that may not change: which way arcs run and how far, and on which side pieces stand."""
    at = coordinates(sketch)
    senses = []
    for e in sketch.entities:
        if isinstance(e, Arc):
            u, v = at[e.start] - at[e.center], at[e.end] - at[e.center]
            senses.append(int((math.atan2(v[1], v[0]) - math.atan2(u[1], u[0])) % (2 * math.pi) > math.pi + 1e-6))
    lines = [e for e in sketch.entities if isinstance(e, Line)]
    ends = [(at[e.start], at[e.end]) for e in lines]
    for (a, b), (c, d) in itertools.pairwise(ends):
        u, v = b - a, d - c
        turn = (u[0] * v[1] - u[1] * v[0]) / max(np.hypot(*u) * np.hypot(*v), 1e-12)
        senses.append(int(np.sign(turn)) if abs(turn) > 1e-3 else (2 if u @ v > 0 else 3))
    system = build_system(sketch, external)
    senses += [round(math.degrees(row.constant)) for row in system.equations.rows if row.kind is Kind.ANGLE]
    return senses


def reference(sketch: Sketch, name: str, start: float, end: float, values: dict[str, float]) -> Sketch | None:
    """Follow the size in small steps; None where the way ends before the target."""
    current = sketch
    for value in np.geomspace(start, end, STEPS + 1)[1:]:
        try:
            system = build_system(current, External({**values, name: float(value)}))
        except Problem:  # no such size, as an angle over 180°
            return None
        x, _ = stepping.correct(system, system.state(), np.zeros(len(system.equations.rows)))
        if x is None or not stepping.keeps_shape(system, system.state(), x):
            return None
        current = system.solved(x)
    return current


def outcome(draw: Draw, size: str, factor: float) -> str:
    kind, *items = size.split()
    name = draw.size(kind, 1.0, *items)
    measured = draw.sketch().model_copy(
        update={"dimensions": [d.model_copy(update={"driving": d.id != name}) for d in draw.sketch().dimensions]}
    )
    others = {k: v for k, v in draw.values.items() if k != name}
    start = solve_sketch(measured, External(others))
    value = start.measured[name]
    values = {**others, name: value}
    drawn = start.sketch.model_copy(update={"dimensions": draw.sketch().dimensions})
    followed = reference(drawn, name, value, value * factor, values)
    if followed is None:
        return "out of reach"
    after = External({**others, name: value * factor})
    try:
        solved = solve_sketch(drawn, after, judge=False).sketch
    except Problem:
        return "stopped"
    return "right" if signature(solved, after) == signature(followed, after) else "flipped"


def report() -> str:
    total: Counter[str] = Counter()
    by_shape: dict[str, Counter[str]] = {}
    for title, draw, size in cases():
        for factor in FACTORS:
            fresh = Draw()
            fresh.data = {k: [dict(x) for x in v] for k, v in draw.data.items()}
            fresh.values = dict(draw.values)
            result = outcome(fresh, size, factor)
            total[result] += 1
            by_shape.setdefault(title.rsplit(" ", 1)[0], Counter())[result] += 1
    reachable = total["right"] + total["flipped"] + total["stopped"]
    columns = ["right", "flipped", "stopped", "out of reach"]
    rows = [[shape, *(str(counts[c]) for c in columns)] for shape, counts in by_shape.items()]
    rows.append(["**all**", *(str(total[c]) for c in columns)])
    good = total["flipped"] == 0 and total["stopped"] <= STOPPED_TARGET * reachable
    note = (
        f"\n{sum(total.values())} cases; of {reachable} that the reference reaches {total['flipped']} "
        "flipped (target 0) and "
        f"{total['stopped'] / reachable:.1%} stopped (target {STOPPED_TARGET:.0%}): {verdict(good)}.\n"
    )
    return table("Driven sketches: one size changed by a factor from 0.1 to 10", ["sketch", *columns], rows) + note


if __name__ == "__main__":
    print(report())
