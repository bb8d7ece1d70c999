"""Quintic splines through the carriers of a motion, over the stretches that its spans are of, with knots only where the
tolerance asks for them.

The error of a spline of degree k between two of its knots grows as the (k + 1)-th power of their distance (de Boor, A
Practical Guide to Splines, 2001, chapter XII), so that what it is off by between its knots tells how many of them are
needed there for a tolerance: they are spread anew by that until no fewer will do.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence

import numpy as np
from scipy.interpolate import BSpline
from scipy.linalg import solveh_banded
from scipy.signal import find_peaks

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm

STRAIGHT = 1e-10  # of the size of what is carried, by which it may be off its chord
DEGREE = 5
SAMPLES, IN_A_CELL = 33, 3  # stations of a stretch at least, and between one of the path's own knots and the next
IN_AN_INTERVAL = 5  # stations between one knot and the next at least
# of the tolerance: what is asked for of the stations that the spline is fitted at, as it may be off more between them
AIM = 0.5
ROUNDS = 24  # in which knots are spread anew
SPARING = 0.85  # of the knots there are: where fewer than these would do, they are spread anew
GROWTH = 1.04  # of the knots, each time that they were not enough
FEWEST_SHARE = 0.2  # of an interval: no other one grows into more of it at once
GATHERED = 3.0  # times as near to each other as beside there: knots that gather
MOST = 4000  # intervals of one spline

Read = Callable[[Array], Array]
"""Values (n, m) at stations (n,)."""


def splines(
    carriers: Read,
    slopes: Read,
    cuts: Array,
    weights: Array,
    tolerance: float,
    breaks: Sequence[Array],
    kinks: Sequence[Array],
) -> list[BSpline]:
    """For each stretch between two stations, ``cuts`` (k, 2), a spline with the exact carriers (n, 3 c) and slopes at
    both ends, and by no more than the tolerance off them in between: what the carriers are off by, each times its
    weight (c,).

    Where all carriers are linear it is of degree one. ``breaks`` and ``kinks`` are for each stretch the stations inside
    of it where the path has knots of its own, and where its curvature changes otherwise than before. All stretches are
    asked for together, as a question costs much and a station little.

    Raises:
        Problem: they cannot be held to the tolerance.
    """
    sampled = [_sampled(cut, *own) for cut, *own in zip(cuts, breaks, kinks, strict=True)]
    values = np.split(carriers(np.concatenate(sampled)), np.cumsum([len(s) for s in sampled])[:-1])
    bent = np.array([_off_chord(s, v, weights) for s, v in zip(sampled, values, strict=True)])
    fits = [BSpline(np.repeat(cut, 2), v[[0, -1]], 1) for cut, v in zip(cuts, values, strict=True)]
    if not bent.any():
        return fits
    some = np.flatnonzero(bent)
    ends = slopes(cuts[some].ravel()).reshape(len(some), 2, -1)
    like = np.zeros(0)  # the inner knots of the one before, as shares of it: one turn of a coil is as another
    for k, sides in zip(some.tolist(), ends, strict=True):
        fits[k] = _Stretch(carriers, sampled[k], values[k], sides, weights, tolerance).fitted(
            like, np.union1d(breaks[k], kinks[k])
        )
        a, b = cuts[k]
        like = (np.unique(fits[k].t[DEGREE + 1 : -DEGREE - 1]) - a) / (b - a)
    return fits


def _sampled(cut: Array, breaks: Array, kinks: Array) -> Array:
    """Stations of a stretch (n,), its ends among them, some in each cell between the path's own knots, and its
    kinks.
    """
    cells = np.concatenate([cut[:1], breaks, cut[1:]])
    each = max(IN_A_CELL, -(-(SAMPLES - 1) // (len(cells) - 1)))
    inner = cells[:-1, None] + np.diff(cells)[:, None] * np.arange(each) / each
    return np.union1d(np.append(inner.ravel(), cut[1]), kinks)


def _off_chord(s: Array, values: Array, weights: Array) -> bool:
    """Whether values (n, m) are off the straight line between the first and the last by more than rounding."""
    share = ((s - s[0]) / (s[-1] - s[0]))[:, None]
    off = values - values[0] - share * (values[-1] - values[0])
    size = 1 + np.abs(values - values[0]).max()
    rounding = 8 * np.finfo(float).eps * np.abs(values).max()
    return bool(np.abs(off).max() * weights.sum() >= STRAIGHT * size + rounding * weights.sum())


class _Stretch:
    """One stretch: where its carriers are known, and what is asked of its spline."""

    def __init__(
        self, carriers: Read, stations: Array, values: Array, slopes: Array, weights: Array, tolerance: float
    ) -> None:
        self.carriers, self.s, self.slopes, self.weights, self.tolerance = (
            carriers,
            stations,
            slopes,
            weights,
            tolerance,
        )
        self.origin = values[0]  # far from the origin of space the equations would be solved to fewer digits
        self.values = values - self.origin
        self.a, self.b = float(stations[0]), float(stations[-1])

    def fitted(self, like: Array, kinks: Array) -> BSpline:
        """The spline; its first try has inner knots at the shares ``like`` of the stretch.

        At ``kinks`` about which knots gather it is let be smooth to the second order only, if that takes fewer of them.

        Raises:
            Problem: it cannot be held to the tolerance.
        """
        knots = self.a + like * (self.b - self.a) if len(like) else np.linspace(self.a, self.b, 4)[1:-1]
        best = self._settled(knots, np.zeros(0))
        if best is not None and len(held := _gathered(best, kinks)):
            other = self._settled(np.union1d(np.unique(best.t[DEGREE + 1 : -DEGREE - 1])[::3], held), held)
            best = other if other is not None and len(other.c) < len(best.c) else best
        if best is None:
            raise Problem(
                "tolerance",
                f"The sweep cannot be held to {self.tolerance:g} mm near station {mm(self.a)}.",
                "Smooth the path there.",
                station=self.a,
            )
        return BSpline(best.t, best.c + self.origin, DEGREE)

    def _settled(self, knots: Array, held: Array) -> BSpline | None:
        """The spline with about the fewest knots, from a first try; those of ``held``, which are among them, stay, each
        three times.

        None where too many were needed.
        """
        best: BSpline | None = None
        more = 1.0  # times as many as by the power law, which holds the better the more knots there are
        for _ in range(ROUNDS):
            self._see_between(knots)
            try:
                fit = self._through(np.sort(np.concatenate([knots, held, held])))
            except np.linalg.LinAlgError:  # knots as near to each other as rounding: there is a step
                break
            needed = self._needed(fit, knots)
            if needed.max() > 1.0:
                more *= GROWTH
            elif self._holds_between(fit):
                best, least = fit, SPARING * len(knots)
            spread = _spread(np.concatenate([[self.a], knots, [self.b]]), needed, more, held)
            if len(spread) > MOST or (best is not None and len(spread) > least):
                break
            knots = spread
        return best

    def _see_between(self, knots: Array) -> None:
        """Asks for more stations where there are too few between two knots."""
        edges = np.concatenate([[self.a], knots, [self.b]])
        counts = np.histogram(self.s, edges)[0]
        few = np.flatnonzero(counts < IN_AN_INTERVAL)
        if len(few):
            places = (np.arange(IN_AN_INTERVAL) + 0.5) / IN_AN_INTERVAL
            stations = (edges[few, None] + (edges[few + 1] - edges[few])[:, None] * places).ravel()
            self._know(stations, self.carriers(stations) - self.origin)

    def _know(self, stations: Array, values: Array) -> None:
        """Takes stations (n,) to those that are known, with their values (n, m) beside the first ones."""
        s = np.concatenate([self.s, stations])
        order = np.argsort(s, kind="stable")
        self.s, self.values = s[order], np.concatenate([self.values, values])[order]

    def _through(self, inner: Array) -> BSpline:
        """The spline of least squares with inner knots (n,), exact in value and slope at both ends."""
        t = np.concatenate([[self.a] * (DEGREE + 1), inner, [self.b] * (DEGREE + 1)])
        n = len(t) - DEGREE - 1
        c = np.zeros((n, self.values.shape[1]))
        c[0], c[-1] = self.values[0], self.values[-1]
        c[1] = c[0] + (t[DEGREE + 1] - self.a) / DEGREE * self.slopes[0]
        c[-2] = c[-1] - (self.b - t[-DEGREE - 2]) / DEGREE * self.slopes[1]
        basis = BSpline.design_matrix(self.s, t, DEGREE).tocsc()
        free = basis[:, 2:-2]
        left = self.values - basis @ c
        square = (free.T @ free).todia()
        bands = np.zeros((DEGREE + 1, n - 4))
        for k in range(min(DEGREE + 1, n - 4)):
            bands[DEGREE - k, k:] = square.diagonal(k)
        c[2:-2] = solveh_banded(bands, free.T @ left)
        return BSpline(t, c, DEGREE)

    def _off(self, fit: BSpline, s: Array, values: Array) -> Array:
        """By how much a spline is off values (n, m) at stations (n,), mm."""
        return np.asarray(np.linalg.norm((fit(s) - values).reshape(len(s), -1, 3), axis=2) @ self.weights)

    def _needed(self, fit: BSpline, knots: Array) -> Array:
        """For each interval between knots how many there would have to be for the tolerance: one or less where it is
        enough.
        """
        off = self._off(fit, self.s, self.values)
        at = np.searchsorted(knots, self.s, side="right")
        worst = np.zeros(len(knots) + 1)
        np.maximum.at(worst, at, off)
        return np.maximum((worst / (AIM * self.tolerance)) ** (1 / (DEGREE + 1)), FEWEST_SHARE)

    def _holds_between(self, fit: BSpline) -> bool:
        """Whether a spline is within the tolerance midway between the stations too; where it is not they are known from
        now on.
        """
        between = (self.s[1:] + self.s[:-1]) / 2
        exact = self.carriers(between) - self.origin
        holds = bool((self._off(fit, between, exact) <= self.tolerance).all())
        if not holds:
            self._know(between, exact)
        return holds


def _spread(edges: Array, needed: Array, more: float, held: Array) -> Array:
    """Inner knots, ``held`` among them, such that the intervals between them have equal shares of what is needed (n,)
    between edges (n + 1,), ``more`` times as many.
    """
    sums = np.concatenate([[0.0], np.cumsum(needed)])
    bounds = np.concatenate([edges[:1], held, edges[-1:]])
    at = np.interp(bounds, edges, sums)
    found = [held]
    for low, high in itertools.pairwise(at.tolist()):
        count = max(1, math.ceil(more * (high - low)))
        found.append(np.interp(low + (high - low) * np.arange(1, count) / count, sums, edges))
    return np.sort(np.concatenate(found))


def _gathered(fit: BSpline, own: Array) -> Array:
    """Where a spline's knots gather, each at the path's own knot next to there: it has less of them if it is let be
    less smooth at these.
    """
    edges = np.unique(fit.t)
    dense = -np.log(np.diff(edges))
    peaks = find_peaks(dense, prominence=math.log(GATHERED))[0]
    if not len(peaks) or not len(own):
        return np.zeros(0)
    middles = (edges[peaks] + edges[peaks + 1]) / 2
    near = own[np.abs(own[:, None] - middles).argmin(axis=0)]
    return np.unique(near[np.abs(near - middles) < np.diff(edges)[peaks]])
