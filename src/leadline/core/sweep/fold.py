"""The fold test, before anything is built: where a section is too big for a bend of its path.

A sweep is locally a solid exactly where its rate J = det[C' + x X' + y Y', X, Y] keeps its sign over the section.
J is affine in (x, y), so the convex hull of the section decides. With its plane's own axes J / J(path) = 1 - p.k:
for a section square to its path, k is the path's curvature in the section's plane.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.optimize import brentq, least_squares, minimize_scalar
from scipy.spatial import cKDTree

from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Region
from leadline.core.problems import Message
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.motion import Motion
from leadline.core.units import LengthUnit, format_length

CLEARANCE_GRID = 200
MOST_CORNERS = 48
OUTLINE_SHARE = 1e-4  # of the section's size: the chord of an outline that a fold is looked for on


@dataclass(frozen=True)
class Fold:
    """``scale`` is the largest factor on the section that fits, ``bend`` the smallest radius that would."""

    start: float
    end: float
    worst: float
    reach: float
    radius: float
    scale: float
    bend: float


def reaching(motion: Motion, region: Region) -> Array:
    """The section points (m, 2) that reach farthest: the hull's corners, or the outline where it is not mapped affinely."""
    if motion.warp is None:
        return region.hull()
    size = float(np.ptp(region.outer.polygon(1.0), axis=0).max())
    return region.outer.polygon(size * OUTLINE_SHARE)


def bend_use(f: Frames, hull: Array) -> Array:
    """max over the hull (m, 2) of p.k at n frames: 1 means that the section just reaches the bend's centre."""
    j0, j1, j2 = f.jacobian.T
    k = -np.stack([j1, j2], axis=1) / j0[:, None]
    if f.warp is None:
        return np.asarray((k @ hull.T).max(axis=1))
    return np.asarray(np.einsum("nc,nmc->nm", k, f.flat(hull)).max(axis=1))


def folds(motion: Motion, hull: Array) -> list[Fold]:
    """Every stretch in which the section folds over itself, with its worst station."""
    s = _looked_at(motion)
    use = bend_use(motion.frames(s), hull)
    found = []
    over = np.flatnonzero(use >= 1.0)
    for run in np.split(over, np.flatnonzero(np.diff(over) > 1) + 1) if len(over) else []:
        lo, hi = int(run[0]), int(run[-1])
        start = _edge(motion, hull, s[lo - 1], s[lo]) if lo > 0 else float(s[0])
        end = _edge(motion, hull, s[hi], s[hi + 1]) if hi + 1 < len(s) else float(s[-1])
        worst = _worst(motion, hull, s, int(run[np.argmax(use[run])]))
        found.append(_fold(motion, hull, start, end, worst))
    return found


def _looked_at(motion: Motion) -> Array:
    """Stations close together on every smooth stretch."""
    smooth = [pair for i in range(len(motion.path.pieces)) for pair in pairwise(motion.breaks(i))]
    return np.unique(np.concatenate([np.linspace(a, b, 65) for a, b in smooth]))


def _edge(motion: Motion, hull: Array, a: float, b: float) -> float:
    def over(v: float) -> float:
        return float(bend_use(motion.frames(np.array([v])), hull)[0]) - 1.0

    if over(a) * over(b) >= 0:
        return float(b)
    return float(brentq(over, a, b, xtol=1e-6))


def _worst(motion: Motion, hull: Array, s: Array, i: int) -> float:
    a, b = float(s[max(i - 1, 0)]), float(s[min(i + 1, len(s) - 1)])
    best = minimize_scalar(
        lambda v: -float(bend_use(motion.frames(np.array([v])), hull)[0]), bounds=(a, b), method="bounded"
    )
    candidates = np.array([best.x, s[i]])
    return float(candidates[int(np.argmax(bend_use(motion.frames(candidates), hull)))])


def _fold(motion: Motion, hull: Array, start: float, end: float, worst: float) -> Fold:
    f = motion.frames(np.array([worst]))
    j0, j1, j2 = f.jacobian[0]
    k = np.linalg.solve(f.maps[0].T, -np.array([j1, j2]) / j0)
    size = float(np.hypot(*k))
    shift = f.plane(0).to_plane(f.P[0])  # distances count from the path, also where the section is shifted off it
    reach = float(((f.flat(hull)[0] @ f.maps[0].T - shift) @ (k / size)).max())
    radius = (1 - float(shift @ k)) / size
    return Fold(start, end, worst, reach, radius, radius / reach, reach)


def fold_messages(motion: Motion, hull: Array, unit: LengthUnit = "mm") -> list[Message]:
    """One message per folded stretch, in the designer's words."""
    messages = []
    for fold in folds(motion, hull):
        reach, radius = format_length(fold.reach, unit), format_length(fold.radius, unit)
        text = (
            f"The section ({reach} to its inner side) is wider than the bend at "
            f"{format_length(fold.worst, unit)} (radius {radius})."
        )
        way_out = (
            f"Largest section that fits: {format_length(fold.reach * fold.scale * 0.999, unit)} to its inner side. "
            f"Smallest bend radius: {format_length(fold.bend * 1.001, unit)}."
        )
        place = {"station": fold.worst, "range": [fold.start, fold.end]}
        messages.append(Message("error", "fold", text, way_out, place))
    return messages


