"""Rails: curves that the section reaches at every station, by a map of its own plane.

At each station a rail goes through the section's plane at one point. The map that brings the anchors, the
section's points that lie on the rails, to those points stretches and turns the section about the path.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
from scipy.interpolate import CubicHermiteSpline
from scipy.optimize import brentq

from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, mm
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.warp import Warp

Use = Literal["stretch", "across", "turn"]
GRID = 48  # stations per smooth stretch of the path, and of the rail
ASKEW = 0.05  # sine under which two anchors count as facing each other
NEWTON = 12
CLOSE = 3e-8  # of the rail's length: the step after such a one is under 1e-15 of it
ALONG = 1e-6
IN_LINE = 1e-6


class RailTrack:
    """Where a rail goes through the planes of a motion, followed from the home station both ways.

    ``reach`` is the stretch of stations over which it does; ``name`` is what messages call it.

    Raises:
        Problem: the rail misses the section's plane at home.
    """

    def __init__(
        self, name: str, rail: Path, path: Path, planes: Callable[[Array], Frames], home: float, near: Array
    ) -> None:
        self.name, self.rail, self._planes = name, rail, planes
        s = np.unique(np.concatenate([_grid(path), [home]]))
        self._tabulate(s, home, near)

    def _tabulate(self, s: Array, home: float, near: Array) -> None:
        f = self._planes(s)
        n = _normals(f)
        t = _grid(self.rail)
        heights = n @ self.rail.point(t).T - (n * f.P).sum(axis=1)[:, None]
        places = _roots(t, heights)
        i = int(np.searchsorted(s, home))
        if len(places[i]) == 0:
            gap = float(np.abs(heights[i]).min())
            raise Problem(
                "rail-missed",
                f"{self.name} misses the section's plane at {mm(home)} by {mm(gap)}.",
                "Draw it through that plane, or place the section elsewhere.",
                station=home,
                field="rails",
            )
        start = min(places[i], key=lambda v: float(np.linalg.norm(self.rail.point(np.array([v]))[0] - near)))
        ahead, behind = self._follow(places, i, start, 1), self._follow(places, i, start, -1)
        reached = slice(i - len(behind), i + 1 + len(ahead))
        self._s = s[reached]
        self._t = np.array([*reversed(behind), start, *ahead])
        f = f.gathered(lambda read: read(f)[reached])
        self._t = self._refined(self._t, f)
        self._table = (
            CubicHermiteSpline(self._s, self._t, self._pace(f, *self._on_rail(self._t))) if len(self._s) > 1 else None
        )
        self.reach = (self._edge(s, i - len(behind), -1), self._edge(s, i + len(ahead), 1))

    def _follow(self, places: Sequence[Array], i: int, start: float, step: int) -> list[float]:
        """The crossings that go on from one, station by station, until there is none near."""
        found: list[float] = []
        last, pace = start, 0.0
        most = max(self.rail.length / 8, 1e-9)
        k = i + step
        while 0 <= k < len(places) and len(places[k]):
            options = places[k]
            if self.rail.closed:
                turns = np.round((last + pace - options) / self.rail.length)
                options = options + turns * self.rail.length
            best = float(options[int(np.argmin(np.abs(options - last - pace)))])
            if abs(best - last - pace) > most:
                break
            pace, last = best - last, best
            found.append(last)
            k += step
        return found

    def _edge(self, s: Array, k: int, step: int) -> float:
        """The station at which the rail's end lies in the section's plane, between station k and the next one."""
        if not 0 <= k + step < len(s):
            return float(s[k])
        ends = self.rail.point(np.array([0.0, self.rail.length]))
        end = ends[0] if self._t[0 if step < 0 else -1] < self.rail.length / 2 else ends[1]
        a, b = float(s[k]), float(s[k + step])
        found = self._meets(end, a, b)
        return a if found is None else found

    def _height(self, place: Array, v: float) -> float:
        """How far a place (3,) stands off the section's plane at a station, times the section's size."""
        f = self._planes(np.array([v]))
        return float((_normals(f) @ (place - f.P[0]))[0])

    def _meets(self, place: Array, a: float, b: float) -> float | None:
        """The station between two at which a place lies in the section's plane, if the plane goes through it there."""
        if self._height(place, a) * self._height(place, b) >= 0:
            return None
        return float(brentq(lambda v: self._height(place, v), a, b, xtol=1e-10))

    def _on_rail(self, t: Array) -> tuple[Array, Array]:
        t = t % self.rail.length if self.rail.closed else np.clip(t, 0.0, self.rail.length)
        return self.rail.point(t), self.rail.tangent(t)

    def _pace(self, f: Frames, R: Array, dR: Array) -> Array:
        """How fast the rail's station goes along with the path's; nought where the rail runs along the plane."""
        n, dn = _normals(f), cross(f.dX, f.Y) + cross(f.X, f.dY)
        lean = (n * dR).sum(axis=1)
        ahead = (n * f.T).sum(axis=1) - (dn * (R - f.P)).sum(axis=1)
        return np.asarray(ahead / np.where(np.abs(lean) < ALONG, np.inf, lean))

    def _refined(self, t: Array, f: Frames) -> Array:
        n = _normals(f)
        for _ in range(NEWTON):
            R, dR = self._on_rail(t)
            lean = (n * dR).sum(axis=1)
            step = ((R - f.P) * n).sum(axis=1) / np.where(np.abs(lean) < 1e-9, np.inf, lean)
            t = t - step
            if not self.rail.closed:
                t = np.clip(t, 0.0, self.rail.length)
            if np.abs(step).max(initial=0.0) < CLOSE * max(1.0, self.rail.length):
                break
        return np.asarray(t)

    @cached_property
    def breaks(self) -> Array:
        """Stations at which the rail goes from one of its pieces to the next."""
        starts = self.rail.starts[1:-1]
        if self.rail.closed:  # stations on it count on past its seam
            starts = np.concatenate([self.rail.starts[:-1] + k * self.rail.length for k in (-2, -1, 0, 1, 2)])
        inner = [v for v in starts if self._t.min() < v < self._t.max()]
        return np.array([self._station(float(v)) for v in inner])

    def _station(self, t: float) -> float:
        end = self._on_rail(np.array([t]))[0][0]
        k = int(np.flatnonzero((self._t[:-1] - t) * (self._t[1:] - t) <= 0)[0])
        a, b = float(self._s[k]), float(self._s[k + 1])
        found = self._meets(end, a, b)
        return min((a, b), key=lambda v: abs(self._height(end, v))) if found is None else found

    def points(self, s: Array, f: Frames) -> tuple[Array, Array]:
        """Where the rail goes through the planes of frames at stations s, and the slope of that, each (n, 3).

        Raises:
            Problem: the rail runs along the section's plane.
        """
        inside = np.clip(s, self._s[0], self._s[-1])
        guess = np.full(len(s), self._t[0]) if self._table is None else self._table(inside)
        t = self._refined(np.clip(guess, self._t.min(), self._t.max()), f)
        R, dR = self._on_rail(t)
        lean = (_normals(f) * dR).sum(axis=1)
        if (np.abs(lean) < ALONG).any():
            at = float(s[int(np.argmax(np.abs(lean) < ALONG))])
            raise Problem(
                "rail-along",
                f"{self.name} runs along the section's plane at {mm(at)}.",
                "Change the rail there, or how the section is turned.",
                station=at,
                field="rails",
            )
        return R, dR * self._pace(f, R, dR)[:, None]


