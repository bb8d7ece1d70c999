"""Surfaces made thick: between a surface and the same one moved along its normals."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_Sewing
from OCP.BRepLib import BRepLib
from OCP.TopoDS import TopoDS_Solid
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.edges import greville
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.solids.body import Body, encloses, rough_volume
from leadline.core.solids.kernel import TOLERANCE, Shape, bspline_surface, builder, faces, shells
from leadline.core.surfaces.offset import DEGREE, Fitted, Offset

SEWN = 2e-5  # mm, by which borders that are to be one may be apart
EVEN = np.array([0.0, 0.0, 1.0, 1.0])


@dataclass(frozen=True)
class Skin:
    """One of the two faces of what is made thick: faces of the kernel and their names, and the borders that it leaves
    free.

    A border is told by the numbers of its side and where it is on it, as ``Offset.free`` does.
    """

    faces: Sequence[Shape]
    names: Sequence[str]
    borders: Mapping[tuple[int, int, int, int], BSpline]


def moved_skin(offset: Offset, owner: str) -> Skin:
    """The moved sides of an outline, named ``owner/<section edge>/<path piece>``. Raises Problem."""
    made = offset.fitted()
    borders = {(f.span, f.edge, *b): _border(f, *b) for f in made for b in offset.free(f.span, f.edge)}
    return Skin(
        [face_of(f.net, f.knots, (DEGREE, DEGREE)) for f in made],
        [f"{owner}/{offset.sides[f.span][f.edge].name}" for f in made],
        borders,
    )


def kept_skin(body: Body, names: Sequence[str], offset: Offset) -> Skin:
    """A surface as it is, its faces with these names; ``offset`` is of no height, and tells its borders."""
    borders = {(f.span, f.edge, *b): _border(f, *b) for f in offset.fitted() for b in offset.free(f.span, f.edge)}
    return Skin(faces(body.shape), names, borders)


def between(one: Skin, other: Skin, title: str, owner: str) -> Body:
    """The solid between two skins with the same borders, its rims ruled.

    Raises:
        Problem: it is not sound.
    """
    rims = [(_ruled(border, other.borders[key]), f"{owner}/rim/{_place(key)}") for key, border in one.borders.items()]
    return sewn([*zip(one.faces, one.names, strict=True), *zip(other.faces, other.names, strict=True), *rims], title)


def sewn(every: Sequence[tuple[Shape, str]], title: str) -> Body:
    """Named faces that close as one solid, with or without a void in it. Raises Problem when they do not."""
    sewing = BRepBuilderAPI_Sewing(SEWN)
    for face, _ in every:
        sewing.Add(face)
    sewing.Perform()
    shape = _solid(sewing.SewedShape())
    kept = [(sewing.ModifiedSubShape(face) if sewing.IsModifiedSubShape(face) else face, name) for face, name in every]
    found = [next((n for s, n in kept if s.IsSame(f)), "") for f in faces(shape)]
    body = Body(title, shape, found)
    if sewing.NbFreeEdges() or len(found) != len(every) or not all(found) or not body.valid() or not encloses(shape):
        raise Problem(
            "no-thick",
            "The surface cannot be made thick so.",
            "Give it less, take the other side, or give what it is made by a wall.",
            of="wall",
        )
    return body


def _ruled(one: BSpline, other: BSpline) -> Shape:
    """The face between two borders, straight from the one to the other at each parameter."""
    inner = np.unique(np.round(np.concatenate([one.t, other.t]), 12))[
        1:-1
    ]  # both from 0 to 1, their inner knots single
    knots = np.concatenate([np.zeros(DEGREE + 1), inner, np.ones(DEGREE + 1)])
    at = greville(knots, DEGREE)
    both = np.hstack(
        [one(at), other(at)]
    )  # curves on some of the knots are curves on all of them, told by their values
    net = make_interp_spline(at, both, k=DEGREE, t=knots).c.reshape(-1, 2, 3)
    return face_of(net, (knots, EVEN), (DEGREE, 1))


def _place(key: tuple[int, int, int, int]) -> str:
    return ("left", "right", "start", "end")[2 * key[2] + key[3]]


def _border(fitted: Fitted, way: int, end: int) -> BSpline:
    net = fitted.net if way == 0 else np.moveaxis(fitted.net, 1, 0)
    return BSpline(fitted.knots[1 - way], net[-1 if end else 0], DEGREE)


def inside_name(owner: str, name: str) -> str:
    """The name of the face that runs along another one inside."""
    return f"{owner}/inside/{name.replace('/', ':')}"


def face_of(net: Array, knots: tuple[Array, Array], degrees: tuple[int, int]) -> Shape:
    return BRepBuilderAPI_MakeFace(bspline_surface(net, *knots, degrees), TOLERANCE).Face()


def _solid(sewn: Shape) -> Shape:
    """A solid of one closed shell, or of an outer and an inner one. Raises Problem."""
    found: list[Shape] = []
    for shell in shells(sewn):
        solid = TopoDS_Solid()
        builder.MakeSolid(solid)
        builder.Add(solid, shell)
        BRepLib.OrientClosedSolid_s(solid)
        found.append(solid)
    if not 1 <= len(found) <= 2:
        raise Problem(
            "no-thick", "The surface cannot be made thick so.", "Give it less, or take the other side.", of="wall"
        )
    found.sort(key=rough_volume, reverse=True)  # not by the kernel's boxes, which are loose about tori and splines
    for inner in found[1:]:
        builder.Add(found[0], shells(inner)[0].Reversed())
    return found[0]
