"""Where a sweep comes back to itself: parts of the path that are far apart along it, but near in space."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares
from scipy.spatial import cKDTree

from leadline.core.geometry.plane import Array, cross
from leadline.core.problems import Message, mm
from leadline.core.sweep.motion import Motion

CLEARANCE_GRID = 200
A_REACH = 4  # stations on a way as long as the section reaches
MOST_STATIONS = 6000
MOST_PASSES = 40
FAR = 2.2  # times the section's reach: nearer along the path than this, two stations are one place
ONE_PLACE = 1e-9  # of the reach: nearer than this, two places have no direction between them


def self_clearance(motion: Motion, hull: Array, s: Array) -> Array:
    """Room between the section at stations s and the nearest section far along the path, mm; nan where there is none.

    Stations nearer to each other than the section is wide, or than a half turn of their bend, do not count.
    """
    if not _comes_back(motion):
        return np.full(len(s), np.nan)
    grid = np.linspace(0.0, motion.length, CLEARANCE_GRID)
    f = motion.frames(grid)
    outlines = f.at(hull)
    reach = np.linalg.norm(outlines - f.P[:, None], axis=2).max(axis=1)
    bend = np.linalg.norm(f.K, axis=1)
    near = np.maximum(FAR * reach, np.pi / np.maximum(bend, np.pi / motion.length))
    gaps = np.linalg.norm(f.P[:, None] - f.P, axis=2) - reach[:, None] - reach
    gaps[_along(motion, grid[:, None], grid) <= np.maximum(near[:, None], near)] = np.inf
    other = gaps.argmin(axis=1)
    far = np.isfinite(gaps.min(axis=1))
    room = np.full(len(grid), np.nan)
    if far.any():
        room[far] = _room(outlines, f.P, np.flatnonzero(far), other[far])
    return np.asarray(np.interp(s, grid, room))


def _comes_back(motion: Motion) -> bool:
    """Whether the path turns by half a turn in all, without which it goes on away from itself."""
    s = motion.path.samples()
    bend = np.linalg.norm(motion.path.curvature(s), axis=1)
    corners = sum(j.turn for j in motion.path.joints)
    return corners + float(((bend[1:] + bend[:-1]) / 2 * np.diff(s)).sum()) > 0.95 * np.pi


def _along(motion: Motion, a: Array, b: Array) -> Array:
    """Distance along the path between stations, the short way round a closed one."""
    way = np.abs(a - b)
    return np.asarray(np.minimum(way, motion.length - way) if motion.path.closed else way)


def _room(outlines: Array, places: Array, i: NDArray[np.intp], j: NDArray[np.intp]) -> Array:
    """Distance between pairs of stations less how far both sections reach towards each other, mm.

    Outlines (n, m, 3) belong to places (n, 3); each pair is looked at along the line between its places.
    """
    gap = places[j] - places[i]
    distance = np.maximum(np.linalg.norm(gap, axis=1), 1e-12)
    way = gap / distance[:, None]
    ahead = np.einsum("nmk,nk->nm", outlines[i] - places[i][:, None], way).max(axis=1)
    back = np.einsum("nmk,nk->nm", outlines[j] - places[j][:, None], -way).max(axis=1)
    return np.asarray(distance - ahead - back)


def self_touch(motion: Motion, hull: Array) -> list[Message]:
    """Warn where parts of the path that are far apart along it come so close that their sections overlap.

    Of all places where the path passes itself, each closed in on exactly, the one where the sections overlap most is
    told.
    """
    if not _comes_back(motion):
        return []
    widest = motion.frames(motion.path.samples(8))
    reach = float(np.linalg.norm(widest.at(hull) - widest.P[:, None], axis=2).max())
    n = int(min(MOST_STATIONS, max(64, A_REACH * motion.length / max(reach, 1e-9))))
    s = np.linspace(0, motion.length, n)
    P = motion.path.point(s)
    pairs = cKDTree(P).query_pairs(2 * reach + 2 * motion.length / n, output_type="ndarray")
    pairs = pairs[_along(motion, s[pairs[:, 0]], s[pairs[:, 1]]) > FAR * reach]
    passes = [_nearest_pass(motion, float(s[i]), float(s[j])) for i, j in _low_pairs(P, pairs, motion.path.closed)]
    found = [
        _overlap(motion, hull, a, b, reach)
        for a, b in passes
        if _along(motion, np.array([a]), np.array([b]))[0] > FAR * reach
    ]
    if not found:
        return []
    a, b, overlap, apart = max(found, key=lambda one: one[2])
    if overlap <= 0:
        return []
    return [
        Message(
            "warning",
            "touches-itself",
            f"The path comes within {mm(apart)} of itself, at {mm(a)} and "
            f"{mm(b)}; the sections there overlap by {mm(overlap)}.",
            "Move the two apart, or make the section smaller.",
            {"station": a, "range": [a, b]},
        )
    ]


def _low_pairs(P: Array, pairs: NDArray[np.intp], closed: bool) -> list[tuple[int, int]]:
    """Of pairs (k, 2) of stations those that are as near as all of their eight neighbours, the nearest ones first."""
    if len(pairs) == 0:
        return []
    n = len(P)
    distance = np.linalg.norm(P[pairs[:, 0]] - P[pairs[:, 1]], axis=1)
    low = np.ones(len(pairs), dtype=bool)
    for step in np.ndindex(3, 3):
        i, j = (pairs + np.array(step) - 1).T
        i, j = (i % (n - 1), j % (n - 1)) if closed else (np.clip(i, 0, n - 1), np.clip(j, 0, n - 1))
        low &= distance <= np.linalg.norm(P[i] - P[j], axis=1) * (1 + 1e-12)
    found = np.flatnonzero(low)
    nearest = found[np.argsort(distance[found], kind="stable")][:MOST_PASSES]
    return [(int(i), int(j)) for i, j in pairs[nearest]]


def _nearest_pass(motion: Motion, a: float, b: float) -> tuple[float, float]:
    """Two stations near a and b between which the path's own distance is least."""

    def gap(v: Array) -> Array:
        p = motion.path.point(v)
        return np.asarray(p[0] - p[1])

    def slopes(v: Array) -> Array:
        t = motion.path.tangent(v)
        return np.stack([t[0], -t[1]], axis=1)

    room = motion.length * 1e-12
    found = least_squares(
        gap, [a, b], jac=slopes, bounds=([-room] * 2, [motion.length + room] * 2), xtol=1e-14, ftol=1e-14, gtol=1e-14
    )
    first, last = np.clip(np.sort(found.x), 0.0, motion.length)
    return float(first), float(last)


def _overlap(motion: Motion, hull: Array, a: float, b: float, reach: float) -> tuple[float, float, float, float]:
    """Stations a and b, by how much the sections there overlap, and how far apart the path's two places are.

    The line between the places is square to the path at both; where they fall together it is square to both ways.
    """
    f = motion.frames(np.array([a, b]))
    gap = f.P[1] - f.P[0]
    apart = float(np.linalg.norm(gap))
    square = cross(f.T[0], f.T[1])
    if apart > ONE_PLACE * reach:
        way = gap / apart
    elif float(np.linalg.norm(square)) > ONE_PLACE:
        way = square / np.linalg.norm(square)
    else:
        way = f.Y[0] / np.linalg.norm(f.Y[0])
    outlines = f.at(hull)
    ahead = float(((outlines[0] - f.P[0]) @ way).max())
    back = float(((outlines[1] - f.P[1]) @ -way).max())
    return a, b, ahead + back - apart, apart
