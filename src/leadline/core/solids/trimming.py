"""Ends of a sweep cut off by planes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.TopAbs import TopAbs_ShapeEnum

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import parts
from leadline.core.solids.splitting import CONSERVED, Piece, box_corners, flat_cutter, split_ways


@dataclass(frozen=True)
class EndCut:
    """A plane that cuts off an end: the side that the point ``at`` (3,) lies on goes, and the cut face gets
    ``name``.
    """

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


def _side(piece: Piece, plane: Plane) -> float:
    """On which side of a plane a piece lies, which does not reach through it: the sign of its farthest corner's
    height.
    """
    corners = [BRep_Tool.Pnt_s(v).Coord() for v in parts(piece.body.shape, TopAbs_ShapeEnum.TopAbs_VERTEX)]
    heights = plane.height(np.array(corners))
    return float(np.sign(heights[np.argmax(np.abs(heights))]))


def _flat(piece: Piece) -> float:
    """The area of a piece's faces on the planes."""
    return sum(Body("cut", face, []).area() for face, _ in piece.cuts)


def cut_off(body: Body, cuts: Sequence[EndCut], volume: float, area: float | None = None) -> tuple[Body, float]:
    """Take the ends of a body away, of which it is known which ``volume`` (mm³) it has, and perhaps which ``area``
    (mm²).

    The kernel splits the body by one face for each plane, no larger than it needs to be, so that only what lies at
    the planes is looked at, however long the body is. The pieces must together have the body's volume,
    which is returned as the kernel finds it, beside what is left.

    Raises:
        Problem: an end lies on its plane, a plane misses the body, they leave nothing or more than one piece of it,
            or the kernel fails.
    """
    corners = box_corners(body)
    for cut in cuts:
        if abs(float(cut.plane.height(cut.at))) < 1e-9:
            raise Problem(
                "no-side",
                "The end lies on the plane that it is to be cut by.",
                "Lengthen the end, or move the plane.",
                of=cut.field,
            )
        heights = cut.plane.height(corners)
        if heights.min() >= 0 or heights.max() <= 0:
            raise _missed(cut)
    for pieces in split_ways(body, [flat_cutter(cut.plane, corners, cut.name) for cut in cuts]):
        together = sum(piece.body.volume() for piece in pieces)
        if all(p.body.valid() for p in pieces) and abs(together - volume) <= CONSERVED * volume:
            left = _left(pieces, cuts)
            if area is not None:  # what is left is long, what is cut off short: that is quicker measured
                left.surface = (
                    area + sum(_flat(p) for p in pieces) - sum(p.body.area() for p in pieces if p.body is not left)
                )
            return left, together
    raise Problem(
        "boolean", "The kernel could not cut the sweep by the plane.", "Move the plane slightly.", of=cuts[0].field
    )


def _left(pieces: list[Piece], cuts: Sequence[EndCut]) -> Body:
    """The one piece on the right side of every plane. Raises Problem."""
    sides = [[_side(piece, cut.plane) == cut.away for cut in cuts] for piece in pieces]
    kept = [piece.body for piece, gone in zip(pieces, sides, strict=True) if not any(gone)]
    for k, cut in enumerate(cuts):
        if not any(gone[k] for gone in sides):
            raise _missed(cut)
    if len(kept) != 1:
        raise Problem(
            "many-pieces",
            f"The plane leaves {len(kept)} pieces of the sweep.",
            "Cut nearer to its end.",
            of=cuts[-1].field,
        )
    return kept[0]


def _missed(cut: EndCut) -> Problem:
    return Problem("plane-misses", "The plane does not cut the sweep.", "Move it, or lengthen the end.", of=cut.field)
