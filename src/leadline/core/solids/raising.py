"""Areas of a body's side raised or sunk: what lies between the faces and their offset, within an outline that is
carried straight onto them.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex, BRepBuilderAPI_Sewing
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepLProp import BRepLProp_SLProps
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Mode
from OCP.GeomAbs import GeomAbs_JoinType, GeomAbs_SurfaceType
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_Orientation
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem, mm
from leadline.core.solids.body import Body
from leadline.core.solids.booleans import listed
from leadline.core.solids.combine import combine
from leadline.core.solids.kernel import TOLERANCE, Shape, compound, edges, faces, pnt
from leadline.core.solids.tessellate import face_mesh, points_on, tessellate

ACCURACY = 1e-5  # mm, of the kernel's offset
EDGE_ON = 1e-6
FACING = 0.01  # least cosine between a side and the normal of the outline's plane, where the outline lies on it
MESHED = 0.02  # of a patch's size: how fine the mesh is by which its normals are seen
NARROWER = 12  # halvings with which the widest room is looked for in which a side faces the plane
FEWER = 3  # halvings of the room where a patch with all of it cannot be offset
FOLDED = 1e-3  # least share of a side's own size to which its offset may shrink anywhere
BORDER = 1e-4  # mm beside the border of a wider outline
BASE, TOP, RIM, REACH = "base", "top", "rim", "reach"


@dataclass(frozen=True)
class Patch:
    """Some of a body's faces, trimmed, that hang together; ``height`` of their middle over the plane of the outline."""

    shape: Shape
    height: float

    def facing(self, normal: Array) -> tuple[float, float]:
        """The least and the greatest cosine between its outward normals and a direction (3,)."""
        size = float(np.linalg.norm(np.subtract(*self._body.box())))
        mesh = tessellate(self._body, MESHED * size)
        cosines = mesh.normals @ normal
        return float(cosines.min()), float(cosines.max())

    @property
    def _body(self) -> Body:
        return Body("patch", self.shape, [BASE] * len(faces(self.shape)))

    @property
    def somewhere(self) -> Array:
        """A point of it, (3,)."""
        return np.asarray(points_on(faces(self.shape)[0])[-1])

    def distance(self, place: Array) -> float:
        """How far it is from a point, mm."""
        return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(pnt(place)).Vertex(), self.shape).Value())


def nearest_patch(body: Body, prism: Body, plane: Plane) -> Patch:
    """What a prism cuts out of a body's faces, of several patches the one nearest to the prism's plane, ahead of it if
    any is.

    Raises:
        Problem: the prism meets no face.
    """
    found = _patches(body, prism, plane)
    if not found:
        raise Problem(
            "misses-body",
            f"The outline carried along its plane's normal does not meet “{body.name}”.",
            "Move the outline, or pick another body.",
            of="profile",
        )
    ahead = [p for p in found if p.height > 0]
    return min(ahead or found, key=lambda p: abs(p.height))


def _patches(body: Body, wide: Body, plane: Plane) -> list[Patch]:
    own = compound([f for f in faces(body.shape) if not _along(f, plane.normal)])
    common = BRepAlgoAPI_Common()
    common.SetArguments(listed(own))
    common.SetTools(listed(wide.shape))
    common.Build()
    found = faces(common.Shape()) if common.IsDone() else []
    return [_patch(group, plane) for group in _hanging_together(found)]


def _along(face: Shape, direction: Array) -> bool:
    """Whether a face is flat and lies along a direction: nothing that is carried that way lies on it."""
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_SurfaceType.GeomAbs_Plane:
        return False
    return abs(float(np.array(surface.Plane().Axis().Direction().Coord()) @ direction)) < EDGE_ON


