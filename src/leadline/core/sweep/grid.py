"""The display mesh of a sweep: a structured grid straight from motion and section, with exact normals."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import manifold3d
import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.mesh import DisplayMesh, MeshBuilder
from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.sweep.mass import swept_tangents
from leadline.core.sweep.motion import Frames, Motion

MAX_STATIONS = 20000


def display_mesh(motion: Motion, regions: Sequence[Region], chord: float = 0.05, owner: str = "") -> DisplayMesh:
    """Triangles, normals and edge lines of a sweep; chords deviate by at most about ``chord`` mm.

    Faces are named ``owner/side/<section edge>/<path piece>`` and ``owner/cap/start|end``.
    """
    builder = MeshBuilder()
    extent = max(float(np.hypot(*r.outer.polygon(0.5).T).max()) for r in regions)
    for piece in range(len(motion.path.pieces)):
        s = _stations(motion, piece, extent, chord)
        frames = motion.frames_on(piece, s)
        origin = motion.path.pieces[piece].origin or str(piece)
        for loop in (loop for r in regions for loop in r.loops):
            _add_sides(builder, frames, loop, chord, f"{owner}/side/{{}}/{origin}")
    if not motion.path.closed:
        for region in regions:
            _add_cap(builder, motion, 0.0, region, chord, f"{owner}/cap/start", False)
            _add_cap(builder, motion, motion.length, region, chord, f"{owner}/cap/end", True)
    return builder.mesh()


def _stations(motion: Motion, piece: int, extent: float, chord: float) -> Array:
    """Stations along one piece, close enough for the outermost track."""
    own = motion.path.pieces[piece]
    start = float(motion.path.starts[piece])
    parts = []
    breaks = own.breaks() + start
    for a, b in itertools.pairwise(breaks):
        probe = motion.frames_on(piece, np.linspace(a, b, 9))
        bend = np.linalg.norm(probe.K, axis=1)
        acceleration = float((bend * (1 + extent * bend)).max()) + extent * motion.rate**2
        n = math.ceil((b - a) * math.sqrt(acceleration / (8 * chord))) if acceleration > 0 else 1
        parts.append(np.linspace(a, b, max(1, n) + 1)[:-1])
    s = np.concatenate([*parts, [start + own.length]])
    return s if len(s) <= MAX_STATIONS else np.linspace(start, start + own.length, MAX_STATIONS)


def _add_sides(builder: MeshBuilder, f: Frames, loop: Loop, chord: float, name: str) -> None:
    """All edges of a loop are carried in one evaluation, then each becomes a grid of its own."""
    parameters = [_across(edge, f, chord) for edge in loop.edges]
    p = np.vstack([edge.point(t) for edge, t in zip(loop.edges, parameters, strict=True)])
    d = np.vstack([edge.derivative(t) for edge, t in zip(loop.edges, parameters, strict=True)])
    along, across = swept_tangents(f, p, d)
    normals = cross(across, along)
    normals /= np.maximum(np.linalg.norm(normals, axis=-1, keepdims=True), 1e-30)
    points = f.C[:, None] + p[None, :, :1] * f.X[:, None] + p[None, :, 1:] * f.Y[:, None]
    first = 0
    for i, (edge, t) in enumerate(zip(loop.edges, parameters, strict=True)):
        columns = slice(first, first + len(t))
        builder.add_grid(points[:, columns], normals[:, columns], name.format(edge.origin))
        if _sharp(loop, i):
            builder.add_line(points[:, first])
        first += len(t)


def _across(edge: Edge, f: Frames, chord: float) -> Array:
    """Parameters across the section; a straight edge is cut where the twist would warp its quads."""
    t = edge.samples(chord)
    if not edge.straight or len(f.C) < 2:
        return t
    step = float(np.linalg.norm(np.diff(f.X, axis=0), axis=1).max()) if f.twist.any() else 0.0
    n = max(1, math.ceil((t[-1] - t[0]) * step / (4 * chord)))
    return np.linspace(t[0], t[-1], n + 1)


def _sharp(loop: Loop, i: int) -> bool:
    """Whether the outline has a corner where edge i begins."""
    before, after = loop.edges[i - 1], loop.edges[i]
    v, w = before.control[-1] - before.control[-2], after.control[1] - after.control[0]
    return abs(math.atan2(v[0] * w[1] - v[1] * w[0], float(v @ w))) > 1e-3


def _add_cap(
    builder: MeshBuilder, motion: Motion, station: float, region: Region, chord: float, name: str, at_end: bool
) -> None:
    f = motion.frames(np.array([station]))
    outlines = [np.vstack([e.point(e.samples(chord)[:-1]) for e in loop.edges]) for loop in region.loops]
    flat = np.vstack(outlines)
    triangles = np.asarray(manifold3d.triangulate(outlines))
    points = f.C + flat[:, :1] * f.X + flat[:, 1:] * f.Y
    normal = f.T[0] if at_end else -f.T[0]
    builder.add_triangles(points, np.tile(normal, (len(points), 1)), triangles if at_end else triangles[:, ::-1], name)
    start = 0
    for outline in outlines:
        ring = points[start : start + len(outline)]
        builder.add_line(np.vstack([ring, ring[:1]]))
        start += len(outline)
