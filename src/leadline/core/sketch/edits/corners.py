"""Corner fillets and chamfers between lines and arcs that share a point."""

from __future__ import annotations

import itertools
import math

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm
from leadline.core.sketch.edits.draft import Draft
from leadline.core.sketch.model import Arc, Line, Sketch

INSIDE = 1e-9


def fillet(sketch: Sketch, corner: str, radius: float) -> Sketch:
    """Round the corner at a point where two lines or arcs meet; both stay tangent to the new arc.

    Raises:
        Problem: the point is no such corner, or the radius does not fit between the far ends.
    """
    draft = Draft(sketch)
    first, second = _sides(draft, corner)
    found = _touching_circle(draft, corner, first, second, radius)
    if found is None:
        raise Problem(
            "does-not-fit",
            f"A fillet of {mm(radius)} does not fit in the corner.",
            "Give a smaller radius.",
            of="radius",
            items=[first, second],
        )
    center_at, touches = found
    center = draft.add_point(center_at)
    points = [draft.add_point(t) for t in touches]
    u, v = (t - center_at for t in touches)
    counter_clockwise = u[0] * v[1] - u[1] * v[0] > 0
    start, end = points if counter_clockwise else points[::-1]
    _set_back(draft, corner, (first, second), points)
    arc = draft.add(Arc(id="x", center=center, start=start, end=end))
    for side in (first, second):
        draft.hold("tangent", side, arc)
    draft.size("radius", short(radius), arc)
    return draft.sketch()


def chamfer(sketch: Sketch, corner: str, size: float) -> Sketch:
    """Cut the corner between two lines by a line that stands ``size`` back along both.

    Raises:
        Problem: the point is no corner of two lines, or the size does not fit.
    """
    draft = Draft(sketch)
    sides = _sides(draft, corner)
    at, points = draft.at(corner), []
    for side in sides:
        line = draft.entities[side]
        if not isinstance(line, Line):
            raise Problem("wrong-items", "A chamfer goes between two lines.", "Use a fillet here.", items=[side])
        far = draft.at(line.end if line.start == corner else line.start)
        length = float(np.hypot(*(far - at)))
        if size >= length:
            raise Problem(
                "does-not-fit",
                f"A chamfer of {mm(size)} does not fit on a line of {mm(length)}.",
                f"Give less than {mm(length)}.",
                of="size",
                items=[side],
            )
        points.append(draft.add_point(at + (far - at) * size / length))
    _set_back(draft, corner, sides, points, keep=True)
    draft.add(Line(id="x", start=points[0], end=points[1]))
    for point in points:
        draft.size("distance", short(size), corner, point)
    return draft.sketch()


def _sides(draft: Draft, corner: str) -> tuple[str, str]:
    users = [e for e in draft.users(corner) if not draft.entities[e].construction]
    sides = [e for e in users if isinstance(draft.entities[e], Line | Arc) and corner in _ends(draft, e)]
    if len(sides) != 2:
        raise Problem(
            "no-corner",
            "There is no corner of two lines or arcs there.",
            "Pick a point where two meet.",
            items=[corner],
        )
    return sides[0], sides[1]


def _ends(draft: Draft, name: str) -> tuple[str, str]:
    entity = draft.entities[name]
    assert isinstance(entity, Line | Arc)
    return entity.start, entity.end


def _set_back(draft: Draft, corner: str, sides: tuple[str, str], points: list[str], keep: bool = False) -> None:
    """End both sides at their new points. A corner that something names stays, held on both sides."""
    for side, point in zip(sides, points, strict=True):
        draft.constraints = [
            c for c in draft.constraints if not (c.kind in ("tangent", "smooth") and set(sides) <= set(c.items))
        ]
        lengths = [d for d in draft.dimensions if d.kind == "length" and d.items == [side]]
        start, end = _ends(draft, side)
        far = end if start == corner else start
        draft.with_end(side, end == corner, point)
        draft.drop_lengths_of(side)
        for d in lengths:  # it measured from corner to corner and goes on doing so
            draft.dimensions.append(d.model_copy(update={"kind": "distance", "items": [corner, far]}))
    if keep or draft.held(corner):
        for side in sides:
            draft.hold("on_curve", corner, side)
    else:
        draft.sweep([corner])