def _grid(path: Path) -> Array:
    """Stations, dense on every smooth stretch, straight ones too."""
    parts = [
        np.linspace(a, b, GRID + 1) + start
        for start, piece in zip(path.starts, path.pieces, strict=False)
        for a, b in itertools.pairwise(piece.breaks())
    ]
    return np.unique(np.concatenate(parts))


def _normals(f: Frames) -> Array:
    return cross(f.X, f.Y)


def _roots(t: Array, heights: Array) -> list[Array]:
    """Parameters of a grid (n,) where each row of heights (m, n) over it changes sign or touches nought, in order."""
    tiny = 1e-9 * (np.abs(heights).max(axis=1, keepdims=True) + 1e-300)
    rows, left = np.nonzero(heights[:, :-1] * heights[:, 1:] < 0)
    before, after = heights[rows, left], heights[rows, left + 1]
    crossed = t[left] + before / (before - after) * (t[left + 1] - t[left])
    rows_on, on = np.nonzero(np.abs(heights) <= tiny)
    rows, found = np.concatenate([rows, rows_on]), np.concatenate([crossed, t[on]])
    order = np.lexsort((found, rows))
    return np.split(found[order], np.searchsorted(rows[order], np.arange(1, len(heights))))


@dataclass(frozen=True)
class RailMap:
    """The section's map by its rails. ``anchors`` (m, 2) are the section's points that lie on them.

    One rail: stretched both ways, across only (towards the rail), or turned to it. Two: stretched each way, or, when
    the anchors face each other across the path, stretched and shifted between them. Three: the affine map. More: the
    smoothest map through all of them (``warp``).
    """

    tracks: tuple[RailTrack, ...]
    anchors: Array
    use: Use

    def __post_init__(self) -> None:
        if len(self.tracks) > 1 and self.use == "turn":
            raise Problem(
                "rails-turn",
                "Turning without stretch goes towards one rail only.",
                "Choose stretching, or keep one rail.",
                field="rail_use",
            )
        sizes = np.linalg.norm(self.anchors, axis=1)
        if len(self.tracks) == 1 and sizes[0] < 1e-6:
            raise self._at_path(0)
        pair = _closest(self.anchors)
        if pair is not None and pair[2] < 1e-6:
            names = " and ".join(self.tracks[i].name.removeprefix("The ") for i in pair[:2])
            raise Problem(
                "rails-meet",
                f"The {names} hold the same point of the section.",
                "Choose another anchor.",
                field="rails",
            )
        spread = np.linalg.svd(self.anchors - self.anchors.mean(axis=0), compute_uv=False)
        if len(self.tracks) > 2 and spread[1] < IN_LINE * spread[0]:
            raise Problem(
                "rails-in-line",
                f"The anchors of the {len(self.tracks)} rails stand in one line.",
                "Choose other anchors.",
                field="rails",
            )

    def _at_path(self, i: int) -> Problem:
        return Problem(
            "anchor-on-path",
            (
                f"The point of the section that {self.tracks[i].name} holds lies on the path, so it cannot "
                "stretch the section."
            ),
            "Choose another anchor.",
            field="rails",
        )

    @property
    def breaks(self) -> Array:
        return np.concatenate([t.breaks for t in self.tracks])

    @cached_property
    def warp(self) -> Warp | None:
        return Warp(self.anchors) if len(self.anchors) > 3 else None

    def guided(self, s: Array, f: Frames) -> Frames:
        """Frames of the bare motion with the section mapped to the rails."""
        r, dr = self._local(s, f)
        if self.warp is None:
            return _moved(f, *self._map(r, dr))
        (L, b, w), (dL, db, dw) = self.warp.solve(r), self.warp.solve(dr)
        axes, slopes = np.stack([f.X, f.Y], axis=1), np.stack([f.dX, f.dY], axis=1)
        return replace(_moved(f, L, dL, b, db), Z=w @ axes, dZ=dw @ axes + w @ slopes, warp=self.warp)

    def _local(self, s: Array, f: Frames) -> tuple[Array, Array]:
        """Rail points in the section's plane and their slopes, each (m, n, 2)."""
        places, slopes = [], []
        for track in self.tracks:
            R, dR = track.points(s, f)
            d, dd = R - f.P, dR - f.T
            places.append(np.stack([(d * a).sum(axis=1) for a in (f.X, f.Y)], axis=1))
            slopes.append(np.stack([(dd * a + d * da).sum(axis=1) for a, da in ((f.X, f.dX), (f.Y, f.dY))], axis=1))
        return np.array(places), np.array(slopes)

    def _map(self, r: Array, dr: Array) -> tuple[Array, Array, Array, Array]:
        """L, L', b, b' with L a + b = r for every anchor: (n, 2, 2) twice, (n, 2) twice."""
        a = self.anchors
        none = np.zeros(r.shape[1:])
        if len(a) == 1:
            L, dL = _similar(a[0], r[0], dr[0], self.use)
            return L, dL, none, none
        if len(a) == 2 and abs(_cross2(a[0], a[1])) > ASKEW * math.prod(np.linalg.norm(a, axis=1)):
            back = np.linalg.inv(a.T)
            return np.moveaxis(r, 0, 2) @ back, np.moveaxis(dr, 0, 2) @ back, none, none
        if len(a) == 2:
            L, dL = _similar(a[1] - a[0], r[1] - r[0], dr[1] - dr[0], self.use)
        else:
            back = np.linalg.inv((a[:2] - a[2]).T)
            L, dL = np.moveaxis(r[:2] - r[2], 0, 2) @ back, np.moveaxis(dr[:2] - dr[2], 0, 2) @ back
        return L, dL, r[-1] - L @ a[-1], dr[-1] - dL @ a[-1]


