"""The kernel's booleans, tried in several ways: each try gives a candidate, and the caller says which one is sound."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from functools import cached_property

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_NurbsConvert
from OCP.collections import List_TopoDS_Shape
from OCP.ShapeUpgrade import ShapeUpgrade_ShapeDivideAngle
from scipy.spatial.transform import Rotation

from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, faces, loosest
from leadline.core.solids.merging import merged_before
from leadline.core.solids.tessellate import mark_smooth_edges

ALGORITHMS = {"add": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "common": BRepAlgoAPI_Common}
FUZZY = (1e-6, 1e-5)  # mm within which the kernel takes things to be at one place
DIVIDED = (30.0, 20.0)  # degrees by which a face bends at most where faces are cut into smaller ones
LOOSE = 2e-5  # mm, of an edge: where merged faces lead to a wider one, faces as they are may meet in a finer one
NUDGE = 2e-7  # rad by which bodies are turned against each other where they lie together too exactly
AXIS = np.array([0.36, 0.48, 0.8])  # of the nudge: along nothing that people draw


class Candidate:
    """What one try gave: the body, and whether its faces say that the base was changed."""

    def __init__(self, algorithm: Shape, base: Body, tool: Body, merged: bool) -> None:
        self.merged = merged  # faces of the bodies, before
        shape = algorithm.Shape()
        mark_smooth_edges(shape)
        images = [images_of(algorithm, body.shape, body.face_names) for body in (base, tool)]
        own = faces(shape)
        of_base, of_tool = ([named(those, face) for face in own] for those in images)
        names = [a or b or "unnamed" for a, b in zip(of_base, of_tool, strict=True)]
        self.body = Body(base.name, shape, names)
        self.changed = any(name is None for name in of_base) or not own

    @cached_property
    def loosest(self) -> float:
        return loosest(self.body.shape)


def candidates(base: Body, tool: Body, operation: Operation) -> Iterator[Candidate]:
    """The boolean as the kernel does it in several ways, the quickest first.

    Plane and cylinder faces merged; faces as they are; with tolerance; faces cut into smaller ones; turned by less
    than 0.001 mm against each other; faces as splines, because tori are met by methods of their own, which miss a torus
    that lies about the rim of another's end; in the other order. A way that gives nothing at all is left out.
    """
    plain = merged_before(base), merged_before(tool)
    if plain[0] is not base or plain[1] is not tool:
        yield from _tried(*plain, operation, merged=True)
    yield from _tried(base, tool, operation)
    for fuzzy in FUZZY:
        yield from _tried(base, tool, operation, fuzzy)
    for degrees in DIVIDED:
        yield from _tried(_divided(base, degrees), _divided(tool, degrees), operation)
    for sign in (1, -1):
        yield from _tried(base, _nudged(tool, sign * NUDGE), operation)
    yield from _tried(_as_splines(base), _as_splines(tool), operation)
    if operation != "cut":
        yield from _tried(tool, base, operation, renamed=base.name)


def _tried(
    base: Body, tool: Body, operation: Operation, fuzzy: float = 0.0, renamed: str = "", merged: bool = False
) -> Iterator[Candidate]:
    algorithm = ALGORITHMS[operation]()
    algorithm.SetArguments(listed(base.shape))
    algorithm.SetTools(listed(tool.shape))
    if fuzzy:
        algorithm.SetFuzzyValue(fuzzy)
    algorithm.Build()
    if algorithm.IsDone():
        found = Candidate(algorithm, base, tool, merged)
        found.body.name = renamed or found.body.name
        yield found


def _divided(body: Body, degrees: float) -> Body:
    """With every face that bends by more than an angle cut into several, of the same name each."""
    tool = ShapeUpgrade_ShapeDivideAngle(math.radians(degrees), body.shape)
    if not tool.Perform():
        return body
    names = [
        (part, name)
        for face, name in zip(faces(body.shape), body.face_names, strict=True)
        for part in faces(tool.GetContext().Apply(face))
    ]
    known: Images = {}
    for part, name in names:
        known.setdefault(hash(part), []).append((part, name))
    shape = tool.Result()
    return Body(body.name, shape, [named(known, face) or "unnamed" for face in faces(shape)])


def _as_splines(body: Body) -> Body:
    """With every face as a spline of the same name."""
    tool = BRepBuilderAPI_NurbsConvert(body.shape)
    known: Images = {}
    for face, name in zip(faces(body.shape), body.face_names, strict=True):
        made = tool.ModifiedShape(face)
        known.setdefault(hash(made), []).append((made, name))
    shape = tool.Shape()
    return Body(body.name, shape, [named(known, face) or "unnamed" for face in faces(shape)])


def _nudged(body: Body, angle: float) -> Body:
    """Turned about its middle by a tiny angle."""
    low, high = body.box()
    middle = (low + high) / 2
    turn = Rotation.from_rotvec(angle * AXIS).as_matrix()
    return body.moved(turn, middle - turn @ middle)


Images = dict[int, list[tuple[Shape, str]]]


def images_of(algorithm: Shape, shape: Shape, names: Sequence[str]) -> Images:
    """What became of a shape's faces, with their names, by the kernel's history."""
    found: Images = {}
    for face, name in zip(faces(shape), names, strict=True):
        for image in list(algorithm.Modified(face)) or ([] if algorithm.IsDeleted(face) else [face]):
            found.setdefault(hash(image), []).append((image, name))
    return found


def named(images: Images, face: Shape) -> str | None:
    """The name of what a face came from, or None."""
    return next((name for other, name in images.get(hash(face), []) if other.IsSame(face)), None)


def listed(*shapes: Shape) -> List_TopoDS_Shape:
    """Shapes as the kernel takes them."""
    made = List_TopoDS_Shape()
    for shape in shapes:
        made.Append(shape)
    return made


Judge = Callable[[Candidate], str | None]


def first_sound(base: Body, tool: Body, operation: Operation, fault: Judge) -> tuple[Candidate | None, str]:
    """The first candidate in which ``fault`` finds nothing wrong; else None and what was wrong with the first one.

    Where that one is of merged faces and has edges of a wide tolerance, the next one is taken if it is sound and finer:
    the curve in which a whole cylinder meets another face is less exact than those of its quarters (1e-4 and 1e-6 mm).
    """
    why = ""
    found: Candidate | None = None
    for candidate in candidates(base, tool, operation):
        wrong = fault(candidate)
        if found is not None:
            finer = wrong is None and candidate.loosest < found.loosest
            return candidate if finer else found, ""
        if wrong is None:
            found = candidate
            if not candidate.merged or candidate.loosest <= max(LOOSE, loosest(base.shape), loosest(tool.shape)):
                break
        else:
            why = why or wrong
    return found, "" if found else why or "the kernel gave up"