def short(value: float) -> float:
    """A size as a person would type it."""
    return float(f"{value:.6g}")


Locus = tuple[str, Array, Array, float]  # ("line", point, direction, 0) or ("circle", centre, -, radius)


def _loci(draft: Draft, name: str, radius: float) -> list[Locus]:
    """Where the centre of a touching circle may stand."""
    entity = draft.entities[name]
    if isinstance(entity, Line):
        a, b = draft.at(entity.start), draft.at(entity.end)
        u = (b - a) / np.hypot(*(b - a))
        n = np.array([-u[1], u[0]])
        return [("line", a + s * radius * n, u, 0.0) for s in (1, -1)]
    assert isinstance(entity, Arc)
    c = draft.at(entity.center)
    own = float(np.hypot(*(draft.at(entity.start) - c)))
    return [("circle", c, c, r) for r in (own + radius, own - radius) if r > 0]


def _touching_circle(
    draft: Draft, corner: str, first: str, second: str, radius: float
) -> tuple[Array, list[Array]] | None:
    """Centre and touch points of the circle in the corner, the one nearest to it; None when none fits."""
    at = draft.at(corner)
    best: tuple[float, Array, list[Array]] | None = None
    for a, b in itertools.product(_loci(draft, first, radius), _loci(draft, second, radius)):
        for center in meetings(a, b):
            touches = [_foot(draft, side, center) for side in (first, second)]
            if any(t is None for t in touches):
                continue
            gap = float(np.hypot(*(center - at)))
            if best is None or gap < best[0]:
                best = (gap, center, [t for t in touches if t is not None])
    return None if best is None else best[1:]


def meetings(a: Locus, b: Locus) -> list[Array]:
    """Where two loci meet: lines and circles, unbounded."""
    if a[0] == "circle" and b[0] == "line":
        a, b = b, a
    if a[0] == "line" and b[0] == "line":
        det = a[2][0] * b[2][1] - a[2][1] * b[2][0]
        if abs(det) < 1e-12:
            return []
        w = b[1] - a[1]
        return [a[1] + a[2] * (w[0] * b[2][1] - w[1] * b[2][0]) / det]
    if a[0] == "line":
        middle = a[1] + a[2] * float((b[1] - a[1]) @ a[2])
        rest = b[3] ** 2 - float((middle - b[1]) @ (middle - b[1]))
        return [] if rest < 0 else [middle + s * math.sqrt(rest) * a[2] for s in (1, -1)]
    d = b[1] - a[1]
    size = float(np.hypot(*d))
    if size < 1e-12:
        return []
    along = (size**2 + a[3] ** 2 - b[3] ** 2) / (2 * size)
    rest = a[3] ** 2 - along**2
    u = d / size
    return [] if rest < 0 else [a[1] + along * u + s * math.sqrt(rest) * np.array([-u[1], u[0]]) for s in (1, -1)]


def _foot(draft: Draft, name: str, center: Array) -> Array | None:
    """Where the circle about ``center`` touches a side; None when that is off the side."""
    entity = draft.entities[name]
    if isinstance(entity, Line):
        a, b = draft.at(entity.start), draft.at(entity.end)
        share = float((center - a) @ (b - a)) / float((b - a) @ (b - a))
        return np.asarray(a + share * (b - a)) if -INSIDE <= share <= 1 + INSIDE else None
    assert isinstance(entity, Arc)
    c, start, end = (draft.at(p) for p in (entity.center, entity.start, entity.end))
    own = float(np.hypot(*(start - c)))
    out = center - c
    touch = c + own * out / np.hypot(*out)
    bearing = [math.atan2(*(p - c)[::-1]) for p in (start, end, touch)]
    sweep, turn = ((b - bearing[0]) % (2 * math.pi) for b in bearing[1:])
    return np.asarray(touch) if turn <= sweep + INSIDE else None
