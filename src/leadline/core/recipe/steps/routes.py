"""The steps that give a path of their own, with what is told of every path."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from leadline.core.geometry.laws import Even, Law, Table
from leadline.core.geometry.plane import Array
from leadline.core.geometry.walls import hollow
from leadline.core.paths.even_angle import Advance, Advanced
from leadline.core.paths.fair import Passing
from leadline.core.paths.formers import DrawnFormer, Former, RoundFormer
from leadline.core.paths.held import hold_length, own_direction, routed_length
from leadline.core.paths.joining import joined
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.paths.route import Route, smooth_through, through_points
from leadline.core.paths.wound import wound
from leadline.core.problems import Message, Problem
from leadline.core.recipe.inputs import TablePoint
from leadline.core.recipe.path_steps import JoinedStep, RouteStep, WoundStep
from leadline.core.recipe.places import Direction, DrawnPoint, PathPlace, Place, PlacePoint
from leadline.core.recipe.results import PathProduct, Report, SweepPlan
from leadline.core.recipe.steps.context import Context
from leadline.core.units import LengthUnit, format_length

MAX_TURNS = 2000.0
SHOWN_TURN = 48  # points on a turn of a coil
MOST_SHOWN = 4000
SMALLEST = 1e-3
NOUGHT = 1e-9  # size of a direction that has none
EVEN = 1e-6  # of its radius, by which a tube may be uneven


def told(path: Path, turns: float = 0.0) -> dict[str, Any]:
    """What views show of a path: points along it, length, pieces, joints and the tightest bend."""
    s = path.samples(max(8, 32 if turns == 0 else 24))
    if len(s) > MOST_SHOWN or turns > 0:
        s = np.linspace(0.0, path.length, int(min(MOST_SHOWN, max(len(s), SHOWN_TURN * turns + 2))))
    tightest = float(np.linalg.norm(path.curvature(s), axis=1).max())
    return {
        "points": np.round(path.point(s), 4).tolist(), "length": path.length, "closed": path.closed,
        "tightest": 1 / tightest if tightest > 1e-9 else None,
        "pieces": [{"kind": p.kind, "length": p.length, "origin": p.origin} for p in path.pieces],
        "joints": [{"station": j.station, "kind": j.kind} for j in path.joints],
    }  # fmt: skip


# -- routes -----------------------------------------------------------------------------------------


def build_route(context: Context, step: RouteStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    points = np.array([place(context, p.at, f"point {i + 1}") for i, p in enumerate(step.points)])
    if step.shape == "smooth":
        passing = _passing(context, step)
        if step.held is not None:
            points = _held(context, step, points, lambda p: smooth_through(p, step.closed, passing).length)
        return _smooth(points, step.closed, passing, report, unit)
    own = context.value(step.radius, "length", "Bend radius")
    radii = [own if p.radius is None else context.value(p.radius, "length", f"Radius of point {i + 1}") for i, p in enumerate(step.points)]
    if step.held is not None:
        points = _held(context, step, points, lambda p: routed_length(p, radii, step.closed))
    route = through_points(points, radii, step.closed, [p.id for p in step.points], unit)
    least = context.value(step.least_straight, "length", "Least straight")
    report.messages += _short_straights(route, least, unit) + _idle(step, route)
    bends = len(route.bends)
    report.figure = f"{bends} bend{'s' if bends != 1 else ''}, {format_length(route.path.length, unit)}"
    report.data = {"path": told(route.path), "route": _route_data(points, route)}
    return PathProduct(route.path)


def _held(context: Context, step: RouteStep, points: Array, measure: Callable[[Array], float]) -> Array:
    """The points with the one moved that gives way for the length. Raises Problem."""
    held = step.held
    assert held is not None
    ids = [p.id for p in step.points]
    if held.point not in ids:
        raise Problem("deleted-reference", f"The point {held.point} that gave way for the length is gone.", "Pick another point.", field="held")
    i = ids.index(held.point)
    if not isinstance(step.points[i].at, PlacePoint):
        raise Problem("drawn-point", f"Point {i + 1} follows another step, so that it cannot give way for the length.", "Let another point give way.", field="held", point=i)
    length = context.value(held.length, "length", "Length")
    if length < SMALLEST:
        raise Problem("bad-size", f"A length of {format_length(length, context.scope.unit)} cannot be held.", "Give one above zero.", field="held")
    way = own_direction(points, i, step.closed) if held.along is None else np.eye(3)["XYZ".index(held.along)]
    return hold_length(points, i, way, length, measure, context.scope.unit)


def _passing(context: Context, step: RouteStep) -> dict[int, Passing]:
    """The directions and curvatures that points of a smooth route give, by index. Raises Problem."""
    found: dict[int, Passing] = {}
    for i, p in enumerate(step.points):
        way = None if p.way is None else direction(context, p.way, f"the direction at point {i + 1}")
        bend = None
        if p.curving is not None:
            radius = context.value(p.curving.radius, "length", f"Radius of curvature at point {i + 1}")
            if radius < SMALLEST:
                raise Problem("bad-size", f"The radius of curvature at point {i + 1} is {format_length(radius, context.scope.unit)}.", "Give one above zero, or let the curve find its own.", field="points", point=i)
            bend = direction(context, p.curving.towards, f"the side of the curvature at point {i + 1}") / radius
        if way is not None or bend is not None:
            found[i] = Passing(way, bend)
    return found


def direction(context: Context, way: Direction, name: str) -> Array:
    """A unit direction (3,). Raises Problem."""
    vector = np.array([context.value(v, "number", f"{axis} of {name}") for axis, v in (("X", way.x), ("Y", way.y), ("Z", way.z))])
    size = float(np.linalg.norm(vector))
    if size < NOUGHT:
        raise Problem("no-direction", f"{name[0].upper()}{name[1:]} has no size.", "Give it one, e.g. 1, 0, 0, or take it away.", field="points")
    return np.asarray(vector / size)


def _smooth(points: Array, closed: bool, passing: dict[int, Passing], report: Report, unit: LengthUnit) -> PathProduct:
    path = smooth_through(points, closed, passing)
    stations = np.append(path.pieces[0].breaks()[:-1], path.length)
    report.figure = f"curve through {len(points)} points, {format_length(path.length, unit)}"
    runs = [{"length": float(v), "straight": 0.0} for v in np.diff(stations)]
    report.data = {"path": told(path), "route": {"points": np.round(points, 6).tolist(), "runs": runs, "bends": [], "straight": 0.0, "bent": path.length}}
    return PathProduct(path)


def place(context: Context, at: Place, name: str) -> Array:
    """Where a point of a path stands (3,). Raises Problem."""
    if isinstance(at, DrawnPoint):
        return context.drawn_point(at.step, at.point, "points")
    if isinstance(at, PathPlace):
        return path_place(context, at, name)[0]
    return np.array([context.value(v, "length", f"{axis} of {name}") for axis, v in (("X", at.x), ("Y", at.y), ("Z", at.z))])


def path_place(context: Context, at: PathPlace, name: str) -> tuple[Array, Array]:
    """A point of an earlier path and the path's direction there, each (3,). Raises Problem."""
    path = context.path(at.path, "points")
    asked = context.station(at.station, path.length, f"Station of {name}")
    if not -SMALLEST <= asked <= path.length + SMALLEST:
        unit = context.scope.unit
        raise Problem("off-path", f"The station {format_length(asked, unit)} of {name} is not on the path.", f"Give 0 to {format_length(path.length, unit, 6)}.", field="points")
    s = np.array([path.length - asked if at.from_end else asked])
    return path.point(s)[0], path.tangent(s)[0]


