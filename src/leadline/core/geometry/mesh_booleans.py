"""Add, cut and common of closed meshes, by the library's guaranteed manifold booleans: quick, and as exact as the
meshes are.
"""

from __future__ import annotations

from typing import Literal

import manifold3d
import numpy as np

from leadline.core.geometry.mesh import DisplayMesh, Ints, welded
from leadline.core.geometry.plane import Array

Operation = Literal["add", "cut", "common"]
SHARP = 30.0  # degrees between facets from which an edge is drawn as one


def as_manifold(mesh: DisplayMesh) -> manifold3d.Manifold | None:
    """A closed mesh for mesh booleans, equal points merged; None when it does not close."""
    return closed(mesh.points, mesh.triangles)


def closed(points: Array, triangles: Ints) -> manifold3d.Manifold | None:
    """The same of the points (n, 3) and triangles (m, 3) of a mesh."""
    points, triangles = welded(points, triangles)
    solid = manifold3d.Manifold(
        manifold3d.Mesh64(np.ascontiguousarray(points), np.ascontiguousarray(triangles, dtype=np.uint64))
    )
    return None if solid.status() != manifold3d.Error.NoError else solid


def combined(a: manifold3d.Manifold, b: manifold3d.Manifold, operation: Operation) -> manifold3d.Manifold:
    return {"add": a.__add__, "cut": a.__sub__, "common": a.__xor__}[operation](b)


def mesh_volume(base: DisplayMesh, tool: DisplayMesh, operation: Operation) -> float | None:
    """The volume of the combination by mesh booleans, mm³; None when a mesh is not closed."""
    a, b = as_manifold(base), as_manifold(tool)
    return None if a is None or b is None else float(combined(a, b, operation).volume())


def shown(solid: manifold3d.Manifold, name: str) -> DisplayMesh:
    """A solid's triangles with normals that are smooth but for its sharp edges, as one face of that name."""
    mesh = solid.calculate_normals(0, SHARP).to_mesh64()
    values = np.asarray(mesh.vert_properties)
    triangles = np.asarray(mesh.tri_verts, dtype=np.int64)
    return DisplayMesh(
        values[:, :3].copy(), values[:, 3:6].copy(), triangles, np.zeros(len(triangles), dtype=np.int64), [name], []
    )
