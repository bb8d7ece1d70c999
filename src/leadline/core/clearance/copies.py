"""How close copies of one shape come to each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree
from scipy.spatial.distance import cdist

from leadline.core.clearance.shape import Shape
from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array

SEARCHES = (
    4096  # shared out among the pairs of copies, as there may be several places that are closest about themselves
)
LEAST_SEEDS, MOST_SEEDS = 4, 32  # places of a pair from which the closest ones are searched
LEAST_SEEN = 64  # coarse vertices among which they are chosen
ROUNDS = 100
PATIENT = 3  # rounds before longer steps are tried
FIRST_ASKED = 3  # copies that each is measured to at first, itself among them
AT_ONCE = 4096  # pairs, so that the memory for them stays small
TOUCH = 2e-4  # of the shape's radius: under it a mesh cannot tell touching from clear
NEAR = 0.03  # of the shape's radius: closer pairs may be inside each other
SETTLED = 1e-7  # mm that a further round must gain


@dataclass(frozen=True)
class Near:
    """For each copy (n,) the distance to the nearest other, which that is, and where the two come closest (n, 3).

    Where no other comes within reach the distance is infinite and the other -1; of those that touch or cross it is 0.
    """

    distance: Array
    other: Ints
    at: Array


def clearances(shape: Shape, places: Placements, reach: float | None = None) -> Near:
    """The clearance of each copy to the others.

    Pairs of copies count whose balls come within ``reach`` (by default a ball's radius) of each other. Each copy is
    measured to those whose centres are nearest first, then to ever more of them, until no other can be nearer: so a
    copy in a dense heap is measured to a few of the hundreds about it.
    """
    n = len(places)
    near = Near(np.full(n, np.inf), np.full(n, -1, dtype=np.int64), np.zeros((n, 3)))
    centres = places.moved(shape.centre[None])[:, 0]
    tree = cKDTree(centres)
    within = 2 * shape.radius + (shape.radius if reach is None else reach)
    open_copies, known, asked = np.arange(n), 0, FIRST_ASKED
    while len(open_copies) and known < n:
        asked = min(asked, n)
        found = tree.query(centres[open_copies], k=np.arange(known + 1, asked + 2), distance_upper_bound=within)
        away, others = np.asarray(found[0]), np.asarray(found[1])  # of the last it is only looked at how far it is
        rows, columns = np.nonzero(np.isfinite(away[:, :-1]))
        _measure_pairs(shape, places, near, np.column_stack([open_copies[rows], others[rows, columns]]))
        best = near.distance[open_copies]
        nearer = (away[:, -1] < best + 2 * shape.radius) & (best >= TOUCH * shape.radius)  # never at an infinite way
        open_copies, known, asked = open_copies[nearer], asked, 2 * asked
    near.distance[near.distance < TOUCH * shape.radius] = 0.0
    return near


def _measure_pairs(shape: Shape, places: Placements, near: Near, pairs: Ints) -> None:
    """Write into ``near`` what pairs of copies (k, 2) give that may be closer than what is known of either."""
    pairs = pairs[pairs[:, 0] != pairs[:, 1]]
    pairs = np.unique(np.sort(pairs, axis=1), axis=0)
    for start in range(0, len(pairs), AT_ONCE):
        first, second = pairs[start : start + AT_ONCE].T
        best = np.maximum(near.distance[first], near.distance[second])
        known = np.flatnonzero(np.isfinite(best))
        hopeless = known[_least_distances(shape, places, first[known], second[known]) >= best[known]]
        first, second = np.delete(first, hopeless), np.delete(second, hopeless)
        if len(first) == 0:
            continue
        distance, at = _pair_distances(shape, places, first, second)
        for own, other in ((first, second), (second, first)):
            order = np.lexsort((np.abs(other - own), distance, own))
            leading = order[np.unique(own[order], return_index=True)[1]]
            better = leading[distance[leading] < near.distance[own[leading]]]
            near.distance[own[better]] = distance[better]
            near.other[own[better]] = other[better]
            near.at[own[better]] = at[better]


def _least_distances(shape: Shape, places: Placements, first: Ints, second: Ints) -> Array:
    """Below which the distances of pairs of copies (k,) cannot be: that of the balls that cover the shape."""
    centres, radii = shape.balls
    seen = places.relative(first, second).moved(centres)  # (k, balls, 3)
    away = cdist(seen.reshape(-1, 3), centres).reshape(*seen.shape[:2], len(centres)) - radii[:, None] - radii
    return np.asarray(away.min(axis=(1, 2)))


def _pair_distances(shape: Shape, places: Placements, first: Ints, second: Ints) -> tuple[Array, Array]:
    """Distances (k,) between the copies of each pair, and the middle of the shortest way (k, 3)."""
    moves = places.relative(first, second)  # in the frame of the first, the second stands moved by this
    seeds = min(max(SEARCHES // len(first), LEAST_SEEDS), MOST_SEEDS)
    seen = moves.moved(shape.coarse[: max(LEAST_SEEN, 4 * seeds)])  # (k, m, 3)
    p, q, distance = _to_and_fro(shape, moves, _seeds(shape, seen, seeds))
    close = np.flatnonzero(distance < NEAR * shape.radius)
    deep, depth = shape.deepest(seen[close]) if len(close) else (np.zeros((0, 3)), np.zeros(0))
    inside = depth > TOUCH * shape.radius
    distance[close[inside]] = 0.0
    p[close[inside]] = q[close[inside]] = deep[inside]
    middle = np.einsum("nij,nj->ni", places.turns[first], (p + q) / 2) + places.shifts[first]
    return distance, middle


def _seeds(shape: Shape, seen: Array, count: int) -> Array:
    """Of each row of points (k, m, 3) so many that come nearest to the shape, roughly: (k, count, 3)."""
    m = seen.shape[1]
    if m <= count:
        return seen
    away = (
        cdist(shape.coarse[: max(m, LEAST_SEEN) // 2], seen.reshape(-1, 3), "sqeuclidean")
        .min(axis=0)
        .reshape(seen.shape[:2])
    )
    return np.take_along_axis(seen, np.argpartition(away, count, axis=1)[:, :count, None], axis=1)


def _to_and_fro(shape: Shape, moves: Placements, seeds: Array) -> tuple[Array, Array, Array]:
    """From points (k, m, 3) of the second of each pair, m to a pair, to where the two are closest: points of the first
    and the second (k, 3) as the first sees them, and their distance (k,).

    Each point goes to the nearest one of the other shape by turns. Between sides that run nearly along each other that
    takes many small steps: after a few of them ever longer ones are tried the same way, and taken where they bring the
    points closer.
    """
    k, m = seeds.shape[:2]
    q = seeds.reshape(-1, 3).copy()
    turns, shifts = (np.repeat(a, m, axis=0) for a in (moves.turns, moves.shifts))
    distance, p = shape.nearest(q)
    pace = np.ones(len(q))
    live = np.arange(len(q))

    def onto_second(points: Array, rows: Ints) -> Array:
        """The points of the second shape that are nearest to some (n, 3), as the first sees both."""
        seen_back = np.einsum("nji,nj->ni", turns[rows], points - shifts[rows])
        return np.asarray(np.einsum("nij,nj->ni", turns[rows], shape.nearest(seen_back)[1]) + shifts[rows])

    for turn in range(ROUNDS):
        before, was = q[live], distance[live]
        q[live] = onto_second(p[live], live)
        distance[live], p[live] = shape.nearest(q[live])
        if turn >= PATIENT:
            tried = onto_second(q[live] + pace[live, None] * (q[live] - before), live)
            away, there = shape.nearest(tried)
            closer = away < distance[live]
            pace[live] = np.where(closer, 2 * pace[live], np.maximum(1.0, pace[live] / 4))
            some = live[closer]
            q[some], p[some], distance[some] = tried[closer], there[closer], away[closer]
        live = live[(was - distance[live] >= SETTLED) & (distance[live] >= TOUCH * shape.radius / 2)]
        if turn == 1:  # the better seed of each pair goes on alone
            leading = np.argmin(distance.reshape(k, m), axis=1) + np.arange(k) * m
            live = np.intersect1d(live, leading)
        if len(live) == 0:
            break
    rows = np.arange(k) * m + np.argmin(distance.reshape(k, m), axis=1)
    return p[rows], q[rows], distance[rows]
