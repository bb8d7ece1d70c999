"""Named faces and edges of built bodies, as exact planes, outlines and curves: for bodies that are known by their solid
alone.
"""

from __future__ import annotations

from dataclasses import replace
from hashlib import blake2s

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_CurveType, GeomAbs_SurfaceType
from OCP.TopAbs import TopAbs_Orientation, TopAbs_ShapeEnum
from scipy.interpolate import BSpline

from leadline.core.geometry.edges import Edge, arc_edges, line_edge, spline_edge
from leadline.core.geometry.plane import Array, Plane, any_square_to, cross, plane_on
from leadline.core.paths.fitted import fitted
from leadline.core.solids.body import Body
from leadline.core.solids.edging import faces_at_edges, sharp_edges
from leadline.core.solids.kernel import Shape, edges, parts
from leadline.core.sweep.borders import FlatStrand, FreeStrand, Strand

SAME = 1e-7  # mm and rad within which faces lie on one plane
FREE_POINTS = (
    129  # of a free edge, by which it is drawn and projected: a cubic spline through them stays within 1e-6 of its size
)
LONG = 80  # letters of a name, above which it is told by a hash


def flat_plane(body: Body, name: str) -> Plane | None:
    """The plane of the faces of that name, its normal outward; None when there are none, or they do not lie on one
    plane.
    """
    found: Plane | None = None
    for face in body.face_of(name):
        surface = BRepAdaptor_Surface(face)
        if surface.GetType() != GeomAbs_SurfaceType.GeomAbs_Plane:
            return None
        flat = surface.Plane()
        normal = np.array(flat.Axis().Direction().Coord())
        if not flat.Direct():
            normal = -normal
        if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
            normal = -normal
        plane = plane_on(np.array(flat.Location().Coord()), normal)
        if found is not None and (
            float(plane.normal @ found.normal) < 1 - SAME or np.linalg.norm(plane.origin - found.origin) > SAME
        ):
            return None
        found = plane
    return found


def flat_outline(body: Body, name: str) -> tuple[Plane, list[list[Edge]]] | None:
    """The plane of a flat face and the outlines of all its pieces there, each with its edges in order; None as for
    ``flat_plane``.
    """
    plane = flat_plane(body, name)
    if plane is None:
        return None
    loops = []
    beside = faces_at_edges(body)
    for face in body.face_of(name):
        for wire in parts(face, TopAbs_ShapeEnum.TopAbs_WIRE):
            explorer = BRepTools_WireExplorer(wire, face)
            loop: list[Edge] = []
            while explorer.More():
                edge = explorer.Current()
                origin = next((n for e, n in beside[hash(edge)] if e.IsSame(edge) and n != name), name)
                loop += [replace(e, origin=_short(origin)) for e in _in_plane(edge, plane)]
                explorer.Next()
            loops.append(loop)
    return plane, loops


def _short(name: str) -> str:
    """A face's name as the origin of an edge: what is made of the outline is named after it in turn."""
    plain = name.replace("/", ":")
    return plain if len(plain) <= LONG else blake2s(plain.encode(), digest_size=8).hexdigest()


def face_strands(body: Body, name: str) -> list[Strand]:
    """What bounds the faces of that name, seams left out."""
    found: list[Strand] = []
    for face in body.face_of(name):
        for edge in edges(face):
            if not BRep_Tool.Degenerated_s(edge) and not BRep_Tool.IsClosed_s(edge, face):
                found.append(strand(edge))
    return found


def edge_strands(body: Body) -> dict[str, list[Strand]]:
    """The stretches of every sharp edge by its name, which is that of the two faces that meet there."""
    return {name: [strand(edge) for edge in own] for name, own in sharp_edges(body).items()}


def strand(edge: Shape) -> Strand:
    """An edge as a curve: exact where it is a line or an arc, else followed along the kernel's curve."""
    curve = BRepAdaptor_Curve(edge)
    a, b = curve.FirstParameter(), curve.LastParameter()
    first, last = np.array(curve.Value(a).Coord()), np.array(curve.Value(b).Coord())
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
        along = (last - first) / np.linalg.norm(last - first)
        plane = Plane(first, along, any_square_to(along))
        return FlatStrand(plane, (line_edge((0, 0), (float(np.linalg.norm(last - first)), 0), "line"),))
    if curve.GetType() == GeomAbs_CurveType.GeomAbs_Circle:
        circle = curve.Circle()
        centre, axis = np.array(circle.Location().Coord()), np.array(circle.Axis().Direction().Coord())
        x = (first - centre) / circle.Radius()
        return FlatStrand(
            Plane(centre, x, cross(axis, x)), tuple(arc_edges((0, 0), circle.Radius(), 0.0, b - a, "arc"))
        )
    return _free(curve, a, b)


def _free(curve: BRepAdaptor_Curve, a: float, b: float) -> FreeStrand:
    def follow(t: Array) -> Array:
        return np.array([curve.Value(float(v)).Coord() for v in np.ravel(t)])

    breaks = np.array([a, b])
    stations = np.linspace(a, b, FREE_POINTS)
    slopes = np.array([curve.DN(float(t), 1).Coord() for t in stations])
    return FreeStrand(stations, follow(stations), slopes, breaks, follow)


def _in_plane(edge: Shape, plane: Plane) -> list[Edge]:
    """An edge of a flat face in the plane's coordinates, in the direction in which the face is passed round."""
    own = strand(edge)
    made = [_placed(e, own.plane, plane) for e in own.edges] if isinstance(own, FlatStrand) else _splines(own, plane)
    if edge.Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
        made = [e.reversed() for e in reversed(made)]
    return made


def _placed(edge: Edge, at: Plane, plane: Plane) -> Edge:
    """An edge drawn on one plane as it lies on another, which is the same one."""
    matrix = np.column_stack([plane.to_plane(plane.origin + v) for v in (at.x, at.y)])
    return edge.mapped(matrix, plane.to_plane(at.origin))


def _splines(own: FreeStrand, plane: Plane) -> list[Edge]:
    spline = fitted(own.follow, float(own.breaks[0]), float(own.breaks[-1]))
    flat = BSpline(spline.t, plane.to_plane(spline.c), spline.k)
    return [spline_edge(flat, "curve")]
