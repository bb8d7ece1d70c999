"""Bodies that a section makes along a path, made hollow by their own sides moved: where it can be done, quicker than
the kernel's offset and where that fails.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepTools import BRepTools
from OCP.TopoDS import TopoDS

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.pieces import ArcPiece
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, bspline_curve, faces, gp_plane
from leadline.core.solids.thickening import face_of, inside_name, sewn
from leadline.core.surfaces.offset import DEGREE, Fitted, Offset
from leadline.core.sweep.faces import flat_face
from leadline.core.sweep.motion import Motion

SAME = 1e-5  # of its volume, by which a body may differ from what its motion makes


@dataclass(frozen=True)
class Carried:
    """A body as what it was made by: one ``region`` without holes along a ``motion``, of ``volume`` mm³; its faces
    begin with ``owner``.
    """

    motion: Motion
    region: Region
    owner: str
    volume: float

    def serves(self, body: Body, own_walls: Mapping[str, float], opened: Sequence[str]) -> bool:
        """Whether a body is just this, and bent so that its own offset is worth while, and all its sides get the same
        wall.

        What lines and arcs make exactly is left to the kernel, which keeps its cylinders and tori, but for an end on an
        arc that stays closed: there the kernel fails.
        """
        if self.region.holes or self.region.sheet:
            return False
        if all(self.motion.exact(i) for i in range(len(self.motion.path.pieces))) and not self._closed_on_arc(opened):
            return False
        if any(name not in self.caps for name in own_walls) or set(body.face_names) - self.caps - self._sides:
            return False
        return abs(body.volume() - self.volume) < SAME * self.volume

    def _closed_on_arc(self, opened: Sequence[str]) -> bool:
        pieces = self.motion.path.pieces
        ends = (("start", pieces[0]), ("end", pieces[-1])) if not self.motion.path.closed else ()
        return any(isinstance(piece, ArcPiece) and f"{self.owner}/cap/{end}" not in opened for end, piece in ends)

    @property
    def caps(self) -> set[str]:
        return {f"{self.owner}/cap/{end}" for end in ("start", "end")}

    @property
    def _sides(self) -> set[str]:
        edges = [e.origin for e in self.region.outer.edges]
        pieces = [p.origin or str(i) for i, p in enumerate(self.motion.path.pieces)]
        return {f"{self.owner}/side/{e}/{p}" for e in edges for p in pieces}


def hollowed_along(
    body: Body,
    carried: Carried,
    wall: float,
    outward: bool,
    opened: Sequence[str],
    own: Mapping[str, float],
    owner: str,
) -> Body:
    """The body as a wall of itself, its other faces named ``owner/inside/...`` after those that they run along, and
    ``owner/rim``.

    Raises:
        Problem: its sides cannot be moved so.
    """
    motion, sign = carried.motion, 1.0 if outward else -1.0
    ends: list[Plane | None] = [None, None]
    caps = [f"{carried.owner}/cap/{end}" for end in ("start", "end")]
    if not motion.path.closed:
        for i, cap in enumerate(caps):
            if (face := flat_face(motion, [carried.region], cap)) is not None:
                ends[i] = replace(
                    face, origin=face.origin + (0.0 if cap in opened else sign * own.get(cap, wall)) * face.normal
                )
    offset = Offset(motion, carried.region, lambda s: np.full(len(s), sign * wall), (), (ends[0], ends[1]))
    made = [_held(f, offset, ends) for f in offset.fitted()]
    every = [(f, n) for f, n in zip(faces(body.shape), body.face_names, strict=True) if n not in opened]
    every += [
        (
            face_of(f.net, f.knots, (DEGREE, DEGREE)),
            inside_name(owner, f"{carried.owner}/side/{offset.sides[f.span][f.edge].name}"),
        )
        for f in made
    ]
    for i, (plane, cap) in enumerate(zip(ends, caps, strict=True)):
        if plane is not None:
            outline = _outline(made, offset, i)
            if cap in opened:
                (lid,) = body.face_of(cap)
                every.append((_ring(lid, outline, plane, outward), f"{owner}/rim"))
            else:
                every.append((_lid(outline, plane), inside_name(owner, cap)))
    return sewn(every, body.name)


def _held(fitted: Fitted, offset: Offset, ends: Sequence[Plane | None]) -> Fitted:
    """A side whose borders at the ends are in their planes, from which the spline may be off between its places."""
    net = fitted.net.copy()
    for i, (plane, span) in enumerate(zip(ends, (0, len(offset.sides) - 1), strict=True)):
        if plane is not None and fitted.span == span:
            row = net[:, -1 if i else 0]
            row -= np.outer(plane.height(row), plane.normal)
    return Fitted(net, fitted.knots, fitted.span, fitted.edge)


def _outline(made: Sequence[Fitted], offset: Offset, end: int) -> Shape:
    """The wire of the moved sides at an end."""
    span = len(offset.sides) - 1 if end else 0
    wire = BRepBuilderAPI_MakeWire()
    for f in (f for f in made if f.span == span):
        wire.Add(BRepBuilderAPI_MakeEdge(bspline_curve(f.net[:, -1 if end else 0], f.knots[0], DEGREE)).Edge())
    if not wire.IsDone():
        raise Problem("no-thick", "The moved sides do not close.", "Give a thinner wall.", of="wall")
    return wire.Wire()


def _lid(outline: Shape, plane: Plane) -> Shape:
    return BRepBuilderAPI_MakeFace(gp_plane(plane), outline, True).Face()


def _ring(lid: Shape, outline: Shape, plane: Plane, outward: bool) -> Shape:
    """What is left of an end face between the body's outline and that of its moved sides."""
    own = BRepTools.OuterWire_s(lid)
    outer, inner = (outline, own) if outward else (own, outline)
    face = BRepBuilderAPI_MakeFace(gp_plane(plane), outer, True)
    hole = BRepBuilderAPI_MakeFace(
        gp_plane(plane), inner, True
    ).Face()  # made a face alone it has its right turn, which a hole reverses
    face.Add(TopoDS.Wire(BRepTools.OuterWire_s(hole).Reversed()))
    return face.Face()
