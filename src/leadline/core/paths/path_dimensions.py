"""The sizes that a tube is drawn with: from corner to corner of its path, and the radius and angle of each bend."""

from __future__ import annotations

import itertools
import math

import numpy as np

from leadline.core.geometry.dimensions import Dimension, Note, Span
from leadline.core.geometry.plane import Array, angles_between
from leadline.core.paths.path import KINK, Path
from leadline.core.paths.pieces import ArcPiece, LinePiece

FARTHEST = math.radians(150)  # of a bend: the corner of one that turns by more is too far away to be measured to
RIGHT = math.radians(90)  # an angle that needs not be said
SAME = 1e-9  # rad and mm, by which two sizes may differ and be one


def path_dimensions(path: Path) -> list[Dimension]:
    """Of a path of lines and arcs; of one with other pieces none."""
    if not all(isinstance(p, LinePiece | ArcPiece) for p in path.pieces):
        return []
    spans = [
        Span(a, b) for chain in _corners(path) for a, b in itertools.pairwise(chain) if np.linalg.norm(b - a) > SAME
    ]
    arcs = [p for p in path.pieces if isinstance(p, ArcPiece)]
    return [*spans, *(_bend(arc) for arc in arcs)]


def _corners(path: Path) -> list[list[Array]]:
    """Start, corners and end of a path, cut where a bend has no corner within reach."""
    chains: list[list[Array]] = [[]]
    last_way = None
    for piece in path.pieces:
        (first, last), (way, way_out) = piece.point(ends := np.array([0.0, piece.length])), piece.tangent(ends)
        if last_way is None or float(angles_between(last_way[None], way[None])[0]) > KINK:
            chains[-1].append(first)
        last_way = way_out
        if not isinstance(piece, ArcPiece):
            continue
        if piece.sweep > FARTHEST:
            chains[-1].append(first)
            chains.append([last])
        else:
            chains[-1].append(first + piece.radius * math.tan(piece.sweep / 2) * way)
    return [*chains[:-1], [*chains[-1], path.pieces[-1].point(np.array([path.pieces[-1].length]))[0]]]


def _bend(arc: ArcPiece) -> Note:
    """Beside the middle of a bend, on the side of its centre."""
    middle = arc.point(np.array([arc.length / 2]))[0]
    angle = "" if abs(arc.sweep - RIGHT) < SAME else f", {math.degrees(arc.sweep):.6g}°"
    return Note(middle, (arc.center - middle) / arc.radius, arc.radius, facing=arc.axis, before="R", after=angle)
