"""How close copies of one shape come to each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from leadline.core.clearance.shape import Shape
from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array

SEEDS = 2
SLOPPY = 0.3  # largest error of the search for the closest places, as a share of the distance
ROUNDS = 12
TOUCH = 2e-4  # of the shape's radius: under it a mesh cannot tell touching from clear
NEAR = 0.03  # of the shape's radius: closer pairs may be inside each other
SETTLED = 1e-5  # mm that a further round must gain


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

    Pairs of copies are looked at whose balls come within ``reach`` (by default a ball's radius) of each other. The places
    where two come closest are found from spread vertices, then by going to and fro between the two surfaces, which ends
    where both are square to the line between them.
    """
    n = len(places)
    near = Near(np.full(n, np.inf), np.full(n, -1, dtype=np.int64), np.zeros((n, 3)))
    centres = places.moved(shape.centre[None])[:, 0]
    within = 2 * shape.radius + (shape.radius if reach is None else reach)
    pairs = cKDTree(centres).query_pairs(within, output_type="ndarray")
    if len(pairs) == 0:
        return near
    distance, at = _pair_distances(shape, places, pairs[:, 0], pairs[:, 1])
    for own, other in ((pairs[:, 0], pairs[:, 1]), (pairs[:, 1], pairs[:, 0])):
        order = np.lexsort((np.abs(other - own), distance, own))
        first = order[np.unique(own[order], return_index=True)[1]]
        better = first[distance[first] < near.distance[own[first]]]
        near.distance[own[better]] = distance[better]
        near.other[own[better]] = other[better]
        near.at[own[better]] = at[better]
    near.distance[near.distance < TOUCH * shape.radius] = 0.0
    return near


def _pair_distances(shape: Shape, places: Placements, first: Ints, second: Ints) -> tuple[Array, Array]:
    """Distances (k,) between the copies of each pair, and the middle of the shortest way (k, 3)."""
    moves = places.relative(first, second)  # in the frame of the first, the second stands moved by this
    seen = moves.moved(shape.coarse)  # (k, coarse, 3)
    rough = np.asarray(shape.vertices.query(seen.reshape(-1, 3), eps=SLOPPY)[0]).reshape(seen.shape[:2])
    seeds = np.argpartition(rough, SEEDS, axis=1)[:, :SEEDS]
    p, q, distance = _to_and_fro(shape, moves, np.take_along_axis(seen, seeds[:, :, None], axis=1))
    close = np.flatnonzero(distance < NEAR * shape.radius)
    deep, depth = shape.deepest(seen[close]) if len(close) else (np.zeros((0, 3)), np.zeros(0))
    inside = depth > TOUCH * shape.radius
    distance[close[inside]] = 0.0
    p[close[inside]] = q[close[inside]] = deep[inside]
    middle = np.einsum("nij,nj->ni", places.turns[first], (p + q) / 2) + places.shifts[first]
    return distance, middle


def _to_and_fro(shape: Shape, moves: Placements, seeds: Array) -> tuple[Array, Array, Array]:
    """From points (k, m, 3) of the second of each pair, m to a pair, to where the two are closest: points of the first
    and the second (k, 3) as the first sees them, and their distance (k,)."""
    k, m = seeds.shape[:2]
    q = seeds.reshape(-1, 3).copy()
    turns, shifts = (np.repeat(a, m, axis=0) for a in (moves.turns, moves.shifts))
    distance, p = shape.nearest(q)
    live = np.arange(len(q))
    for turn in range(ROUNDS):
        seen_back = np.einsum("nji,nj->ni", turns[live], p[live] - shifts[live])  # the first's point as the second sees it
        back = shape.nearest(seen_back)[1]
        q[live] = np.einsum("nij,nj->ni", turns[live], back) + shifts[live]
        d, p[live] = shape.nearest(q[live])
        settled = (distance[live] - d < SETTLED) | (d < TOUCH * shape.radius / 2)
        distance[live] = d
        live = live[~settled]
        if turn == 1:  # the better seed of each pair goes on alone
            leading = np.argmin(distance.reshape(k, m), axis=1) + np.arange(k) * m
            live = np.intersect1d(live, leading)
        if len(live) == 0:
            break
    rows = np.arange(k) * m + np.argmin(distance.reshape(k, m), axis=1)
    return p[rows], q[rows], distance[rows]
