"""Writes matching stretches of several sections as rational splines with one common degree, knots and weights.

Problem. To blend sections their edges must have the same basis. A stretch of section k is the rational spline N_k / w_k
with numerator N_k and weight w_k, both piecewise polynomials; the weights of a circle's arc and of a line differ.

Method. Let W be the product of all weights that differ from each other. Then (N_k W / w_k) / W is the same curve
exactly, so that circles stay circles. W / w_k is a product of the other weights, hence a polynomial, and all numerators
and W are splines of one degree on the union of all knots. Their coefficients are found by interpolation at the Greville
points, which is exact as the functions lie in the spline space (de Boor, A Practical Guide to Splines, 2001,
chapter XIII).
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence

import numpy as np
from numpy.polynomial import Polynomial
from scipy.interpolate import BSpline

from leadline.core.geometry.edges import Edge, greville
from leadline.core.geometry.plane import Array
from leadline.core.loft.outline import SNAP, Part

SAME = 1e-12
SMOOTH = 5
CLOSE = 1e-8
PROBES = np.linspace(0.0, 1.0, 17)

Stretch = Part | Array  # an Array (2,) is a section that is a point


def stacked(stretches: Sequence[Stretch], origin: str, more: Sequence[Polynomial] = ()) -> Edge:
    """One edge for the matching stretches of all sections.

    Args:
        stretches: The stretch of each section, the first one first; a point (2,), mm, where a section is one.
        origin: The name of the edge.
        more: Further coordinates of the edge's points, as polynomials of the parameter, which runs from 0 at the
            stretch's start to 1 at its end.

    Returns:
        An edge on [0, 1] whose points have x and y in the first section, then for each of k further sections the two
        differences from the first, then one coordinate for each of ``more``.
    """
    parts = [s for s in stretches if isinstance(s, Part)]
    weights = _different(parts)
    degree = max(_degree(s, weights) for s in stretches)
    if more:
        degree = max(degree, max(p.degree() for p in more) + sum(w.edge.degree for w in weights))
    knots = _knots(parts, degree)
    at = greville(knots, degree)
    design = BSpline.design_matrix(at, knots, degree).toarray()
    common = np.prod([_weight(p, at) for p in weights], axis=0) if weights else np.ones(len(at))
    tall = [_numerator(s, weights, at, common) for s in stretches]
    found = np.linalg.solve(design, np.column_stack([*tall, *(p(at) * common for p in more), common]))
    weight = found[:, -1]
    every = found[:, :-1] / weight[:, None]
    xy, rest = every[:, : 2 * len(stretches)], every[:, 2 * len(stretches) :]
    control = np.hstack([xy[:, :2], xy[:, 2:] - np.tile(xy[:, :2], (1, len(stretches) - 1)), rest])
    if degree == 1 or np.ptp(weight) < SAME:
        weight = np.ones(len(weight))
    return Edge(control, weight, knots, degree, origin)


def with_columns(edge: Edge, columns: Callable[[Array], Array]) -> Edge | None:
    """An edge whose points have further coordinates, which are given as functions of its parameter.

    The curve itself stays exactly what it is; it is written in degree ``SMOOTH`` at least and on ever more knots, until
    the further coordinates are within ``CLOSE`` of the functions, as a share of their greatest value.

    Args:
        edge: The edge.
        columns: Gives the k further coordinates, (n, k), at parameters (n,).

    Returns:
        The edge, or None where the functions are not smooth enough for 32 spans between its own knots.
    """
    degree = max(edge.degree, SMOOTH)
    probes = np.concatenate([np.linspace(a, b, 9)[1:-1:2] for a, b in itertools.pairwise(np.unique(edge.knots))])
    size = float(np.abs(columns(probes)).max())
    for cells in (1, 2, 4, 8, 16, 32):
        finer = _finer(edge, degree, cells)
        at = greville(finer, degree)
        known = np.column_stack([edge.control, edge.weights])
        h = BSpline(edge.knots, np.column_stack([known[:, :-1] * known[:, -1:], known[:, -1:]]), edge.degree)(at)
        found = np.linalg.solve(
            BSpline.design_matrix(at, finer, degree).toarray(),
            np.column_stack([h[:, :-1], columns(at) * h[:, -1:], h[:, -1:]]),
        )
        weight = np.asarray(found[:, -1])
        even = float(np.ptp(weight)) < SAME
        made = Edge(
            found[:, :-1] / weight[:, None],
            np.ones(len(weight)) if even else weight,
            finer,
            degree,
            edge.origin,
            edge.arc,
        )
        t = np.concatenate([np.linspace(a, b, 7)[1:-1] for a, b in itertools.pairwise(np.unique(finer))])
        if np.abs(made.point(t)[:, edge.control.shape[1] :] - columns(t)).max() <= CLOSE * size:
            return made
    return None


def _finer(edge: Edge, degree: int, cells: int) -> Array:
    """The knots, clamped, on which an edge can be written in a higher degree, each span of it cut into ``cells``."""
    inner = _gathered(edge.knots[edge.degree + 1 : -edge.degree - 1])
    ends = edge.domain
    places = [ends[0], *(v for v, _ in inner), ends[1]]
    new = [np.linspace(a, b, cells + 1)[1:-1] for a, b in itertools.pairwise(places)]
    old = [np.full(degree - edge.degree + count, v) for v, count in inner]
    return np.concatenate(
        [np.full(degree + 1, ends[0]), np.sort(np.concatenate([*new, *old])), np.full(degree + 1, ends[1])]
    )


def _weight(part: Part, v: Array) -> Array:
    w = part.homogeneous(v)[:, 2]
    return np.asarray(w / part.homogeneous(np.zeros(1))[0, 2])


def _rational(part: Part) -> bool:
    return float(np.ptp(_weight(part, PROBES))) > SAME


def _alike(a: Part, b: Part) -> bool:
    return float(np.abs(_weight(a, PROBES) - _weight(b, PROBES)).max()) < SAME


def _different(parts: Sequence[Part]) -> list[Part]:
    """One part for each different weight function that is not constant."""
    found: list[Part] = []
    for part in parts:
        if _rational(part) and not any(_alike(part, known) for known in found):
            found.append(part)
    return found


def _others(stretch: Stretch, weights: Sequence[Part]) -> list[Part]:
    """The parts whose weights make up W / w_k of a stretch: all but the one that has its own weight."""
    own = isinstance(stretch, Part) and _rational(stretch)
    return [w for w in weights if not (own and isinstance(stretch, Part) and _alike(stretch, w))]


def _degree(stretch: Stretch, weights: Sequence[Part]) -> int:
    own = stretch.edge.degree if isinstance(stretch, Part) else 0
    return max(1, own + sum(w.edge.degree for w in _others(stretch, weights)), sum(w.edge.degree for w in weights))


def _numerator(stretch: Stretch, weights: Sequence[Part], v: Array, common: Array) -> Array:
    if not isinstance(stretch, Part):
        return common[:, None] * stretch
    h = stretch.homogeneous(v)
    scale = np.prod([_weight(w, v) for w in _others(stretch, weights)], axis=0) if weights else np.ones(len(v))
    return np.asarray(h[:, :2] / stretch.homogeneous(np.zeros(1))[0, 2] * np.reshape(scale, (-1, 1)))


def _knots(parts: Sequence[Part], degree: int) -> Array:
    """Clamped knots on [0, 1] for a degree, such that each part is a spline on them.

    A knot at which a part has c continuous derivatives is repeated ``degree - c`` times, with the least c of all parts.
    """
    inner: list[tuple[float, int]] = []  # a share, and how many derivatives are continuous there
    for part in parts:
        inner += [(v, part.edge.degree - count) for v, count in _gathered(part.knots)]
    smooth: dict[float, int] = {}
    for v, order in sorted(inner):
        known = next((k for k in smooth if abs(k - v) < SNAP), v)
        smooth[known] = min(smooth.get(known, order), order)
    repeated = [np.full(degree - max(0, order), v) for v, order in smooth.items()]
    return np.concatenate([np.zeros(degree + 1), *repeated, np.ones(degree + 1)])


def _gathered(knots: Array) -> list[tuple[float, int]]:
    """The different knots, in order, each with its multiplicity."""
    found: list[tuple[float, int]] = []
    for v in knots:
        if found and v - found[-1][0] < SNAP:
            found[-1] = (found[-1][0], found[-1][1] + 1)
        else:
            found.append((float(v), 1))
    return found
