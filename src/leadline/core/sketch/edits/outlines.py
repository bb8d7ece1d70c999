"""Offset a chain, smooth a closed outline, give a spline its end handles."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm
from leadline.core.sketch.edits.corners import Locus, meetings, short
from leadline.core.sketch.edits.draft import Draft
from leadline.core.sketch.model import Arc, Circle, ControlSpline, Entity, Line, Sketch, Smoothed, Spline
from leadline.core.sketch.outline import Chain, chains, coordinates, smooth_outline, spline_curve
from leadline.core.sketch.splines import spline_knots

TANGENT = 1e-4
SPLINE_SAMPLES = 6  # points of an offset spline for each one of its source


def smooth(sketch: Sketch, items: Sequence[str], tolerance: float) -> Sketch:
    """Add the closed spline that follows a closed outline; the outline becomes construction.

    Raises:
        Problem: the items are not one closed chain of lines and arcs, or the tolerance is too fine.
    """
    draft = Draft(sketch)
    items = [i for i in items if i in draft.entities]  # points of the outline may have been picked with it
    name = draft.add(Smoothed(id="x", of=items, tolerance=tolerance))
    entity = draft.entities[name]
    assert isinstance(entity, Smoothed)
    smooth_outline(entity, coordinates(sketch), sketch)
    for item in items:
        draft.change(item, construction=True)
    return draft.sketch()


def add_handles(sketch: Sketch, spline: str) -> Sketch:
    """Give a through-point spline handles at both ends where its end tangents lie: the curve stays as it is."""
    draft = Draft(sketch)
    entity = draft.entity(spline)
    if not isinstance(entity, Spline):
        raise Problem("wrong-items", f"{spline} has no handles.", "Pick a spline through points.", items=[spline])
    at = coordinates(sketch)
    curve = spline_curve(entity, at)
    knots = spline_knots(entity, np.array([at[p] for p in entity.points]))
    if entity.start_handle is None:
        draft.change(
            spline, start_handle=draft.add_point(curve(knots[0]) + curve(knots[0], 1) * (knots[1] - knots[0]) / 3)
        )
    if entity.end_handle is None:
        draft.change(
            spline, end_handle=draft.add_point(curve(knots[-1]) - curve(knots[-1], 1) * (knots[-1] - knots[-2]) / 3)
        )
    return draft.sketch()


@dataclass
class _Side:
    """One piece of the chain as travelled, and what it becomes."""

    entity: Entity
    forward: bool
    start: Array
    end: Array
    leaves: Array  # unit tangent at its start
    arrives: Array
    locus: Locus | None
    radius: float = 0.0


def offset(sketch: Sketch, items: Sequence[str], distance: float, rounded: bool) -> Sketch:
    """Chains beside the picked ones, ``distance`` mm to the left of their direction (negative: right).

    Lines stay parallel at the distance and arcs concentric; where the chain turns away from the offset the
    gap is ``rounded`` about the corner or carried on to a sharp one.

    Raises:
        Problem: an arc would vanish, or two neighbours no longer meet.
    """
    draft = Draft(sketch)
    at = coordinates(sketch)
    for chain in chains(sketch, items):
        _offset_chain(draft, chain, at, distance, rounded)
    return draft.sketch()


def _offset_chain(draft: Draft, chain: Chain, at: dict[str, Array], d: float, rounded: bool) -> None:
    if len(chain.entities) == 1 and isinstance(chain.entities[0], Circle):
        _offset_circle(draft, chain.entities[0], d)
        return
    sides = [_side(e, f, at, d) for e, f in zip(chain.entities, chain.forward, strict=True)]
    n = len(sides)
    joints = [_joint(draft, sides[i - 1], sides[i], d, rounded) if i or chain.closed else None for i in range(n)]
    first = joints[0][1] if joints[0] is not None else draft.add_point(sides[0].start)
    made: list[str] = []
    begin = first
    for i, side in enumerate(sides):
        after = joints[(i + 1) % n] if i + 1 < n or chain.closed else None
        stop = after[0] if after is not None else draft.add_point(side.end)
        made.append(_add_side(draft, side, begin, stop, at, d))
        if i + 1 < n:
            assert after is not None
            begin = after[1]
    _tie_to_source(draft, sides, made, joints, d)


def _side(entity: Entity, forward: bool, at: dict[str, Array], d: float) -> _Side:
    if isinstance(entity, Line):
        a, b = (at[entity.start], at[entity.end]) if forward else (at[entity.end], at[entity.start])
        u = (b - a) / np.hypot(*(b - a))
        n = np.array([-u[1], u[0]])
        return _Side(entity, forward, a + d * n, b + d * n, u, u, ("line", a + d * n, u, 0.0))
    if isinstance(entity, Arc):
        c = at[entity.center]
        a, b = (at[entity.start], at[entity.end]) if forward else (at[entity.end], at[entity.start])
        turn = 1.0 if forward else -1.0
        own = float(np.hypot(*(a - c)))
        radius = own - turn * d
        if radius <= 1e-9:
            raise Problem(
                "does-not-fit",
                f"Set off by {mm(abs(d))}, the arc {entity.id} of radius {mm(own)} vanishes.",
                f"Give less than {mm(own)}.",
                of="distance",
                items=[entity.id],
            )
        u, v = (turn * np.array([-(p - c)[1], (p - c)[0]]) / own for p in (a, b))
        start, end = (np.asarray(c + (p - c) * radius / own) for p in (a, b))
        return _Side(entity, forward, start, end, u, v, ("circle", c, c, radius), radius)
    if isinstance(entity, Spline | ControlSpline):
        points, slopes = _spline_offset(entity, at, d if forward else -d)
        if not forward:
            points, slopes = points[::-1], -slopes[::-1]
        return _Side(entity, forward, points[0], points[-1], slopes[0], slopes[-1], None)
    raise Problem(
        "wrong-items", f"{entity.id} cannot be set off.", "Pick lines, arcs, circles and splines.", items=[entity.id]
    )


def _spline_offset(entity: Spline | ControlSpline, at: dict[str, Array], d: float) -> tuple[Array, Array]:
    curve = spline_curve(entity, at)
    t = np.linspace(curve.t[curve.k], curve.t[-curve.k - 1], SPLINE_SAMPLES * len(entity.points))
    slopes = curve(t, 1)
    slopes = slopes / np.linalg.norm(slopes, axis=1)[:, None]
    return curve(t) + d * np.stack([-slopes[:, 1], slopes[:, 0]], axis=1), slopes


Joint = tuple[str, str, str]  # the point where one side stops, where the next begins, and "tangent" or "corner"


def _joint(draft: Draft, before: _Side, after: _Side, d: float, rounded: bool) -> Joint:
    u, v = before.arrives, after.leaves
    turn = math.atan2(u[0] * v[1] - u[1] * v[0], float(u @ v))
    if abs(turn) < TANGENT:
        point = draft.add_point((before.end + after.start) / 2)
        return point, point, "tangent"
    if rounded and turn * d < 0:
        a, b = draft.add_point(before.end), draft.add_point(after.start)
        corner = _shared(before, after)
        start, end = (a, b) if turn > 0 else (b, a)
        draft.add(Arc(id="x", center=corner, start=start, end=end))
        return a, b, "rounded"
    places = meetings(before.locus, after.locus) if before.locus and after.locus else []
    if not places:
        raise Problem(
            "does-not-fit",
            f"Set off by {mm(abs(d))}, {before.entity.id} and {after.entity.id} no longer meet.",
            "Give a smaller distance, or round the gaps.",
            of="distance",
            items=[before.entity.id, after.entity.id],
        )
    middle = (before.end + after.start) / 2
    point = draft.add_point(min(places, key=lambda p: float(np.hypot(*(p - middle)))))
    return point, point, "corner"


def _shared(before: _Side, after: _Side) -> str:
    ends = [
        {s.entity.start, s.entity.end}
        if isinstance(s.entity, Line | Arc)
        else {s.entity.points[0], s.entity.points[-1]}
        for s in (before, after)
        if isinstance(s.entity, Line | Arc | Spline | ControlSpline)
    ]
    return str(next(iter(ends[0] & ends[1])))


def _add_side(draft: Draft, side: _Side, begin: str, stop: str, at: dict[str, Array], d: float) -> str:
    entity = side.entity
    start, end = (begin, stop) if side.forward else (stop, begin)
    if isinstance(entity, Line):
        return draft.add(Line(id="x", start=start, end=end, construction=entity.construction))
    if isinstance(entity, Arc):
        return draft.add(Arc(id="x", center=entity.center, start=start, end=end, construction=entity.construction))
    assert isinstance(entity, Spline | ControlSpline)
    points, _ = _spline_offset(entity, at, d if side.forward else -d)
    inner = [draft.add_point(p) for p in points[1:-1]]
    return draft.add(Spline(id="x", points=[start, *inner, end], construction=entity.construction))


def _tie_to_source(draft: Draft, sides: list[_Side], made: list[str], joints: list[Joint | None], d: float) -> None:
    """Each new line is parallel to its source; what is not settled by a tangent neighbour gets its size.

    Round a closed chain the last line needs no tie: it touches what is settled on both sides.
    """
    tangent = [joint is not None and joint[2] == "tangent" for joint in joints]
    closed = joints[0] is not None
    for i, (side, name) in enumerate(zip(sides, made, strict=True)):
        rooted = not tangent[i] or i == 0
        both_lines = isinstance(side.entity, Line) and isinstance(sides[i - 1].entity, Line)
        if tangent[i] and not both_lines:
            draft.hold("tangent", made[i - 1], name)
        if isinstance(side.entity, Line):
            if rooted or not (closed and all(tangent[i + 1 :]) and tangent[0]) or _another_line(sides[i + 1 :]):
                draft.hold("parallel", side.entity.id, name)
            if rooted:
                draft.size("distance", short(abs(d)), name, side.entity.id)
        elif isinstance(side.entity, Arc) and rooted:
            draft.size("radius", short(side.radius), name)


def _another_line(sides: list[_Side]) -> bool:
    return any(isinstance(s.entity, Line) for s in sides)


def _offset_circle(draft: Draft, circle: Circle, d: float) -> None:
    """To the left of a circle is its inside."""
    radius = circle.radius - d
    if radius <= 1e-9:
        raise Problem(
            "does-not-fit",
            f"Set in by {mm(d)}, the circle vanishes.",
            f"Give less than {mm(circle.radius)}.",
            of="distance",
            items=[circle.id],
        )
    name = draft.add(Circle(id="x", center=circle.center, radius=radius, construction=circle.construction))
    draft.size("radius", short(radius), name)
