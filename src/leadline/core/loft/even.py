"""Stretches of outlines passed at an even speed.

Where an arc goes over into a line, the arc as a rational curve is slow at its ends. Another section's outline has other
speeds there, and what lies between the two sections then has a slight crease along the place where both are smooth.
Passed at an even speed, neighbouring stretches have speeds in the same ratio in all sections, so that what is smooth in
all of them is smooth in between.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.edges import Edge, spline_edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import joints
from leadline.core.loft.outline import Part

CLOSE = 2e-11  # of the outline's size: how far the new curve may be from the old one
MOST_SPANS = 1024
CELLS = 16  # of each smooth stretch, in which lengths are integrated
SMOOTH = 1e-6  # rad
SAME = 1e-7  # by which ratios of speeds may differ
_X, _W = np.polynomial.legendre.leggauss(12)


def creased(edges: Sequence[Edge], sections: int, is_open: bool = False) -> bool:
    """Whether stacked edges, end to end, have, where all sections are smooth, speeds in another ratio in one section
    than in another.
    """
    for before, after in joints(edges, is_open):
        d, e = (_each(v, sections) for v in (before.derivative(before.domain[1]), after.derivative(after.domain[0])))
        slow, fast = np.linalg.norm(d, axis=1), np.linalg.norm(e, axis=1)
        moving = (slow > 0) & (fast > 0)  # of a point there is no speed
        d, e, ratio = d[moving], e[moving], slow[moving] / fast[moving]
        turn = np.abs(np.arctan2(d[:, 0] * e[:, 1] - d[:, 1] * e[:, 0], (d * e).sum(axis=1)))
        if (turn < SMOOTH).all() and len(ratio) and float(np.ptp(ratio)) > SAME * float(ratio.max()):
            return True
    return False


def _each(stacked: Array, sections: int) -> Array:
    """A stacked vector in each section, (sections, 2)."""
    first = stacked[:2]
    return np.vstack([first, *(first + stacked[2 * k : 2 * k + 2] for k in range(1, sections))])


def evened(part: Part) -> Part:
    """The stretch as a polynomial spline whose parameter, 0 to 1, is the share of its length."""
    edge, first, last = part.edge, part.first, part.last
    if edge.straight:
        return part
    knots = np.concatenate([[0.0], np.unique(part.knots), [1.0]])
    cells = np.concatenate([np.linspace(a, b, CELLS + 1)[:-1] for a, b in itertools.pairwise(knots)] + [[1.0]])
    t = first + cells * (last - first)
    steps = _lengths(edge, t[:-1], t[1:])
    gone = np.concatenate([[0.0], np.cumsum(steps)])

    def at(share: Array) -> Array:
        """Parameters of the edge at shares of the stretch's length, by Newton's method."""
        want = share * gone[-1]
        i = np.clip(np.searchsorted(gone, want, side="right") - 1, 0, len(steps) - 1)
        u = t[i] + (want - gone[i]) / steps[i] * (t[i + 1] - t[i])
        for _ in range(6):
            off = _lengths(edge, t[i], u) - (want - gone[i])
            u = np.clip(u - off / np.linalg.norm(edge.derivative(u)[:, :2], axis=1), t[0], t[-1])
        return np.asarray(u)

    size = float(np.ptp(edge.control[:, :2], axis=0).max())
    ends = [d / np.linalg.norm(d) * gone[-1] for d in (edge.derivative(v)[:2] for v in (t[0], t[-1]))]
    return Part(spline_edge(_fitted(lambda share: edge.point(at(share))[:, :2], ends, size), edge.origin), 0.0, 1.0)


def _lengths(edge: Edge, a: Array, b: Array) -> Array:
    """The lengths of an edge between parameters a and b (n,)."""
    half = (b - a) / 2
    u = a[:, None] + half[:, None] * (1 + _X)
    return np.asarray((np.linalg.norm(edge.derivative(u)[..., :2], axis=-1) * _W).sum(axis=1) * half)


def _fitted(curve: Callable[[Array], Array], ends: Sequence[Array], size: float) -> BSpline:
    """A quintic through a curve at even shares, with its slopes at the ends, as close as wanted."""
    spans = 4
    while True:
        s = np.linspace(0.0, 1.0, spans + 3)
        knots = np.concatenate([np.zeros(6), s[2:-2], np.ones(6)])
        slopes: Any = ([(1, ends[0])], [(1, ends[1])])
        found = make_interp_spline(s, curve(s), k=5, t=knots, bc_type=slopes)
        middle = (s[1:] + s[:-1]) / 2
        off = float(np.abs(found(middle) - curve(middle)).max())
        if off < CLOSE * size or spans > MOST_SPANS:
            return found
        spans *= 2
