"""The sides of a motion, each moved along its own normals, cut where they meet.

An edge of the section carried along a span of the motion is a rectangle of places (u, s): the share of the edge and the
station. What lies ``h(s)`` mm off there is exact at every place. Where two sides meet in a crease, their offsets
overlap on one side of it and gape on the other: the line in which they meet is solved for (Newton's method, on surfaces
that go on beyond their borders), and each side's places are spread anew up to it. So every offset side is again a full
rectangle, its borders those of its neighbours, and a tensor spline fits it.
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

ACCURACY = 5e-6  # mm, of the splines that are put through offset sides
# mm, which does where a crease runs over a joint at which the path's bend changes its course: no spline follows that
# well
ENOUGH = 2e-4
CREASE = 1e-6  # rad between the normals of two sides that go on smoothly
FEWEST, MANY, MOST = 8, 128, 512  # places of a spline's grid, either way
FINE = 2e-6  # mm, to which the motion is held: what goes on smoothly in it has to be smooth in the sides as well
DEGREE = 5
THIRDS = np.array([0.0, 0.5, 1.0])  # of an edge, where its sides are looked at
STEPS = 30
HALVINGS = 12
COARSE = 24  # places either way, by which a side is looked over
SOLVED = 1e-10  # mm
FLAT_STEP = 1e-6  # of the edge or the span: for derivatives by differences
NEAR = 1e-3  # of the edge or the span: how far from a vertex a vanishing crease is looked at
WEAK = 1e-6  # of the largest singular value: directions in which smooth neighbours may slide on each other
FAR = 8.0  # times the height, as far as two sides may have to go on until they meet


Ends = tuple[Plane | None, Plane | None]


@dataclass
class Side:
    """A section edge carried from station ``start`` to ``end`` of a span, and moved by ``height``.

    Beyond them it goes on as ``before`` and ``after``, the sides into which it goes over smoothly, or as its own
    splines do. With these stands what is to be added to a station to get theirs: nought, but at the seam of a closed
    path.
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
        """Points (n, 3) of the moved side at places (n, 2), those beyond its borders too."""
        point, along, across = self.base(w)
        return point + self.height(w[:, 1])[:, None] * unit_normals(along, across)

    def base(self, w: Array) -> tuple[Array, Array, Array]:
        """Points of the side as it is, and their derivatives by s and by u, each (n, 3)."""
        a, b = self.edge.domain
        t = a + w[:, 0] * (b - a)
        p, d = self.edge.point(t), self.edge.derivative(t) * (b - a)
        carriers, slopes = self._carriers(w[:, 1])
        return carriers[:, 0] + _carried(p, carriers), slopes[:, 0] + _carried(p, slopes), _carried(d, carriers)

    def _carriers(self, s: Array) -> tuple[Array, Array]:
        """C, X, Y and what a warp adds (n, k, 3) at stations, and their slopes."""
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
        """Derivatives of the moved points by u and by s, by central differences, each (n, 3)."""
        found = []
        for k, size in ((0, 1.0), (1, self.end - self.start)):
            h = np.zeros(2)
            h[k] = FLAT_STEP * size
            found.append((self.at(w + h) - self.at(w - h)) / (2 * h[k]))
        return found[0], found[1]

    def turned_over(self, w: Array) -> Array:
        """Which of the places (n,) are so far off that the moved side turns back on itself there."""
        across, along = self.slopes(w)
        _, own_along, own_across = self.base(w)
        return np.asarray((cross(across, along) * cross(own_across, own_along)).sum(axis=1) <= 0)


def _carried(p: Array, carriers: Array) -> Array:
    """Section points (n, k), each by the carriers after C of its own station (n, 1 + k, 3)."""
    return np.asarray(np.einsum("nk,nkj->nj", p, carriers[:, 1:]))


def unit_normals(along: Array, across: Array) -> Array:
    """The unit normals (n, 3) of a side, to the outside of a closed section. Raises Problem where there is none."""
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
"""A corner of a side: the numbers of its span and its edge, and whether it is at the end (1) or the start (0) of the
edge and of the span.
"""


@dataclass(frozen=True)
class Fitted:
    """A moved side as a tensor spline: ``net`` (nu, nv, 3), the knots both ways; ``span`` and ``edge`` are the numbers
    of what it is of.
    """

    net: Array
    knots: tuple[Array, Array]
    span: int
    edge: int

    def at(self, u: Array, v: Array) -> Array:
        """Points (nu, nv, 3) at all pairs of parameters from 0 to 1."""
        rows, columns = (
            BSpline.design_matrix(at, knots, DEGREE).toarray() for at, knots in ((u, self.knots[0]), (v, self.knots[1]))
        )
        return np.asarray(np.einsum("ua,abc,vb->uvc", rows, self.net, columns, optimize=True))


