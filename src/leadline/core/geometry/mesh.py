"""Triangles for display and for mesh files, with the names of the faces that they belong to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leadline.core.geometry.edges import largest_turn
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array, cross

Ints = NDArray[np.int64]
MOST_TRIANGLES = 200_000  # of a body as it is displayed, and of what one step sweeps
ALIKE = 1e-8  # of a mesh's size: points closer than that are one


@dataclass(frozen=True)
class Fineness:
    """How far triangles may be from the surface that they stand for: ``chord`` mm, and ``angle`` rad between two beside
    each other.
    """

    chord: float
    angle: float


@dataclass(frozen=True)
class DisplayMesh:
    """``points`` and ``normals`` (n, 3), ``triangles`` (m, 3), ``face`` (m,) an index into ``names``.

    ``lines`` are the drawn edges, each a polyline (k, 3).
    """

    points: Array
    normals: Array
    triangles: Ints
    face: Ints
    names: list[str]
    lines: list[Array]

    def volume(self) -> float:
        """Volume enclosed by the triangles, mm³."""
        a, b, c = (self.points[self.triangles[:, k]] for k in range(3))
        return float((a * cross(b, c)).sum() / 6)

    @cached_property
    def off(self) -> Array:
        """How far the surface stands off each triangle (m,), mm, at most: off the longest chord that it has, as the
        normals at its ends tell.
        """
        off = np.zeros(len(self.triangles))
        for k in range(3):
            a, b = self.triangles[:, k], self.triangles[:, (k + 1) % 3]
            off = np.maximum(
                off,
                np.abs(np.einsum("ij,ij->i", self.points[b] - self.points[a], self.normals[b] - self.normals[a])) / 8,
            )
        return off

    def bend(self) -> float:
        """The largest angle (rad) between the surface's normals at the corners of a triangle."""
        normals = self.normals[self.triangles]
        return largest_turn(normals[:, [0, 1, 2, 0]]) if len(normals) else 0.0

    def welded(self) -> tuple[Array, Ints]:
        """Points and triangles as ``welded`` has them."""
        return welded(self.points, self.triangles)


def welded(points: Array, triangles: Ints) -> tuple[Array, Ints]:
    """Points (k, 3) with equal ones once, and the triangles (m, 3) between them without those that are none any
    more.
    """
    scale = float(np.ptp(points, axis=0).max()) or 1.0
    _, first, inverse = np.unique(np.round(points / (scale * ALIKE)), axis=0, return_index=True, return_inverse=True)
    joined = inverse.ravel()[triangles]
    a, b, c = joined.T
    return points[first], joined[(a != b) & (b != c) & (a != c)]


def repeated(mesh: DisplayMesh, places: Placements) -> DisplayMesh:
    """Copies of a mesh as one."""
    n, m = len(places), len(mesh.points)
    triangles = mesh.triangles[None] + m * np.arange(n)[:, None, None]
    return DisplayMesh(
        places.moved(mesh.points).reshape(-1, 3),
        places.directions(mesh.normals).reshape(-1, 3),
        triangles.reshape(-1, 3),
        np.tile(mesh.face, n),
        mesh.names,
        [line for p in mesh.lines for line in places.moved(p)],
    )


def as_one(meshes: Sequence[DisplayMesh]) -> DisplayMesh:
    """Several meshes, at least one, as one; faces of one name in two of them stay two."""
    firsts = np.cumsum([0, *(len(m.points) for m in meshes[:-1])])
    faces = np.cumsum([0, *(len(m.names) for m in meshes[:-1])])
    return DisplayMesh(
        np.vstack([m.points for m in meshes]),
        np.vstack([m.normals for m in meshes]),
        np.vstack([m.triangles + first for m, first in zip(meshes, firsts, strict=True)]),
        np.concatenate([m.face + first for m, first in zip(meshes, faces, strict=True)]),
        [name for m in meshes for name in m.names],
        [line for m in meshes for line in m.lines],
    )


class MeshBuilder:
    """Collects grids and triangles; faces of one name share one index."""

    def __init__(self) -> None:
        self._points: list[Array] = []
        self._normals: list[Array] = []
        self._triangles: list[Ints] = []
        self._face: list[Ints] = []
        self._names: dict[str, int] = {}
        self._lines: list[Array] = []
        self._count = 0

    def add_grid(self, points: Array, normals: Array, name: str) -> None:
        """A grid (rows along the path, columns along the section, 3), its normal to the right of travel."""
        rows, columns = points.shape[:2]
        at = np.arange(rows * columns).reshape(rows, columns)
        a, b, c, d = at[:-1, :-1], at[:-1, 1:], at[1:, 1:], at[1:, :-1]
        triangles = np.concatenate([np.stack([a, b, c], -1).reshape(-1, 3), np.stack([a, c, d], -1).reshape(-1, 3)])
        self.add_triangles(points.reshape(-1, 3), normals.reshape(-1, 3), triangles, name)

    def add_triangles(self, points: Array, normals: Array, triangles: Ints, name: str) -> None:
        index = self._names.setdefault(name, len(self._names))
        self._points.append(points)
        self._normals.append(normals)
        self._triangles.append(triangles.astype(np.int64) + self._count)
        self._face.append(np.full(len(triangles), index, dtype=np.int64))
        self._count += len(points)

    def add_line(self, points: Array) -> None:
        self._lines.append(points)

    def mesh(self) -> DisplayMesh:
        return DisplayMesh(
            np.vstack(self._points),
            np.vstack(self._normals),
            np.vstack(self._triangles),
            np.concatenate(self._face),
            list(self._names),
            self._lines,
        )
