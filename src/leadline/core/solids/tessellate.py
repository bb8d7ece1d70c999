"""The kernel's mesher, for bodies whose faces a boolean has trimmed."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepLib import BRepLib, BRepLib_ToolTriangulatedShape
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepTools import BRepTools
from OCP.GCPnts import GCPnts_TangentialDeflection
from OCP.GeomAbs import GeomAbs_Shape
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location

from leadline.core.geometry.mesh import MOST_TRIANGLES, DisplayMesh, Fineness, Ints, MeshBuilder
from leadline.core.geometry.plane import Array
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, edges, faces

SPARE = 1.1  # times as coarse as should do, where there are too many triangles
STARTED = Fineness(0.05, 0.3)  # as bodies are displayed
GROWTH = 2.0  # times as many triangles as the fineness asks for are still looked for
COARSEST = 1.0  # rad between the facets of a mesh


def tessellate(body: Body, chord: float = STARTED.chord, angle: float = STARTED.angle) -> DisplayMesh:
    """Triangles of a body, with the surface's own normals, faces named, edges as lines; they deviate by at most
    ``chord`` mm and ``angle`` rad.
    """
    _mesh(body, chord, angle)
    builder = MeshBuilder()
    for face, name in zip(faces(body.shape), body.face_names, strict=True):
        _add_face(builder, face, name)
    for line in _meshed_lines(body):
        builder.add_line(line)
    return builder.mesh()


def triangulated(body: Body, chord: float = STARTED.chord, angle: float = STARTED.angle) -> tuple[Array, Ints]:
    """The bare triangles (m, 3) of a body and their points (n, 3), those of each face by themselves: in half the time
    of ``tessellate``.
    """
    _mesh(body, chord, angle)
    points, triangles, count = [], [], 0
    for face in faces(body.shape):
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(face, location)
        if mesh is None:
            continue
        own = _triangles_of(mesh) + count
        points.append(_points_of(mesh, location))
        triangles.append(own[:, ::-1] if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else own)
        count += len(points[-1])
    return np.vstack(points), np.vstack(triangles)


def _mesh(body: Body, chord: float, angle: float) -> None:
    BRepTools.Clean_s(body.shape, True)
    BRepMesh_IncrementalMesh(body.shape, chord, False, angle, True)


def displayed(body: Body) -> DisplayMesh:
    """The mesh by which a body is shown: made when it is first asked for, then kept with it."""
    if body.drawn is None:
        body.drawn = no_more_than(body, MOST_TRIANGLES)
    return body.drawn


def no_more_than(body: Body, most: int) -> DisplayMesh:
    """A body's mesh as fine as it is displayed, or coarser where that would take more than about so many triangles."""
    chord, angle = STARTED.chord, STARTED.angle
    mesh = tessellate(body, chord, angle)
    while len(mesh.triangles) > most and angle < COARSEST:
        times = (
            SPARE * len(mesh.triangles) / most
        )  # there are as many both ways as the root of the chord, or as the angle
        chord, angle = chord * times, min(angle * math.sqrt(times), COARSEST)
        mesh = tessellate(body, chord, angle)
    return mesh


def fine_mesh(body: Body, fineness: Fineness, most: int) -> DisplayMesh | int:
    """A body's mesh within a fineness; how many triangles it has when it is already too coarse, if they are more than
    ``most``.

    Where these might be too many it is made finer step by step, as the kernel neither tells beforehand how many there
    will be nor stops.
    """
    times = max(1.0, STARTED.chord / fineness.chord, (STARTED.angle / fineness.angle) ** 2)
    steps = math.ceil(math.log2(times))
    for k in range(steps, -1, -1):
        mesh = tessellate(
            body,
            max(fineness.chord, min(STARTED.chord, fineness.chord * 2**k)),
            max(fineness.angle, min(STARTED.angle, fineness.angle * 2 ** (k / 2))),
        )
        count = len(mesh.triangles)
        if count > most:
            return count
        if k == steps > 0 and GROWTH * times * count <= most:
            return tessellate(body, fineness.chord, fineness.angle)
    return mesh


def _meshed_lines(body: Body) -> list[Array]:
    """The edges that are drawn, those with a crease, as polylines (k, 3) through points of the mesh that the body has
    now.
    """
    mark_smooth_edges(body.shape)
    found: dict[int, list[Shape]] = {}
    lines = []
    for face in faces(body.shape):
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(face, location)
        if mesh is None:
            continue
        for edge in edges(face):
            seen = found.setdefault(hash(edge), [])
            polygon = BRep_Tool.PolygonOnTriangulation_s(edge, mesh, location)
            if polygon is None or not has_crease(edge) or any(edge.IsSame(other) for other in seen):
                continue
            seen.append(edge)
            points = np.array([mesh.Node(polygon.Node(i)).Coord() for i in range(1, polygon.NbNodes() + 1)])
            lines.append(
                points if location.IsIdentity() else points @ _turn_of(location)[:, :3].T + _turn_of(location)[:, 3]
            )
    return lines


