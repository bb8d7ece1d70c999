"""A path of straight runs and bends as one who bends a tube reads it: how far to feed, how far to turn, how far to
bend.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array, any_square_to, cross
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece, turned
from leadline.core.problems import Problem, degrees, mm

STRAIGHT = 1e-9  # rad


@dataclass(frozen=True)
class BendRow:
    """One bend: the straight ``feed`` before it (mm), the ``turn`` of its plane against that of the bend before, its
    ``angle`` (both rad) and its ``radius`` (mm).

    It runs from ``start`` to ``end`` (stations, mm).

    The turn is right-handed about the way ahead, over -180° to 180°; of the first bend it is zero.
    """

    feed: float
    turn: float
    angle: float
    radius: float
    start: float
    end: float


@dataclass(frozen=True)
class Bends:
    """The bends in order, and the straight after the last of them (mm)."""

    rows: tuple[BendRow, ...]
    last: float

    def leg(self, i: int) -> float:
        """The shorter of the straights before and after a bend (mm)."""
        return min(self.rows[i].feed, self.last if i + 1 == len(self.rows) else self.rows[i + 1].feed)


def bends_of(path: Path) -> Bends:
    """The bends of a path, arcs that go on in one another taken as one.

    Raises:
        Problem: a stretch is neither straight nor a circular arc, or two runs meet at a sharp corner.
    """
    corner = next((j for j in path.joints if j.kind == "corner"), None)
    if corner is not None:
        raise Problem(
            "sharp-corner",
            f"At {mm(corner.station)} the path has a sharp corner, which cannot be bent.",
            "Give it a radius.",
            station=corner.station,
        )
    rows: list[BendRow] = []
    fed, plane = 0.0, None
    for piece, start in zip(path.pieces, path.starts, strict=False):
        if isinstance(piece, LinePiece):
            fed += piece.length
            continue
        arc = _as_arc(piece, float(start))
        if plane is not None and fed < 1e-9 and _goes_on(rows[-1], plane, arc):
            rows[-1] = BendRow(
                rows[-1].feed,
                rows[-1].turn,
                rows[-1].angle + arc.sweep,
                arc.radius,
                rows[-1].start,
                float(start) + arc.length,
            )
            continue
        turn = 0.0 if plane is None else math.atan2(float(cross(plane, arc.axis) @ arc.v), float(plane @ arc.axis))
        rows.append(BendRow(fed, turn, arc.sweep, arc.radius, float(start), float(start) + arc.length))
        fed, plane = 0.0, arc.axis
    return Bends(tuple(rows), fed)


def _as_arc(piece: Piece, start: float) -> ArcPiece:
    if isinstance(piece, ArcPiece):
        return piece
    raise Problem(
        "free-curve",
        f"From {mm(start)} to {mm(start + piece.length)} the path is a free curve, which has no bend of one radius.",
        "Lead it through points with bends.",
        station=start,
    )


def _goes_on(row: BendRow, plane: Array, arc: ArcPiece) -> bool:
    return abs(row.radius - arc.radius) < 1e-9 * arc.radius and float(plane @ arc.axis) > 1 - 1e-12


def path_of(bends: Bends, start: Array, way: Array, plane: Array | None = None) -> Path:
    """The path that rows of bends make from a ``start`` (3,) in a direction ``way`` (3,); the first bend's plane is
    square to ``plane``.
    """
    pieces: list[Piece] = []
    at, ahead = np.asarray(start, dtype=float), way / np.linalg.norm(way)
    axis = any_square_to(ahead) if plane is None else plane
    for row in bends.rows:
        if row.feed > 0:
            pieces.append(LinePiece(at, at + row.feed * ahead))
            at = at + row.feed * ahead
        axis = turned(axis, ahead, np.array([row.turn]))[0]
        inward = cross(axis, ahead)
        arc = ArcPiece(at + row.radius * inward, -inward, ahead, row.radius, row.angle)
        pieces.append(arc)
        end = np.array([arc.length])
        at, ahead = arc.point(end)[0], arc.tangent(end)[0]
    if bends.last > 0:
        pieces.append(LinePiece(at, at + bends.last * ahead))
    return Path(pieces)


def first_plane(path: Path) -> Array | None:
    """The axis of a path's first bend, by which ``path_of`` makes it where it is; None where it has none."""
    return next((piece.axis for piece in path.pieces if isinstance(piece, ArcPiece)), None)


def corners_of(bends: Bends, start: Array, way: Array, plane: Array | None = None) -> tuple[Array, Array]:
    """The corners (n + 2, 3) between the straights of rows of bends, ends included, and the radius (n,) at each; placed
    as ``path_of`` places it.

    Raises:
        Problem: a bend goes round by half a turn or more, so that its straights have no corner; or a feed, an angle or
            a radius is none.
    """
    for i, row in enumerate(bends.rows):
        if row.feed < 0 or row.radius <= 0 or not 0 < row.angle < math.pi - 1e-9 or bends.last < 0:
            raise Problem(
                "bad-bends",
                (
                    f"Bend {i + 1} of the table cannot be bent: feed {mm(row.feed)}, angle "
                    f"{degrees(row.angle)}, radius {mm(row.radius)}."
                ),
                "Give feeds of nought or more, angles under 180° and radii above zero.",
                row=i + 1,
            )
    path = path_of(bends, start, way, plane)
    at = [np.asarray(start, dtype=float)]
    station = 0.0
    for row in bends.rows:
        begin = np.array([station + row.feed])
        at.append(path.point(begin)[0] + row.radius * math.tan(row.angle / 2) * path.tangent(begin + 1e-12)[0])
        station = float(begin[0]) + row.radius * row.angle
    at.append(path.point(np.array([path.length]))[0])
    return np.array(at), np.array([row.radius for row in bends.rows])