def _short_straights(route: Route, least: float, unit: LengthUnit) -> list[Message]:
    if least <= 0:
        return []
    bent = {b.point for b in route.bends}
    n = len(route.runs) if route.path.closed else len(route.runs) + 1
    return [
        Message("warning", "short-straight", f"Between the bends at points {i + 1} and {(i + 1) % n + 1} only {format_length(run.straight, unit)} stay straight; {format_length(least, unit)} are asked for.",
                "Move the points apart, or bend tighter.", {"field": "least_straight", "point": i})
        for i, run in enumerate(route.runs)
        if {i, (i + 1) % n} <= bent and run.straight < least - 1e-9
    ]  # fmt: skip


def _idle(step: RouteStep, route: Route) -> list[Message]:
    given = [
        Message("note", "no-smooth", f"The direction or curvature at point {i + 1} has no effect on straight runs with bends.", "Make it one smooth curve, or take it away.", {"point": i})
        for i, p in enumerate(step.points) if p.way is not None or p.curving is not None
    ]  # fmt: skip
    return given + [
        Message("note", "no-bend", f"Point {i + 1} stands in a straight run, so that its bend radius has no effect.", "", {"point": i})
        for i in route.idle if step.points[i].radius is not None
    ]  # fmt: skip


def _route_data(points: Array, route: Route) -> dict[str, Any]:
    straight = sum(p.length for p in route.path.pieces if isinstance(p, LinePiece))
    return {
        "points": np.round(points, 6).tolist(),
        "runs": [{"length": r.length, "straight": r.straight} for r in route.runs],
        "bends": [{"point": b.point, "angle": math.degrees(b.turn), "radius": b.radius, "station": b.station} for b in route.bends],
        "straight": straight, "bent": route.path.length - straight,
    }  # fmt: skip


