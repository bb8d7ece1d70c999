"""The route step: straight runs with bends, or one smooth curve, through points."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.fair import Passing
from leadline.core.paths.held import hold_length, own_direction, routed_length
from leadline.core.paths.pieces import LinePiece
from leadline.core.paths.route import Route, smooth_through, through_points
from leadline.core.problems import Message, Problem, mm
from leadline.core.units import LengthUnit, format_length
from leadline.kinds.route.model import RouteStep
from leadline.kinds.route.result import RouteResult, RouteShown, Run
from leadline.recipe.context import Context
from leadline.recipe.path_report import path_report
from leadline.recipe.places import PlacePoint
from leadline.recipe.placing import direction, place
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report

SMALLEST = 1e-3  # mm


def build(context: Context, step: RouteStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    points = np.array([place(context, p.at, f"point {i + 1}") for i, p in enumerate(step.points)])
    if step.shape == "smooth":
        passing = _passing(context, step)
        if step.held is not None:
            points = _held(context, step, points, lambda p: smooth_through(p, step.closed, passing).length)
        return _smooth(points, step.closed, passing, report, unit)
    own = context.value(step.radius)
    radii = [
        own if p.radius is None else context.value(p.radius, f"of point {i + 1}") for i, p in enumerate(step.points)
    ]
    if step.held is not None:
        points = _held(context, step, points, lambda p: routed_length(p, radii, step.closed))
    route = through_points(points, radii, step.closed, [p.id for p in step.points])
    least = context.value(step.least_straight)
    report.messages += _short_straights(route, least) + _idle(step, route)
    bends = len(route.bends)
    report.figure = f"{bends} bend{'s' if bends != 1 else ''}, {format_length(route.path.length, unit)}"
    report.data = RouteResult(path=path_report(route.path), route=_route_shown(points, route))
    return PathProduct(route.path)


def _passing(context: Context, step: RouteStep) -> dict[int, Passing]:
    """The directions and curvatures that points of a smooth route give, by index. Raises Problem."""
    found: dict[int, Passing] = {}
    for i, p in enumerate(step.points):
        way = None if p.way is None else direction(context, p.way, f"the direction at point {i + 1}")
        bend = None
        if p.curving is not None:
            radius = context.value(p.curving.radius, f"at point {i + 1}")
            if radius < SMALLEST:
                raise Problem(
                    "bad-size",
                    f"The radius of curvature at point {i + 1} is {mm(radius)}.",
                    "Give one above zero, or let the curve find its own.",
                    field="points",
                    point=i,
                )
            bend = direction(context, p.curving.towards, f"the side of the curvature at point {i + 1}") / radius
        if way is not None or bend is not None:
            found[i] = Passing(way, bend)
    return found


def _held(context: Context, step: RouteStep, points: Array, measure: Callable[[Array], float]) -> Array:
    """The points with the one moved that gives way for the length. Raises Problem."""
    held = step.held
    assert held is not None
    ids = [p.id for p in step.points]
    if held.point not in ids:
        raise Problem(
            "deleted-reference",
            f"The point {held.point} that gave way for the length is gone.",
            "Pick another point.",
            field="held",
        )
    i = ids.index(held.point)
    if not isinstance(step.points[i].at, PlacePoint):
        raise Problem(
            "drawn-point",
            f"Point {i + 1} follows another step, so that it cannot give way for the length.",
            "Let another point give way.",
            field="held",
            point=i,
        )
    length = context.value(held.length)
    if length < SMALLEST:
        raise Problem("bad-size", f"A length of {mm(length)} cannot be held.", "Give one above zero.", field="held")
    way = own_direction(points, i, step.closed) if held.along is None else np.eye(3)["XYZ".index(held.along)]
    return hold_length(points, i, way, length, measure)


def _smooth(points: Array, closed: bool, passing: dict[int, Passing], report: Report, unit: LengthUnit) -> PathProduct:
    path = smooth_through(points, closed, passing)
    stations = np.append(path.pieces[0].breaks()[:-1], path.length)
    report.figure = f"curve through {len(points)} points, {format_length(path.length, unit)}"
    runs: list[Run] = [{"length": float(v), "straight": 0.0} for v in np.diff(stations)]
    report.data = RouteResult(
        path=path_report(path),
        route={"points": np.round(points, 6).tolist(), "runs": runs, "bends": [], "straight": 0.0, "bent": path.length},
    )
    return PathProduct(path)


def _short_straights(route: Route, least: float) -> list[Message]:
    if least <= 0:
        return []
    bent = {b.point for b in route.bends}
    n = len(route.runs) if route.path.closed else len(route.runs) + 1
    return [
        Message(
            "warning",
            "short-straight",
            (
                f"Between the bends at points {i + 1} and {(i + 1) % n + 1} only {mm(run.straight)} stay "
                f"straight; {mm(least)} are asked for."
            ),
            "Move the points apart, or bend tighter.",
            {"field": "least_straight", "point": i},
        )
        for i, run in enumerate(route.runs)
        if {i, (i + 1) % n} <= bent and run.straight < least - 1e-9
    ]


def _idle(step: RouteStep, route: Route) -> list[Message]:
    given = [
        Message(
            "note",
            "no-smooth",
            f"The direction or curvature at point {i + 1} has no effect on straight runs with bends.",
            "Make it one smooth curve, or take it away.",
            {"point": i},
        )
        for i, p in enumerate(step.points)
        if p.way is not None or p.curving is not None
    ]
    return given + [
        Message(
            "note",
            "no-bend",
            f"Point {i + 1} stands in a straight run, so that its bend radius has no effect.",
            "",
            {"point": i},
        )
        for i in route.idle
        if step.points[i].radius is not None
    ]


def _route_shown(points: Array, route: Route) -> RouteShown:
    straight = sum(p.length for p in route.path.pieces if isinstance(p, LinePiece))
    return {
        "points": np.round(points, 6).tolist(),
        "runs": [{"length": r.length, "straight": r.straight} for r in route.runs],
        "bends": [
            {"point": b.point, "angle": math.degrees(b.turn), "radius": b.radius, "station": b.station}
            for b in route.bends
        ],
        "straight": straight,
        "bent": route.path.length - straight,
    }
