"""Offsets the side surfaces of a swept body along their normals, and trims the offsets where they meet.

Problem. One edge of the section carried along one span of the motion sweeps a side. Each side is to be moved by h(s) mm
along its own normals. Neighbouring sides that meet in a crease then overlap, or leave a gap.

Method. A side is parametrised over a rectangle: u, from 0 to 1, is the share along the section's edge, and s is the
station. A point (u, s) of this rectangle is called a *place*. The moved side's point at a place is known exactly. For
two sides that meet in a crease the line in which their moved surfaces meet is found by Newton's method; the surfaces
continue beyond their rectangles for that. Each side is then parametrised anew up to these lines, by a Coons patch in
the plane of places (Coons, MIT Project MAC TR-41, 1967). So every moved side is a full four-sided patch again and
shares its borders with its neighbours. A tensor product spline is put through its points, on ever finer grids until it
is accurate.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.geometry.section import Region
from leadline.core.problems import Problem, mm
from leadline.core.sweep.motion import Motion, Span

Height = Callable[[Array], Array]
"""How far a surface is moved, mm, by station (n,)."""

ACCURACY = 5e-6  # mm: how far a spline may be from the moved side
# mm: what is accepted in place of ACCURACY on a fine grid. Where a crease crosses a joint at which the path's curvature
# jumps, the line of the crease has a jump in a derivative, and a smooth spline converges slowly there.
ENOUGH = 2e-4
CREASE = 1e-6  # rad between the normals of two sides, under which they continue each other smoothly
FEWEST, MANY, MOST = 8, 128, 512  # points of a spline's grid in one direction: to begin with, for ENOUGH, at most
FINE = 2e-6  # mm: accuracy of the motion's spans, smaller than ACCURACY so that their joints do not look like creases
DEGREE = 5  # of the splines, so that they converge with the sixth power of the grid
THIRDS = np.array([0.0, 0.5, 1.0])  # shares of an edge at which two sides are compared
STEPS = 30  # of Newton's method at most
HALVINGS = 12  # of the interval in which the thickest wall lies: to a 4,096th of it
COARSE = 24  # points in each direction by which a side is tested for turning over
SOLVED = 1e-10  # mm: distance of two surfaces at which Newton's method has arrived
FLAT_STEP = 1e-6  # share of the edge or the span: step of central differences, near the cube root of rounding
NEAR = 1e-3  # share of the edge or the span: distance from a vertex at which a vanishing crease is evaluated
# Share of the largest singular value: smaller ones are directions in which two almost tangent surfaces may slide along
# each other without moving apart, and no step is taken along them.
WEAK = 1e-6
FAR = 8.0  # times the height: two sides that meet only farther away than this count as not meeting


Ends = tuple[Plane | None, Plane | None]


@dataclass
class Side:
    """One edge of the section carried along one span of the motion, and moved along its normals.

    Attributes:
        motion: The motion.
        span: The span of the motion that it lies on.
        edge: The edge of the section.
        start: The station at which it begins, mm; inside the span where the height changes its slope.
        end: The station at which it ends, mm.
        height: How far it is moved, mm, by station.
        before: The side that continues it smoothly before ``start``, with the number to be added to a station of this
            side to get that side's station: 0, but not at the seam of a closed path. None where there is none; its own
            carriers are then extrapolated.
        after: The same beyond ``end``.
    """

    motion: Motion
    span: Span
    edge: Edge
    start: float
    end: float
    height: Height
    before: tuple[Side, float] | None = None
    after: tuple[Side, float] | None = None

    @property
    def name(self) -> str:
        """As the faces of sweeps are named: ``<section edge>/<path piece>``."""
        return f"{self.edge.origin}/{self.span.origin or self.span.piece}"

    def at(self, w: Array) -> Array:
        """Points of the moved side, (n, 3), mm, at places w (n, 2), which may lie beyond its borders."""
        point, along, across = self.base(w)
        return point + self.height(w[:, 1])[:, None] * unit_normals(along, across)

    def base(self, w: Array) -> tuple[Array, Array, Array]:
        """Points of the side before it is moved, mm, and their derivatives by s and by u, at places w (n, 2): (n, 3)
        each.
        """
        a, b = self.edge.domain
        t = a + w[:, 0] * (b - a)
        p, d = self.edge.point(t), self.edge.derivative(t) * (b - a)
        carriers, slopes = self._carriers(w[:, 1])
        return carriers[:, 0] + _carried(p, carriers), slopes[:, 0] + _carried(p, slopes), _carried(d, carriers)

    def _carriers(self, s: Array) -> tuple[Array, Array]:
        """The motion's carriers at stations s (n,), and their derivatives: (n, k, 3) each.

        Beyond the side's ends they are those of the sides that continue it.
        """
        found, slopes = self._own_carriers(s)
        for neighbour, beyond in ((self.before, s < self.start), (self.after, s > self.end)):
            if neighbour is not None and beyond.any():
                other, shift = neighbour
                found[beyond], slopes[beyond] = other._own_carriers(s[beyond] + shift)
        return found, slopes

    def _own_carriers(self, s: Array) -> tuple[Array, Array]:
        span = self.span
        if span.spline is not None:
            return span.spline(s).reshape(len(s), -1, 3), span.spline(s, 1).reshape(len(s), -1, 3)
        first, tangent = self._first
        ahead = s - span.start
        if span.axis is None:
            still = np.zeros((len(s), *first.shape))
            still[:, 0] = tangent
            moved = np.broadcast_to(first, still.shape).copy()
            moved[:, 0] += ahead[:, None] * tangent
            return moved, still
        center, axis, sweep = span.axis
        rate = sweep / (span.end - span.start)
        arms = first - np.vstack([center, np.zeros((len(first) - 1, 3))])
        along = np.outer(arms @ axis, axis)
        c, n = np.cos(rate * ahead)[:, None, None], np.sin(rate * ahead)[:, None, None]
        turned = along + c * (arms - along) + n * cross(np.broadcast_to(axis, arms.shape), arms)
        slopes = rate * cross(np.broadcast_to(axis, turned.shape), turned)
        turned[:, 0] += center
        return turned, slopes

    @cached_property
    def _first(self) -> tuple[Array, Array]:
        f = self.motion.frames_on(self.span.piece, np.array([self.span.start]))
        return np.asarray(f.carriers[0]), np.asarray(f.T[0])

    def slopes(self, w: Array) -> tuple[Array, Array]:
        """The derivatives of the moved points by u and by s at places w (n, 2), by central differences: (n, 3) each."""
        found = []
        for k, size in ((0, 1.0), (1, self.end - self.start)):
            h = np.zeros(2)
            h[k] = FLAT_STEP * size
            found.append((self.at(w + h) - self.at(w - h)) / (2 * h[k]))
        return found[0], found[1]

    def turned_over(self, w: Array) -> Array:
        """At which places w (n, 2) the moved side is turned over, (n,).

        It is where the side is moved beyond its own radius of curvature: there its normal points against that of the
        side before it was moved.
        """
        across, along = self.slopes(w)
        _, own_along, own_across = self.base(w)
        return np.asarray((cross(across, along) * cross(own_across, own_along)).sum(axis=1) <= 0)


def _carried(p: Array, carriers: Array) -> Array:
    """Section points p (n, k), each multiplied by the carriers after C at its own station, (n, 1 + k, 3): (n, 3)."""
    return np.asarray(np.einsum("nk,nkj->nj", p, carriers[:, 1:]))


def unit_normals(along: Array, across: Array) -> Array:
    """The unit normals of a side, (n, 3), which point out of a closed section.

    Args:
        along: Derivatives of the side's points by station, (n, 3).
        across: Their derivatives by the edge's parameter, (n, 3).

    Raises:
        Problem: the two are parallel, or one is 0, so that there is no normal.
    """
    n = cross(across, along)
    size = np.linalg.norm(n, axis=1)
    if not (size > 1e-12 * np.linalg.norm(along, axis=1) * max(1.0, float(np.linalg.norm(across, axis=1).max()))).all():
        raise Problem(
            "no-normal",
            "The surface ends in a point, where it has no side.",
            "End it in a section that is no point.",
            field="surface",
        )
    return np.asarray(n / size[:, None])


Corner = tuple[int, int, int, int]
"""A corner of a side: (number of the span, number of the edge, 0 or 1 for the edge's start or end, 0 or 1 for the
side's start or end along the path).
"""


@dataclass(frozen=True)
class Fitted:
    """A moved side as a tensor product spline on [0, 1] x [0, 1].

    Attributes:
        net: Its control points, (nu, nv, 3), mm.
        knots: The knots across and along the path.
        span: The number of its span.
        edge: The number of its edge.
    """

    net: Array
    knots: tuple[Array, Array]
    span: int
    edge: int

    def at(self, u: Array, v: Array) -> Array:
        """Points at all pairs of the parameters u (nu,) and v (nv,), which are from 0 to 1: (nu, nv, 3), mm."""
        rows, columns = (
            BSpline.design_matrix(at, knots, DEGREE).toarray() for at, knots in ((u, self.knots[0]), (v, self.knots[1]))
        )
        return np.asarray(np.einsum("ua,abc,vb->uvc", rows, self.net, columns, optimize=True))


class Offset:
    """All sides of the outer outline of a section along a motion, moved along their normals and trimmed.

    Args:
        motion: The motion.
        region: The section.
        height: How far the sides are moved, mm, by station.
        breaks: Stations at which the height changes its slope, mm.
        ends: The planes at which the moved sides end at the motion's start and end; they are cut or continued there.
            None leaves them as long as they are.
    """

    def __init__(
        self, motion: Motion, region: Region, height: Height, breaks: Sequence[float] = (), ends: Ends = (None, None)
    ) -> None:
        loop = motion.lifted(region.outer)
        extent = float(np.hypot(*region.outer.polygon(0.5)[:, :2].T).max())
        self.ends, self.open, self.round = ends, loop.open, motion.path.closed
        spans = [piece for span in motion.spans(extent, FINE) for piece in _cut(span, breaks)]
        self.sides = [[Side(motion, span, edge, a, b, height) for edge in loop.edges] for span, a, b in spans]
        for row, following in itertools.pairwise([*self.sides, *([self.sides[0]] if self.round else [])]):
            for one, other in zip(row, following, strict=True):
                x = np.column_stack([THIRDS, np.full(3, one.end), THIRDS, np.full(3, other.start)])
                if _smooth([one, other], x):
                    one.after, other.before = (other, other.start - one.end), (one, one.end - other.start)
        self._vertices: dict[Corner, Array] = {}
        self._borders: dict[tuple[str, int, int, bytes], Array] = {}

    def patch(self, i: int, k: int, a: Array, t: Array) -> tuple[Array, Array]:
        """A grid on the trimmed side of edge k on span i.

        Args:
            i: The number of the span.
            k: The number of the edge.
            a: Parameters across, from one border to the other, (na,), from 0 to 1.
            t: Parameters along the path, (nt,), from 0 to 1.

        Returns:
            Places, (na, nt, 2), and points, (na, nt, 3), mm.

        Raises:
            Problem: the side does not meet one of its neighbours, or the plane at which it is to end.
        """
        left, right = self._between(i, k, t)[:, 2:], self._between(i, k + 1, t)[:, :2]
        first, last = self._joint(i, k, a)[:, 2:], self._joint(i + 1, k, a)[:, :2]
        across, along = a[:, None, None], t[None, :, None]
        corners = {(eu, es): self._vertex((i, k, eu, es)) for eu in (0, 1) for es in (0, 1)}
        flat = sum(
            (across if eu else 1 - across) * (along if es else 1 - along) * corner
            for (eu, es), corner in corners.items()
        )
        w = (
            (1 - across) * left[None]
            + across * right[None]
            + (1 - along) * first[:, None]
            + along * last[:, None]
            - flat
        )
        return w, self.sides[i][k].at(w.reshape(-1, 2)).reshape(*w.shape[:2], 3)

    def free(self, i: int, k: int) -> list[tuple[int, int]]:
        """The borders of a side that it shares with no other.

        (0, 0) is that at the start of its edge, (0, 1) at the end of its edge, (1, 0) and (1, 1) those at the start and
        the end of its span.
        """
        n, m = len(self.sides[0]), len(self.sides)
        every = (
            (0, 0, self.open and k == 0),
            (0, 1, self.open and k == n - 1),
            (1, 0, not self.round and i == 0),
            (1, 1, not self.round and i == m - 1),
        )
        return [(way, end) for way, end, alone in every if alone]

    def fitted(self) -> list[Fitted]:
        """All moved sides as splines that share their borders.

        The grids are refined until every spline is within ``ACCURACY`` of the moved side midway between its points, or
        within ``ENOUGH`` once a grid has more than ``MANY`` of them. All sides of one span have the same grid along the
        path and all of one edge the same grid across, so that neighbours agree on their common border.

        Raises:
            Problem: a side is turned over, two neighbours do not meet, or no grid of ``MOST`` points suffices.
        """
        nu, nt = [FEWEST] * len(self.sides[0]), [FEWEST] * len(self.sides)
        while True:
            found = [[self._fit(i, k, nu[k], nt[i]) for k in range(len(nu))] for i in range(len(nt))]
            off_u = np.array([[off[0] for _, off in row] for row in found]).max(axis=0)
            off_t = np.array([[off[1] for _, off in row] for row in found]).max(axis=1)
            before, nu, nt = (
                (nu, nt),
                [_finer(*v) for v in zip(nu, off_u, strict=True)],
                [_finer(*v) for v in zip(nt, off_t, strict=True)],
            )
            if before == (nu, nt):
                return [made for row in found for made, _ in row]
            if max(*nu, *nt) > MOST:
                station = self.sides[int(off_t.argmax())][0].start
                raise Problem(
                    "offset-rough",
                    f"The surface is not smooth enough near {mm(station)} to be moved.",
                    "Smooth the path or the outline there, or move it less.",
                    field="surface",
                    station=station,
                )

    def _fit(self, i: int, k: int, nu: int, nt: int) -> tuple[Fitted, tuple[float, float]]:
        """The spline through a grid of nu by nt points of a side, and its greatest error, mm, midway between the points
        across and along.

        Raises:
            Problem: the side is turned over at one of the points, or does not meet a neighbour.
        """
        a, t = np.linspace(0, 1, nu), np.linspace(0, 1, nt)
        w, points = self.patch(i, k, a, t)
        over = self.sides[i][k].turned_over(w.reshape(-1, 2))
        if over.any():
            station = float(w.reshape(-1, 2)[int(np.argmax(over)), 1])
            raise Problem(
                "offset-folds",
                f"The surface bends too sharply near {mm(station)} to be moved so far.",
                "Move it less.",
                field="wall",
                station=station,
            )
        across: Any = make_interp_spline(a, points, k=DEGREE, axis=0)
        along: Any = make_interp_spline(t, across.c, k=DEGREE, axis=1)
        made = Fitted(np.moveaxis(along.c, 0, 1), (across.t, along.t), i, k)
        off = [
            float(np.linalg.norm(made.at(u, v) - self.patch(i, k, u, v)[1], axis=2).max())
            for u, v in (((a[1:] + a[:-1]) / 2, t), (a, (t[1:] + t[:-1]) / 2))
        ]
        return made, (off[0], off[1])

    # -- where sides meet -------------------------------------------------------------------------

    def _vertex(self, corner: Corner) -> Array:
        """The place (2,) of a side's corner, where it meets the one to three other sides around that corner."""
        if corner not in self._vertices:
            around = self._around(corner)
            x = np.concatenate(
                [[float(eu), self.sides[i][k].end if es else self.sides[i][k].start] for i, k, eu, es in around]
            )
            sides = [self.sides[i][k] for i, k, _, _ in around]
            plane = self.ends[corner[3]] if self._at_end(corner) else None
            vanishing = plane is None and len(around) == 2 and _smooth(sides, x[None])
            found = _vanishing(sides, around, x) if vanishing else _meeting(sides, x[None], plane=plane)[0]
            self._vertices |= {c: found[2 * n : 2 * n + 2] for n, c in enumerate(around)}
        return self._vertices[corner]

    def _at_end(self, corner: Corner) -> bool:
        i, _, _, es = corner
        return not self.round and i == (len(self.sides) - 1 if es else 0)

    def _around(self, corner: Corner) -> list[Corner]:
        i, k, eu, es = corner
        n, m = len(self.sides[0]), len(self.sides)
        over = (i + 1 if es else i - 1) if not self._at_end(corner) else None
        beside = None if self.open and k == (n - 1 if eu else 0) else (k + 1 if eu else k - 1)
        found = [corner]
        if beside is not None:
            found.append((i, beside % n, 1 - eu, es))
        if over is not None:
            found += [(over % m, k_, eu_, 1 - es) for _, k_, eu_, _ in list(found)]
        return found

    def _between(self, i: int, c: int, t: Array) -> Array:
        """The line along span i in which the sides before and after corner c of the section meet.

        Args:
            t: Parameters along it, (n,), from 0 to 1.

        Returns:
            Places, (n, 4): the first two numbers on the side before the corner, the others on the side after it.
        """
        n = len(self.sides[0])
        one = None if self.open and c == 0 else (i, (c - 1) % n, 1)
        other = None if self.open and c == n else (i, c % n, 0)
        both = [which for which in (one or other, other or one) if which is not None]
        ends = [np.concatenate([self._vertex((*which, es)) for which in both]) for es in (0, 1)]
        return self._met("along", i, c, [None if w is None else self.sides[w[0]][w[1]] for w in (one, other)], ends, t)

    def _joint(self, j: int, k: int, a: Array) -> Array:
        """The line along edge k in which the sides before and after joint j of the path meet.

        Args:
            a: Parameters along it, (n,), from 0 to 1.

        Returns:
            Places, (n, 4): the first two numbers on the side before the joint, the others on the side after it.
        """
        m = len(self.sides)
        one = None if not self.round and j == 0 else ((j - 1) % m, 1)
        other = None if not self.round and j == m else (j % m, 0)
        ends = []
        for eu in (0, 1):
            each = [self._vertex((w[0], k, eu, w[1])) for w in (one or other, other or one) if w is not None]
            ends.append(np.concatenate(each))
        sides = [None if w is None else self.sides[w[0]][k] for w in (one, other)]
        return self._met("across", j, k, sides, ends, a)

    def _met(self, way: str, i: int, k: int, sides: Sequence[Side | None], ends: Sequence[Array], t: Array) -> Array:
        """The line between two vertices in which two sides meet, or the border of one side that has no neighbour there.

        Args:
            way: "along" the path, or "across" it.
            i: The number of the span or the joint.
            k: The number of the corner or the edge.
            sides: The two sides, in the order of the numbers in a place; None where there is none.
            ends: The vertices, (4,) each; both pairs of numbers are of the same side where there is only one.
            t: Parameters from one vertex to the other, (n,).

        Returns:
            Places, (n, 4). They are kept, so that both sides take the same.
        """
        key = (way, i, k, t.tobytes())
        if key not in self._borders:
            x = (1 - t)[:, None] * ends[0] + t[:, None] * ends[1]
            one, other = sides
            if one is not None and other is not None:
                x = _meeting([one, other], x, even=1 if way == "along" else 0)
                x[t == 0.0], x[t == 1.0] = ends
            elif way == "across" and (plane := self.ends[0 if one is None else 1]) is not None:
                alone = one or other
                assert alone is not None
                x = np.tile(_slid(alone, x[:, :2], plane), (1, 2))
            self._borders[key] = x
        return self._borders[key]


def _finer(places: int, off: float) -> int:
    """How many points the grid of a spline with an error of ``off`` mm is to have: as many, or twice as many."""
    return places if off <= (ACCURACY if places < MANY else ENOUGH) else 2 * places


def thickest(motion: Motion, region: Region, share: float, most: float) -> float:
    """The greatest wall, up to ``most`` mm, whose sides are not turned over; found by bisection.

    The sides are moved by ``share`` of the wall. Whether neighbours still meet is not tested.
    """

    def folds(wall: float) -> bool:
        rows = Offset(motion, region, lambda s: np.full(len(s), share * wall)).sides
        return any(side.turned_over(_scattered(side)).any() for row in rows for side in row)

    low, high = 0.0, most
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if folds(middle) else (middle, high)
    return low


def _scattered(side: Side) -> Array:
    """Places on an even grid over a side, (``COARSE``², 2)."""
    u, s = np.linspace(0, 1, COARSE), np.linspace(side.start, side.end, COARSE)
    return np.stack(np.meshgrid(u, s, indexing="ij"), axis=-1).reshape(-1, 2)


def _cut(span: Span, breaks: Sequence[float]) -> list[tuple[Span, float, float]]:
    inner = [b for b in breaks if span.start + 1e-6 < b < span.end - 1e-6]
    return [(span, a, b) for a, b in itertools.pairwise([span.start, *sorted(inner), span.end])]


def _meeting(sides: Sequence[Side], x: Array, even: int | None = None, plane: Plane | None = None) -> Array:
    """Places at which m moved sides have a common point.

    Newton's method with the pseudoinverse of the Jacobian: of all solutions the step takes the nearest in mm, and none
    along directions in which tangent surfaces slide on each other.

    Args:
        sides: The m sides.
        x: Places to begin from, (n, 2 m): two numbers on each side.
        even: For two sides, the number of a place whose mean over both is to stay as it is: 0 the share of the edge,
            1 the station. It fixes which point of the common line is found. None: the nearest one.
        plane: The common points are to lie on this plane as well.

    Returns:
        Places, (n, 2 m).

    Raises:
        Problem: the sides do not meet within ``FAR`` times their height.
    """
    if _smooth(sides, x):
        return (
            x
            if plane is None
            else np.hstack([_slid(side, x[:, 2 * i : 2 * i + 2], plane) for i, side in enumerate(sides)])
        )
    start, x = x, x.copy()
    first, before = sides[0], np.inf
    for _ in range(STEPS):
        off = _apart(sides, x, start, even, plane)
        rest = float(np.abs(off).max(initial=0.0))
        if rest < SOLVED or (rest < ACCURACY and rest > before / 2):  # no better than rounding lets it be
            break
        before = rest
        jac, size = _jacobian(sides, x, even, plane)
        x -= np.einsum("nij,nj->ni", np.linalg.pinv(jac / size[:, None, :], rcond=WEAK), off) / size
    points = [side.at(x[:, 2 * i : 2 * i + 2]) for i, side in enumerate(sides)]
    gap = np.max([np.linalg.norm(p - points[0], axis=1) for p in points], axis=0)
    away = np.linalg.norm(points[0] - first.base(start[:, :2])[0], axis=1)
    wrong = ~((gap < ACCURACY) & (away < FAR * np.abs(first.height(start[:, 1])) + ACCURACY))
    if wrong.any():
        station = float(start[int(np.argmax(wrong)), 1])
        raise Problem(
            "offset-crease",
            f"At {mm(station)} two sides meet too sharply for their moved ones to meet.",
            "Round the corner, or move it less.",
            field="wall",
            station=station,
        )
    return x


def _slid(side: Side, w: Array, plane: Plane) -> Array:
    """Places w (n, 2) moved along the path until the moved side is on a plane there, (n, 2); by Newton's method.

    Raises:
        Problem: the side does not reach the plane.
    """
    w, before = w.copy(), np.inf
    for _ in range(STEPS):
        off = plane.height(side.at(w))
        rest = float(np.abs(off).max())
        if rest < SOLVED or (rest < ACCURACY and rest > before / 2):
            return w
        before = rest
        rate = side.slopes(w)[1] @ plane.normal
        if np.abs(rate).min() < WEAK:
            break
        w[:, 1] -= off / rate
    raise Problem(
        "offset-end",
        "The moved sides do not reach the plane on which they are to end.",
        "Move them less.",
        field="wall",
    )


def _apart(sides: Sequence[Side], x: Array, start: Array, even: int | None, plane: Plane | None) -> Array:
    """The residuals of ``_meeting`` at places x (n, 2 m): (n, rows).

    The rows are the three differences, mm, of the first side's point from that of each other side; then, with ``even``,
    how far the mean of that number is from what it was at ``start``; then, with a plane, the first side's distance from
    it, mm.
    """
    first, *others = (side.at(x[:, 2 * i : 2 * i + 2]) for i, side in enumerate(sides))
    off = [first - p for p in others]
    if even is not None:
        off.append(((x - start)[:, even] + (x - start)[:, 2 + even])[:, None] / 2)
    if plane is not None:
        off.append(plane.height(first)[:, None])
    return np.hstack(off)


def _jacobian(sides: Sequence[Side], x: Array, even: int | None, plane: Plane | None) -> tuple[Array, Array]:
    """The Jacobian of ``_apart``, (n, rows, 2 m), and how many mm the point moves for each unit of the numbers of a
    place, (n, 2 m), by which the columns are scaled.
    """
    m = len(sides)
    slopes = [np.stack(side.slopes(x[:, 2 * i : 2 * i + 2]), axis=2) for i, side in enumerate(sides)]
    jac = np.zeros((len(x), 3 * m - 3 + (even is not None) + (plane is not None), 2 * m))
    for i in range(1, m):
        jac[:, 3 * i - 3 : 3 * i, :2] = slopes[0]
        jac[:, 3 * i - 3 : 3 * i, 2 * i : 2 * i + 2] = -slopes[i]
    if even is not None:
        jac[:, 3 * m - 3, [even, 2 + even]] = 0.5
    if plane is not None:
        jac[:, -1, :2] = np.einsum("nij,i->nj", slopes[0], plane.normal)
    return jac, np.concatenate([np.linalg.norm(v, axis=1) for v in slopes], axis=1)


def _vanishing(sides: Sequence[Side], around: Sequence[Corner], x: Array) -> Array:
    """The end of the line in which two sides meet, at a vertex where the crease between them vanishes: (4,).

    At the vertex the two surfaces are tangent, so that every place near it is nearly a solution. The line is therefore
    computed at three points close by and extrapolated by a parabola. Where the height changes along the path, this is
    not the vertex of the sides before they were moved.

    Args:
        sides: The two sides.
        around: The vertex as a corner of each.
        x: The places of the vertex before the sides were moved, (4,).
    """
    (i, _, eu, es), (j, _, _, _) = around
    way = 1 if i == j else 0  # two sides of one span meet along it, two of one edge along that
    step = np.zeros(4)
    step[[way, 2 + way]] = NEAR * (
        (-1.0 if es else 1.0) * (sides[0].end - sides[0].start) if way else (-1.0 if eu else 1.0)
    )
    first, second, third = _meeting(sides, x + np.outer([1.0, 2.0, 3.0], step), even=way)
    return np.asarray(3 * first - 3 * second + third)


def _smooth(sides: Sequence[Side], x: Array) -> bool:
    """Whether sides have the same normal, within ``CREASE``, at all places x (n, 2 m)."""
    normals = [unit_normals(*side.base(x[:, 2 * i : 2 * i + 2])[1:]) for i, side in enumerate(sides)]
    return all(float(np.abs(n - normals[0]).max()) < CREASE for n in normals[1:])
