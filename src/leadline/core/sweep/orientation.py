"""How the section is turned along the path: three axes (n, 3, 3) by rows, the third the axis that it twists about."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np

from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import turned
from leadline.core.problems import Problem, mm

ALONG_UP = math.radians(1.0)
CLOSED = 1e-9

Triads = tuple[Array, Array]  # the axes and their derivatives by station, each (n, 3, 3)


class Orientation(Protocol):
    """Axes that move along a path; ``piece`` says which side of a joint the stations are on."""

    def triads(self, piece: int, s: Array) -> Triads: ...


def _local(path: Path, piece: int, s: Array) -> Array:
    return np.clip(s - float(path.starts[piece]), 0.0, path.pieces[piece].length)


class Turning:
    """The frame turns with the path but never about it: the rotation-minimising frame.

    At a corner the axes turn with the tangent. On a closed path the angle that is left over at the end is
    spread evenly over the length, so that the seam meets.
    """

    def __init__(self, path: Path, start_normal: Array | None = None) -> None:
        self.path = path
        self._first = path.start_normal() if start_normal is None else start_normal

    @cached_property
    def _normals(self) -> list[Array]:
        """The carried normal where each piece begins, and where a closed path comes back."""
        normals = [self._first]
        pieces = self.path.pieces
        for i, piece in enumerate(pieces):
            end = np.array([piece.length])
            normal = piece.transport_normal(normals[-1], end)[0]
            following = pieces[(i + 1) % len(pieces)] if i + 1 < len(pieces) or self.path.closed else None
            if following is not None:
                normal = _round_the_corner(normal, piece.tangent(end)[0], following.tangent(np.zeros(1))[0])
            normals.append(normal)
        return normals

    @cached_property
    def closing(self) -> float:
        """The turn about the path (rad per mm) that makes a closed path's frame meet itself."""
        if not self.path.closed:
            return 0.0
        t = self.path.pieces[0].tangent(np.zeros(1))[0]
        first, last = self._normals[0], self._normals[-1]
        angle = math.atan2(float(cross(first, last) @ t), float(first @ last))
        return 0.0 if abs(angle) < CLOSED else -angle / self.path.length

    def triads(self, piece: int, s: Array) -> Triads:
        own, local = self.path.pieces[piece], _local(self.path, piece, s)
        t, k = own.tangent(local), own.curvature(local)
        u = own.transport_normal(self._normals[piece], local)
        return turned_about(_with_tangent(u, t, k), self.closing * s, np.full(len(s), self.closing))


def _round_the_corner(normal: Array, before: Array, after: Array) -> Array:
    axis = cross(before, after)
    sine = float(np.linalg.norm(axis))
    if sine < 1e-9:
        return normal
    angle = np.array([math.atan2(sine, float(before @ after))])
    return np.asarray(turned(normal, axis / sine, angle)[0])


def _with_tangent(u: Array, t: Array, k: Array) -> Triads:
    """Axes from a carried normal: u' = -(k.u) t, t' = k."""
    v = cross(t, u)
    du, dv = (-(k * a).sum(axis=1)[:, None] * t for a in (u, v))
    return np.stack([u, v, t], axis=1), np.stack([du, dv, k], axis=1)


def turned_about(triads: Triads, angle: Array, rate: Array) -> Triads:
    """Axes turned about their third by an angle (n,) that changes by ``rate`` (n,)."""
    if not angle.any() and not rate.any():
        return triads
    axes, slopes = triads
    c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
    u, v = axes[:, 0], axes[:, 1]
    du, dv = slopes[:, 0], slopes[:, 1]
    turned_u, turned_v = c * u + s * v, -s * u + c * v
    w = rate[:, None]
    d_u, d_v = c * du + s * dv + w * turned_v, -s * du + c * dv - w * turned_u
    return np.stack([turned_u, turned_v, axes[:, 2]], axis=1), np.stack([d_u, d_v, slopes[:, 2]], axis=1)


@dataclass(frozen=True)
class Held:
    """Held parallel: axes (3, 3) that never turn, the third the section's normal."""

    axes: Array

    def triads(self, piece: int, s: Array) -> Triads:  # noqa: ARG002
        return np.tile(self.axes, (len(s), 1, 1)), np.zeros((len(s), 3, 3))


Field = Callable[[int, Array], tuple[Array, Array]]  # piece, stations -> directions and their slopes, each (n, 3)


@dataclass(frozen=True)
class Upright:
    """Square to the path, with a direction (or a field of them) as far up in the section as it can be.

    Raises:
        Problem: the path runs along the direction.
    """

    path: Path
    up: Array | Field
    what: str = "the upright direction"

    def triads(self, piece: int, s: Array) -> Triads:
        own, local = self.path.pieces[piece], _local(self.path, piece, s)
        t, k = own.tangent(local), own.curvature(local)
        if callable(self.up):
            d, dd = self.up(piece, s)
        else:
            d, dd = np.tile(self.up / np.linalg.norm(self.up), (len(s), 1)), np.zeros((len(s), 3))
        along = (d * t).sum(axis=1)[:, None]
        w = d - along * t
        size = np.linalg.norm(w, axis=1)[:, None]
        low = size[:, 0] < math.sin(ALONG_UP) * np.linalg.norm(d, axis=1)
        if low.any():
            at = float(s[int(np.argmax(low))])
            raise Problem(
                "along-up",
                f"The path runs along {self.what} at {mm(at)}, so nothing says which way is up.",
                "Choose another direction, or turning with the path.",
                station=at,
                of="orientation",
            )
        dw = dd - ((dd * t).sum(axis=1) + (d * k).sum(axis=1))[:, None] * t - along * k
        v = w / size
        dv = (dw - v * (v * dw).sum(axis=1)[:, None]) / size
        u, du = cross(v, t), cross(dv, t) + cross(v, k)
        return np.stack([u, v, t], axis=1), np.stack([du, dv, k], axis=1)
