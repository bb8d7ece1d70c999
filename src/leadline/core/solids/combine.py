"""Add and cut, never trusted: volumes are compared with what must hold, and with a mesh boolean."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import manifold3d
import numpy as np
from OCP.Bnd import Bnd_Box
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBndLib import BRepBndLib
from OCP.collections import List_TopoDS_Shape

from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.problems import Message, Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, faces, solids
from leadline.core.solids.merging import merged
from leadline.core.solids.tessellate import mark_smooth_edges, tessellate

Operation = Literal["add", "cut", "common"]
ALGORITHMS = {"add": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "common": BRepAlgoAPI_Common}
DOUBT = 0.01
SLACK = 1e-6


@dataclass
class Combined:
    """``bodies`` replace the one that was combined; ``message`` tells when nothing happened."""

    bodies: list[Body]
    touched: bool
    message: Message | None = None


def combine(base: Body, tool: Body, operation: Operation) -> Combined:
    """Add ``tool`` to ``base``, cut it out, or keep what both have in common.

    Raises:
        Problem: the kernel fails, or its result breaks the volume rules that must hold.
    """
    if not _boxes_meet(base.shape, tool.shape):
        return Combined([base], False)
    before, extra = base.volume(), tool.volume()
    base, tool = merged(base), merged(tool)
    algorithm = ALGORITHMS[operation]()
    algorithm.SetArguments(_listed(base.shape))
    algorithm.SetTools(_listed(tool.shape))
    algorithm.Build()
    if not algorithm.IsDone():
        raise _failed(operation, base, "the kernel gave up")
    if operation == "add":
        algorithm.SimplifyResult()
    shape = algorithm.Shape()
    mark_smooth_edges(shape)
    result = Body(base.name, shape, _names(algorithm, shape, [base, tool]))
    after = result.volume() if solids(shape) else 0.0
    _check_volume(operation, base, tool, before, extra, after)
    if after > SLACK * before and (result.sheet or not result.valid()):
        raise _failed(operation, base, "its result is not a valid solid")
    pieces = _split(result)
    if operation == "add":
        return Combined(pieces, len(pieces) == 1)
    if operation == "common":
        return Combined(pieces, after > SLACK * before)
    return Combined(pieces, abs(after - before) > SLACK * before)


def _check_volume(operation: Operation, base: Body, tool: Body, before: float, extra: float, after: float) -> None:
    """Cut: V(a) - V(b) <= V <= V(a). Add: max <= V <= sum. Common: 0 <= V <= min. At a bound, a mesh boolean decides."""
    low, high = {
        "cut": (before - extra, before), "add": (max(before, extra), before + extra), "common": (0.0, min(before, extra)),
    }[operation]  # fmt: skip
    slack = SLACK * max(before, extra)
    if not low - slack <= after <= high + slack:
        raise _failed(operation, base, f"its volume is {after:.6g} mm³, outside {max(low, 0):.6g} to {high:.6g}")
    at_bound = min(abs(after - low), abs(after - high)) <= 10 * slack or after <= slack
    if not at_bound:
        return
    expected = mesh_volume(tessellate(base, 0.02), tessellate(tool, 0.02), operation)
    if expected is not None and abs(expected - after) > DOUBT * before:
        raise _failed(operation, base, f"its volume is {after:.6g} mm³ where about {expected:.6g} is right")


def mesh_volume(base: DisplayMesh, tool: DisplayMesh, operation: Operation) -> float | None:
    """The volume of the combination by mesh booleans; None when a mesh is not closed."""
    a, b = as_manifold(base), as_manifold(tool)
    if a is None or b is None:
        return None
    return float({"add": a + b, "cut": a - b, "common": a ^ b}[operation].volume())


def as_manifold(mesh: DisplayMesh) -> manifold3d.Manifold | None:
    """A closed mesh for mesh booleans, equal points merged; None when it does not close."""
    scale = float(np.ptp(mesh.points, axis=0).max()) or 1.0
    _, first, inverse = np.unique(
        np.round(mesh.points / (scale * 1e-8)), axis=0, return_index=True, return_inverse=True
    )
    triangles = inverse.ravel()[mesh.triangles]
    a, b, c = triangles.T
    triangles = triangles[(a != b) & (b != c) & (a != c)]
    solid = manifold3d.Manifold(
        manifold3d.Mesh64(np.ascontiguousarray(mesh.points[first]), np.ascontiguousarray(triangles, dtype=np.uint64))
    )
    return None if solid.status() != manifold3d.Error.NoError else solid


def _failed(operation: str, base: Body, why: str) -> Problem:
    word = {"add": "adding to", "cut": "cutting", "common": "keeping in common with"}[operation]
    return Problem(
        "boolean", f"{word.capitalize()} {base.name} failed: {why}.",
        "Move or resize the profile slightly, so that faces do not just touch, or make it a separate body.",
    )  # fmt: skip


def _names(algorithm: Shape, shape: Shape, inputs: list[Body]) -> list[str]:
    """Names of the result's faces, through the kernel's history."""
    found: dict[int, list[tuple[Shape, str]]] = {}
    for body in inputs:
        for face, name in zip(faces(body.shape), body.face_names, strict=True):
            images = list(algorithm.Modified(face)) or ([] if algorithm.IsDeleted(face) else [face])
            for image in images:
                found.setdefault(hash(image), []).append((image, name))
    names = []
    for face in faces(shape):
        same = [name for other, name in found.get(hash(face), []) if other.IsSame(face)]
        names.append(same[0] if same else "unnamed")
    return names


def _split(body: Body) -> list[Body]:
    names = {hash(f): n for f, n in zip(faces(body.shape), body.face_names, strict=True)}
    separate = solids(body.shape)
    title: Callable[[int], str] = lambda i: body.name if len(separate) == 1 else f"{body.name} {i + 1}"  # noqa: E731
    return [Body(title(i), s, [names[hash(f)] for f in faces(s)]) for i, s in enumerate(separate)]


def _listed(shape: Shape) -> List_TopoDS_Shape:
    shapes = List_TopoDS_Shape()
    shapes.Append(shape)
    return shapes


def _boxes_meet(a: Shape, b: Shape) -> bool:
    boxes = []
    for shape in (a, b):
        box = Bnd_Box()
        BRepBndLib.Add_s(shape, box)
        boxes.append(box)
    return not boxes[0].IsOut(boxes[1])
