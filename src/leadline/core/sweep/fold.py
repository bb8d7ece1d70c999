"""The fold test: where a section is too large for a bend of its path, so that the sweep would run through itself.

Needs no kernel.

A sweep is locally a solid exactly where its rate J = det[C' + x X' + y Y', X, Y] keeps its sign over the section.
J is affine in (x, y), so the convex hull of the section decides. With its plane's own axes J / J(path) = 1 - p.k:
for a section square to its path, k is the path's curvature in the section's plane.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from scipy.optimize.elementwise import find_root

from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Region, farthest
from leadline.core.problems import Message, mm
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.motion import Motion

STATIONS = 33  # on each smooth stretch at least
A_TURN = 24  # more for each turn of the twist
BEND = math.radians(6)  # by which the path's direction may turn between two
HALVINGS = 16
MOST_STATIONS = 60_000
NEAR_LIMIT = 0.8  # of the bend's use: lower peaks are not closed in on
MOST_PEAKS = 400
ZOOMS, ZOOM_POINTS = 7, 9
MOST_TOLD = 12
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
    """The section points (m, 2) that reach farthest: the hull's corners, or the outline where it is not mapped
    affinely.
    """
    if motion.warp is None:
        return region.hull()
    size = float(np.ptp(region.outer.polygon(1.0), axis=0).max())
    return region.outer.polygon(size * OUTLINE_SHARE)


def bend_use(f: Frames, hull: Array) -> Array:
    """max over the hull (m, 2) of p.k at n frames: 1 means that the section just reaches the bend's centre."""
    j0, j1, j2 = f.jacobian.T
    k = -np.stack([j1, j2], axis=1) / j0[:, None]
    if f.warp is None:
        return farthest(hull, k)
    return np.asarray(np.einsum("nc,nmc->nm", k, f.flat(hull)).max(axis=1))


def folds(motion: Motion, hull: Array, rough: bool = False) -> list[Fold]:
    """Every stretch in which the section folds over itself, with its worst station; ``rough``, as far as a quick look
    shows them.
    """
    if rough:
        s, frames = motion.rough()
        use = bend_use(frames, hull)
    else:
        s, use = _with_peaks(motion, hull, _looked_at(motion))
    over = np.flatnonzero(use >= 1.0)
    if len(over) == 0:
        return []
    runs = np.split(over, np.flatnonzero(np.diff(over) > 1) + 1)
    low, high = np.array([run[0] for run in runs]), np.array([run[-1] for run in runs])
    starts = _edges(motion, hull, s[np.maximum(low - 1, 0)], s[low])
    ends = _edges(motion, hull, s[high], s[np.minimum(high + 1, len(s) - 1)])
    worst = [float(s[run[np.argmax(use[run])]]) for run in runs]
    return [_fold(motion, hull, float(a), float(b), w) for a, b, w in zip(starts, ends, worst, strict=True)]


def _looked_at(motion: Motion) -> Array:
    """Stations so close that neither a turn of the twist nor a bend of the path passes between two of them.

    The path's direction turns by little from one to the next, so that what lies between is bent by little: a bend that
    is tight over a short way turns it as well.
    """
    found = []
    for i, piece in enumerate(motion.path.pieces):
        start = float(motion.path.starts[i])
        smooth = [
            np.linspace(a, b, STATIONS + math.ceil(A_TURN * abs(motion.turned(a, b))))
            for a, b in pairwise(motion.breaks(i))
        ]
        s = np.unique(np.concatenate(smooth))
        t = piece.tangent(np.clip(s - start, 0.0, piece.length))
        for _ in range(HALVINGS):
            bent = np.flatnonzero((t[1:] * t[:-1]).sum(axis=1) < math.cos(BEND))
            if len(bent) == 0 or len(s) > MOST_STATIONS:
                break
            between = (s[bent] + s[bent + 1]) / 2
            s, t = (
                np.insert(s, bent + 1, between),
                np.insert(t, bent + 1, piece.tangent(np.clip(between - start, 0.0, piece.length)), axis=0),
            )
        found.append(s)
    return np.unique(np.concatenate(found))


