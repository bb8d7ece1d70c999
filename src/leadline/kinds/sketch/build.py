"""The sketch step: evaluate its dimensions, find where paths cross its plane, solve."""

from __future__ import annotations

import itertools
import math
import time
from collections import Counter
from collections.abc import Iterator, Sequence

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Plane
from leadline.core.problems import Message, Problem
from leadline.core.sketch.dimension_rows import ANGULAR_DIMENSIONS
from leadline.core.sketch.edits.tracks import Track, crossings, self_crossings, tracks
from leadline.core.sketch.model import (
    Arc,
    Circle,
    Constraint,
    ControlSpline,
    Ellipse,
    Entity,
    Line,
    Sketch,
    Smoothed,
    Spline,
    end_points,
)
from leadline.core.sketch.names import check_names
from leadline.core.sketch.outline import JOIN, all_regions, arc_numbers, coordinates, entity_edges, smooth_outline
from leadline.core.sketch.solver import Solution, solve_sketch
from leadline.core.sketch.system import External
from leadline.kinds.sketch.model import SketchStep
from leadline.kinds.sketch.projecting import follow
from leadline.kinds.sketch.result import Faults, RegionShown, SketchResult, Solved
from leadline.recipe.context import Context
from leadline.recipe.inputs import PathRef
from leadline.recipe.path_report import plane_shown
from leadline.recipe.products import SketchProduct
from leadline.recipe.results import Report
from leadline.recipe.shown import Moved, Vec2, Vec4

COMB = 61
CROSSINGS_UP_TO = 60  # entities; pairs are looked at one by one
MOST_CROSSINGS = 40  # places that are shown


def build(context: Context, step: SketchStep, report: Report) -> SketchProduct:
    plane = context.plane(step.plane)
    if step.same_as is not None:
        solution = context.sketch(step.same_as, "same_as").solution
        report.figure = f"as {context.names.get(step.same_as, step.same_as)}"
    else:
        outside, report.messages = external(context, step.sketch, plane)
        began = time.perf_counter()
        solution = solve_sketch(step.sketch, outside)
        context.solver_seconds += time.perf_counter() - began
        report.figure = figure(solution)
    report.data = SketchResult(
        plane=plane_shown(plane), regions=region_data(solution.sketch), **solution_data(solution)
    )
    return SketchProduct(plane, solution)


def external(context: Context, sketch: Sketch, plane: Plane) -> tuple[External, list[Message]]:
    """Evaluated driving dimensions, the crossing that each "on path" tie holds its point at, where projections stand.

    Also a warning for each projection that lost its source. Raises Problem when a name in the sketch stands for
    nothing, or for two things.
    """
    check_names(sketch)
    dimensions = {
        d.id: context.evaluated(
            d.value,
            "angle" if d.kind in ANGULAR_DIMENSIONS else "length",
            f"{d.kind.replace('_', ' ')} {d.id}",
            "sketch",
        )
        for d in sketch.dimensions
        if d.driving
    }
    at = coordinates(sketch)
    crossings = {}
    for tie in sketch.constraints:
        if tie.kind == "on_path":
            crossings[tie.id] = _crossing(context, tie, plane, at[tie.items[0]] if tie.items[0] in at else np.zeros(2))
    places, radii, messages = follow(context, sketch, plane)
    return External(dimensions, crossings, places, radii), messages


def _crossing(context: Context, tie: Constraint, plane: Plane, drawn: np.ndarray) -> tuple[float, float]:
    """Where the path goes through the plane, nearest to where the point was drawn."""
    if tie.path is None:
        raise Problem("deleted-reference", f"The tie {tie.id} names no path.", "Pick the path again.", items=[tie.id])
    path = context.path(PathRef(step=tie.path), "on path")
    stations = path.crossings(plane)
    if len(stations) == 0:
        raise Problem(
            "path-misses",
            f"The path of “{context.names.get(tie.path, tie.path)}” does not cross this sketch's plane.",
            "Move the plane so that the path goes through it, or take the tie away.",
            items=[tie.id],
        )
    places = plane.to_plane(path.point(stations))
    nearest = places[int(np.argmin(np.hypot(*(places - drawn).T)))]
    return float(nearest[0]), float(nearest[1])


def solution_data(solution: Solution) -> Solved:
    """The solved sketch, with polylines to draw."""
    sketch = solution.sketch
    curves, combs, smoothed = _curves(sketch, sketch.entities)
    return {
        "sketch": sketch,
        "freedom": solution.freedom,
        "free": solution.free,
        "repeated": solution.repeated,
        "measured": {**solution.measured, **smoothed},
        "motions": solution.motions,
        "curves": curves,
        "combs": combs,
        "faults": outline_faults(sketch, set(curves)),
    }


def moved_data(sketch: Sketch) -> Moved:
    curves, combs, measured = _curves(sketch, [e for e in sketch.entities if not isinstance(e, Line | Arc)])
    sizes = {
        e.id: e.radius if isinstance(e, Circle) else e.minor for e in sketch.entities if isinstance(e, Circle | Ellipse)
    }
    return {
        "points": {p.id: (p.x, p.y) for p in sketch.points},
        "sizes": sizes,
        "curves": curves,
        "combs": combs,
        "measured": measured,
    }