def outline_crossings(motion: Motion, regions: Sequence[Region], unit: LengthUnit = "mm") -> list[Message]:
    """Where rails turn the section over or bend it so that its outline crosses itself."""
    if motion.rails is None:
        return []
    s = _looked_at(motion)
    f = motion.frames(s)
    bad = f.steepness <= 0
    for region in regions if motion.warp is not None else ():
        loops = [f.flat(loop.polygon(0.02)) @ np.moveaxis(f.maps, 1, 2) for loop in region.loops if not loop.open]
        bad |= [_crossed(rings) for rings in zip(*loops, strict=True)]
    if not bad.any():
        return []
    at, last = float(s[bad][0]), float(s[bad][-1])
    return [
        Message(
            "error", "outline-crosses", f"At {format_length(at, unit)} the rails turn the section's outline over or across itself.",
            "Draw the rails so that they keep their order round the section, or use fewer.", {"station": at, "range": [at, last], "field": "rails"},
        )
    ]  # fmt: skip


def _crossed(rings: Sequence[Array]) -> bool:
    """Whether outlines as they stand, the outer one drawn counter-clockwise, cross themselves, each other, or are turned over."""
    return not shapely.LinearRing(rings[0]).is_ccw or not shapely.Polygon(rings[0], rings[1:]).is_valid


def self_clearance(motion: Motion, hull: Array, s: Array) -> Array:
    """Room between the section at stations s and the nearest section far along the path, mm; nan where there is none.

    Stations nearer to each other than the section is wide, or than a half turn of their bend, do not count.
    """
    if not _comes_back(motion):
        return np.full(len(s), np.nan)
    grid = np.linspace(0.0, motion.length, CLEARANCE_GRID)
    f = motion.frames(grid)
    reach = np.linalg.norm(f.at(hull) - f.P[:, None], axis=2).max(axis=1)
    bend = np.linalg.norm(f.K, axis=1)
    near = np.maximum(2.2 * reach, np.pi / np.maximum(bend, np.pi / motion.length))
    gaps = np.linalg.norm(f.P[:, None] - f.P, axis=2) - reach[:, None] - reach
    gaps[_along(motion, grid[:, None], grid) <= np.maximum(near[:, None], near)] = np.inf
    other = gaps.argmin(axis=1)
    far = np.isfinite(gaps.min(axis=1))
    room = np.full(len(grid), np.nan)
    if far.any():
        room[far] = _room(f.at(hull), f.P, np.flatnonzero(far), other[far])
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


def self_touch(motion: Motion, hull: Array, unit: LengthUnit = "mm") -> list[Message]:
    """Warn where parts of the path that are far apart along it come so close that their sections overlap."""
    if not _comes_back(motion):
        return []
    widest = motion.frames(motion.path.samples(8))
    reach = float(np.linalg.norm(widest.at(hull) - widest.P[:, None], axis=2).max())
    n = int(min(4000, max(64, 3 * motion.length / max(reach, 1e-9))))
    s = np.linspace(0, motion.length, n)
    f = motion.frames(s)
    pairs = cKDTree(f.P).query_pairs(2 * reach, output_type="ndarray")
    if len(pairs) == 0:
        return []
    i, j = pairs.T
    gap = f.P[i] - f.P[j]
    distance = np.maximum(np.linalg.norm(gap, axis=1), 1e-12)
    lean = [np.abs((gap * f.T[k]).sum(axis=1)) / distance for k in (i, j)]
    crossing = distance < motion.length / n * 1.5
    apart = (_along(motion, s[i], s[j]) > 2.2 * reach) & (((lean[0] < 0.2) & (lean[1] < 0.2)) | crossing)
    candidates = np.flatnonzero(apart)
    if len(candidates) == 0:
        return []
    outlines = f.at(hull[:: max(1, len(hull) // MOST_CORNERS)])
    room = _room(outlines, f.P, i[candidates], j[candidates])
    worth = np.maximum(lean[0], lean[1])[candidates] + room / reach
    nearest = int(candidates[np.argmin(worth)])
    a, b, apart_by = _nearest_pass(motion, float(s[i[nearest]]), float(s[j[nearest]]))
    there = motion.frames(np.array([a, b]))
    overlap = -float(_room(there.at(hull), there.P, np.array([0]), np.array([1]))[0])
    if overlap <= 0:
        return []
    return [
        Message(
            "warning", "touches-itself",
            f"The path comes within {format_length(apart_by, unit)} of itself, at {format_length(a, unit)} and "
            f"{format_length(b, unit)}; the sections there overlap by {format_length(overlap, unit)}.",
            "Move the two apart, or make the section smaller.", {"station": a, "range": [a, b]},
        )
    ]  # fmt: skip


def _nearest_pass(motion: Motion, a: float, b: float) -> tuple[float, float, float]:
    """Refine two stations until the line between them is square to the path at both; with its length."""

    def leaning(v: Array) -> Array:
        p, t = motion.path.point(v), motion.path.tangent(v)
        return np.asarray(t @ (p[0] - p[1]))

    found = least_squares(leaning, [a, b], bounds=([0.0, 0.0], [motion.length, motion.length]))
    p = motion.path.point(found.x)
    first, last = sorted((float(found.x[0]), float(found.x[1])))
    return first, last, float(np.linalg.norm(p[0] - p[1]))