def _with_peaks(motion: Motion, hull: Array, s: Array) -> tuple[Array, Array]:
    """Stations with those of the peaks between them put in, and the bend's use at each.

    Every peak that may reach the limit is closed in on from its neighbours, ever nearer.
    """
    use = bend_use(motion.frames(s), hull)
    inner = np.flatnonzero(
        (use >= np.append(use[1:], -np.inf)) & (use >= np.insert(use[:-1], 0, -np.inf)) & (use > NEAR_LIMIT)
    )
    inner = inner[np.argsort(-use[inner])][:MOST_PEAKS]
    low, high = s[np.maximum(inner - 1, 0)], s[np.minimum(inner + 1, len(s) - 1)]
    for _ in range(ZOOMS if len(inner) else 0):
        between = low + np.linspace(0, 1, ZOOM_POINTS)[:, None] * (high - low)
        there = bend_use(motion.frames(between.ravel()), hull).reshape(between.shape)
        best, step = (
            np.take_along_axis(between, there.argmax(axis=0)[None], axis=0)[0],
            (high - low) / (ZOOM_POINTS - 1),
        )
        low, high = np.maximum(best - step, low), np.minimum(best + step, high)
    peaks = (low + high) / 2
    together = np.concatenate([s, peaks])
    values = np.concatenate([use, bend_use(motion.frames(peaks), hull) if len(peaks) else []])
    order = np.argsort(together, kind="stable")
    return together[order], values[order]


def _edges(motion: Motion, hull: Array, a: Array, b: Array) -> Array:
    """Where between stations a and b (n,) each the limit is met; b where it is not met between them, as at a joint."""

    def over(v: Array) -> Array:
        return bend_use(motion.frames(v.ravel()), hull).reshape(v.shape) - 1.0

    found = find_root(over, (a, b), tolerances={"xatol": 1e-6, "xrtol": 0.0})
    return np.where(found.success, found.x, b)


def _fold(motion: Motion, hull: Array, start: float, end: float, worst: float) -> Fold:
    f = motion.frames(np.array([worst]))
    j0, j1, j2 = f.jacobian[0]
    k = np.linalg.solve(f.maps[0].T, -np.array([j1, j2]) / j0)
    size = float(np.hypot(*k))
    shift = f.plane(0).to_plane(f.P[0])  # distances count from the path, also where the section is shifted off it
    reach = float(((f.flat(hull)[0] @ f.maps[0].T - shift) @ (k / size)).max())
    radius = (1 - float(shift @ k)) / size
    return Fold(start, end, worst, reach, radius, radius / reach, reach)


def fold_messages(motion: Motion, hull: Array, rough: bool = False) -> list[Message]:
    """One message per folded stretch, of many the worst ones, in the designer's words."""
    found = folds(motion, hull, rough)
    told = sorted(sorted(found, key=lambda f: f.scale)[:MOST_TOLD], key=lambda f: f.start)
    messages = []
    for fold in told:
        reach, radius = mm(fold.reach), mm(fold.radius)
        text = f"The section ({reach} to its inner side) is wider than the bend at {mm(fold.worst)} (radius {radius})."
        if fold is told[-1] and len(found) > len(told):
            text += f" So it is at {len(found) - len(told)} more places."
        way_out = (
            f"Largest section that fits: {mm(fold.reach * fold.scale * 0.999)} to its inner side. "
            f"Smallest bend radius: {mm(fold.bend * 1.001)}."
        )
        place = {"station": fold.worst, "range": [fold.start, fold.end], "scale": fold.scale}
        messages.append(Message("error", "fold", text, way_out, place))
    return messages


def outline_crossings(motion: Motion, regions: Sequence[Region]) -> list[Message]:
    """Where rails or further sections turn the section over or bend it so that its outline crosses itself."""
    if motion.rails is None and motion.blend is None:
        return []
    s = _looked_at(motion)
    if motion.blend is not None:  # at its ends it may be a point
        s = s[(s > 0) & (s < motion.length)]
    f = motion.frames(s)
    ruled = motion.blend is not None and motion.blend.ruled is not None
    bad = f.jacobian[:, 0] <= 0 if ruled else f.steepness <= 0  # a ruled one does not follow its path
    for region in regions if motion.warp is not None else ():
        loops = [f.flat(loop.polygon(0.02)) @ np.moveaxis(f.maps, 1, 2) for loop in region.loops]
        bad |= [
            not shapely.LineString(lines[0]).is_simple if region.outer.open else _crossed(lines)
            for lines in zip(*loops, strict=True)
        ]
    if not bad.any():
        return []
    at, last = float(s[bad][0]), float(s[bad][-1])
    return [
        Message(
            "error",
            "outline-crosses",
            f"At {mm(at)} the section's outline turns over or crosses itself.",
            (
                "Draw the rails so that they keep their order round the section, or use fewer; let other "
                "places of the sections correspond."
            ),
            {"station": at, "range": [at, last], "of": "rails"},
        )
    ]


def _crossed(rings: Sequence[Array]) -> bool:
    """Whether outlines as they stand, the outer one drawn counter-clockwise, cross themselves, each other, or are
    turned over.
    """
    return not shapely.LinearRing(rings[0]).is_ccw or not shapely.Polygon(rings[0], rings[1:]).is_valid