def _moved(f: Frames, L: Array, dL: Array, b: Array, db: Array) -> Frames:
    """Frames whose sections are mapped by L (n, 2, 2) and b (n, 2) in their planes."""
    axes, slopes = np.stack([f.X, f.Y], axis=1), np.stack([f.dX, f.dY], axis=1)
    XY = np.einsum("nij,nik->njk", L, axes)
    dXY = np.einsum("nij,nik->njk", dL, axes) + np.einsum("nij,nik->njk", L, slopes)
    C = f.C + np.einsum("ni,nik->nk", b, axes)
    dC = f.dC + np.einsum("ni,nik->nk", db, axes) + np.einsum("ni,nik->nk", b, slopes)
    return replace(f, C=C, X=XY[:, 0], Y=XY[:, 1], dC=dC, dX=dXY[:, 0], dY=dXY[:, 1])


def _similar(a: Array, r: Array, dr: Array, use: Use) -> tuple[Array, Array]:
    """Maps that bring the vector a (2,) to r (n, 2), with slopes: turned and stretched both ways, or along a only, or
    turned.
    """
    size = np.linalg.norm(r, axis=1)[:, None, None]
    own = float(a @ a)
    w, dw = _complex(r, a) / own, _complex(dr, a) / own
    k = size / math.sqrt(own)
    dk = ((r * dr).sum(axis=1)[:, None, None]) / size / math.sqrt(own)
    if use == "stretch":
        return w, dw
    unit, d_unit = w / k, dw / k - w * dk / k**2
    if use == "turn":
        return unit, d_unit
    along = np.outer(a, a) / own
    stretch = np.eye(2) + (k - 1) * along
    return unit @ stretch, d_unit @ stretch + unit @ (dk * along)


def _complex(r: Array, a: Array) -> Array:
    """The product r conj(a) of plane vectors as a turning and stretching matrix, (n, 2, 2)."""
    re, im = r @ a, r[:, 1] * a[0] - r[:, 0] * a[1]
    return np.stack([np.stack([re, -im], axis=1), np.stack([im, re], axis=1)], axis=1)


def _cross2(a: Array, b: Array) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def _closest(points: Array) -> tuple[int, int, float] | None:
    """The two points that are nearest to each other, and how far apart they are."""
    pairs = list(itertools.combinations(range(len(points)), 2))
    if not pairs:
        return None
    i, j = min(pairs, key=lambda p: float(np.linalg.norm(points[p[0]] - points[p[1]])))
    return i, j, float(np.linalg.norm(points[i] - points[j]))
