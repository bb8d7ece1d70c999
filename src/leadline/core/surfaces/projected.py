"""Paths laid onto a surface, along a direction or to the nearest place."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import make_interp_spline
from scipy.spatial import cKDTree

from leadline.core.geometry.plane import Array, any_square_to, cross
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import Piece, SplinePiece
from leadline.core.problems import Problem, mm
from leadline.core.surfaces.sheet import Sheet

TOLERANCE = 1e-6  # mm by which the spline may be off between its points
FIRST, ROUNDS = 17, 8
NEWTON = 20
CLOSE = 1e-9  # mm by which a foot may be off
SEEDS = 16
HAIR = 1e-6  # of the sheet's range: the step over which its tangents are compared


def projected(path: Path, sheets: Sequence[Sheet], way: Array | None) -> Path:
    """The path on the surface: at the nearest place, or where a line along ``way`` (3,) from it first meets the
    surface.

    Each piece of the path gives one piece; the curve is within 1e-6 mm of the true one.

    Where it does not meet the surface all along in the direction, it is tried against it.

    Raises:
        Problem: the surface is not met at a station, or the place on it jumps there.
    """
    try:
        return _all_laid(path, sheets, way)
    except Problem:
        if way is None:
            raise
    return _all_laid(path, sheets, -way)


def _all_laid(path: Path, sheets: Sequence[Sheet], way: Array | None) -> Path:
    onto = [_Feet(sheet, way) for sheet in sheets]
    pieces: list[Piece] = [
        _laid(piece, float(start), onto) for piece, start in zip(path.pieces, path.starts, strict=False)
    ]
    return Path(pieces, path.closed)


def _laid(piece: Piece, start: float, onto: list[_Feet]) -> Piece:
    s = np.unique(
        np.concatenate([np.linspace(a, b, FIRST) for a, b in zip(piece.breaks()[:-1], piece.breaks()[1:], strict=True)])
    )
    feet = _feet(piece, s, start, onto)
    for _ in range(ROUNDS):
        curve = make_interp_spline(s, feet, k=5)
        middles = (s[:-1] + s[1:]) / 2
        true = _feet(piece, middles, start, onto)
        off = np.linalg.norm(curve(middles) - true, axis=1) > TOLERANCE
        if not off.any():
            return SplinePiece(curve, piece.origin or "projected")
        order = np.argsort(np.concatenate([s, middles[off]]))
        s, feet = np.concatenate([s, middles[off]])[order], np.concatenate([feet, true[off]])[order]
    station = start + float(middles[int(np.argmax(np.linalg.norm(curve(middles) - true, axis=1)))])
    raise Problem(
        "torn",
        f"At {mm(station)} the place on the surface jumps.",
        "Take a direction, or a path that lies nearer to the surface.",
        station=station,
        of="surface",
    )


def _feet(piece: Piece, s: Array, start: float, onto: list[_Feet]) -> Array:
    """Where the points of a piece come to lie, (n, 3): on the sheet that is met first."""
    points = piece.point(s)
    best, out = np.full(len(s), np.inf), np.zeros((len(s), 3))
    for feet in onto:
        at, away = feet.of(points)
        nearer = away < best
        out[nearer], best[nearer] = at[nearer], away[nearer]
    if not np.isfinite(best).all():
        station = start + float(s[int(np.argmax(~np.isfinite(best)))])
        raise Problem(
            "off-surface",
            f"At {mm(station)} the path does not meet the surface.",
            "Take another direction or the nearest place, a shorter piece of the path, or a larger surface.",
            station=station,
            of="surface",
        )
    return out


class _Feet:
    """Feet on one sheet."""

    def __init__(self, sheet: Sheet, way: Array | None) -> None:
        self.sheet, self.way = sheet, None if way is None else way / np.linalg.norm(way)
        self.places, self.points, _ = sheet.grid
        if self.way is None:
            self.tree = cKDTree(self.points)
        else:
            u = any_square_to(self.way)
            self.flat = np.stack([u, cross(self.way, u)], axis=1)  # seen along the way
            self.tree = cKDTree(self.points @ self.flat)

    def of(self, points: Array) -> tuple[Array, Array]:
        """Feet (n, 3) of points (n, 3), and how far they are (n,); infinite where there is none."""
        if self.way is None:
            seeds = self.places[np.asarray(self.tree.query(points)[1])]
            feet, good = self._nearest(points, seeds)
            return feet, np.where(good, np.linalg.norm(feet - points, axis=1), np.inf)
        near = np.asarray(self.tree.query(points @ self.flat, k=min(SEEDS, len(self.points)))[1])
        best, out = np.full(len(points), np.inf), points.copy()
        ahead = (self.points[near] - points[:, None]) @ self.way  # a seed on each layer: the first and the last met
        for pick in (np.argmin(ahead, axis=1), np.argmax(ahead, axis=1)):
            seeds = self.places[near[np.arange(len(points)), pick]]
            feet, good = self._along(points, seeds)
            ahead_by = (feet - points) @ self.way
            away = np.where(good & (ahead_by > -CLOSE), ahead_by, np.inf)
            nearer = away < best
            out[nearer], best[nearer] = feet[nearer], away[nearer]
        return out, best

    def _nearest(self, points: Array, w: Array) -> tuple[Array, NDArray[np.bool_]]:
        """Newton towards the foot; at a border of the sheet the nearest place is not square to it.

        The bending of the surface counts, without which steps from as far off as its radius would not come nearer.
        Where with it there is no least distance nearby, steps go without it (Gauss-Newton).
        """
        hair = HAIR * (self.sheet.high - self.sheet.low)
        for _ in range(NEWTON):
            p, a, c = self.sheet.at(w)
            gap = points - p
            aa, ac, cc = ((x * y).sum(axis=1) for x, y in ((a, a), (a, c), (c, c)))
            ga, gc = (gap * a).sum(axis=1), (gap * c).sum(axis=1)
            (_, a_on, c_on), (_, _, c_up) = (self.sheet.at(self.sheet.wrapped(w + hair * one)) for one in np.eye(2))
            bent = [
                (gap * (x - y)).sum(axis=1) / h
                for x, y, h in ((a_on, a, hair[0]), (c_on, c, hair[0]), (c_up, c, hair[1]))
            ]
            faa, fac, fcc = aa - bent[0], ac - bent[1], cc - bent[2]
            least = (faa > 0.05 * aa) & (fcc > 0.05 * cc) & (faa * fcc - fac**2 > 0.05 * aa * cc)
            aa, ac, cc = (np.where(least, f, g) for f, g in ((faa, aa), (fac, ac), (fcc, cc)))
            det = np.maximum(aa * cc - ac**2, 1e-300)
            w = self.sheet.wrapped(w + np.stack([ga * cc - gc * ac, gc * aa - ga * ac], axis=1) / det[:, None])
        p, a, c = self.sheet.at(w)
        gap = points - p
        slide = np.abs((gap * a).sum(axis=1)) / np.linalg.norm(a, axis=1) + np.abs(
            (gap * c).sum(axis=1)
        ) / np.linalg.norm(c, axis=1)
        return p, slide < 1e-6 * np.maximum(1.0, np.linalg.norm(gap, axis=1))

    def _along(self, points: Array, w: Array) -> tuple[Array, NDArray[np.bool_]]:
        most = 0.2 * (self.sheet.high - self.sheet.low)
        for _ in range(NEWTON):
            p, a, c = self.sheet.at(w)
            gap = (points - p) @ self.flat
            system = np.stack([a @ self.flat, c @ self.flat], axis=2)
            det = system[:, 0, 0] * system[:, 1, 1] - system[:, 0, 1] * system[:, 1, 0]
            det = np.where(np.abs(det) < 1e-300, 1e-300, det)
            step = np.stack(
                [
                    gap[:, 0] * system[:, 1, 1] - gap[:, 1] * system[:, 0, 1],
                    gap[:, 1] * system[:, 0, 0] - gap[:, 0] * system[:, 1, 0],
                ],
                axis=1,
            )
            w = self.sheet.wrapped(w + np.clip(step / det[:, None], -most, most))
        p = self.sheet.at(w)[0]
        return p, np.linalg.norm((points - p) @ self.flat, axis=1) < CLOSE * max(1.0, float(np.ptp(self.points)))
