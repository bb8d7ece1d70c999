"""Edges of a sweep by name, before any kernel: where two of its faces meet.

An edge is named by the two faces, ``<face>&<face>`` in alphabetical order, so that the name survives edits as
long as both faces do. All its stretches carry the one name.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.edges import Edge, arc_edges, line_edge
from leadline.core.geometry.plane import Array, Plane, any_square_to, cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.paths.pieces import ArcPiece
from leadline.core.sweep.faces import said_by
from leadline.core.sweep.motion import Motion

SHARP = 1e-3  # rad
FREE_POINTS = 16  # on each smooth stretch of a free path
ON_AXIS = 1e-9


@dataclass(frozen=True)
class FlatStrand:
    """A stretch of an edge that lies in a plane, exact."""

    plane: Plane
    edges: tuple[Edge, ...]


@dataclass(frozen=True)
class FreeStrand:
    """A stretch of an edge along a free path: ``points`` and ``slopes`` d/ds (n, 3) at ``stations`` (n,).

    ``follow`` gives its point at any station; it is smooth between ``breaks``.
    """

    stations: Array
    points: Array
    slopes: Array
    breaks: Array
    follow: Callable[[Array], Array]


Strand = FlatStrand | FreeStrand


def polyline(strand: Strand, chord: float = 0.05) -> Array:
    """Points (n, 3) along a stretch, for display."""
    if isinstance(strand, FreeStrand):
        return strand.points
    flat = [e.point(e.samples(chord)[:-1]) for e in strand.edges] + [strand.edges[-1].end[None]]
    return strand.plane.to_space(np.vstack(flat))


@dataclass(frozen=True)
class _Side:
    """The edges of a loop that come from one drawn entity, in order."""

    origin: str
    edges: tuple[Edge, ...]
    sharp: bool  # a corner where it begins


def edge_name(a: str, b: str) -> str:
    return "&".join(sorted((a, b)))


def named_edges(motion: Motion, regions: Sequence[Region], owner: str) -> dict[str, list[Strand]]:
    """The stretches of every sharp edge by its name, ends first."""
    found: dict[str, list[Strand]] = {}
    for name, strand in _strands(motion, regions, owner):
        found.setdefault(name, []).append(strand)
    return found


def face_border(motion: Motion, regions: Sequence[Region], name: str) -> list[Strand]:
    """What bounds a side face, sharp or not; none when there is no such face."""
    kind, rest = said_by(name)
    if kind != "side" or len(rest) != 2:
        return []
    found: list[Strand] = []
    for loop in (loop for r in regions for loop in r.loops if not loop.open):
        sides = _sides(loop)
        for k, side in enumerate(sides):
            for i, piece in enumerate(motion.path.pieces):
                if side.origin != rest[0] or (piece.origin or str(i)) != rest[1]:
                    continue
                found += [_ring(motion, i, side, end) for end in (False, True)]
                if len(sides) > 1:
                    found += [_track(motion, i, s.edges[0]) for s in (side, sides[(k + 1) % len(sides)])]
    return found


def _strands(motion: Motion, regions: Sequence[Region], owner: str) -> Iterator[tuple[str, Strand]]:
    pieces = motion.path.pieces
    tags = [p.origin or str(i) for i, p in enumerate(pieces)]
    for sides in (_sides(loop) for r in regions for loop in r.loops if not loop.open):
        for end, i in (("start", 0), ("end", len(pieces) - 1)) if not motion.path.closed else ():
            for side in sides if not _is_point(motion, i, sides, end == "end") else ():
                name = edge_name(f"{owner}/cap/{end}", f"{owner}/side/{side.origin}/{tags[i]}")
                yield name, _ring(motion, i, side, end == "end")
        for before, side in zip(sides[-1:] + sides[:-1], sides, strict=True):
            if not side.sharp or len(sides) == 1:
                continue
            for i, tag in enumerate(tags):
                name = edge_name(f"{owner}/side/{before.origin}/{tag}", f"{owner}/side/{side.origin}/{tag}")
                yield name, _track(motion, i, side.edges[0])


def _sides(loop: Loop) -> list[_Side]:
    edges = list(loop.edges)
    first = next((i for i in range(len(edges)) if edges[i].origin != edges[i - 1].origin), 0)
    sides: list[_Side] = []
    for i in range(first, first + len(edges)):
        before, edge = edges[(i - 1) % len(edges)], edges[i % len(edges)]
        if sides and sides[-1].origin == edge.origin:
            sides[-1] = _Side(edge.origin, (*sides[-1].edges, edge), sides[-1].sharp)
        else:
            sides.append(_Side(edge.origin, (edge,), turn_between(before, edge) > SHARP))
    return sides


def turn_between(before: Edge, after: Edge) -> float:
    """The angle (rad) by which an outline turns from one edge to the next."""
    v, w = (before.control[-1] - before.control[-2])[:2], (after.control[1] - after.control[0])[:2]
    return abs(math.atan2(v[0] * w[1] - v[1] * w[0], float(v @ w)))


def _is_point(motion: Motion, piece: int, sides: Sequence[_Side], at_end: bool) -> bool:
    """Whether the outline is a point at an end of a piece, so that there is no edge."""
    start = float(motion.path.starts[piece])
    f = motion.frames_on(piece, np.array([start + (motion.path.pieces[piece].length if at_end else 0.0)]))
    return f.is_point(np.vstack([e.control for s in sides for e in s.edges]))


def _ring(motion: Motion, piece: int, side: _Side, at_end: bool) -> FlatStrand:
    start = float(motion.path.starts[piece])
    f = motion.frames_on(piece, np.array([start + (motion.path.pieces[piece].length if at_end else 0.0)]))
    return FlatStrand(f.plane(0), tuple(f.outline(e) for e in side.edges))


def _track(motion: Motion, piece: int, edge: Edge) -> Strand:
    """The way of an edge's start point along a piece."""
    own, start = motion.path.pieces[piece], float(motion.path.starts[piece])
    exact = motion.exact(piece)
    n = 1 if exact else FREE_POINTS * max(1, math.ceil(2 * abs(motion.turned(start, start + own.length))))
    breaks = motion.breaks(piece)
    stations = np.unique(np.concatenate([np.linspace(a, b, n + 1) for a, b in itertools.pairwise(breaks)]))
    f = motion.frames_on(piece, stations)
    points, along = f.each(np.tile(edge.start, (len(stations), 1)))
    if not exact:

        def follow(s: Array) -> Array:
            return motion.frames_on(piece, s).each(np.tile(edge.start, (len(s), 1)))[0]

        return FreeStrand(stations, points, along, breaks, follow)
    if isinstance(own, ArcPiece):
        return _arc_track(own, points[0], edge.origin)
    length = float(np.linalg.norm(points[-1] - points[0]))
    return FlatStrand(Plane(points[0], f.T[0], any_square_to(f.T[0])), (line_edge((0, 0), (length, 0), edge.origin),))


def _arc_track(arc: ArcPiece, start: Array, origin: str) -> FlatStrand:
    axis, center = arc.axis, arc.center
    foot = center + axis * float((start - center) @ axis)
    radius = float(np.linalg.norm(start - foot))
    x = (start - foot) / max(radius, ON_AXIS)
    edges = arc_edges((0, 0), radius, 0.0, arc.sweep, origin)
    return FlatStrand(Plane(foot, x, cross(axis, x)), tuple(edges))
