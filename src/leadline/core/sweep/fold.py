"""The fold test, before anything is built: where a section is too big for a bend of its path.

A sweep that turns with its path is locally a solid exactly where J = 1 - p.k stays positive, with p a
point of the section and k the path's curvature vector in the section plane. J is affine in p, so the
convex hull of the section decides.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq, least_squares, minimize_scalar
from scipy.spatial import cKDTree

from leadline.core.geometry.plane import Array
from leadline.core.problems import Message
from leadline.core.sweep.motion import Frames, Motion
from leadline.core.units import LengthUnit, format_length


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


def bend_use(f: Frames, hull: Array) -> Array:
    """max over the hull (m, 2) of p.k at n frames: 1 means that the section just reaches the bend's centre."""
    k = np.stack([(f.K * f.X).sum(axis=1), (f.K * f.Y).sum(axis=1)], axis=1)
    return np.asarray((k @ hull.T).max(axis=1))


def folds(motion: Motion, hull: Array) -> list[Fold]:
    """Every stretch in which the section folds over itself, with its worst station."""
    s = motion.path.samples(64)
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


def _edge(motion: Motion, hull: Array, a: float, b: float) -> float:
    def over(v: float) -> float:
        return float(bend_use(motion.frames(np.array([v])), hull)[0]) - 1.0

    if over(a) * over(b) >= 0:
        return float(b)
    return float(brentq(over, a, b, xtol=1e-6))


def _worst(motion: Motion, hull: Array, s: Array, i: int) -> float:
    a, b = float(s[max(i - 1, 0)]), float(s[min(i + 1, len(s) - 1)])
    best = minimize_scalar(lambda v: -float(bend_use(motion.frames(np.array([v])), hull)[0]), bounds=(a, b), method="bounded")
    candidates = np.array([best.x, s[i]])
    return float(candidates[int(np.argmax(bend_use(motion.frames(candidates), hull)))])


def _fold(motion: Motion, hull: Array, start: float, end: float, worst: float) -> Fold:
    at = np.array([worst])
    f = motion.frames(at)
    k = np.array([float((f.K * f.X).sum()), float((f.K * f.Y).sum())])
    size = float(np.hypot(*k))
    reach = float((hull @ (k / size)).max())
    return Fold(start, end, worst, reach, 1 / size, 1 / (reach * size), reach)


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


def self_touch(motion: Motion, hull: Array, unit: LengthUnit = "mm") -> list[Message]:
    """Warn where parts of the path that are far apart along it come closer than the section is wide."""
    reach = float(np.hypot(*hull.T).max())
    n = int(min(4000, max(64, 3 * motion.length / max(reach, 1e-9))))
    s = np.linspace(0, motion.length, n)
    points, tangents = motion.path.point(s), motion.path.tangent(s)
    pairs = cKDTree(points).query_pairs(2 * reach, output_type="ndarray")
    if len(pairs) == 0:
        return []
    i, j = pairs.T
    along = np.abs(s[i] - s[j])
    if motion.path.closed:
        along = np.minimum(along, motion.length - along)
    gap = points[i] - points[j]
    distance = np.maximum(np.linalg.norm(gap, axis=1), 1e-12)
    lean = [np.abs((gap * tangents[k]).sum(axis=1)) / distance for k in (i, j)]
    crossing = distance < motion.length / n * 1.5
    apart = (along > 2.2 * reach) & (((lean[0] < 0.2) & (lean[1] < 0.2)) | crossing)
    if not apart.any():
        return []
    candidates = np.flatnonzero(apart)
    worth = np.maximum(lean[0], lean[1])[candidates] + (distance[candidates] / reach)
    nearest = int(candidates[np.argmin(worth)])
    a, b, apart_by = _nearest_pass(motion, float(s[i[nearest]]), float(s[j[nearest]]))
    if apart_by > 2 * reach:
        return []
    return [
        Message(
            "warning", "touches-itself",
            f"The path comes within {format_length(apart_by, unit)} of itself, at {format_length(a, unit)} and "
            f"{format_length(b, unit)}; the section reaches {format_length(reach, unit)} from it.",
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
