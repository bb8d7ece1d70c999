"""The motion at single stations: where the section stands, how it moves on, and how fast it sweeps volume."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from operator import attrgetter
from typing import Any

import numpy as np
from numpy.typing import NDArray

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.sweep.warp import Lift

POINT = 1e-7  # mm: a section that is not larger is a point
PLAIN = ("C", "X", "Y", "dC", "dX", "dY", "P", "T", "K")


def _none() -> Array:
    return np.zeros((0, 0, 3))


@dataclass(frozen=True)
class Frames:
    """A motion at n stations: all arrays are (n, 3).

    A section point (x, y) stands at ``C + x X + y Y``; ``dC``, ``dX`` and ``dY`` are derivatives by station. ``P``,
    ``T`` and ``K`` are the path's own point, tangent and curvature vector. Where a ``warp`` gives points m further
    coordinates z, ``Z`` and ``dZ`` (n, m, 3) carry those: ``C + x X + y Y + Σ z_k Z_k``. Section points, (m, 2) below,
    may then have them as further columns.
    """

    C: Array
    X: Array
    Y: Array
    dC: Array
    dX: Array
    dY: Array
    P: Array
    T: Array
    K: Array
    Z: Array = field(default_factory=_none)
    dZ: Array = field(default_factory=_none)
    warp: Lift | None = None

    def is_point(self, xy: Array) -> bool:
        """Whether section points are all at one place, at the first of the stations."""
        return float(np.ptp(self.at_index(0).at(xy)[0], axis=0).max()) < POINT

    def at(self, xy: Array) -> Array:
        """Section points (m, 2) in space, (n, m, 3)."""
        return np.asarray(self.shares(xy) @ self.carriers)  # one product, several times as fast as three

    def shares(self, xy: Array) -> Array:
        """What section points (m, 2) have of each of the ``carriers``, (m, k)."""
        return np.hstack([np.ones((len(xy), 1)), xy[:, :2], *([] if self.warp is None else [self.warp.lift(xy)])])

    @property
    def carriers(self) -> Array:
        """C, X, Y, and what a warp adds, (n, k, 3): section points ride on sums of them."""
        plain = np.stack([self.C, self.X, self.Y], axis=1)
        return plain if self.warp is None else np.concatenate([plain, self.Z], axis=1)

    @property
    def carrier_slopes(self) -> Array:
        """d/ds of ``carriers``."""
        plain = np.stack([self.dC, self.dX, self.dY], axis=1)
        return plain if self.warp is None else np.concatenate([plain, self.dZ], axis=1)

    def some(self, most: int) -> Frames:
        """The frames at no more than ``most`` of the stations, evenly taken, ends included."""
        keep = evenly(len(self.C), most)
        return self.gathered(lambda read: np.asarray(read(self)[keep]))

    def at_index(self, i: int) -> Frames:
        """The frames at one of the stations alone."""
        return self.gathered(lambda read: read(self)[i : i + 1])

    def gathered(self, take: Callable[[Callable[[Frames], Array]], Array]) -> Frames:
        """Frames of arrays that ``take`` makes, given how to read one of them off frames."""
        warped = ["Z", "dZ"] if self.warp is not None else []
        arrays: dict[str, Any] = {name: take(attrgetter(name)) for name in (*PLAIN, *warped)}
        return replace(self, **arrays)

    def each(self, xy: Array) -> tuple[Array, Array]:
        """One section point (n, 2) at each station: where it is and d/ds of that, each (n, 3)."""
        x, y = xy[:, :1], xy[:, 1:2]
        p, dp = self.C + x * self.X + y * self.Y, self.dC + x * self.dX + y * self.dY
        if self.warp is None:
            return p, dp
        z = self.warp.lift(xy)
        return p + np.einsum("nm,nmk->nk", z, self.Z), dp + np.einsum("nm,nmk->nk", z, self.dZ)

    def across_each(self, xy: Array, d: Array) -> Array:
        """The image (n, 3) of one section vector d (n, 2) at one section point at each station."""
        flat: Array = d[:, :1] * self.X + d[:, 1:2] * self.Y
        if self.warp is None:
            return flat
        return np.asarray(flat + np.einsum("nm,nmk->nk", self.warp.along(xy, d), self.Z))

    def flat(self, xy: Array) -> Array:
        """Where section points (m, 2) stand on C, X and Y, (n, m, 2): as they are, unless warped."""
        if self.warp is None:
            return np.broadcast_to(xy, (len(self.C), *xy.shape))
        return np.asarray(xy[:, :2] + self.warp.lift(xy) @ self.bending)

    @cached_property
    def bending(self) -> Array:
        """Z on the axes X and Y, (n, m, 2): where a warp takes section points, for each of its functions."""
        axes = np.stack([self.X, self.Y], axis=2)
        return np.asarray(np.einsum("nck,nmk->nmc", np.linalg.pinv(axes), self.Z))

    def flat_along(self, xy: Array, d: Array) -> Array:
        """Section vectors d (m, 2) at points (m, 2), likewise on X and Y, (n, m, 2)."""
        if self.warp is None:
            return np.broadcast_to(d, (len(self.C), *d.shape))
        return np.asarray(d[:, :2] + self.warp.along(xy, d) @ self.bending)

    def stretches(self, xy: Array) -> Array:
        """What the motion does to the section at points (m, 2) of it, in its own plane: matrices (n, m, 2, 2).

        Where points have their further coordinates from the start, nothing is said of what lies beside them: it is the
        plane's own.
        """
        if self.warp is None or xy.shape[1] > 2:
            return np.broadcast_to(self.maps[:, None], (len(self.C), len(xy), 2, 2))
        columns = [self.flat_along(xy, np.broadcast_to(e, xy.shape)) for e in np.eye(2)]
        return np.asarray(self.maps[:, None] @ np.stack(columns, axis=-1))

    def outline(self, edge: Edge, i: int = 0, tolerance: float = 1e-5) -> Edge:
        """An edge of the section as it stands in the section's plane at one of the stations."""
        if self.warp is None:
            return edge.mapped(self.maps[i], np.zeros(2))
        lifted = self.warp.lifted(edge, tolerance / max(1.0, float(np.abs(self.Z[i]).max())))
        own = lifted.control[:, :2] + lifted.control[:, 2:] @ self.bending[i]
        return replace(lifted, control=own @ self.maps[i].T)

    @cached_property
    def jacobian(self) -> Array:
        """The affine sweep rate J = j0 + j1 x + j2 y = det[C' + x X' + y Y', X, Y], shape (n, 3)."""
        n = cross(self.X, self.Y)
        return np.stack([(d * n).sum(axis=1) for d in (self.dC, self.dX, self.dY)], axis=1)

    @cached_property
    def steepness(self) -> Array:
        """Sine of the angle between the section's plane and the path (n,): 1 square to it, 0 edge-on."""
        n = cross(self.X, self.Y)
        return np.asarray((self.T * n).sum(axis=1) / np.linalg.norm(n, axis=1))

    @cached_property
    def maps(self) -> Array:
        """What the motion does to the section in its own plane, (n, 2, 2): columns are X and Y on the plane's axes.

        The first axis lies along X.
        """
        width = np.linalg.norm(self.X, axis=1)
        e1 = self.X / width[:, None]
        across = (self.Y * e1).sum(axis=1)
        rest = self.Y - across[:, None] * e1
        height = np.linalg.norm(rest, axis=1)
        zero = np.zeros_like(width)
        return np.stack([np.stack([width, across], axis=1), np.stack([zero, height], axis=1)], axis=1)

    def plane(self, i: int) -> Plane:
        """The section's plane at one of the stations, its x axis along X."""
        x = self.X[i] / np.linalg.norm(self.X[i])
        y = self.Y[i] - x * float(x @ self.Y[i])
        return Plane(self.C[i], x, y / np.linalg.norm(y))


def evenly(count: int, most: int) -> NDArray[np.intp]:
    """Which of so many to take if there may be no more than ``most``: evenly spread, ends included."""
    return np.unique(np.linspace(0, count - 1, most).round().astype(np.intp))


def swept_tangents(f: Frames, p: Array, d: Array) -> tuple[Array, Array]:
    """Tangents of the swept surface along the path and across it, each (stations, points, 3).

    ``p`` and ``d`` are points and derivatives of a section edge, (points, 2).
    """
    along = f.dC[:, None] + p[None, :, :1] * f.dX[:, None] + p[None, :, 1:2] * f.dY[:, None]
    across = d[None, :, :1] * f.X[:, None] + d[None, :, 1:2] * f.Y[:, None]
    if f.warp is None:
        return along, across
    return along + f.warp.lift(p) @ f.dZ, across + f.warp.along(p, d) @ f.Z
