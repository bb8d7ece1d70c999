"""The hose step: two ports, and the curve between them, shaped or as an elastic rod."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths import hose
from leadline.core.paths.path import Path
from leadline.core.problems import Message, Problem, mm
from leadline.core.units import format_length
from leadline.kinds.hose.model import DrawnPort, HoseStep, PlanePort, Port
from leadline.kinds.hose.result import HoseResult
from leadline.recipe.context import Context
from leadline.recipe.given import field_of, label
from leadline.recipe.path_report import path_report
from leadline.recipe.places import PathPlace
from leadline.recipe.placing import direction, path_place, place
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report

DOWN = np.array([0.0, 0.0, -1.0])
ALONG = 1e-6  # mm, and rad
COARSE = 0.1  # mm that the outline of a fitting may be off by
CENTRED = 0.05  # of a fitting's size that its axis may be off the port
NEWTON_METRES = 1e9  # (N/m) / (N m²) in 1/mm³


def build(context: Context, step: HoseStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    _check(context, step)
    start, end = ports(context, step)
    collars = [_collar(context, p) for p in (start, end)]
    path = _path(context, step, start, end)
    radius, station = hose.tightest(path)
    least = context.value(step.least_bend)
    report.messages += _too_tight(radius, station, least) + _short_ends((start, end), collars)
    tightest = "straight" if math.isinf(radius) else f"R{format_length(radius, unit)}"
    report.figure = f"{format_length(path.length, unit)}, tightest {tightest}"
    way = float(np.linalg.norm(end.free - start.free))
    report.data = HoseResult(
        path=path_report(path),
        hose={
            "ports": [
                {"point": p.point.tolist(), "outward": p.outward.tolist(), "straight": p.straight, "collar": c}
                for p, c in zip((start, end), collars, strict=True)
            ],
            "points": [place(context, p.at, f"point {i + 1}").tolist() for i, p in enumerate(step.points)],
            "slack": path.length - start.straight - end.straight - way,
            "tightest_at": station,
            "turn": _turn(path, start, end),
        },
    )
    return PathProduct(path)


def _check(context: Context, step: HoseStep) -> None:
    """Raises Problem where a number is none, whether it is needed as the step stands or not."""
    for given in (step.least_bend, step.weight, step.stiffness):
        if context.value(given) < 0:
            raise Problem(
                "bad-size", f"{label(given)}: it is under nought.", "Give nought or more.", field=field_of(given)
            )


def ports(context: Context, step: HoseStep) -> tuple[hose.Port, hose.Port]:
    """Both ports of a hose. Raises Problem."""
    return _port(context, step.start, "start"), _port(context, step.end, "end")


def shortest(context: Context, step: HoseStep) -> float:
    """The length (mm) of the shortest hose between the ports that keeps its least bend radius; it takes seconds.

    Raises:
        Problem: the hose has no least bend radius, or none of up to four times the way between its ports keeps it.
    """
    least = context.value(step.least_bend)
    if least <= 0:
        raise Problem(
            "no-least-bend",
            "The hose has no least bend radius that a length could keep.",
            "Give one.",
            field="least_bend",
        )
    length = hose.shortest(*ports(context, step), least, load(context, step))
    if length is None:
        raise Problem(
            "no-length",
            f"No hose of up to four times the way between its ports keeps to {mm(least)}.",
            "Turn a port, move them apart, or take a hose that bends tighter.",
            field="length",
        )
    return length


def _collar(context: Context, port: hose.Port) -> float | None:
    """How far an earlier body that was carried straight goes on from a port, about its axis: the part of a fitting that
    a hose is pushed over, mm.
    """
    reach = None
    for swept in context.motions:
        path = swept.motion.path
        if len(path.pieces) != 1 or path.pieces[0].kind != "line":
            continue
        s = np.array([0.0, path.length])
        ends = (path.point(s) - port.point) @ port.outward
        across = float(np.linalg.norm(np.cross(path.tangent(s)[0], port.outward)))
        if across > ALONG or ends.max() <= ALONG or ends.min() > ALONG:
            continue
        outline = swept.motion.frames(s).at(np.vstack([r.outer.polygon(COARSE) for r in swept.regions]))[0]
        middle = (outline.min(axis=0) + outline.max(axis=0)) / 2 - port.point
        if np.linalg.norm(middle - port.outward * float(middle @ port.outward)) < CENTRED * float(
            np.ptp(outline, axis=0).max()
        ):
            reach = max(reach or 0.0, float(ends.max()))
    return reach


def _short_ends(both: tuple[hose.Port, hose.Port], collars: list[float | None]) -> list[Message]:
    return [
        Message(
            "warning",
            "short-collar",
            f"The straight at the {name} is {mm(port.straight)}, but its fitting reaches {mm(collar)} into the hose.",
            f"Give it {mm(collar)} at least.",
            {"field": name},
        )
        for name, port, collar in zip(("start", "end"), both, collars, strict=True)
        if collar is not None and port.straight < collar - ALONG
    ]


def _path(context: Context, step: HoseStep, start: hose.Port, end: hose.Port) -> Path:
    if step.length in (None, ""):
        through = np.array([place(context, p.at, f"point {i + 1}") for i, p in enumerate(step.points)])
        pulls = (context.value(step.start.pull), context.value(step.end.pull))
        ways = {
            i: direction(context, p.way, f"the direction at point {i + 1}")
            for i, p in enumerate(step.points)
            if p.way is not None
        }
        return hose.shaped(start, end, through, pulls, ways)
    if step.points:
        raise Problem(
            "rod-with-points",
            "A hose of given length lies by itself and passes no points.",
            "Take the points away, or leave the length empty to shape it.",
            field="length",
        )
    length = context.given(step.length) or 0.0
    return hose.hanging(start, end, length, load(context, step))


def load(context: Context, step: HoseStep) -> Array | None:
    """The weight over the stiffness, 1/mm³ downwards; None without weight. Raises Problem."""
    weight, stiffness = context.value(step.weight), context.value(step.stiffness)
    if weight < 0 or (weight > 0 and stiffness <= 0):
        raise Problem(
            "bad-size",
            "A hanging hose needs a weight and a stiffness above zero.",
            "Give both, or no weight.",
            field="weight",
        )
    return None if weight == 0 else weight / stiffness / NEWTON_METRES * DOWN


def _port(context: Context, port: Port, name: str) -> hose.Port:
    straight = context.value(port.straight)
    if straight < 0:
        raise Problem("bad-size", f"The straight at the {name} is under zero.", "Give zero or more.", field=name)
    at = port.at
    if isinstance(at, PlanePort):
        plane = context.plane(at.plane)
        point, outward = plane.origin, plane.normal
    elif isinstance(at, DrawnPort):
        point, outward = context.drawn_point(at.step, at.point, name), context.sketch(at.step, name).plane.normal
    elif isinstance(at, PathPlace):
        point, outward = path_place(context, at, name)
    else:
        point = np.array([context.value(v) for v in (at.x, at.y, at.z)])
        outward = np.array([context.value(v) for v in (at.dx, at.dy, at.dz)])
    size = float(np.linalg.norm(outward))
    if size < 1e-9:
        raise Problem(
            "no-direction", f"The port at the {name} has no direction.", "Give it one, e.g. 1, 0, 0.", field=name
        )
    return hose.Port(point, outward / size * (-1 if port.reverse else 1), straight)


def _too_tight(radius: float, station: float, least: float) -> list[Message]:
    if least <= 0 or radius >= least * (1 - 1e-9):
        return []
    return [
        Message(
            "warning",
            "too-tight",
            f"At {mm(station)} it bends to {mm(radius)}; the hose may go to {mm(least)}.",
            "Make it longer, turn a port, or lengthen the pull there.",
            {"station": station, "field": "least_bend"},
        )
    ]


def _turn(path: Path, start: hose.Port, end: hose.Port) -> float:
    """Degrees by which the second fitting is turned against the first, when both have the same side up and the hose is
    not twisted.
    """
    ups = [_up(p.outward) for p in (start, end)]
    carried = path.normal(np.array([path.length]), ups[0])[0]
    tangent = -end.outward
    across = np.cross(tangent, carried)
    return math.degrees(math.atan2(float(ups[1] @ across), float(ups[1] @ carried)))


def _up(outward: Array) -> Array:
    """The side of a fitting that is up: the Z axis, or X for one that points along it, square to its direction."""
    axis = np.array([0.0, 0, 1]) if abs(outward[2]) < 0.99 else np.array([1.0, 0, 0])
    side = axis - outward * float(axis @ outward)
    return np.asarray(side / np.linalg.norm(side))
