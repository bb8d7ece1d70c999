"""A plane with an origin and two axes in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
UPRIGHT = 1 - 1e-9


def cross(a: Array, b: Array) -> Array:
    """Cross product over the last axis of (..., 3), shapes broadcast: np.cross without its overhead."""
    out = np.empty(np.broadcast_shapes(a.shape, b.shape))
    out[..., 0] = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    out[..., 1] = a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2]
    out[..., 2] = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    return out


def angles_between(a: Array, b: Array) -> Array:
    """Angles (n,) from 0 to π between vectors (n, 3), exact for small ones too."""
    return np.asarray(np.arctan2(np.linalg.norm(cross(a, b), axis=1), (a * b).sum(axis=1)))


@dataclass(frozen=True)
class Plane:
    """``origin``, ``x`` and ``y`` have shape (3,), mm; x and y are unit and square to each other."""

    origin: Array
    x: Array
    y: Array

    @property
    def normal(self) -> Array:
        return cross(self.x, self.y)

    def to_space(self, xy: ArrayLike) -> Array:
        """Points of the plane (..., 2) in space (..., 3)."""
        p = np.asarray(xy, dtype=float)
        return np.asarray(self.origin + p[..., :1] * self.x + p[..., 1:2] * self.y)

    def direction(self, xy: ArrayLike) -> Array:
        """Vectors of the plane (..., 2) in space (..., 3)."""
        p = np.asarray(xy, dtype=float)
        return np.asarray(p[..., :1] * self.x + p[..., 1:2] * self.y)

    def to_plane(self, points: ArrayLike) -> Array:
        """Points in space (..., 3) dropped square onto the plane, (..., 2)."""
        d = np.asarray(points, dtype=float) - self.origin
        return np.stack([d @ self.x, d @ self.y], axis=-1)

    def height(self, points: ArrayLike) -> Array:
        """Signed distance of points (..., 3) along the normal."""
        return np.asarray((np.asarray(points, dtype=float) - self.origin) @ self.normal)


PRINCIPAL = {
    "XY": Plane(np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 1.0, 0])),
    "XZ": Plane(np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 0, 1.0])),
    "YZ": Plane(np.zeros(3), np.array([0, 1.0, 0]), np.array([0, 0, 1.0])),
}


def any_square_to(direction: Array) -> Array:
    """A unit vector square to ``direction``, the same for the same direction."""
    axis = np.zeros(3)
    axis[int(np.argmin(np.abs(direction)))] = 1.0
    side = cross(direction, cross(axis, direction))
    return np.asarray(side / np.linalg.norm(side))


def plain_axis(normal: Array) -> Array:
    """What a plane's x axis follows if nothing else is said: X, or Y where the unit ``normal`` (3,) lies along X."""
    return np.asarray(np.eye(3)[0 if abs(float(normal[0])) < UPRIGHT else 1])


def plane_on(point: Array, normal: Array) -> Plane:
    """The plane through a point (3,) square to a unit ``normal`` (3,), placed so that nothing but where it lies tells
    its origin and axes.

    Its origin is the foot of the part's origin, its x axis follows X as nearly as it can, or Y where the normal lies
    along X.
    """
    along = plain_axis(normal)
    x = along - normal * float(along @ normal)
    x = x / np.linalg.norm(x)
    return Plane(normal * float(point @ normal), x, cross(normal, x))