def edge_lines(body: Body, chord: float = 0.05) -> list[Array]:
    """The edges that are drawn, those with a crease, as polylines (k, 3)."""
    mark_smooth_edges(body.shape)
    lines = (_edge_line(edge, chord) for edge in edges(body.shape))
    return [line for line in lines if line is not None]


def _add_face(builder: MeshBuilder, face: Shape, name: str) -> None:
    location = TopLoc_Location()
    mesh = BRep_Tool.Triangulation_s(face, location)
    if mesh is None:
        return
    BRepLib_ToolTriangulatedShape.ComputeNormals_s(face, mesh)
    reverse = face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED
    normal = mesh.Normal
    normals = np.array([normal(i).Coord() for i in range(1, mesh.NbNodes() + 1)])
    if not location.IsIdentity():
        normals = normals @ _turn_of(location)[:, :3].T
    points, triangles = _points_of(mesh, location), _triangles_of(mesh)
    if reverse:
        triangles, normals = triangles[:, ::-1], -normals
    builder.add_triangles(points, normals, triangles, name)


def _turn_of(location: TopLoc_Location) -> Array:
    """The move of a location as a matrix (3, 4)."""
    move = location.Transformation()
    return np.array([[move.Value(i, j) for j in (1, 2, 3, 4)] for i in (1, 2, 3)])


def _points_of(mesh: Any, location: TopLoc_Location) -> Array:
    """The points (n, 3) of a face's mesh, where the face is."""
    node = mesh.Node
    points = np.array([node(i).Coord() for i in range(1, mesh.NbNodes() + 1)])
    if location.IsIdentity():
        return points
    turn = _turn_of(location)
    return np.asarray(points @ turn[:, :3].T + turn[:, 3])


def _triangles_of(mesh: Any) -> Ints:
    """The triangles (m, 3) of a face's mesh."""
    triangle = mesh.Triangle
    return np.array([triangle(i).Get() for i in range(1, mesh.NbTriangles() + 1)], dtype=np.int64) - 1


@dataclass(frozen=True)
class FaceMesh:
    """The mesh that a face has: ``points`` (n, 3), their ``parameters`` on the face's surface (n, 2), and ``triangles``
    (m, 3).
    """

    points: Array
    parameters: Array
    triangles: Ints


def face_mesh(face: Shape) -> FaceMesh | None:
    """The mesh that a face has, if it has one."""
    location = TopLoc_Location()
    mesh = BRep_Tool.Triangulation_s(face, location)
    if mesh is None:
        return None
    parameters = np.array([mesh.UVNode(i).Coord() for i in range(1, mesh.NbNodes() + 1)])
    return FaceMesh(_points_of(mesh, location), parameters, _triangles_of(mesh))


def points_on(face: Shape) -> Array:
    """Points (n, 3) of a face that has a mesh: its points, and of each triangle the one in the middle of the face's own
    parameters, which is on the face.
    """
    mesh = face_mesh(face)
    if mesh is None:
        return np.empty((0, 3))
    surface = BRepAdaptor_Surface(face)
    every = np.vstack([mesh.parameters, mesh.parameters[mesh.triangles].mean(axis=1)])
    return np.array([surface.Value(u, v).Coord() for u, v in every.tolist()])


def _edge_line(edge: Shape, chord: float) -> Array | None:
    return edge_points(edge, chord) if has_crease(edge) else None


def edge_points(edge: Shape, chord: float = 0.05) -> Array:
    """Points (n, 3) along an edge, for display."""
    points = GCPnts_TangentialDeflection(BRepAdaptor_Curve(edge), 0.2, chord)
    return np.array([points.Value(i + 1).Coord() for i in range(points.NbPoints())])


def has_crease(edge: Shape) -> bool:
    """Whether an edge is a line at which a body has a crease, as far as the kernel has noted."""
    return not BRep_Tool.Degenerated_s(edge) and not _smooth(edge)


def _smooth(edge: Shape) -> bool:
    """Seams between faces that run on into each other are not drawn."""
    return bool(BRep_Tool.MaxContinuity_s(edge) != GeomAbs_Shape.GeomAbs_C0)


def mark_smooth_edges(shape: Shape) -> None:
    """Let the kernel note which edges join faces smoothly."""
    BRepLib.EncodeRegularity_s(shape, 1e-3)
