"""Ends of a sweep cut off by planes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.gp import gp_Ax3, gp_Pln
from OCP.TopAbs import TopAbs_ShapeEnum

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.booleans import FUZZY, Images, images_of, listed, named
from leadline.core.solids.kernel import Shape, direction, faces, parts, pnt, solids
from leadline.core.solids.tessellate import mark_smooth_edges

CONSERVED = 1e-5  # of the volume, by which the pieces may differ from the whole: as exactly as the sweep itself is checked
BEYOND = 0.1  # by which the cutting faces are larger than the body, as a share of the body's size


@dataclass(frozen=True)
class EndCut:
    """A plane that cuts off an end: the side that the point ``at`` (3,) lies on goes, and the cut face gets ``name``."""

    plane: Plane
    at: Array
    name: str
    field: str

    @property
    def away(self) -> float:
        """The side that goes: 1 along the plane's normal, -1 against it."""
        return float(np.sign(self.plane.height(self.at)))

    @property
    def kept(self) -> Plane:
        """The plane with its normal towards what stays."""
        return self.plane if self.away < 0 else Plane(self.plane.origin, self.plane.x, -self.plane.y)


@dataclass(frozen=True)
class _Piece:
    """One solid of a split body, the area of its faces on the planes, and its ``corners`` (n, 3)."""

    body: Body
    flat: float
    corners: Array

    def side(self, plane: Plane) -> float:
        """On which side of a plane it lies, which it does not reach through: the sign of its farthest corner's height."""
        heights = plane.height(self.corners)
        return float(np.sign(heights[np.argmax(np.abs(heights))]))


def cut_off(body: Body, cuts: Sequence[EndCut], volume: float, area: float | None = None) -> tuple[Body, float]:
    """Take the ends of a body away, of which it is known which ``volume`` (mm³) it has, and perhaps which ``area`` (mm²).

    The kernel splits the body by one face for each plane, no larger than it needs to be, so that only what lies at
    the planes is looked at, however long the body is. The pieces must together have the body's volume,
    which is returned as the kernel finds it, beside what is left.

    Raises:
        Problem: an end lies on its plane, a plane misses the body, they leave nothing or more than one piece of it,
            or the kernel fails.
    """
    low, high = body.box()
    corners = np.array(np.meshgrid(*zip(low, high, strict=True))).reshape(3, -1).T
    for cut in cuts:
        if abs(float(cut.plane.height(cut.at))) < 1e-9:
            raise Problem("no-side", "The end lies on the plane that it is to be cut by.", "Lengthen the end, or move the plane.", field=cut.field)
        heights = cut.plane.height(corners)
        if heights.min() >= 0 or heights.max() <= 0:
            raise _missed(cut)
    for pieces in _splits(body, cuts, corners):
        together = sum(piece.body.volume() for piece in pieces)
        if all(p.body.valid() for p in pieces) and abs(together - volume) <= CONSERVED * volume:
            left = _left(pieces, cuts)
            if area is not None:  # what is left is long, what is cut off short: that is quicker measured
                left.surface = area + sum(p.flat for p in pieces) - sum(p.body.area() for p in pieces if p.body is not left)
            return left, together
    raise Problem("boolean", "The kernel could not cut the sweep by the plane.", "Move the plane slightly.", field=cuts[0].field)


def _left(pieces: list[_Piece], cuts: Sequence[EndCut]) -> Body:
    """The one piece on the right side of every plane. Raises Problem."""
    sides = [[piece.side(cut.plane) == cut.away for cut in cuts] for piece in pieces]
    kept = [piece.body for piece, gone in zip(pieces, sides, strict=True) if not any(gone)]
    for k, cut in enumerate(cuts):
        if not any(gone[k] for gone in sides):
            raise _missed(cut)
    if len(kept) != 1:
        raise Problem("many-pieces", f"The plane leaves {len(kept)} pieces of the sweep.", "Cut nearer to its end.", field=cuts[-1].field)
    return kept[0]


def _missed(cut: EndCut) -> Problem:
    return Problem("plane-misses", "The plane does not cut the sweep.", "Move it, or lengthen the end.", field=cut.field)


def _face(plane: Plane, corners: Array) -> Shape:
    """A rectangle of the plane over the shadow of a box's ``corners`` (8, 3) on it."""
    shadow = plane.to_plane(corners)
    low, high = shadow.min(axis=0), shadow.max(axis=0)
    room = BEYOND * float((high - low).max())
    flat = gp_Pln(gp_Ax3(pnt(plane.origin), direction(plane.normal), direction(plane.x)))
    return BRepBuilderAPI_MakeFace(flat, low[0] - room, high[0] + room, low[1] - room, high[1] + room).Face()


def _splits(body: Body, cuts: Sequence[EndCut], corners: Array) -> Iterator[list[_Piece]]:
    """The pieces into which the planes split a body, without and with tolerance."""
    flats = [_face(cut.plane, corners) for cut in cuts]
    for fuzzy in (0.0, *FUZZY):
        splitter = BRepAlgoAPI_Splitter()
        splitter.SetArguments(listed(body.shape))
        splitter.SetTools(listed(*flats))
        splitter.SetCheckInverted(False)  # a sweep's solid is none, as its volume tells, and looking takes a fifth of the time
        if fuzzy:
            splitter.SetFuzzyValue(fuzzy)
        splitter.Build()
        if not splitter.IsDone():
            continue
        shape = splitter.Shape()
        mark_smooth_edges(shape)
        images = images_of(splitter, body.shape, body.face_names)
        on_planes: Images = {}
        for flat, cut in zip(flats, cuts, strict=True):
            for key, found in images_of(splitter, flat, [cut.name]).items():
                on_planes.setdefault(key, []).extend(found)
        yield [_piece(body.name, solid, images, on_planes) for solid in solids(shape)]


def _piece(title: str, solid: Shape, images: Images, on_planes: Images) -> _Piece:
    own = faces(solid)
    names = [named(images, face) for face in own]
    cut = [face for face, name in zip(own, names, strict=True) if name is None]
    found = Body(title, solid, [n or named(on_planes, f) or "unnamed" for n, f in zip(names, own, strict=True)])
    corners = [BRep_Tool.Pnt_s(v).Coord() for v in parts(solid, TopAbs_ShapeEnum.TopAbs_VERTEX)]
    return _Piece(found, sum(Body("cut", face, []).area() for face in cut), np.array(corners))
