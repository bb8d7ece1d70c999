"""Rails: curves on which given points of the section (anchors) lie at every station.

Problem. A motion carries the section's plane along the path. At each station every rail crosses that plane at one
point. The section is to be mapped in its plane so that each anchor comes to lie on its rail.

Method. ``RailTrack`` follows the crossing of one rail with the moving plane: a first crossing at the station where the
section stands, then from station to station, refined by Newton's method. ``RailMap`` turns the crossings into a map of
the plane: a similarity for one rail, an affine map for two or three, a warp for more. Map and crossings come with
exact derivatives by station, as a motion must have.
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
GRID = 48  # stations on each smooth stretch of the path, and of the rail, between which crossings are interpolated
ASKEW = 0.05  # sine of the angle between two anchors, under which they count as opposite each other across the path
NEWTON = 12  # steps at most
# Share of the rail's length. Newton's method squares the error: after a step smaller than this the error is under 1e-15
# of the length, which is rounding.
CLOSE = 3e-8
ALONG = 1e-6  # sine of the angle between rail and plane, under which the rail runs along the plane and has no crossing
IN_LINE = 1e-6  # ratio of the anchors' smaller to their greater spread, under which three stand in one line


class RailTrack:
    """The crossings of one rail with the planes of a motion.

    They are followed from the home station in both directions, for as long as the rail crosses.

    Args:
        name: What messages call the rail.
        rail: The rail.
        path: The path of the motion.
        planes: Gives the motion's frames, without rails, at stations (n,).
        home: The station at which the section stands.
        near: Of several crossings at home, the one nearest to this place (3,), mm, is followed.

    Attributes:
        reach: The first and the last station at which the rail crosses the plane, mm.

    Raises:
        Problem: the rail does not cross the section's plane at home.
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
                of="rails",
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
        """Follows a crossing from one station of the grid to the next, until there is none near the expected one.

        Args:
            places: All crossings at each station of the grid, as stations of the rail, mm.
            i: The station of the grid to begin from.
            start: The crossing there.
            step: 1 to go forward along the path, -1 to go back.

        Returns:
            The crossings at the stations after i, as stations of the rail, mm. On a closed rail they count on past its
            seam, so that they are continuous.
        """
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
        """The station, mm, between k and the next one of the grid, at which an end of the rail lies in the section's
        plane: there the rail ceases to cross it.
        """
        if not 0 <= k + step < len(s):
            return float(s[k])
        ends = self.rail.point(np.array([0.0, self.rail.length]))
        end = ends[0] if self._t[0 if step < 0 else -1] < self.rail.length / 2 else ends[1]
        a, b = float(s[k]), float(s[k + step])
        found = self._meets(end, a, b)
        return a if found is None else found

    def _height(self, place: Array, v: float) -> float:
        """The distance of a place (3,), mm, from the section's plane at a station, times the area that X and Y span."""
        f = self._planes(np.array([v]))
        return float((_normals(f) @ (place - f.P[0]))[0])

    def _meets(self, place: Array, a: float, b: float) -> float | None:
        """The station between a and b at which a place (3,) lies in the section's plane, by Brent's method.

        None where the plane does not pass over the place between them.
        """
        if self._height(place, a) * self._height(place, b) >= 0:
            return None
        return float(brentq(lambda v: self._height(place, v), a, b, xtol=1e-10))

    def _on_rail(self, t: Array) -> tuple[Array, Array]:
        t = t % self.rail.length if self.rail.closed else np.clip(t, 0.0, self.rail.length)
        return self.rail.point(t), self.rail.tangent(t)

    def _pace(self, f: Frames, R: Array, dR: Array) -> Array:
        """The derivative of the crossing's station on the rail by the path's station, (n,).

        From n · (R - P) = 0 with the plane's normal n, the crossing R and the plane's origin P, differentiated by the
        path's station. 0 where the rail runs along the plane, as there is no derivative.

        Args:
            f: Frames at n stations.
            R: The crossings, (n, 3), mm.
            dR: The rail's unit tangents there, (n, 3).
        """
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
        """Stations of the path at which the crossing passes from one piece of the rail to the next, mm."""
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
        """The crossings, mm, and their derivatives by the path's station: (n, 3) each.

        Args:
            s: Stations of the path, (n,), mm.
            f: The motion's frames there, without rails.

        Raises:
            Problem: the rail runs along the section's plane at one of the stations.
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
                of="rails",
            )
        return R, dR * self._pace(f, R, dR)[:, None]


def _grid(path: Path) -> Array:
    """Stations of a path, ``GRID`` and one on each smooth stretch, (n,), mm."""
    parts = [
        np.linspace(a, b, GRID + 1) + start
        for start, piece in zip(path.starts, path.pieces, strict=False)
        for a, b in itertools.pairwise(piece.breaks())
    ]
    return np.unique(np.concatenate(parts))


def _normals(f: Frames) -> Array:
    return cross(f.X, f.Y)


def _roots(t: Array, heights: Array) -> list[Array]:
    """The zeros of m functions that are given by their values on a grid.

    Args:
        t: The grid, (n,).
        heights: The functions' values, (m, n).

    Returns:
        For each function its zeros in order: where the sign changes, by linear interpolation, and where a value is 0
        within rounding.
    """
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
    """The map of the section's plane, by station, that brings each anchor onto its rail.

    With one rail it is a turn with a stretch both ways ("stretch"), with a stretch along the anchor alone ("across"),
    or with none ("turn"). With two it is linear; when the anchors are opposite each other across the path, where no
    linear map need exist, a similarity with a shift. With three it is affine. With more it is the smoothest map through
    all of them (``leadline.core.sweep.warp``).

    Attributes:
        tracks: The crossings of each of the m rails.
        anchors: The points of the section that lie on them, (m, 2), mm.
        use: What one rail, or two opposite ones, does to the section.

    Raises:
        Problem: two rails hold one point, three anchors stand in a line, the one anchor stands on the path, or several
            rails are to turn the section without stretching it.
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
                of="use",
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
                of="rails",
            )
        spread = np.linalg.svd(self.anchors - self.anchors.mean(axis=0), compute_uv=False)
        if len(self.tracks) > 2 and spread[1] < IN_LINE * spread[0]:
            raise Problem(
                "rails-in-line",
                f"The anchors of the {len(self.tracks)} rails stand in one line.",
                "Choose other anchors.",
                of="rails",
            )

    def _at_path(self, i: int) -> Problem:
        return Problem(
            "anchor-on-path",
            (
                f"The point of the section that {self.tracks[i].name} holds lies on the path, so it cannot "
                "stretch the section."
            ),
            "Choose another anchor.",
            of="rails",
        )

    @property
    def breaks(self) -> Array:
        return np.concatenate([t.breaks for t in self.tracks])

    @cached_property
    def warp(self) -> Warp | None:
        return Warp(self.anchors) if len(self.anchors) > 3 else None

    def guided(self, s: Array, f: Frames) -> Frames:
        """The motion's frames f at stations s (n,), with the section mapped to the rails.

        Raises:
            Problem: a rail runs along the section's plane at one of the stations.
        """
        r, dr = self._local(s, f)
        if self.warp is None:
            return _moved(f, *self._map(r, dr))
        (L, b, w), (dL, db, dw) = self.warp.solve(r), self.warp.solve(dr)
        axes, slopes = np.stack([f.X, f.Y], axis=1), np.stack([f.dX, f.dY], axis=1)
        return replace(_moved(f, L, dL, b, db), Z=w @ axes, dZ=dw @ axes + w @ slopes, warp=self.warp)

    def _local(self, s: Array, f: Frames) -> tuple[Array, Array]:
        """The crossings of m rails in coordinates of the section's plane, mm, and their derivatives by station:
        (m, n, 2) each.
        """
        places, slopes = [], []
        for track in self.tracks:
            R, dR = track.points(s, f)
            d, dd = R - f.P, dR - f.T
            places.append(np.stack([(d * a).sum(axis=1) for a in (f.X, f.Y)], axis=1))
            slopes.append(np.stack([(dd * a + d * da).sum(axis=1) for a, da in ((f.X, f.dX), (f.Y, f.dY))], axis=1))
        return np.array(places), np.array(slopes)

    def _map(self, r: Array, dr: Array) -> tuple[Array, Array, Array, Array]:
        """The affine map L a + b = r for every anchor a, with derivatives.

        Args:
            r: The crossings in the section's plane, (m, n, 2), mm.
            dr: Their derivatives by station, (m, n, 2).

        Returns:
            L and its derivative, (n, 2, 2) each, b and its derivative, (n, 2) each.
        """
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
    """Frames whose sections are mapped by L (n, 2, 2) and b (n, 2), mm, in their planes; dL and db are the derivatives
    by station.
    """
    axes, slopes = np.stack([f.X, f.Y], axis=1), np.stack([f.dX, f.dY], axis=1)
    XY = np.einsum("nij,nik->njk", L, axes)
    dXY = np.einsum("nij,nik->njk", dL, axes) + np.einsum("nij,nik->njk", L, slopes)
    C = f.C + np.einsum("ni,nik->nk", b, axes)
    dC = f.dC + np.einsum("ni,nik->nk", db, axes) + np.einsum("ni,nik->nk", b, slopes)
    return replace(f, C=C, X=XY[:, 0], Y=XY[:, 1], dC=dC, dX=dXY[:, 0], dY=dXY[:, 1])