def _curves(
    sketch: Sketch, entities: Sequence[Entity]
) -> tuple[dict[str, list[Vec2]], dict[str, list[Vec4]], dict[str, float]]:
    """Of these entities the polylines, the curvature combs of splines, and how far smoothed outlines are off."""
    at = coordinates(sketch)
    curves: dict[str, list[Vec2]] = {}
    combs: dict[str, list[Vec4]] = {}
    measured: dict[str, float] = {}
    for entity in entities:
        if isinstance(entity, Line) and np.abs(at[entity.end] - at[entity.start]).max() > JOIN:
            curves[entity.id] = [_pair(at[p]) for p in (entity.start, entity.end)]
            continue
        try:
            if isinstance(entity, Arc):
                curves[entity.id] = arc_points(entity, at).tolist()
                continue
            edges = entity_edges(entity, at, sketch)
        except Problem:
            continue  # a line without length has nothing to draw; the path or profile that uses it says so
        extent = max(float(np.ptp(e.control, axis=0).max()) for e in edges)
        points = np.vstack([e.point(e.samples(max(extent, 1e-6) / 2000)) for e in edges])
        curves[entity.id] = np.round(points, 6).tolist()
        if isinstance(entity, Smoothed):
            measured[entity.id] = smooth_outline(entity, at, sketch)[1]
        elif isinstance(entity, Spline | ControlSpline):
            combs[entity.id] = curvature_comb(edges[0])
    return curves, combs, measured


def arc_points(arc: Arc, at: dict[str, np.ndarray]) -> np.ndarray:
    """An arc to be drawn: points (n, 2), about one for every two degrees."""
    start, sweep, radius = arc_numbers(arc, at)
    a = start + np.linspace(0.0, sweep, max(3, math.ceil(math.degrees(sweep) / 2) + 1))
    points = at[arc.center] + radius * np.column_stack([np.cos(a), np.sin(a)])
    points[0], points[-1] = at[arc.start], at[arc.end]
    return np.round(points, 6)


def region_data(sketch: Sketch) -> list[RegionShown]:
    """The regions that a sweep can take, as outlines to pick from; none while outlines cross."""
    try:
        found = all_regions(sketch)
    except Problem:  # the step that needs a region says what is wrong with the outlines
        return []
    return [
        {
            "id": r.id,
            "area": r.area,
            "material": material,
            "loops": [np.round(loop.polygon(0.05), 4).tolist() for loop in r.loops],
        }
        for r, material in found
    ]


def outline_faults(sketch: Sketch, sound: set[str]) -> Faults:
    """Places where drawn outlines are open and where they cross: both keep a region from being found.

    ``sound`` are the entities that have a curve at all.
    """
    at = coordinates(sketch)
    drawn = [e for e in sketch.entities if not e.construction and e.id in sound]
    ends = Counter(tuple(np.round(at[p], 6)) for e in drawn for p in end_points(e) or ())
    loose = [_pair(p) for p, n in ends.items() if n == 1]
    if len(drawn) > CROSSINGS_UP_TO:
        return {"loose": loose, "crossing": []}
    known = list(tracks(sketch, {e.id for e in drawn}).values())
    return {"loose": loose, "crossing": [_pair(p) for p in itertools.islice(_crossing_places(known), MOST_CROSSINGS)]}


def _crossing_places(known: Sequence[Track]) -> Iterator[np.ndarray]:
    """Where curves cross themselves or each other, one after the other: to find all that many cross takes long."""
    for track in known:
        yield from (track.point(p) for p, _ in self_crossings(track))
    for a, b in itertools.combinations(known, 2):
        for p, q in crossings(a, b):
            at_ends = not a.closed and not b.closed and min(p, a.last - p) < 1e-6 and min(q, b.last - q) < 1e-6
            if not at_ends:
                yield a.point(p)


def _pair(point: Sequence[float] | np.ndarray) -> Vec2:
    return float(point[0]), float(point[1])


def curvature_comb(edge: Edge) -> list[Vec4]:
    """Along an edge: point and curvature vector away from the centre of curvature, [x, y, kx, ky]."""
    t = np.linspace(*edge.domain, COMB)
    half = 1e-4 * (t[-1] - t[0])
    inner = np.clip(t, t[0] + half, t[-1] - half)
    first = edge.derivative(inner)
    second = (edge.derivative(inner + half) - edge.derivative(inner - half)) / (2 * half)
    speed = np.linalg.norm(first, axis=1)
    k = (first[:, 0] * second[:, 1] - first[:, 1] * second[:, 0]) / speed**3
    out = np.stack([first[:, 1], -first[:, 0]], axis=1) * (k / speed)[:, None]
    rows: list[Vec4] = np.round(np.hstack([edge.point(t), out]), 7).tolist()
    return rows


def figure(solution: Solution) -> str:
    """One line for the cord, e.g. "3 lines, 2 arcs, settled"."""
    counts = Counter(e.kind.replace("_", " ") for e in solution.sketch.entities if not e.construction)
    pieces = [f"{n} {kind}{'s' if n > 1 else ''}" for kind, n in counts.items()]
    free = "settled" if solution.freedom == 0 else f"{solution.freedom} free"
    return ", ".join([*pieces, free]) if pieces else "empty"
