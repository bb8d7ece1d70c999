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
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.problems import Problem, mm
from leadline.core.surfaces.crease import ACCURACY, Corner, meeting, slid, smooth, vanishing_end
from leadline.core.surfaces.moved_side import Height, Side
from leadline.core.sweep.motion import Motion, Span

# mm: what is accepted in place of ACCURACY on a fine grid. Where a crease crosses a joint at which the path's curvature
# jumps, the line of the crease has a jump in a derivative, and a smooth spline converges slowly there.
ENOUGH = 2e-4
FEWEST, MANY, MOST = 8, 128, 512  # points of a spline's grid in one direction: to begin with, for ENOUGH, at most
FINE = 2e-6  # mm: accuracy of the motion's spans, smaller than ACCURACY so that their joints do not look like creases
DEGREE = 5  # of the splines, so that they converge with the sixth power of the grid
THIRDS = np.array([0.0, 0.5, 1.0])  # shares of an edge at which two sides are compared
HALVINGS = 12  # of the interval in which the thickest wall lies: to a 4,096th of it
COARSE = 24  # points in each direction by which a side is tested for turning over


Ends = tuple[Plane | None, Plane | None]


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
                if smooth([one, other], x):
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
                    of="surface",
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
                of="wall",
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
            vanishing = plane is None and len(around) == 2 and smooth(sides, x[None])
            found = vanishing_end(sides, around, x) if vanishing else meeting(sides, x[None], plane=plane)[0]
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
                x = meeting([one, other], x, even=1 if way == "along" else 0)
                x[t == 0.0], x[t == 1.0] = ends
            elif way == "across" and (plane := self.ends[0 if one is None else 1]) is not None:
                alone = one or other
                assert alone is not None
                x = np.tile(slid(alone, x[:, :2], plane), (1, 2))
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