def _similar(a: Array, r: Array, dr: Array, use: Use) -> tuple[Array, Array]:
    """Linear maps of the plane that bring a vector to others, or for "turn" into their direction.

    In complex numbers the turn with a stretch both ways is the product with r / a; the other two have the same angle.

    Args:
        a: The vector, (2,).
        r: Where it is to go, (n, 2).
        dr: The derivatives of r, (n, 2).
        use: "stretch", "across" (along a alone) or "turn" (not at all).

    Returns:
        The maps and their derivatives, (n, 2, 2) each.
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
    """The complex products r conj(a) of vectors r (n, 2) and a (2,), as matrices that turn and stretch, (n, 2, 2)."""
    re, im = r @ a, r[:, 1] * a[0] - r[:, 0] * a[1]
    return np.stack([np.stack([re, -im], axis=1), np.stack([im, re], axis=1)], axis=1)


def _cross2(a: Array, b: Array) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def _closest(points: Array) -> tuple[int, int, float] | None:
    """The numbers of the two nearest of some points (n, 2), and their distance, mm. None with fewer than two."""
    pairs = list(itertools.combinations(range(len(points)), 2))
    if not pairs:
        return None
    i, j = min(pairs, key=lambda p: float(np.linalg.norm(points[p[0]] - points[p[1]])))
    return i, j, float(np.linalg.norm(points[i] - points[j]))
