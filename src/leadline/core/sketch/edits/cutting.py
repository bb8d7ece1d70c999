"""Trim, extend and split."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

import numpy as np

from leadline.core.geometry.edges import arc_edges, line_edge
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.sketch.edits.draft import Draft
from leadline.core.sketch.edits.tracks import Track, crossings, tracks
from leadline.core.sketch.model import (
    Arc,
    Circle,
    ControlSpline,
    Ellipse,
    Line,
    Sketch,
    Smoothed,
    Spline,
    end_points,
)
from leadline.core.sketch.outline import coordinates, spline_curve
from leadline.core.sketch.splines import spline_knots

SAME = 1e-6
FAR = 1e4  # how many times its own size a line is extended to look for what it meets


def split(sketch: Sketch, entity: str, at: Array) -> Sketch:
    """Cut an entity in two at the place on it nearest to ``at`` (a closed one also opposite).

    Raises:
        Problem: the entity is gone, is derived, or the place is at its end.
    """
    draft = Draft(sketch)
    whole = _track(sketch, draft, entity)
    p = whole.nearest(at)
    if whole.closed:
        _cut(draft, sketch, whole, [p, (p + whole.last / 2) % whole.last])
        return draft.sketch()
    if min(p, whole.last - p) < SAME:
        raise Problem("at-end", f"{entity} ends there.", "Point at its middle.", items=[entity])
    _cut(draft, sketch, whole, [p])
    return draft.sketch()


def trim(sketch: Sketch, entity: str, at: Array) -> Sketch:
    """Take away the stretch of an entity around ``at``, up to what crosses it on either side.

    The new ends stay on what they were trimmed to. With nothing that crosses it the whole entity goes.
    """
    draft = Draft(sketch)
    whole = _track(sketch, draft, entity)
    others = {k: t for k, t in tracks(sketch).items() if k != entity}
    p = whole.nearest(at)
    hits = sorted((u, v, k) for k, other in others.items() for u, v in crossings(whole, other))
    inner = [h for h in hits if whole.closed or SAME < h[0] < whole.last - SAME]
    before = [h for h in inner if h[0] <= p]
    after = [h for h in inner if h[0] > p]
    if whole.closed and len(inner) >= 2:
        low, high = (before or inner)[-1], (after or inner)[0]
        kept, gone = _cut(draft, sketch, whole, [high[0], low[0]])
        draft.drop([gone])
        _tie(draft, kept, False, high, others)
        _tie(draft, kept, True, low, others)
    elif whole.closed or not inner:
        draft.drop([entity])
    elif isinstance(whole.entity, Line | Arc | Ellipse) and not (before and after):
        hit = before[-1] if before else after[0]
        _shorten(draft, whole, bool(before), hit, others)
    else:
        cuts = ([before[-1]] if before else []) + ([after[0]] if after else [])
        pieces = _cut(draft, sketch, whole, [h[0] for h in cuts])
        gone = pieces[1 if before else 0]
        if before:
            _tie(draft, pieces[0], True, before[-1], others)
        if after:
            _tie(draft, pieces[-1], False, after[0], others)
        draft.drop([gone])
        if before and after and isinstance(whole.entity, Arc):
            draft.hold("equal", pieces[0], pieces[-1])
    return draft.sketch()


def _shorten(draft: Draft, whole: Track, at_end: bool, hit: tuple[float, float, str], others: dict[str, Track]) -> None:
    """Let a line or arc begin or end at the crossing; it stays the same piece."""
    name = whole.entity.id
    ends = end_points(whole.entity) or ("", "")
    old = ends[1 if at_end else 0]
    neighbours = set(draft.users(old)) - {name}
    draft.with_end(name, at_end, draft.add_point(whole.point(hit[0])))
    draft.drop_lengths_of(name)
    draft.constraints = [
        c
        for c in draft.constraints
        if not (c.kind in ("tangent", "smooth") and name in c.items and neighbours & set(c.items))
    ]
    draft.sweep([old])
    _tie(draft, name, at_end, hit, others)


def extend(sketch: Sketch, entity: str, at: Array) -> Sketch:
    """Carry the nearer end of a line or arc on to the next thing that it meets.

    Raises:
        Problem: it is neither, or it meets nothing that way.
    """
    draft = Draft(sketch)
    whole = _track(sketch, draft, entity)
    own = whole.entity
    if not isinstance(own, Line | Arc):
        raise Problem("wrong-items", f"{entity} cannot be extended.", "Pick a line or an arc.", items=[entity])
    at_end = whole.nearest(at) > whole.last / 2
    longer = _extended(sketch, whole, at_end)
    others = {k: t for k, t in tracks(sketch).items() if k != entity}
    hits = sorted((u, v, k) for k, other in others.items() for u, v in crossings(longer, other) if u > SAME)
    if not hits:
        raise Problem("nothing-met", f"{entity} meets nothing that way.", "Draw what it is to end at.", items=[entity])
    point = draft.add_point(longer.point(hits[0][0]))
    old = own.end if at_end else own.start
    draft.with_end(entity, at_end, point)
    draft.drop_lengths_of(entity)
    draft.sweep([old])
    _tie(draft, entity, at_end, hits[0], others)
    return draft.sketch()


def _track(sketch: Sketch, draft: Draft, entity: str) -> Track:
    if isinstance(draft.entity(entity), Smoothed):
        raise Problem("wrong-items", f"{entity} follows an outline.", "Edit the outline.", items=[entity])
    return tracks(sketch)[entity]


def _extended(sketch: Sketch, whole: Track, at_end: bool) -> Track:
    """What lies beyond one end of a line or arc, leading away from it."""
    at = coordinates(sketch)
    own = whole.entity
    assert isinstance(own, Line | Arc)
    tip, tail = (at[own.end], at[own.start]) if at_end else (at[own.start], at[own.end])
    if isinstance(own, Line):
        return Track(own, (line_edge(tip, tip + FAR * (tip - tail), own.id),))
    c = at[own.center]
    first, last = (math.atan2(*(p - c)[::-1]) for p in (tip, tail))
    turn = (last - first) % (2 * math.pi) if at_end else -((first - last) % (2 * math.pi))
    return Track(own, tuple(arc_edges(c, float(np.hypot(*(tip - c))), first, turn, own.id)))


def _tie(draft: Draft, piece: str, at_end: bool, hit: tuple[float, float, str], others: dict[str, Track]) -> None:
    """Hold a new end on what it was cut by: on its end point, or anywhere on it."""
    _, v, other = hit
    entity = draft.entities[piece]
    point = (end_points(entity) or ("", ""))[1 if at_end else 0]
    ends = end_points(others[other].entity)
    for end, value in zip(ends or (), (0.0, others[other].last), strict=False):
        if abs(v - value) < SAME:
            draft.hold("coincident", point, end)
            return
    if not isinstance(others[other].entity, Smoothed):
        draft.hold("on_curve", point, other)


def _cut(draft: Draft, sketch: Sketch, whole: Track, parameters: list[float]) -> list[str]:
    """Replace an entity by its pieces between the parameters; the first keeps the name of an open one.

    A closed one is cut at two parameters: the first piece runs from the first to the second.
    """
    entity = whole.entity
    if isinstance(entity, Circle | Ellipse) and whole.closed:
        return _cut_round(draft, whole, parameters)
    cuts = [draft.add_point(whole.point(p)) for p in parameters]
    if isinstance(entity, Spline | ControlSpline):
        return _cut_spline(draft, sketch, whole, parameters, cuts)
    assert isinstance(entity, Line | Arc | Ellipse)
    first, last = end_points(entity) or ("", "")
    stops = [first, *cuts, last]
    names = [entity.id]
    draft.change(entity.id, end=stops[1])
    draft.drop_lengths_of(entity.id)
    for a, b in itertools.pairwise(stops[1:]):
        name = draft.add(entity.model_copy(update={"start": a, "end": b}))
        names.append(name)
        _inherit(draft, entity, name)
    _move_end_ties(draft, entity.id, names[-1], last)
    return names


def _inherit(draft: Draft, entity: Line | Arc | Ellipse, piece: str) -> None:
    """A further piece of a line stays in line; pieces of an arc or ellipse share their centre already."""
    if not isinstance(entity, Line):
        return
    levels = [c.kind for c in draft.constraints if c.kind in ("horizontal", "vertical") and c.items == [entity.id]]
    if levels:
        draft.hold(levels[0], piece)
    else:
        draft.hold("collinear", entity.id, piece)


def _move_end_ties(draft: Draft, name: str, piece: str, last: str) -> None:
    """A tangency at the old last point is given to the piece that now ends there."""
    if piece == name:
        return
    neighbours = set(draft.users(last))
    draft.constraints = [
        c.model_copy(update={"items": [piece if i == name else i for i in c.items]})
        if c.kind in ("tangent", "smooth") and name in c.items and neighbours & (set(c.items) - {name})
        else c
        for c in draft.constraints
    ]


def _cut_round(draft: Draft, whole: Track, parameters: list[float]) -> list[str]:
    """A circle or ellipse becomes two arcs about the same centre; the first keeps its sizes."""
    entity = whole.entity
    assert isinstance(entity, Circle | Ellipse)
    a, b = (draft.add_point(whole.point(p)) for p in parameters)
    names = []
    for start, end in ((a, b), (b, a)):
        if isinstance(entity, Circle):
            piece: Arc | Ellipse = Arc(
                id="x", center=entity.center, start=start, end=end, construction=entity.construction
            )
        else:
            piece = entity.model_copy(update={"start": start, "end": end})
        names.append(draft.add(piece))
    draft.rename(entity.id, names[0])
    del draft.entities[entity.id]
    return names


def _cut_spline(draft: Draft, sketch: Sketch, whole: Track, parameters: list[float], cuts: list[str]) -> list[str]:
    """Pieces through the points in between, with handles at the cuts: together exactly the same curve."""
    entity = whole.entity
    assert isinstance(entity, Spline | ControlSpline)
    at = coordinates(sketch)
    curve = spline_curve(entity, at)
    a, b = float(curve.t[curve.k]), float(curve.t[-curve.k - 1])
    if isinstance(entity, ControlSpline):
        knots = np.unique(curve.t).tolist()
        through = [entity.points[0], *(draft.add_point(curve(t)) for t in knots[1:-1]), entity.points[-1]]
        handles: list[str | None] = [
            _handle(draft, curve, knots[0], knots[1] - knots[0]),
            _handle(draft, curve, knots[-1], knots[-2] - knots[-1]),
        ]
    else:
        knots = list(spline_knots(entity, np.array([at[p] for p in entity.points])))
        through, handles = list(entity.points), [entity.start_handle, entity.end_handle]
    stops = [a, *(a + p / whole.last * (b - a) for p in parameters), b]
    ends = [through[0], *cuts, through[-1]]
    names = []
    for i, (low, high) in enumerate(itertools.pairwise(stops)):
        inside = [(t, p) for t, p in zip(knots, through, strict=True) if low + 1e-9 < t < high - 1e-9]
        own_knots = [low, *(t for t, _ in inside), high]
        start, end = (
            handles if len(stops) == 2 else (handles[0] if i == 0 else "cut", handles[1] if i == len(cuts) else "cut")
        )
        # a handle measures by the span that it stands on, so one whose span is cut short moves in
        if start is not None and (i or own_knots[1] < knots[1] - 1e-9):
            start = _handle(draft, curve, low, own_knots[1] - low)
        if end is not None and (i < len(cuts) or own_knots[-2] > knots[-2] + 1e-9):
            end = _handle(draft, curve, high, own_knots[-2] - high)
        piece = Spline(
            id="x",
            points=[ends[i], *(p for _, p in inside), ends[i + 1]],
            knots=[t - low for t in own_knots],
            start_handle=start,
            end_handle=end,
            construction=entity.construction,
        )
        names.append(draft.add(piece))
        if i:
            draft.hold("tangent", names[-2], names[-1])
    _move_end_ties(draft, entity.id, names[-1], ends[-1])
    draft.rename(entity.id, names[0], ("tangent", "smooth"))
    draft.drop([entity.id])
    return names


def _handle(draft: Draft, curve: Callable[..., Array], t: float, towards: float) -> str:
    """A point on the tangent at t, a third of the knot span off: what the spline's end condition asks for."""
    value, slope = np.asarray(curve(t)), np.asarray(curve(t, 1))
    return draft.add_point(value + slope * towards / 3)
