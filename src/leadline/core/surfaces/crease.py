"""Where the moved sides of a swept body meet, as places on each of them: see ``leadline.core.surfaces.offset``."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem, mm
from leadline.core.surfaces.moved_side import Side, unit_normals

ACCURACY = 5e-6  # mm: how far moved sides may be apart where they meet, and a spline from the side that it stands for
CREASE = 1e-6  # rad between the normals of two sides, under which they continue each other smoothly
STEPS = 30  # of Newton's method at most
SOLVED = 1e-10  # mm: distance of two surfaces at which Newton's method has arrived
NEAR = 1e-3  # share of the edge or the span: distance from a vertex at which a vanishing crease is evaluated
# Share of the largest singular value: smaller ones are directions in which two almost tangent surfaces may slide along
# each other without moving apart, and no step is taken along them.
WEAK = 1e-6
FAR = 8.0  # times the height: two sides that meet only farther away than this count as not meeting

Corner = tuple[int, int, int, int]
"""A corner of a side: (number of the span, number of the edge, 0 or 1 for the edge's start or end, 0 or 1 for the
side's start or end along the path).
"""


def meeting(sides: Sequence[Side], x: Array, even: int | None = None, plane: Plane | None = None) -> Array:
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
    if smooth(sides, x):
        return (
            x
            if plane is None
            else np.hstack([slid(side, x[:, 2 * i : 2 * i + 2], plane) for i, side in enumerate(sides)])
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
            of="wall",
            station=station,
        )
    return x


def slid(side: Side, w: Array, plane: Plane) -> Array:
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
        of="wall",
    )


def _apart(sides: Sequence[Side], x: Array, start: Array, even: int | None, plane: Plane | None) -> Array:
    """The residuals of ``meeting`` at places x (n, 2 m): (n, rows).

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


def vanishing_end(sides: Sequence[Side], around: Sequence[Corner], x: Array) -> Array:
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
    first, second, third = meeting(sides, x + np.outer([1.0, 2.0, 3.0], step), even=way)
    return np.asarray(3 * first - 3 * second + third)


def smooth(sides: Sequence[Side], x: Array) -> bool:
    """Whether sides have the same normal, within ``CREASE``, at all places x (n, 2 m)."""
    normals = [unit_normals(*side.base(x[:, 2 * i : 2 * i + 2])[1:]) for i, side in enumerate(sides)]
    return all(float(np.abs(n - normals[0]).max()) < CREASE for n in normals[1:])