class Offset:
    """All sides of one outline of the section, all along the motion, moved by ``height``.

    ``ends`` are planes that they are cut by, or lengthened to, at the motion's start and end; None leaves them as long
    as they are.
    """

    def __init__(
        self, motion: Motion, region: Region, height: Height, breaks: Sequence[float] = (), ends: Ends = (None, None)
    ) -> None:
        """``breaks`` are stations at which the height changes its slope."""
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
        """Places (na, nt, 2) and points (na, nt, 3) of side k of span i: ``a`` runs from border to border, ``t`` along
        the span, both 0 to 1.
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
        """The borders of a side that no other side has: (0, 0) and (0, 1) at the start and end of its edge, (1, 0) and
        (1, 1) of its span.
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
        """All moved sides, each within ``ACCURACY`` of where it ought to be, or ``ENOUGH`` if that would take very many
        places, with borders in common.

        Raises:
            Problem: a side turns back on itself, two do not meet, or one cannot be fitted.
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
        """A spline, and by how much it is off midway between its places, across and along."""
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
        """The place (2,) of a side's corner, where it meets the up to three other sides that have it as a
        corner too.
        """
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
        """Places (n, 4) along the span on the side before corner c of the section and on the one after it, where the
        two meet.
        """
        n = len(self.sides[0])
        one = None if self.open and c == 0 else (i, (c - 1) % n, 1)
        other = None if self.open and c == n else (i, c % n, 0)
        both = [which for which in (one or other, other or one) if which is not None]
        ends = [np.concatenate([self._vertex((*which, es)) for which in both]) for es in (0, 1)]
        return self._met("along", i, c, [None if w is None else self.sides[w[0]][w[1]] for w in (one, other)], ends, t)

    def _joint(self, j: int, k: int, a: Array) -> Array:
        """Places (n, 4) along section edge k, at the end of the span before joint j and at the start of the one after
        it, where the two meet.
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
        """Places (n, 4) between two vertices where two sides meet, or of a border that one of them has alone."""
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
    """How many places a spline is to have that is so far off."""
    return places if off <= (ACCURACY if places < MANY else ENOUGH) else 2 * places


def thickest(motion: Motion, region: Region, share: float, most: float) -> float:
    """The greatest wall up to ``most`` mm of which the sides can be moved by a ``share`` without turning back on
    themselves; creases are not looked at.
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
    """Places (n, 2) all over a side."""
    u, s = np.linspace(0, 1, COARSE), np.linspace(side.start, side.end, COARSE)
    return np.stack(np.meshgrid(u, s, indexing="ij"), axis=-1).reshape(-1, 2)


def _cut(span: Span, breaks: Sequence[float]) -> list[tuple[Span, float, float]]:
    inner = [b for b in breaks if span.start + 1e-6 < b < span.end - 1e-6]
    return [(span, a, b) for a, b in itertools.pairwise([span.start, *sorted(inner), span.end])]


def _meeting(sides: Sequence[Side], x: Array, even: int | None = None, plane: Plane | None = None) -> Array:
    """Places (n, 2 m) near ``x`` at which m sides have the same points, on a ``plane`` if one is given. Raises Problem.

    ``even`` names what is held in the mean of two sides, 0 the share of the edge and 1 the station; else the places
    nearest to ``x`` are taken.
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
    """Places (n, 2) moved along the span until the side is on a plane there.

    Raises Problem when it does not reach it.
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
    """By how much m sides are apart at places (n, 2 m), the mean of what is ``even`` from where it was at the
    ``start``, and the first side from a plane.
    """
    first, *others = (side.at(x[:, 2 * i : 2 * i + 2]) for i, side in enumerate(sides))
    off = [first - p for p in others]
    if even is not None:
        off.append(((x - start)[:, even] + (x - start)[:, 2 + even])[:, None] / 2)
    if plane is not None:
        off.append(plane.height(first)[:, None])
    return np.hstack(off)


def _jacobian(sides: Sequence[Side], x: Array, even: int | None, plane: Plane | None) -> tuple[Array, Array]:
    """Derivatives of ``_apart`` (n, rows, 2 m), and the length in mm of a step of one in each place's numbers
    (n, 2 m).
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
    """The places (4,) to which the line tends where two sides meet, at a vertex where their crease vanishes:
    extrapolated by a parabola.

    Where the height changes along the path, that is not the vertex of the sides themselves.
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
    """Whether sides go on into each other smoothly at all of the places."""
    normals = [unit_normals(*side.base(x[:, 2 * i : 2 * i + 2])[1:]) for i, side in enumerate(sides)]
    return all(float(np.abs(n - normals[0]).max()) < CREASE for n in normals[1:])
