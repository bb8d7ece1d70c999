"""The motion M(s): (x, y) -> C(s) + x X(s) + y Y(s) that carries a section along a path."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece
from leadline.core.problems import Problem
from leadline.core.units import format_length

SQUARE = math.radians(0.05)
DEFAULT_TOLERANCE = 1e-4
MAX_TURNS = 2000.0


@dataclass(frozen=True)
class Frames:
    """The motion at n stations: all (n, 3). ``K`` is the path's curvature vector, ``twist`` dφ/ds (n,)."""

    C: Array
    X: Array
    Y: Array
    T: Array
    K: Array
    twist: Array


@dataclass(frozen=True)
class Span:
    """A stretch of the motion that becomes one face per section edge.

    ``kind`` is "line" (exact prism), "arc" (exact revolution about ``axis``) or "free" (``spline`` gives the
    nine functions [C, X, Y] over the stations).
    """

    start: float
    end: float
    kind: str
    piece: int
    origin: str
    axis: tuple[Array, Array, float] | None = None
    spline: BSpline | None = None


class Motion:
    """Turning with the path, with a twist of ``turns`` spread evenly over the length.

    ``home`` is the station at which the section stands as drawn.
    """

    def __init__(self, path: Path, turns: float = 0.0, home: float = 0.0, start_normal: Array | None = None) -> None:
        _check(path, turns)
        self.path, self.turns, self.home = path, turns, home
        self._normal = path.start_normal() if start_normal is None else start_normal
        self.rate = 2 * math.pi * turns / path.length

    @property
    def length(self) -> float:
        return self.path.length

    def frames(self, s: Array) -> Frames:
        """Exact frames at stations s (n,)."""
        s = np.atleast_1d(np.asarray(s, dtype=float))
        which = self.path.piece_at(s)
        first = int(which[0]) if len(which) else 0
        if np.all(which == first):
            return self.frames_on(first, s)
        order = np.argsort(which, kind="stable")
        parts = [self.frames_on(int(which[group[0]]), s[group]) for group in _runs(order, which)]
        back = np.argsort(order, kind="stable")
        return Frames(*(np.concatenate([getattr(p, f.name) for p in parts])[back] for f in fields(Frames)))

    def frames_on(self, piece: int, s: Array) -> Frames:
        """Frames at stations s of one piece, its own side of the joints at its ends."""
        start = float(self.path.starts[piece])
        own = self.path.pieces[piece]
        local = np.clip(s - start, 0.0, own.length)
        first = self._piece_normals[piece]
        return self._frames(s, own.point(local), own.tangent(local), own.curvature(local), own.carried(first, local))

    @cached_property
    def _piece_normals(self) -> list[Array]:
        """The carried normal where each piece begins."""
        normals = [self._normal]
        for piece in self.path.pieces:
            normals.append(piece.carried(normals[-1], np.array([piece.length]))[0])
        return normals

    def _frames(self, s: Array, C: Array, T: Array, K: Array, normal: Array) -> Frames:
        angle = (self.rate * (s - self.home))[:, None]
        side = cross(T, normal)
        X = np.cos(angle) * normal + np.sin(angle) * side
        Y = -np.sin(angle) * normal + np.cos(angle) * side
        return Frames(C, X, Y, T, K, np.full(len(s), self.rate))

    def spans(self, extent: float, tolerance: float = DEFAULT_TOLERANCE) -> list[Span]:
        """Cut the motion into spans; free ones deviate by at most ``tolerance`` mm within ``extent`` mm of the path."""
        spans: list[Span] = []
        nodes = 6
        for i, piece in enumerate(self.path.pieces):
            a = float(self.path.starts[i])
            if self.rate == 0 and piece.kind in ("line", "arc"):
                spans += self._exact_spans(i, a)
                continue
            for p, q in self._cuts(i):
                spline, nodes = self._fit(i, a + p, a + q, extent, tolerance, nodes)
                spans.append(Span(a + p, a + q, "free", i, piece.origin, spline=spline))
        return spans

    def _exact_spans(self, i: int, start: float) -> list[Span]:
        piece = self.path.pieces[i]
        if not isinstance(piece, ArcPiece):
            return [Span(start, start + piece.length, "line", i, piece.origin)]
        parts = 1 if piece.sweep < 1.5 * math.pi else 2
        step = piece.length / parts
        axis = (piece.center, piece.axis, piece.sweep / parts)
        return [Span(start + k * step, start + (k + 1) * step, "arc", i, piece.origin, axis=axis) for k in range(parts)]

    def _cuts(self, i: int) -> list[tuple[float, float]]:
        """Local stations between which piece i turns by at most about one turn, knots respected."""
        breaks = self.path.pieces[i].breaks()
        cuts = []
        for p, q in itertools.pairwise(breaks):
            n = max(1, math.ceil(abs(self.rate) * (q - p) / (2 * math.pi) - 1e-9))
            edges = np.linspace(p, q, n + 1)
            cuts += list(zip(edges.tolist(), edges[1:].tolist(), strict=False))
        if self.path.closed and len(self.path.pieces) == 1 and len(cuts) == 1:
            ((p, q),) = cuts
            cuts = [(p, (p + q) / 2), ((p + q) / 2, q)]
        return cuts

    def nine(self, piece: int, s: Array) -> Array:
        """[C, X, Y] at stations of a piece, shape (n, 9)."""
        f = self.frames_on(piece, s)
        return np.hstack([f.C, f.X, f.Y])

    def nine_slopes(self, piece: int, s: Array) -> Array:
        """d/ds of ``nine``: X' = φ'Y - (K.X)T, Y' = -φ'X - (K.Y)T."""
        f = self.frames_on(piece, s)
        w = f.twist[:, None]
        dX = w * f.Y - _dot(f.K, f.X) * f.T
        dY = -w * f.X - _dot(f.K, f.Y) * f.T
        return np.hstack([f.T, dX, dY])

    def _fit(self, piece: int, a: float, b: float, extent: float, tolerance: float, nodes: int) -> tuple[BSpline, int]:
        """A quintic through exact frames with exact end slopes, refined until midway frames agree."""
        ends = self.nine_slopes(piece, np.array([a, b]))
        while True:
            s = np.linspace(a, b, nodes)
            knots = np.concatenate([[a] * 6, s[2:-2], [b] * 6])
            slopes: Any = ([(1, ends[0])], [(1, ends[1])])
            fit = make_interp_spline(s, self.nine(piece, s), k=5, t=knots, bc_type=slopes)
            middle = (s[1:] + s[:-1]) / 2
            off = np.linalg.norm((fit(middle) - self.nine(piece, middle)).reshape(-1, 3, 3), axis=2)
            if (off[:, 0] + extent * (off[:, 1] + off[:, 2])).max() <= tolerance:
                return fit, nodes
            if nodes > 4000:
                raise Problem(
                    "tolerance", f"The sweep cannot be held to {tolerance:g} mm near station {format_length(a)}.",
                    "Smooth the path there.", station=a,
                )  # fmt: skip
            nodes = nodes + max(2, nodes // 2)


def _runs(order: NDArray[np.intp], which: NDArray[np.intp]) -> list[NDArray[np.intp]]:
    """Indices in ``order``, split where ``which`` changes."""
    return np.split(order, np.flatnonzero(np.diff(which[order])) + 1)


def _dot(a: Array, b: Array) -> Array:
    return np.asarray((a * b).sum(axis=1)[:, None])


def _check(path: Path, turns: float) -> None:
    corners = [j for j in path.joints if j.kind == "corner"]
    if corners:
        j = corners[0]
        raise Problem(
            "corner", f"The path has a corner of {math.degrees(j.turn):.3g}° at {format_length(j.station)}.",
            "Put an arc there, tangent to both sides.", station=j.station,
        )  # fmt: skip
    if abs(turns) > MAX_TURNS:
        raise Problem("too-many-turns", f"{turns:g} turns of twist.", f"Give at most {MAX_TURNS:g}.", field="twist")
    if path.closed and abs(turns - round(turns)) > 1e-9:
        raise Problem(
            "seam", f"On a closed path the section comes back turned by {turns % 1:.4g} of a turn and would not meet itself.",
            f"Give whole turns, e.g. {round(turns)}.", field="twist",
        )  # fmt: skip


def place_on_path(path: Path, plane: Plane, regions: Sequence[Region]) -> tuple[float, list[Region]]:
    """Find where drawn regions stand on the path, and give them in the carried frame there.

    Returns the home station and the regions in (x, y) of the motion.

    Raises:
        Problem: the profile's plane misses the path, or is not square to it.
    """
    stations = path.crossings(plane)
    outline = plane.to_space(np.vstack([r.outer.polygon(0.1) for r in regions]))
    middle = outline.mean(axis=0)
    if len(stations) == 0:
        raise _misses(path, outline)
    tilts = [math.acos(min(1.0, abs(float(t @ plane.normal)))) for t in path.tangent(stations)]
    square = [i for i, tilt in enumerate(tilts) if tilt <= SQUARE]
    if not square:
        i = int(np.argmin(tilts))
        raise Problem(
            "not-square", f"The profile's plane is tilted by {math.degrees(tilts[i]):.3g}° against the path at "
            f"{format_length(float(stations[i]))}.",
            "Draw the profile on a plane square to the path.", station=float(stations[i]), field="profile",
        )  # fmt: skip
    near = min(square, key=lambda i: float(np.linalg.norm(path.point(stations[i : i + 1])[0] - middle)))
    home = float(stations[near])
    if path.closed and abs(home - path.length) < 1e-9:
        home = 0.0
    frame = path.plane_at(home)
    matrix = np.array([[plane.x @ frame.x, plane.y @ frame.x], [plane.x @ frame.y, plane.y @ frame.y]])
    shift = frame.to_plane(plane.origin)
    return home, [r.mapped(matrix, shift) for r in regions]


def _misses(path: Path, outline: Array) -> Problem:
    s = np.linspace(0.0, path.length, 400)
    p = path.point(s)
    gaps = np.linalg.norm(p[:, None] - outline[None, :: max(1, len(outline) // 40)], axis=2)
    i, _ = np.unravel_index(int(gaps.argmin()), gaps.shape)
    return Problem(
        "misses-path", f"The profile does not meet the path: its nearest point is {format_length(float(gaps.min()))} "
        f"away from the path at {format_length(float(s[i]))}.",
        "Draw it on a plane square to the path, or move its plane.", station=float(s[i]), field="profile",
    )  # fmt: skip
