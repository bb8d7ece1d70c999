"""Sketches that cannot be: a settled one with something added that contradicts it."""

from __future__ import annotations

import numpy as np
from scipy.optimize import least_squares

from leadline.core.problems import Message, Problem
from leadline.core.sketch import stepping
from leadline.core.sketch.solver import build_system, solve_sketch
from leadline.core.sketch.system import External
from tests.support.families import belt, keyhole
from tests.support.shapes import Draw, filleted_rectangle, hexagon, rectangle, slot, tangent_chain

SHAPES = {
    "rectangle": rectangle,
    "slot": slot,
    "hexagon": hexagon,
    "filleted": filleted_rectangle,
    "chain": lambda: tangent_chain(6),
    "belt": belt,
    "keyhole": keyhole,
}


def some_contradiction(*seed: int) -> Draw:
    """The first that a generator of this seed comes to."""
    random = np.random.default_rng(seed)
    while (draw := contradiction(random)) is None:
        pass
    return draw


def contradiction(random: np.random.Generator) -> Draw | None:
    """A random shape that is sized as drawn, with one size or constraint too many; None when that happens to fit."""
    draw = SHAPES[random.choice(list(SHAPES))]()
    for _ in range(int(random.integers(1, 5))):
        _add_size(draw, random, 1.0)
    if _refused(draw):
        return None
    if random.random() < 0.3:
        lines = [e["id"] for e in draw.data["entities"] if e["kind"] == "line"]
        kind = random.choice(["horizontal", "vertical", "parallel", "perpendicular"])
        draw.hold(kind, *random.choice(lines, size=1 if kind in ("horizontal", "vertical") else 2, replace=False))
    else:
        _add_size(draw, random, float(random.choice([0.6, 1.4, 1.9])))
    return draw if _refused(draw) else None


def _add_size(draw: Draw, random: np.random.Generator, factor: float) -> None:
    """A size of a random line, radius or distance, as drawn times a factor."""
    at = {p["id"]: np.array([p["x"], p["y"]]) for p in draw.data["points"]}
    entity = random.choice(draw.data["entities"])
    if random.random() < 0.4:
        a, b = random.choice(list(at), size=2, replace=False)
        kind = random.choice(["distance", "horizontal_distance", "vertical_distance"])
        gap = np.abs(at[a] - at[b])
        size = {"distance": float(np.hypot(*gap)), "horizontal_distance": gap[0], "vertical_distance": gap[1]}[kind]
        if size > 1:
            draw.size(kind, float(size * factor), a, b)
    elif entity["kind"] == "line":
        draw.size("length", float(np.hypot(*(at[entity["start"]] - at[entity["end"]]))) * factor, entity["id"])
    elif entity["kind"] == "arc":
        draw.size("radius", float(np.hypot(*(at[entity["center"]] - at[entity["start"]]))) * factor, entity["id"])
    else:
        draw.size("radius", entity["radius"] * factor, entity["id"])


def _refused(draw: Draw) -> bool:
    try:
        solve_sketch(draw.sketch(), External(draw.values), judge=False)
    except Problem:
        return True
    return False


def refusal(draw: Draw) -> Message:
    """What the solver says of a sketch that it refuses."""
    try:
        solve_sketch(draw.sketch(), External(draw.values))
    except Problem as problem:
        return problem.message
    raise AssertionError("it was solved")


def can_be(draw: Draw, owners: list[str], starts: int = 12) -> bool:
    """Whether these can hold together, by SciPy's least squares from many states: beside the solver's own way."""
    sketch = draw.sketch()
    kept = sketch.model_copy(
        update={
            "constraints": [c for c in sketch.constraints if c.id in owners],
            "dimensions": [d for d in sketch.dimensions if d.id in owners],
        }
    )
    try:
        system = build_system(kept, External(draw.values))
    except Problem:
        return True
    if not system.equations.rows or stepping.solve(system, system.state()).solved:
        return True
    random, free, x0 = np.random.default_rng(2), ~system.held, system.state()

    def place(y):
        x = x0.copy()
        x[free] = y
        return x

    def jacobian(y):
        J = system.equations.jacobian(place(y))[:, free]
        return J if isinstance(J, np.ndarray) else J.toarray()

    edges = system.edges + [a for pair in system.arcs for a in pair]
    drawn = np.hypot(*system.equations.directions(x0)[edges].T)
    for k in range(starts):
        start = x0[free] + (0 if k == 0 else random.choice([0.02, 0.1, 0.3, 1.0])) * random.standard_normal(free.sum())
        fit = least_squares(
            lambda y: system.equations.residual(place(y)),
            start,
            jac=jacobian,
            xtol=1e-12,
            ftol=1e-12,
            gtol=1e-12,
            max_nfev=120,
        )
        x = place(fit.x)
        there = np.hypot(*system.equations.directions(x)[edges].T) > 1e-3 * drawn
        near = np.abs(x).max() < 1e3  # of the sketch's size: what holds only at infinity does not
        if (
            np.abs(fit.fun).max() < 1e-8
            and near
            and there.all()
            and all(x[r] > 1e-3 * x0[r] for r in system.radius.values())
        ):
            return True
    return False
