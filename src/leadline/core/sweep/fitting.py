"""Splines through the carriers of a motion, over the stretches that its spans are of."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm

STRAIGHT = 1e-10  # of the largest carrier, by which one may be off its chord
PROBED = 7  # stations by which a stretch is told to be straight
FEWEST, MOST = 6, 4000  # nodes of a spline

Read = Callable[[Array], Array]
"""Values (n, m) at stations (n,)."""


def splines(carriers: Read, slopes: Read, cuts: Array, weights: Array, tolerance: float, nodes: int = FEWEST) -> tuple[list[BSpline], int]:
    """For each stretch between two stations, ``cuts`` (k, 2), a quintic through exact carriers (n, 3 c) with exact slopes at both ends, refined
    until it agrees with them midway: what the carriers are off by, each times its weight (c,), is within the tolerance.

    Where all carriers are linear it is of degree one. A stretch has at least the ``nodes`` that one before it took; those of the last are returned
    too. All stretches are asked for together, as a question costs much and a station little.

    Raises:
        Problem: they cannot be held to the tolerance.
    """
    probes = np.linspace(cuts[:, 0], cuts[:, 1], PROBED, axis=1)
    found = _read(carriers, probes)
    chords = found[:, :1] + (found[:, -1:] - found[:, :1]) * np.linspace(0.0, 1.0, PROBED)[:, None]
    bent = np.abs(found - chords).max(axis=(1, 2)) * weights.sum() >= STRAIGHT * (1 + np.abs(found).max(axis=(1, 2)))
    fits = [BSpline(np.repeat(cut, 2), ends[[0, -1]], 1) for cut, ends in zip(cuts, found, strict=True)]
    ends = dict(zip(np.flatnonzero(bent).tolist(), _read(slopes, cuts[bent]), strict=True)) if bent.any() else {}
    while ends:
        some = list(ends)
        s = np.linspace(cuts[some, 0], cuts[some, 1], 2 * nodes - 1, axis=1)  # nodes, and the places midway between them
        for k, stations, exact in zip(some, s, _read(carriers, s), strict=True):
            fits[k] = _through(stations[::2], exact[::2], ends[k])
            off = np.linalg.norm((fits[k](stations[1::2]) - exact[1::2]).reshape(nodes - 1, -1, 3), axis=2)
            if (off @ weights).max() > tolerance:
                break  # it takes more nodes, and so do those after it
            del ends[k]
        if ends and nodes > MOST:
            at = float(cuts[next(iter(ends)), 0])
            raise Problem("tolerance", f"The sweep cannot be held to {tolerance:g} mm near station {mm(at)}.", "Smooth the path there.", station=at)
        nodes += nodes // 2 if ends else 0
    return fits, nodes


def _read(read: Read, s: Array) -> Array:
    """What is read at stations (k, n): (k, n, m)."""
    values = read(s.ravel())
    return values.reshape(*s.shape, values.shape[1])


def _through(s: Array, values: Array, slopes: Array) -> BSpline:
    """The quintic through values (n, m) at stations (n,), with slopes (2, m) at its ends."""
    knots = np.concatenate([[s[0]] * 6, s[2:-2], [s[-1]] * 6])
    ends: Any = ([(1, slopes[0])], [(1, slopes[1])])
    return make_interp_spline(s, values, k=5, t=knots, bc_type=ends)
