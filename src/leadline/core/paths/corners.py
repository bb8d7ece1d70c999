"""Corners of a path rounded by arcs that are tangent to both sides."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.derived import part_of
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece
from leadline.core.problems import Offer, Problem, mm


def rounded(path: Path, radius: float) -> Path:
    """The path with an arc of ``radius`` mm in each corner of two lines.

    Raises:
        Problem: a corner that is not between lines, or a line that is too short for its arcs.
    """
    if radius <= 0:
        raise Problem("bad-size", "The corner radius is not above zero.", "Give one above zero.", of="corner_radius")
    n = len(path.pieces)
    cut = np.zeros((n, 2))  # what the arcs take off each piece, at its start and end
    corners = [(i, j) for i, j in enumerate(path.joints) if j.kind == "corner"]
    for i, joint in corners:
        k = (i + 1) % n
        if not isinstance(path.pieces[i], LinePiece) or not isinstance(path.pieces[k], LinePiece):
            raise Problem(
                "round-at-curve",
                f"The corner at {mm(joint.station)} is not between two straight lines.",
                "Draw an arc there, tangent to both sides.",
                station=joint.station,
                of="corners",
            )
        cut[i, 1] = cut[k, 0] = radius * math.tan(joint.turn / 2)
    for i, piece in enumerate(path.pieces):
        if cut[i].sum() > piece.length * (1 - 1e-9):
            raise Problem(
                "bends-overlap",
                f"The line at {mm(float(path.starts[i]))} is {mm(piece.length)} long; arcs of radius "
                f"{mm(radius)} take {mm(float(cut[i].sum()))} of it.",
                f"Give a radius under {mm(radius * piece.length / float(cut[i].sum()))}.",
                station=float(path.starts[i]),
                of="corner_radius",
            ).mended(*_half_way(path))
    pieces: list[Piece] = []
    arcs = dict(corners)
    for i, piece in enumerate(path.pieces):
        pieces.append(part_of(piece, cut[i, 0], piece.length - cut[i, 1]) if cut[i].any() else piece)
        if i in arcs:
            before, after = pieces[-1], path.pieces[(i + 1) % n]
            assert isinstance(before, LinePiece)
            assert isinstance(after, LinePiece)
            towards = inward(before.direction, after.direction)
            pieces.append(
                bend(before.end, before.direction, towards, radius, arcs[i].turn, f"{before.origin}~{after.origin}")
            )
    return Path(pieces, path.closed, path.up)


def largest_round(path: Path) -> float | None:
    """The radius with which arcs in all corners just leave each line a point; None where a corner is not
    between lines.
    """
    n = len(path.pieces)
    taken = np.zeros(n)  # of each piece, by arcs of radius 1
    for i, joint in enumerate(path.joints):
        if joint.kind == "corner":
            for k in (i, (i + 1) % n):
                if not isinstance(path.pieces[k], LinePiece):
                    return None
                taken[k] += math.tan(joint.turn / 2)
    return min((p.length / t for p, t in zip(path.pieces, taken, strict=True) if t > 0), default=None)


def _half_way(path: Path) -> list[Offer]:
    """To round the corners by half the radius that they have room for."""
    most = largest_round(path)
    return [] if most is None else [Offer(f"Round them by {mm(most / 2)}", "corner_radius", most / 2, length=True)]


def inward(before: Array, after: Array) -> Array:
    """From the end of a way (..., 3) towards the centre of the bend into the next; no number where it goes
    straight on.
    """
    axis = cross(before, after)
    with np.errstate(invalid="ignore"):
        return cross(axis / np.linalg.norm(axis, axis=-1, keepdims=True), before)


def bend(start: Array, way: Array, towards: Array, radius: float, turn: float, origin: str) -> ArcPiece:
    """An arc of ``turn`` rad that leaves ``start`` along a way, its centre ``towards`` a direction square to that."""
    return ArcPiece(start + radius * towards, -towards, way, radius, turn, origin)
