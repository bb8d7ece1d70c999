"""STL files read as meshes, to be shown and measured to."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
import trimesh
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem

CREASE = 0.5  # rad between neighbouring triangles, from which on the edge between them is drawn
MOST_LINES = 20_000  # edges that are drawn; of a mesh with more, e.g. a scan, none are


@dataclass(frozen=True)
class ReadMesh:
    """The mesh of a file, all of its triangles one face; how many edges have no neighbour (``open``).

    It has a volume (mm³) if nothing is open.
    """

    mesh: DisplayMesh
    open: int
    volume: float | None


def is_stl(data: bytes) -> bool:
    """Whether a file looks like STL, with text or with numbers: a STEP file (ISO 10303-21) begins otherwise."""
    return not data.lstrip()[:12].upper().startswith(b"ISO-10303-21")


def read_stl(data: bytes, scale: float, name: str) -> ReadMesh:
    """The triangles of an STL file with its numbers times ``scale`` (mm), as a face of this ``name``.

    One that is closed but inside out is turned.

    Raises:
        Problem: it is no STL file, or holds no triangle.
    """
    mesh = _read(data)
    mesh.vertices = np.asarray(mesh.vertices, dtype=float) * scale
    mesh.merge_vertices()
    mesh.update_faces(mesh.nondegenerate_faces())
    if len(mesh.faces) == 0 or not np.isfinite(mesh.vertices).all():
        raise _not_stl()
    open_edges = _open_edges(mesh)
    volume = float(mesh.volume) if open_edges == 0 else None
    if volume is not None and volume < 0:
        mesh.invert()
        volume = -volume
    return ReadMesh(_displayed(mesh, name), open_edges, volume)


def _read(data: bytes) -> trimesh.Trimesh:
    try:
        mesh = trimesh.load_mesh(io.BytesIO(data), file_type="stl", process=False)
    except Exception as error:  # whatever the reader makes of a file of any other kind
        raise _not_stl() from error
    if not isinstance(mesh, trimesh.Trimesh):
        raise _not_stl()
    return mesh


def _not_stl() -> Problem:
    return Problem(
        "not-stl",
        "The file is neither a readable STEP file nor a readable STL file.",
        "Save it again where it comes from.",
        of="file",
    )


def _open_edges(mesh: trimesh.Trimesh) -> int:
    """How many edges do not have just two triangles, which pass them in opposite directions."""
    a, b = np.asarray(mesh.edges, dtype=np.int64).T
    passed, counts = np.unique(a * len(mesh.vertices) + b, return_counts=True)
    back = passed % len(mesh.vertices) * len(mesh.vertices) + passed // len(mesh.vertices)
    return int((~np.isin(back, passed)).sum() + (counts > 1).sum())


def _displayed(mesh: trimesh.Trimesh, name: str) -> DisplayMesh:
    """With a normal at each corner that is the mean over the triangles that go on smoothly there, by their areas."""
    smooth = mesh.face_adjacency_angles < CREASE
    first, second = mesh.face_adjacency[smooth].T
    n = len(mesh.faces)
    _, stretch = connected_components(coo_array((np.ones(len(first)), (first, second)), shape=(n, n)), directed=False)
    corners = np.asarray(mesh.faces, dtype=np.int64).ravel()
    _, at, triangles = np.unique(corners * n + np.repeat(stretch, 3), return_index=True, return_inverse=True)
    weighted = np.repeat(mesh.face_normals * mesh.area_faces[:, None], 3, axis=0)
    normals: Array = np.stack([np.bincount(triangles, weighted[:, k], len(at)).astype(float) for k in range(3)], axis=1)
    normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-300)[:, None]
    return DisplayMesh(
        np.array(mesh.vertices[corners[at]], dtype=float),
        normals,
        triangles.reshape(-1, 3),
        np.zeros(n, dtype=np.int64),
        [name],
        _creases(mesh),
    )


def _creases(mesh: trimesh.Trimesh) -> list[Array]:
    sharp = mesh.face_adjacency_edges[mesh.face_adjacency_angles >= CREASE]
    return [] if len(sharp) > MOST_LINES else [np.array(mesh.vertices[pair], dtype=float) for pair in sharp]