def _hanging_together(found: list[Shape]) -> list[list[Shape]]:
    """Faces in groups that share edges."""
    at: dict[int, list[int]] = defaultdict(list)
    for i, face in enumerate(found):
        for edge in edges(face):
            at[hash(edge)].append(i)
    pairs = np.array([(own[0], other) for own in at.values() for other in own[1:]], dtype=int).reshape(-1, 2)
    joined = coo_array((np.ones(len(pairs)), tuple(pairs.T)), shape=(len(found), len(found)))
    count, group = connected_components(joined, directed=False)
    return [[face for face, own in zip(found, group, strict=True) if own == k] for k in range(count)]


def _patch(own: list[Shape], plane: Plane) -> Patch:
    sewing = BRepBuilderAPI_Sewing(1e-6)
    for face in own:
        sewing.Add(face)
    sewing.Perform()
    shape = sewing.SewedShape()
    numbers = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, numbers)
    return Patch(shape, float(plane.height(np.array(numbers.CentreOfMass().Coord()))))


def thickened(
    patch: Patch, height: float, owner: str, name: str, inside: Callable[[Array], bool] = lambda _: True
) -> Body:
    """The solid between a patch and its offset, ``height`` mm outside of it, or inside if under zero.

    Its faces are named ``owner/top`` (the offset), ``owner/base`` (the patch) and ``owner/rim``; ``owner/reach`` where
    the patch's border, at a point (3,) that is not ``inside``, is that of what the patch was cut out by.

    Raises:
        Problem: the kernel cannot offset the faces by so much.
    """
    least = min(_shrunk(f, height) for f in faces(patch.shape))
    if least < FOLDED:
        raise Problem(
            "no-raising",
            (
                f"The side of “{name}” bends more tightly than {mm(abs(height))} here, so that it cannot be "
                "offset by so much."
            ),
            "Give less height, or move the outline to where the side bends less.",
            of="height",
        )
    tool = BRepOffset_MakeOffset()
    skin, sharp = BRepOffset_Mode.BRepOffset_Skin, GeomAbs_JoinType.GeomAbs_Intersection
    tool.Initialize(patch.shape, height, ACCURACY, skin, False, False, sharp, True, False)
    failed = Problem(
        "no-raising",
        f"The side of “{name}” cannot be offset by so much here.",
        "Give less height, or move the outline to where the side bends less.",
        of="height",
    )
    try:
        tool.MakeOffsetShape()
    except Exception:  # the kernel's own errors, of many kinds; all of them say that it cannot be done
        raise failed from None
    if not tool.IsDone():
        raise failed
    shape = tool.Shape()
    base = {hash(f) for f in faces(patch.shape)}
    top = {hash(image) for f in faces(patch.shape) for image in tool.Generated(f)}
    borders = {hash(e) for e in edges(patch.shape) if not inside(_middle(e))}

    def what(face: Shape) -> str:
        if hash(face) in base:
            return BASE
        if hash(face) in top:
            return TOP
        return REACH if any(hash(e) in borders for e in edges(face)) else RIM

    names = [f"{owner}/{what(f)}" for f in faces(shape)]
    made = Body(name, shape, names)
    if not made.valid() or made.volume() == 0:
        raise failed
    return made if made.volume() > 0 else Body(name, shape.Reversed(), names)


def _shrunk(face: Shape, height: float) -> float:
    """The least factor by which a face, which has a mesh, is stretched anywhere along a line of curvature when it is
    offset outward by ``height`` mm: 1 - h k, do Carmo, Differential Geometry of Curves and Surfaces, 1976, section 3.5
    (exercise 11).
    """
    mesh, surface = face_mesh(face), BRepAdaptor_Surface(face)
    if mesh is None or surface.GetType() == GeomAbs_SurfaceType.GeomAbs_Plane:
        return 1.0
    along = -height if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else height
    least = 1.0
    for u, v in mesh.parameters.tolist():
        bending = BRepLProp_SLProps(surface, u, v, 2, TOLERANCE)
        if bending.IsCurvatureDefined():
            least = min(least, *(1 - along * k for k in (bending.MinCurvature(), bending.MaxCurvature())))
    return least


