"""Adapters from NumPy arrays to the kernel's geometry, used by everything in this package."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from OCP.BRep import BRep_Builder
from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_gp_Pnt2d, Array1_int, Array2_double, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineCurve, Geom_BSplineSurface
from OCP.Geom2d import Geom2d_BSplineCurve
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Pnt2d
from OCP.Message import Message
from OCP.ShapeAnalysis import ShapeAnalysis_ShapeTolerance
from OCP.TopAbs import TopAbs_Orientation, TopAbs_ShapeEnum
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Edge

from leadline.core.geometry.plane import Array, Plane

Shape = Any  # the kernel's binding has no types

TOLERANCE = 1e-7
builder = BRep_Builder()


def pnt(p: Array) -> gp_Pnt:
    return gp_Pnt(float(p[0]), float(p[1]), float(p[2]))


def direction(v: Array) -> gp_Dir:
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


def gp_plane(plane: Plane) -> gp_Pln:
    """A plane with its origin, its x direction and its normal."""
    return gp_Pln(gp_Ax3(pnt(plane.origin), direction(plane.normal), direction(plane.x)))


def knot_arrays(knots: Array) -> tuple[Array1_double, Array1_int]:
    """A flat knot vector as the kernel's distinct knots and multiplicities."""
    return _knot_arrays(np.asarray(knots, dtype=float).tobytes())


@lru_cache(maxsize=256)  # the faces of a span share theirs
def _knot_arrays(data: bytes) -> tuple[Array1_double, Array1_int]:
    knots = np.frombuffer(data)
    distinct, counts = np.unique(knots, return_counts=True)
    values, multiplicities = Array1_double(1, len(distinct)), Array1_int(1, len(distinct))
    for i, (k, m) in enumerate(zip(distinct, counts, strict=True), start=1):
        values.SetValue(i, float(k))
        multiplicities.SetValue(i, int(m))
    return values, multiplicities


def bspline_curve(control: Array, knots: Array, degree: int, weights: Array | None = None) -> Geom_BSplineCurve:
    """``control`` (n, 3), ``knots`` flat (n + degree + 1,), ``weights`` (n,) or None."""
    poles = Array1_gp_Pnt(1, len(control))
    for i, p in enumerate(control, start=1):
        poles.SetValue(i, pnt(p))
    values, multiplicities = knot_arrays(knots)
    if weights is None or np.all(weights == 1.0):
        return Geom_BSplineCurve(poles, values, multiplicities, degree)
    w = Array1_double(1, len(weights))
    for i, v in enumerate(weights, start=1):
        w.SetValue(i, float(v))
    return Geom_BSplineCurve(poles, w, values, multiplicities, degree)


def bspline_curve_2d(control: Array, knots: Array, degree: int) -> Geom2d_BSplineCurve:
    """A line in a face's parameters: ``control`` (n, 2), ``knots`` flat (n + degree + 1,)."""
    poles = Array1_gp_Pnt2d(1, len(control))
    for i, (u, v) in enumerate(control, start=1):
        poles.SetValue(i, gp_Pnt2d(float(u), float(v)))
    return Geom2d_BSplineCurve(poles, *knot_arrays(knots), degree)


def bspline_surface(
    net: Array, u_knots: Array, v_knots: Array, degrees: tuple[int, int], weights: Array | None = None
) -> Geom_BSplineSurface:
    """``net`` (nu, nv, 3); ``weights`` (nu,) vary across the section only."""
    nu, nv = net.shape[:2]
    poles = Array2_gp_Pnt(1, nu, 1, nv)
    for i in range(nu):
        for j in range(nv):
            poles.SetValue(i + 1, j + 1, pnt(net[i, j]))
    u, um = knot_arrays(u_knots)
    v, vm = knot_arrays(v_knots)
    if weights is None or np.all(weights == 1.0):
        return Geom_BSplineSurface(poles, u, v, um, vm, *degrees)
    w = Array2_double(1, nu, 1, nv)
    for i in range(nu):
        for j in range(nv):
            w.SetValue(i + 1, j + 1, float(weights[i]))
    return Geom_BSplineSurface(poles, w, u, v, um, vm, *degrees)


_CASTS = {
    TopAbs_ShapeEnum.TopAbs_FACE: TopoDS.Face,
    TopAbs_ShapeEnum.TopAbs_EDGE: TopoDS.Edge,
    TopAbs_ShapeEnum.TopAbs_WIRE: TopoDS.Wire,
    TopAbs_ShapeEnum.TopAbs_SOLID: TopoDS.Solid,
    TopAbs_ShapeEnum.TopAbs_SHELL: TopoDS.Shell,
    TopAbs_ShapeEnum.TopAbs_VERTEX: TopoDS.Vertex,
}


def parts(shape: Shape, kind: TopAbs_ShapeEnum) -> Iterator[Shape]:
    """The distinct faces, wires, edges, solids or vertices of a shape, in a stable order."""
    seen: dict[int, list[Shape]] = {}
    explorer = TopExp_Explorer(shape, kind)
    while explorer.More():
        part = _CASTS[kind](explorer.Current())
        same = seen.setdefault(hash(part), [])
        if not any(part.IsSame(other) for other in same):
            same.append(part)
            yield part
        explorer.Next()


def edge_between(curve: Shape, first: float, last: float, start: Shape, end: Shape) -> Shape:
    """An edge on a curve over a range of its parameter, from one vertex to another."""
    edge = TopoDS_Edge()
    builder.MakeEdge(edge, curve, TOLERANCE)
    builder.Add(edge, start.Oriented(TopAbs_Orientation.TopAbs_FORWARD))
    builder.Add(edge, end.Oriented(TopAbs_Orientation.TopAbs_REVERSED))
    builder.Range(edge, float(first), float(last))
    return edge


def oriented(shape: Shape, forward: bool) -> Shape:
    return shape.Oriented(TopAbs_Orientation.TopAbs_FORWARD if forward else TopAbs_Orientation.TopAbs_REVERSED)


def compound(shapes: Sequence[Shape]) -> Shape:
    """Shapes as one."""
    whole = TopoDS_Compound()
    builder.MakeCompound(whole)
    for shape in shapes:
        builder.Add(whole, shape)
    return whole


def faces(shape: Shape) -> list[Shape]:
    return list(parts(shape, TopAbs_ShapeEnum.TopAbs_FACE))


def edges(shape: Shape) -> list[Shape]:
    return list(parts(shape, TopAbs_ShapeEnum.TopAbs_EDGE))


def shells(shape: Shape) -> list[Shape]:
    return list(parts(shape, TopAbs_ShapeEnum.TopAbs_SHELL))


def solids(shape: Shape) -> list[Shape]:
    return list(parts(shape, TopAbs_ShapeEnum.TopAbs_SOLID))


def loosest(shape: Shape) -> float:
    """The greatest tolerance of its faces, edges and vertices, mm."""
    return float(ShapeAnalysis_ShapeTolerance().Tolerance(shape, 1))


Message.DefaultMessenger_s().ChangePrinters().Clear()  # the kernel speaks to the designer through us
