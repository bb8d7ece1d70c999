"""The display mesh of a sweep whose ends planes have cut off: its own structured mesh, cut the same way."""

from __future__ import annotations

from collections.abc import Sequence

import manifold3d
import numpy as np
from numpy.typing import NDArray

from leadline.core.geometry.mesh import DisplayMesh, Ints
from leadline.core.geometry.plane import Array, Plane

SAME_PLACE = 1e-8  # of the mesh's size, within which corners are one


def cut_mesh(mesh: DisplayMesh, cuts: Sequence[tuple[Plane, str]]) -> DisplayMesh | None:
    """What of a closed mesh lies above planes, without edge lines; None where the cut edges do not close.

    Each cut is a plane whose normal points to what stays, and the name of the face that it makes. Corners on a cut
    lie on the chords of the mesh, so that it is as true as it was.
    """
    up = [(np.asarray(plane.height(mesh.points)) >= 0)[mesh.triangles] for plane, _ in cuts]
    whole = np.all([own.all(axis=1) for own in up], axis=0)
    gone = np.any([~own.any(axis=1) for own in up], axis=0)
    crossing: DisplayMesh | None = _compact(_some(mesh, ~(whole | gone)))  # few: the rest is left as it is
    for plane, name in cuts:
        crossing = _above(crossing, plane, name) if crossing is not None else None
    if crossing is None:
        return None
    return _compact(
        DisplayMesh(
            np.vstack([mesh.points, crossing.points]),
            np.vstack([mesh.normals, crossing.normals]),
            np.vstack([mesh.triangles[whole], crossing.triangles + len(mesh.points)]),
            np.concatenate([mesh.face[whole], crossing.face]),
            crossing.names,
            [],
        )
    )


def _some(mesh: DisplayMesh, chosen: NDArray[np.bool_]) -> DisplayMesh:
    """Some of the triangles of a mesh, with all of its corners."""
    return DisplayMesh(mesh.points, mesh.normals, mesh.triangles[chosen], mesh.face[chosen], mesh.names, mesh.lines)


def _above(mesh: DisplayMesh, plane: Plane, name: str) -> DisplayMesh | None:
    heights = np.asarray(plane.height(mesh.points))
    up = heights >= 0
    count = up[mesh.triangles].sum(axis=1)
    crossing = (count == 1) | (count == 2)
    pieces = _clipped(mesh, heights, up, np.flatnonzero(crossing))
    triangles = [mesh.triangles[count == 3], pieces.triangles]
    face = [mesh.face[count == 3], mesh.face[pieces.origin]]
    points, normals, names = [mesh.points, pieces.points], [mesh.normals, pieces.normals], list(mesh.names)
    if len(pieces.rims):
        rings = _rings(pieces.points[pieces.rims - len(mesh.points)], float(np.ptp(mesh.points, axis=0).max()))
        if rings is None:
            return None
        corners = np.vstack(rings)
        seen_from_above = np.asarray(manifold3d.triangulate([plane.to_plane(ring) for ring in rings]), dtype=np.int64)
        cap = seen_from_above[:, ::-1] + len(mesh.points) + len(pieces.points)
        triangles.append(cap)
        face.append(np.full(len(cap), len(names), dtype=np.int64))
        points.append(corners)
        normals.append(np.tile(-plane.normal, (len(corners), 1)))
        names.append(name)
    return DisplayMesh(np.vstack(points), np.vstack(normals), np.vstack(triangles), np.concatenate(face), names, [])


class _Pieces:
    """What stays of crossing triangles: new corners, triangles by old and new corners, the triangles that they are
    of, and ``rims`` (k, 2), the cut edges, which run counter-clockwise round the cut seen from above.
    """

    def __init__(self, points: Array, normals: Array, triangles: Ints, origin: Ints, rims: Ints) -> None:
        self.points, self.normals, self.triangles, self.origin, self.rims = points, normals, triangles, origin, rims


def _clipped(mesh: DisplayMesh, heights: Array, up: NDArray[np.bool_], crossing: Ints) -> _Pieces:
    """Each crossing triangle is turned so that its lone corner, above or below, comes first."""
    t = mesh.triangles[crossing]
    lone_up = up[t].sum(axis=1) == 1
    first = np.argmax(np.where(lone_up[:, None], up[t], ~up[t]), axis=1)
    a, b, c = (t[np.arange(len(t)), (first + k) % 3] for k in range(3))
    start = len(mesh.points)
    on_b, on_c = start + np.arange(len(t)), start + len(t) + np.arange(len(t))
    ends = [_on_plane(mesh, heights, np.where(lone_up, a, o), np.where(lone_up, o, a)) for o in (b, c)]
    lone = np.stack([a, on_b, on_c], axis=1)[lone_up]
    pair = np.concatenate([np.stack([on_b, b, c], axis=1)[~lone_up], np.stack([on_b, c, on_c], axis=1)[~lone_up]])
    origin = np.concatenate([crossing[lone_up], crossing[~lone_up], crossing[~lone_up]])
    rims = np.where(lone_up[:, None], np.stack([on_b, on_c], axis=1), np.stack([on_c, on_b], axis=1))
    points, normals = (np.vstack([e[k] for e in ends]) for k in range(2))
    return _Pieces(points, normals, np.concatenate([lone, pair]), origin, rims)


def _on_plane(mesh: DisplayMesh, heights: Array, above: Ints, below: Ints) -> tuple[Array, Array]:
    """Where edges meet the plane, and the normals there; always from above, so that neighbours agree to the bit."""
    share = (heights[above] / (heights[above] - heights[below]))[:, None]
    normals = mesh.normals[above] + share * (mesh.normals[below] - mesh.normals[above])
    size = np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-30)
    return mesh.points[above] + share * (mesh.points[below] - mesh.points[above]), normals / size


def _rings(rims: Array, size: float) -> list[Array] | None:
    """Cut edges (k, 2, 3) chained into closed rings of corners (m, 3) each; None when they do not close."""
    _, number = np.unique(np.round(rims.reshape(-1, 3) / (size * SAME_PLACE)), axis=0, return_inverse=True)
    start, end = number.reshape(-1, 2).T
    real = start != end
    following = dict(zip(start[real].tolist(), end[real].tolist(), strict=True))
    corner = dict(zip(number.ravel().tolist(), rims.reshape(-1, 3), strict=True))
    if len(following) != int(real.sum()) or set(following) != set(following.values()):
        return None
    rings = []
    while following:
        at = next(iter(following))
        ring = []
        while at in following:
            ring.append(corner[at])
            at = following.pop(at)
        rings.append(np.array(ring))
    return rings


def _compact(mesh: DisplayMesh) -> DisplayMesh:
    """Without corners that no triangle uses."""
    used = np.zeros(len(mesh.points), dtype=bool)
    used[mesh.triangles] = True
    number = np.cumsum(used) - 1
    return DisplayMesh(mesh.points[used], mesh.normals[used], number[mesh.triangles], mesh.face, mesh.names, mesh.lines)
