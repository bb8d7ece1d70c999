"""Solve, judge and drag a sketch: what the recipe and the API call."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from leadline.core.problems import Problem, degrees, mm
from leadline.core.sketch import stepping
from leadline.core.sketch.catalogue import add_constraint, add_dimension
from leadline.core.sketch.conflicts import Searches, satisfied
from leadline.core.sketch.constraint_rows import hold_projection
from leadline.core.sketch.diagnosis import Diagnosis, diagnose, redundant_with
from leadline.core.sketch.dimension_rows import ANGULAR_DIMENSIONS, measure
from leadline.core.sketch.items import words
from leadline.core.sketch.least_squares import least_squares_from
from leadline.core.sketch.model import Dimension, Sketch, Spline
from leadline.core.sketch.rows import Array
from leadline.core.sketch.system import External, System

POLISHED = 1e-8
BESIDE = 0.02  # scaled: how far beside the drawn state a rough drawing is tried again
NEARLY = 1e-2  # how nearly a row may depend on others that are said to hold it, where a solve stopped
SHOWN = 5


@dataclass
class Solution:
    """A solved sketch with its judgement. ``measured`` holds reference dimensions, mm or rad."""

    sketch: Sketch
    freedom: int
    free: list[str]
    repeated: list[str]
    measured: dict[str, float] = field(default_factory=dict)
    motions: list[dict[str, tuple[float, float]]] = field(default_factory=list)


def build_system(sketch: Sketch, external: External) -> System:
    """The equations of a sketch. Raises Problem when a constraint does not fit what it names."""
    system = System(sketch, external)
    for projection in sketch.projections:
        hold_projection(system, projection)
    for constraint in sketch.constraints:
        add_constraint(system, constraint)
    for dimension in sketch.dimensions:
        if dimension.driving:
            _check_size(dimension, external.dimensions[dimension.id])
            add_dimension(system, dimension)
    system.equations.freeze()
    return system


def _check_size(dimension: Dimension, value: float) -> None:
    name = words(dimension.kind)
    if dimension.kind in ANGULAR_DIMENSIONS:
        if not 0 < value < np.pi:
            raise Problem(
                "bad-size",
                f"The angle {dimension.id} is {degrees(value)}.",
                "Give more than 0° and less than 180°.",
                items=[dimension.id],
            )
        return
    least_is_zero = dimension.kind.endswith("distance")
    if value < 0 or (value == 0 and not least_is_zero):
        raise Problem(
            "bad-size",
            f"The {name} {dimension.id} is {mm(value)}.",
            "Give a size above zero.",
            items=[dimension.id],
        )


def solve_sketch(sketch: Sketch, external: External | None = None, judge: bool = True) -> Solution:
    """Bring a sketch from its drawn state to one that satisfies all its constraints.

    Raises:
        Problem: it cannot be reached; the sketch as given is then still the last good state. The
            message names the limit that was met, or the smallest set that disagrees.
    """
    external = external or External()
    system = build_system(sketch, external)
    x0 = system.state()
    outcome = stepping.solve(system, x0)
    if not outcome.solved and external.places:
        jumped = _solve_from_places(sketch, external)
        if jumped is not None:
            system, outcome = jumped
    x = outcome.x
    if not outcome.solved:
        _check_values(system, x0)
        rescued = _rough(system, x0)
        if rescued is None:
            raise _unreachable(system, outcome)
        x = rescued
    solved = _with_knots(system, system.solved(x))
    if not judge:
        return Solution(solved, 0, [], [])
    return _judged(system, x, solved)


def _check_values(system: System, x: Array) -> None:
    """Raise Problem when an equation has no value at x, as that of a point on an ellipse whose axis has no length."""
    owner = next(
        (
            row.owner
            for row, r in zip(system.equations.rows, system.equations.residual(x), strict=True)
            if not np.isfinite(r)
        ),
        None,
    )
    if owner is not None:
        raise Problem(
            "shrunk",
            f"{_title(system, owner)} cannot be told: the curve is drawn as a single point.",
            "Draw it larger, or take away what holds it so small.",
            items=[owner],
        )


def _solve_from_places(sketch: Sketch, external: External) -> tuple[System, stepping.Outcome] | None:
    """Solve with what is projected already where it belongs: a source may have turned round or jumped."""
    points = [
        p.model_copy(update=dict(zip("xy", external.places.get(p.id, (p.x, p.y)), strict=True))) for p in sketch.points
    ]
    system = build_system(sketch.model_copy(update={"points": points}), external)
    outcome = stepping.solve(system, system.state())
    return (system, outcome) if outcome.solved else None


def _judged(system: System, x: Array, solved: Sketch) -> Solution:
    diagnosis = diagnose(system, x)
    measured = {d.id: measure(system, d, x) for d in solved.dimensions if not d.driving}
    repeated = [r for r in diagnosis.repeated if r not in system.entities]
    return Solution(
        solved,
        diagnosis.freedom,
        diagnosis.free_points + diagnosis.free_radii,
        repeated,
        measured,
        _motions(system, diagnosis),
    )


def _motions(system: System, diagnosis: Diagnosis) -> list[dict[str, tuple[float, float]]]:
    """Up to six free motions as a displacement per point, the largest being one."""
    motions = []
    for row in diagnosis.motions[:6]:
        moved: dict[str, tuple[float, float]] = {}
        for p in system.sketch.points:
            i, j = system.variables_of(p.id)
            if max(abs(row[i]), abs(row[j])) > 1e-6:
                moved[p.id] = (float(row[i]), float(row[j]))
        top = max((max(abs(a), abs(b)) for a, b in moved.values()), default=0.0)
        if top > 0:
            motions.append({k: (a / top, b / top) for k, (a, b) in moved.items()})
    return motions


def _with_knots(system: System, sketch: Sketch) -> Sketch:
    if not any(isinstance(e, Spline) and e.knots is None for e in sketch.entities):
        return sketch
    entities = [
        e.model_copy(update={"knots": list(system.knots(e))}) if isinstance(e, Spline) and e.knots is None else e
        for e in sketch.entities
    ]
    return sketch.model_copy(update={"entities": entities})


def _least_squares(system: System, x0: Array) -> Array:
    """The state near x0 with the least sum of squared residuals."""
    return least_squares_from(system, x0, ~system.held, 1e-15, 200)[0]


def _rough(system: System, x0: Array) -> Array | None:
    """Levenberg-Marquardt for a rough drawing; only what stays unflipped counts.

    Tried again from places a little beside: a line that is level and shall stand upright may turn either way, and
    exactly between the two nothing pulls it.
    """
    random = np.random.default_rng(5)
    for spread in (0.0, BESIDE, BESIDE):
        start = x0 + spread * random.standard_normal(system.n) * ~system.held
        polished, _ = stepping.correct(system, _least_squares(system, start), np.zeros(len(system.equations.rows)))
        if polished is not None and stepping.keeps_shape(system, x0, polished, np.radians(100)):
            return polished
    return None


def _unreachable(system: System, outcome: stepping.Outcome) -> Problem:
    """Say which limit was met: the dimension that would not go further, and what holds it."""
    sketch, x = system.sketch, outcome.x
    r = system.equations.residual(x)
    owners = [row.owner for row in system.equations.rows]
    open_owners = list(dict.fromkeys(owners[i] for i in np.argsort(-np.abs(r)) if abs(r[i]) > POLISHED))
    named, for_certain = _disagreeing(system, x, open_owners)
    dimensions = {d.id: d for d in sketch.dimensions}
    stuck = next((o for o in open_owners if o in dimensions and o in named), None)
    worst = stuck or next((o for o in open_owners if o in named), named[0] if named else "")
    holders = [h for h in named if h != worst]
    text = ", ".join(_title(system, h) for h in holders[:SHOWN]) or "the shape itself"
    if len(holders) > SHOWN:
        text += f" and {len(holders) - SHOWN} more"
    items = [worst, *holders]
    if stuck is not None:
        return _short_of(system, x, dimensions[stuck], text, items, for_certain)
    if not for_certain:
        return Problem(
            "turned-over",
            (
                f"{_title(system, worst)} cannot be reached from here without turning something over or folding "
                f"it, because of {text}."
            ),
            "Drag the sketch nearer to what you want first, or take one of these away.",
            items=items,
        )
    return Problem("conflict", f"{_title(system, worst)} contradicts {text}.", "Take one of these away.", items=items)


def _short_of(
    system: System, x: Array, dimension: Dimension, holders: str, items: list[str], for_certain: bool
) -> Problem:
    """A dimension that does not get to its value, at x where the solver stopped: as ``holders`` contradict it for
    certain, or as it cannot be got to from here.
    """
    angular = dimension.kind in ANGULAR_DIMENSIONS
    wanted, got = (
        degrees(v) if angular else mm(v)
        for v in (system.external.dimensions[dimension.id], measure(system, dimension, x))
    )
    what = words(dimension.kind)
    if for_certain:
        return Problem(
            "limit",
            f"{wanted} cannot be reached: the {what} gets to {got}, held by {holders}.",
            f"Give a value nearer {got}, or take one of these away.",
            items=items,
        )
    return Problem(
        "turned-over",
        (
            f"{wanted} cannot be reached from here without turning something over or folding it: the {what} "
            f"gets to {got}, because of {holders}."
        ),
        f"Drag the sketch nearer to what you want first, give a value nearer {got}, or take one of these away.",
        items=items,
    )


def _disagreeing(system: System, x: Array, open_owners: list[str]) -> tuple[list[str], bool]:
    """The smallest set of constraints and dimensions that cannot hold together (then True); or where all can, but not
    from here, what is in each other's way at x, where the solver stopped.
    """
    everything = _all_owners(system.sketch)
    likely = [o for o in dict.fromkeys([*open_owners, *_opposed(system, x)]) if o in everything]
    rest = [o for o in everything if o not in likely]

    searches = Searches(partial(_satisfied, system))
    candidates = likely if likely and not searches.feasible(likely) else [*likely, *rest]
    found = searches.smallest(candidates)
    if found:
        return found, True
    stuck = next((o for o in open_owners if o in everything), None)
    holding = redundant_with(system, x, stuck, NEARLY)[0] if stuck is not None else []
    return list(dict.fromkeys(o for o in [*open_owners[:1], *holding, *likely] if o in everything)), False


def _all_owners(sketch: Sketch) -> list[str]:
    return [d.id for d in sketch.dimensions if d.driving] + [c.id for c in sketch.constraints]


def _satisfied(system: System, owners: Sequence[str], starts: slice, beginnings: Sequence[Sketch]) -> Sketch | None:
    """The sketch in a state in which these of its constraints and dimensions all hold, if one is found."""
    kept, sketch = set(owners), system.sketch
    reduced = sketch.model_copy(
        update={
            "constraints": [c for c in sketch.constraints if c.id in kept],
            "dimensions": [d for d in sketch.dimensions if d.id in kept],
        }
    )
    try:
        return satisfied(build_system(reduced, system.external), starts, beginnings)
    except Problem:  # one of them means nothing without another, as tangency at an end that is no longer shared
        return sketch


def _opposed(system: System, x: Array) -> list[str]:
    """Who pulls against whom: at the least-squares state the residuals are the multipliers of the conflict."""
    r = np.abs(system.equations.residual(_least_squares(system, x)))
    owners = [row.owner for row in system.equations.rows]
    share = r.max(initial=0.0) * 1e-3
    return list(dict.fromkeys(owners[i] for i in np.argsort(-r) if r[i] > max(share, POLISHED)))


def _title(system: System, owner: str) -> str:
    for constraint in system.sketch.constraints:
        if constraint.id == owner:
            return f"{words(constraint.kind)} ({', '.join(constraint.items)})"
    for dimension in system.sketch.dimensions:
        if dimension.id == owner:
            return f"{words(dimension.kind)} {dimension.value} ({', '.join(dimension.items)})"
    return owner


def explain_extra(sketch: Sketch, extra: str, external: External | None = None) -> tuple[list[str], bool]:
    """For a constraint or dimension just added to a solved sketch: what already decides it.

    Returns the ids that decide it (empty when it is independent) and whether it agrees with them. Where it does not,
    they are the fewest that contradict it.
    """
    system = build_system(sketch, external or External())
    names, agrees = redundant_with(system, system.state(), extra)
    names = [n for n in names if n not in system.entities]
    if not names or agrees:
        return names, agrees
    rest = [o for o in _all_owners(sketch) if o != extra]
    searches = Searches(partial(_satisfied, system))
    candidates = names if not searches.feasible([extra, *names]) else [*names, *(o for o in rest if o not in names)]
    return [o for o in searches.smallest(candidates, [extra]) if o != extra] or names, agrees
