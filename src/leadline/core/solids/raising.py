"""Areas of a body's side raised or sunk: what lies between the faces and their offset, within an outline that is carried straight onto them."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing
from OCP.BRepGProp import BRepGProp
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Mode
from OCP.GeomAbs import GeomAbs_JoinType, GeomAbs_SurfaceType
from OCP.GProp import GProp_GProps
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.booleans import listed
from leadline.core.solids.combine import combine
from leadline.core.solids.kernel import Shape, compound, edges, faces

ACCURACY = 1e-5  # mm, of the kernel's offset
EDGE_ON = 1e-6
BASE, TOP, RIM = "base", "top", "rim"


@dataclass(frozen=True)
class Patch:
    """Some of a body's faces, trimmed, that hang together; ``height`` of their middle over the plane of the outline."""

    shape: Shape
    height: float


def nearest_patch(body: Body, wide: Body, plane: Plane) -> Patch:
    """What a prism cuts out of a body's faces, of several patches the one nearest to the prism's plane, ahead of it if any is.

    ``wide`` is the prism, wider than the outline, so that the walls of what is raised are those of the outline's own prism.

    Raises:
        Problem: the prism meets no face.
    """
    common = BRepAlgoAPI_Common()
    common.SetArguments(listed(compound([f for f in faces(body.shape) if not _along(f, plane.normal)])))
    common.SetTools(listed(wide.shape))
    common.Build()
    found = faces(common.Shape()) if common.IsDone() else []
    if not found:
        raise Problem("misses-body", f"The outline carried along its plane's normal does not meet “{body.name}”.", "Move the outline, or pick another body.", field="profile")
    patches = [_patch(own, plane) for own in _hanging_together(found)]
    ahead = [p for p in patches if p.height > 0]
    return min(ahead or patches, key=lambda p: abs(p.height))


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


def thickened(patch: Patch, height: float, owner: str, name: str) -> Body:
    """The solid between a patch and its offset, ``height`` mm outside of it, or inside if under zero.

    Its faces are named ``owner/top`` (the offset), ``owner/base`` (the patch) and ``owner/rim``.

    Raises:
        Problem: the kernel cannot offset the faces by so much.
    """
    tool = BRepOffset_MakeOffset()
    skin, sharp = BRepOffset_Mode.BRepOffset_Skin, GeomAbs_JoinType.GeomAbs_Intersection
    tool.Initialize(patch.shape, height, ACCURACY, skin, False, False, sharp, True, False)
    failed = Problem("no-raising", f"The side of “{name}” cannot be offset by so much here.", "Give less height, or move the outline to where the side bends less.", field="height")
    try:
        tool.MakeOffsetShape()
    except Exception:  # the kernel's own errors, of many kinds; all of them say that it cannot be done
        raise failed from None
    if not tool.IsDone():
        raise failed
    shape = tool.Shape()
    base = {hash(f) for f in faces(patch.shape)}
    top = {hash(image) for f in faces(patch.shape) for image in tool.Generated(f)}
    names = [f"{owner}/{BASE if hash(f) in base else TOP if hash(f) in top else RIM}" for f in faces(shape)]
    made = Body(name, shape, names)
    if not made.valid() or made.volume() == 0:
        raise failed
    return made if made.volume() > 0 else Body(name, shape.Reversed(), names)


def raised_on(body: Body, plane: Plane, prism: Body, wide: Body, height: float, owner: str) -> Body:
    """What is to be added to a body, or cut from it where ``height`` is under zero, so that its side is raised within an outline.

    ``prism`` is the outline carried along the normal of its ``plane`` right through the body, ``wide`` one that is wider all round.

    Raises:
        Problem: the outline misses the body, the side cannot be offset, or a boolean fails.
    """
    between = thickened(nearest_patch(body, wide, plane), height, owner, body.name)
    pieces = combine(between, prism, "common").bodies
    if len(pieces) != 1:
        raise Problem("raised-in-pieces", f"The outline leaves {len(pieces)} pieces of the side.", "Move the outline to where it lies on the side as one.", field="profile")
    return pieces[0]