def _middle(edge: Shape) -> Array:
    curve = BRepAdaptor_Curve(edge)
    return np.array(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2).Coord())


@dataclass(frozen=True)
class Outline:
    """An outline on a plane, as far as raising needs it: ``prism`` is what it carries right through a body,
    ``wider(room, close)`` the same of an outline that has so much room (mm) all round, of the same shape if ``close``,
    else a rectangle, with a function that tells whether a place (2,) of the plane is inside of it by more than a hair.
    """

    plane: Plane
    prism: Body
    room: float
    wider: Callable[[float, bool], tuple[Body, Callable[[Array], bool]]]


def raised_on(body: Body, outline: Outline, height: float, owner: str) -> Body:
    """What is to be added to a body, or cut from it where ``height`` is under zero, so that its side is raised within
    an outline.

    The side is offset in a patch that is wider than the outline, so that the walls of what is raised are those of the
    outline's own prism; no wider than the side faces the outline's plane, unless the outline itself reaches round the
    body.

    Raises:
        Problem: the outline misses the body, the side cannot be offset or turns away, or a boolean fails.
    """
    plane = outline.plane
    own = nearest_patch(body, outline.prism, plane)
    least, most = own.facing(plane.normal)
    sign = 1.0 if least > FACING else -1.0 if most < -FACING else 0.0
    if not sign:
        return _within(body, outline, nearest_patch(body, outline.wider(outline.room, False)[0], plane), height, owner)
    reached, refused = False, None
    for patch, inside in _widened(body, outline, own, sign):
        try:
            made = _within(body, outline, patch, height, owner, inside)
        except Problem as problem:
            refused = problem
            continue
        if f"{owner}/{REACH}" not in made.face_names:
            return made
        reached = True
    if refused is not None and not reached:
        raise refused
    raise Problem(
        "no-raising",
        f"The side of “{body.name}” turns away beside the outline, so that it cannot be followed to such a height.",
        "Give less height, or a smaller outline.",
        of="height",
    )


def _within(
    body: Body,
    outline: Outline,
    patch: Patch,
    height: float,
    owner: str,
    inside: Callable[[Array], bool] = lambda _: True,
) -> Body:
    """What lies between a patch and its offset, within an outline. Raises Problem."""
    between = thickened(patch, height, owner, body.name, lambda p: inside(outline.plane.to_plane(p)))
    pieces = combine(between, outline.prism, "common").bodies
    if len(pieces) != 1:
        raise Problem(
            "raised-in-pieces",
            f"The outline leaves {len(pieces)} pieces of the side.",
            "Move the outline to where it lies on the side as one.",
            of="profile",
        )
    return pieces[0]


def _widened(body: Body, outline: Outline, own: Patch, sign: float) -> Iterator[tuple[Patch, Callable[[Array], bool]]]:
    """Patches about the outline's ``own`` one that face the plane on the side that ``sign`` tells, each with a function
    that tells whether places of the plane are inside of its outline: those with all the room that is wanted and with
    less and less of it, or wider and wider ones up to where the side turns away.
    """
    there = own.somewhere

    def patch(room: float, close: bool) -> tuple[Patch, Callable[[Array], bool]] | None:
        wide, inside = outline.wider(room, close)
        every = _patches(body, wide, outline.plane)
        found = every[0] if len(every) == 1 else min(every, key=lambda p: p.distance(there))
        least, most = found.facing(outline.plane.normal)
        return (found, inside) if (least if sign > 0 else -most) > FACING / 2 else None

    any_whole = False
    for close in (False, True):
        made = patch(outline.room, close)
        if made is not None:
            any_whole = True
            yield made
    if any_whole:  # nearer to the outline, where the side may bend less
        yield from (made for k in range(1, FEWER + 1) if (made := patch(outline.room / 2**k, True)) is not None)
        return
    low, high = 0.0, outline.room
    for _ in range(NARROWER):
        middle = (low + high) / 2
        made = patch(middle, True)
        if made is None:
            high = middle
        else:
            low = middle
            yield made
