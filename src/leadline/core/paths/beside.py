"""Paths beside other paths: at a distance, in a direction that does not turn about the path."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.geometry.laws import Even
from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.formers import RoundFormer
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece
from leadline.core.paths.wound import wound
from leadline.core.problems import Problem, degrees, mm


def beside(path: Path, distance: float, angle: float) -> Path:
    """The path ``distance`` away; the ``angle`` (rad) about the path counts from its start normal, which is in the
    plane of a flat one.

    Lines and arcs stay lines and arcs; the tangent is that of the path everywhere, so that joints stay as smooth as
    they were.

    Raises:
        Problem: the path has a corner, or bends tighter than the distance on that side.
    """
    corner = next((j for j in path.joints if j.kind == "corner"), None)
    if corner is not None:
        raise Problem(
            "corner",
            (
                f"The path has a corner of {degrees(corner.turn, 3)} at {mm(corner.station)}; the path beside "
                "it would gape there."
            ),
            "Round the corner first.",
            station=corner.station,
            of="path",
        )
    n, t = path.start_normal(), path.tangent(np.zeros(1))[0]
    arm = math.cos(angle) * n + math.sin(angle) * cross(t, n)
    _refuse_fold(path, distance, arm)
    pieces: list[Piece] = []
    for piece in path.pieces:
        pieces.append(_piece_beside(piece, distance, arm))
        arm = piece.transport_normal(arm, np.array([piece.length]))[0]
    ends = pieces[0].point(np.zeros(1))[0], pieces[-1].point(np.array([pieces[-1].length]))[0]
    return Path(pieces, path.closed and bool(np.linalg.norm(ends[1] - ends[0]) < 1e-6), path.up)


def _refuse_fold(path: Path, distance: float, arm: Array) -> None:
    s = path.samples()
    towards = (path.curvature(s) * path.normal(s, arm)).sum(axis=1) * math.copysign(1.0, distance)
    worst = int(np.argmax(towards))
    if towards[worst] * abs(distance) < 1 - 1e-9:
        return
    raise Problem(
        "fold",
        (
            f"At {mm(float(s[worst]))} the path bends with a radius of {mm(1 / float(towards[worst]))} towards "
            f"that side, less than the {mm(abs(distance))} to the path beside it."
        ),
        f"Give a distance under {mm(1 / float(towards[worst]))}, or the other side.",
        station=float(s[worst]),
        of="distance",
    )


def _piece_beside(piece: Piece, distance: float, arm: Array) -> Piece:
    if isinstance(piece, LinePiece):
        return LinePiece(piece.start + distance * arm, piece.end + distance * arm, piece.origin)
    if isinstance(piece, ArcPiece):
        inward, lift = -float(arm @ piece.u), float(arm @ piece.axis)
        center = piece.center + distance * lift * piece.axis
        return ArcPiece(center, piece.u, piece.v, piece.radius - distance * inward, piece.sweep, piece.origin)
    own = wound(
        Path([piece]), math.copysign(1.0, distance) * arm, Even(0.0), Even(abs(distance)), RoundFormer(), piece.origin
    )
    return own.pieces[0]
