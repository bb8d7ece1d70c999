"""What triangles hide of straight pieces that lie behind them, as they are seen from afar."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import shapely

from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.plane import Array, cross

GROWN = 1e-6  # of a triangle's side: how far outside of it something still counts as hidden
APART = 1e-6  # of a piece: gaps between two triangles that hide it, so short, are none
LAYERS = 6  # halvings of what is before, for the nearest layer
AT_ONCE = 4_000_000  # pairs of boxes that are looked at together

Intervals = tuple[Ints, Array, Array]
"""Numbers of pieces (k,), and from where to where (0 to 1) along each (k,) something is so."""
NONE: Intervals = (np.zeros(0, dtype=np.int64), np.zeros(0), np.zeros(0))


class Before:
    """What can hide something: triangles (m, 3, 3) in layers, the nearest to the eye first, each twice as many as the
    one before; found by their boxes.

    Each hides what is behind it, and, of what is farther behind it than it is long, that too which is at most its
    ``reach`` (m,) beside it: so far the surface that it stands for may go. Without that, of outlines that lie behind
    each other, as a spring's turns seen along its axis, all would show in slivers.
    """

    def __init__(self, triangles: Array, reach: Array) -> None:
        nearest = triangles[:, :, 2].max(axis=1)
        order = np.argsort(-nearest, kind="stable")
        ends = [len(order) >> k for k in range(LAYERS, 0, -1)] + [len(order)]
        self._layers = [
            _Layer(triangles[own], reach[own], nearest[own]) for own in np.split(order, ends[:-1]) if len(own)
        ]

    def hiding(self, held: Array) -> Intervals:
        """What they hide of pieces (n, 2, 3): of one that near layers hide wholly, those farther away are not asked."""
        found: list[Intervals] = [NONE]
        boxes = _boxes(_smallest([held[:, 0, :2], held[:, 1, :2]]), _largest([held[:, 0, :2], held[:, 1, :2]]))
        left = np.arange(len(held))
        for layer in self._layers:
            which, start, end = layer.hiding(held[left], boxes[left])
            found.append((left[which], start, end))
            owner, first, last = merged(joined(found))
            left = np.setdiff1d(left, owner[last - first > 1 - 2 * APART])
        return joined(found)


class _Layer:
    """Triangles (m, 3, 3), how far each may reach beyond itself (m,), and how near each comes to the eye."""

    def __init__(self, triangles: Array, reach: Array, nearest: Array) -> None:
        self.nearest = nearest
        corners = [triangles[:, k] for k in range(3)]
        sides = [corners[(k + 1) % 3] - corners[k] for k in range(3)]
        longest = np.sqrt(_largest([_dot(side, side) for side in sides]))
        self._far = _smallest([c[:, 2] for c in corners]) - longest
        low, high = (find([c[:, :2] for c in corners]) for find in (_smallest, _largest))
        self._tree = shapely.STRtree(_boxes(low - reach[:, None], high + reach[:, None]))
        self._tests = [_side_of(corner, side) for corner, side in zip(corners, sides, strict=True)]
        self._wider = [reach * _largest([np.abs(side[:, 0]), np.abs(side[:, 1])]) for side in sides]
        normal = cross(sides[0], -sides[2])
        self._plane = np.column_stack(
            [-normal, _dot(normal, corners[0])]
        )  # a triangle's height over a place, times the normal's own

    def hiding(self, held: Array, boxes: Any) -> Intervals:
        """What they hide of pieces (n, 2, 3) with their boxes (n,)."""
        low, high = (find([held[:, 0, 2], held[:, 1, 2]]) for find in (_smallest, _largest))
        return joined([NONE, *(self._intervals(held, high, *pair) for pair in self._pairs(low, boxes))])

    def _pairs(self, deepest: Array, boxes: Any) -> Iterator[tuple[Ints, Ints]]:
        """Numbers of pieces and of triangles whose boxes meet as they are seen, where the triangle is not all behind
        the piece.
        """
        first, step = 0, 256
        while first < len(boxes):
            piece, triangle = self._tree.query(boxes[first : first + step])
            piece = piece + first
            before = self.nearest[triangle] > deepest[piece]
            yield piece[before], triangle[before]
            first += step
            step = max(64, min(4 * step, step * AT_ONCE // max(1, len(piece))))

    def _intervals(self, held: Array, highest: Array, piece: Ints, triangle: Ints) -> Intervals:
        """The pairs of which the triangle hides some of the piece, with from where to where."""
        low, high, wide = np.zeros(len(piece)), np.ones(len(piece)), self._far[triangle] > highest[piece]
        for test, wider in zip(self._tests, self._wider, strict=True):
            more = np.where(wide, wider[triangle], 0.0)
            _narrow(
                low,
                high,
                *(_dot(test[triangle, :2], held[piece, end, :2]) + test[triangle, 2] + more for end in (0, 1)),
            )
            some = high - low > APART
            piece, triangle, low, high, wide = piece[some], triangle[some], low[some], high[some], wide[some]
        first, last = (_dot(self._plane[triangle, :3], held[piece, end]) + self._plane[triangle, 3] for end in (0, 1))
        _narrow(low, high, np.where(wide, 1.0, first), np.where(wide, 1.0, last))
        some = high - low > APART
        return piece[some], low[some], high[some]


def _side_of(corner: Array, side: Array) -> Array:
    """Three numbers (m, 3) by which a place, x and y and 1, is told to be on the left of a side (m, 3) from a corner
    (m, 3), or a very little to its right: their sum is above zero.
    """
    grown = GROWN * _largest([np.abs(side[:, 0]), np.abs(side[:, 1])]) ** 2
    return np.column_stack([-side[:, 1], side[:, 0], side[:, 1] * corner[:, 0] - side[:, 0] * corner[:, 1] + grown])


def _dot(a: Array, b: Array) -> Array:
    return np.asarray(np.einsum("ij,ij->i", a, b))


def _largest(several: Sequence[Array]) -> Array:
    """The largest of each, as ``max`` along an axis has it; along one of two or three it takes far longer."""
    return np.asarray(functools.reduce(np.maximum, several))


def _smallest(several: Sequence[Array]) -> Array:
    """Likewise the smallest."""
    return np.asarray(functools.reduce(np.minimum, several))


def _boxes(low: Array, high: Array) -> Any:
    """Boxes from low to high corners (n, 2)."""
    return shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])


def joined(found: Sequence[Intervals]) -> Intervals:
    which, start, end = (np.concatenate([f[k] for f in found]) for k in range(3))
    return which, start, end


def _narrow(low: Array, high: Array, first: Array, last: Array) -> None:
    """Cuts intervals down to where a function is above zero that is linear from its first to its last value,
    each (n,).
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        at = first / (first - last)
    np.maximum(low, np.where((first <= 0) & (last > 0), at, 0.0), out=low)
    np.minimum(high, np.where((last <= 0) & (first > 0), at, 1.0), out=high)
    high[(first <= 0) & (last <= 0)] = -1.0


def merged(intervals: Intervals) -> Intervals:
    """The same without any that lie over each other, or end to end, in their order."""
    which, start, end = intervals
    order = np.argsort(2.0 * which + start, kind="stable")
    low, high = (2.0 * which + start)[order], (2.0 * which + end)[order]
    reach = np.maximum.accumulate(high) if len(high) else high
    begins = np.concatenate([[True], low[1:] > reach[:-1] + APART])[: len(low)]
    firsts = np.flatnonzero(begins)
    lasts = np.append(firsts[1:], len(low))[: len(firsts)] - 1
    owner = which[order][firsts]
    return owner, low[firsts] - 2.0 * owner, reach[lasts] - 2.0 * owner