# -- joined -----------------------------------------------------------------------------------------


def build_joined(context: Context, step: JoinedStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    names = [context.names.get(p.step, p.step) for p in step.parts]
    tolerance = context.value(step.tolerance, "length", "Gaps closed")
    found = joined([context.path(p, "parts") for p in step.parts], names, tolerance, unit)
    order = [names[i] for i, _ in found.order]
    report.messages += _bridges(order, found.bridged, unit) + kinks(found.path, unit)
    count = len(order)
    report.figure = f"{count} part{'s' if count != 1 else ''}, {format_length(found.path.length, unit)}"
    report.data = {"path": told(found.path), "order": order}
    return PathProduct(found.path)


def _bridges(order: list[str], bridged: tuple[float, ...], unit: LengthUnit) -> list[Message]:
    return [
        Message("note", "gap-closed", f"A gap of {format_length(gap, unit)} between “{order[k]}” and “{order[k + 1]}” is closed by a straight piece.", "", {})
        for k, gap in enumerate(bridged) if gap > 0
    ]  # fmt: skip


def kinks(path: Path, unit: LengthUnit) -> list[Message]:
    return [
        Message("note", "corner", f"At {format_length(j.station, unit)} two parts meet at a corner of {math.degrees(j.turn):.3g}°.",
                "Make them tangent, or let the sweep mitre or round it.", {"station": j.station})
        for j in path.joints if j.kind == "corner"
    ]  # fmt: skip


# -- coils ------------------------------------------------------------------------------------------


def build_wound(context: Context, step: WoundStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    carrier = context.path(step.path)
    former, size, start, shape = _shape(context, step, carrier)
    angle = _angle(context, step, carrier)
    turns = abs(float(np.diff(angle.value(np.array([0.0, carrier.length])))[0])) / (2 * math.pi)
    check_turns(turns)
    if step.even == "angle":
        advance = Advance(carrier, start, angle, size, former)
        angle, size = Advanced(angle, advance), Advanced(size, advance)
    path = wound(carrier, start, angle, size, former, step.id)
    report.figure = f"{shape}, {turns:.4g} turns, {format_length(path.length, unit)}"
    report.data = {"path": told(path, turns), "turns": turns}
    return PathProduct(path)


def _angle(context: Context, step: WoundStep, carrier: Path) -> Law:
    given = [name for name, v in (("turns", step.turns), ("pitch", step.pitch), ("turn_table", step.turn_table)) if v not in (None, "")]
    if len(given) != 1:
        raise Problem(
            "one-of-three", f"A coil needs its turns, its pitch or a table of turns; {len(given) or 'none'} of them are given.",
            "Give one and leave the others empty.", field="turns",
        )  # fmt: skip
    sign = -1.0 if step.hand == "left" else 1.0
    first = context.value(step.start_angle, "angle", "Start angle")
    if step.turn_table is not None:
        return _turn_table(context, step.turn_table, first, sign, carrier.length)
    if step.pitch not in (None, ""):
        pitch = context.value(step.pitch or 0, "length", "Pitch")
        if abs(pitch) < SMALLEST:
            raise Problem("bad-size", "The pitch of the coil is nought.", "Give a length per turn.", field="pitch")
        return Even(first, sign * 2 * math.pi / pitch)
    turns = context.value(step.turns or 0, "turns", "Turns")
    if abs(turns) < 1e-6:
        raise Problem("bad-size", "The coil has no turns.", "Give turns above zero.", field="turns")
    return Even(first, sign * 2 * math.pi * turns / carrier.length)


def check_turns(turns: float, what: str = "coil") -> None:
    """Raises Problem when there are more than can be built."""
    if abs(turns) > MAX_TURNS:
        raise Problem("too-many-turns", f"The {what} has {turns:.6g} turns.", f"Give at most {MAX_TURNS:g}.", field="turns")


def _turn_table(context: Context, points: list[TablePoint], first: float, sign: float, length: float) -> Law:
    at = [context.station(p.at, length, "Station") for p in points]
    turns = [context.value(p.value, "turns", "Turns") for p in points]
    if np.any(np.diff(np.array(turns)[np.argsort(at, kind="stable")]) < 0):
        raise Problem("turns-back", "The table's turns go down along the path.", "Let them rise from station to station.", field="turn_table")
    return Table(at, [first + sign * 2 * math.pi * t for t in turns], True, "turn_table")


def _shape(context: Context, step: WoundStep, carrier: Path) -> tuple[Former, Law, Array, str]:
    """The former, its size law, the normal that angles count from, and its figure."""
    standoff = context.value(step.standoff, "length", "Standoff")
    if step.former is not None:
        return _on_former(context, step, carrier, standoff)
    start = carrier.start_normal()
    unit = context.scope.unit
    if step.radii is not None:
        at = [context.station(p.at, carrier.length, "Station") for p in step.radii]
        radii = [_above(context.value(p.value, "length", "Radius") + standoff, "radii") for p in step.radii]
        return RoundFormer(), Table(at, radii, True, "radii"), start, f"Ø{format_length(2 * radii[0], unit)} to Ø{format_length(2 * radii[-1], unit)}"
    first = _above((_tube_radius(context, step) if step.radius in (None, "") else context.value(step.radius or 0, "length", "Radius")) + standoff, "radius")
    last = first if step.end_radius in (None, "") else _above(context.value(step.end_radius or 0, "length", "End radius") + standoff, "end_radius")
    figure = f"Ø{format_length(2 * first, unit)}" + (f" to Ø{format_length(2 * last, unit)}" if abs(last - first) > 1e-9 else "")
    return RoundFormer(), Even(first, (last - first) / carrier.length), start, figure


def _above(radius: float, field: str) -> float:
    if radius < SMALLEST:
        raise Problem("bad-size", f"The coil's radius is {format_length(radius)}.", "Give one above zero.", field=field)
    return radius


def _tube_radius(context: Context, step: WoundStep) -> float:
    """The outer radius of the round tube whose path the coil is wound about."""
    try:
        plan: SweepPlan | None = context.plan(step.path.step, "path")
    except Problem:
        plan = None
    arcs = {e.arc for r in plan.regions for e in r.outer.edges} if plan is not None else {None}
    if len(arcs) == 1 and None not in arcs and plan is not None and not _even_about_path(plan):
        raise Problem(
            "not-even", "The tube that it is wound about is not one of an even round section about its path, so its surface is not where one radius says.",
            "Give the coil's radius, or radii by station.", field="radius",
        )  # fmt: skip
    if len(arcs) != 1 or None in arcs:
        raise Problem("no-radius", "The path that it is wound about is not that of one round tube, so the coil needs a radius.", "Give its radius.", field="radius")
    (arc,) = arcs
    assert arc is not None
    return float(arc[2])


def _even_about_path(plan: SweepPlan) -> bool:
    """Whether the round outline of a sweep keeps its size and its middle on the path, all along."""
    motion, (arc, *_) = plan.motion, [e.arc for r in plan.regions for e in r.outer.edges]
    assert arc is not None
    f = motion.frames(motion.path.samples(8))
    middle = f.at(np.array([arc[:2]]))[:, 0]
    return bool(np.abs(middle - f.P).max() < EVEN * arc[2] and np.abs(f.maps - np.eye(2)).max() < EVEN and f.steepness.min() > 1 - EVEN)


def _on_former(context: Context, step: WoundStep, carrier: Path, standoff: float) -> tuple[Former, Law, Array, str]:
    assert step.former is not None
    plane, regions = context.profile(step.former)
    if len(regions) != 1:
        raise Problem("one-former", f"The former has {len(regions)} closed outlines.", "Pick one.", field="former")
    if standoff < 0:
        raise Problem("bad-size", "The standoff from the former is under zero.", "Give zero or more.", field="standoff")
    outline = hollow(regions[0], standoff, "outward").outer if standoff > 0 else regions[0].outer
    grown = context.value(step.former_end, "number", "Size at the end")
    if grown < SMALLEST:
        raise Problem("bad-size", "The former shrinks to nothing.", "Give a size above zero at its end.", field="former_end")
    tangent = carrier.tangent(np.zeros(1))[0]
    start = plane.x - tangent * float(plane.x @ tangent)
    if float(np.linalg.norm(start)) < 1e-6:
        raise Problem("former-along", "The former's plane holds the path.", "Draw the former across the path.", field="former")
    if float(plane.normal @ tangent) < 0:  # seen from behind: turned over about its x axis
        outline = type(outline)(tuple(e.mapped(np.diag([1.0, -1.0]), np.zeros(2)) for e in outline.edges)).oriented(True)
    return DrawnFormer(outline), Even(1.0, (grown - 1) / carrier.length), start / np.linalg.norm(start), "on a former"
