"""Which lines of a mesh are seen from afar and which are hidden: its drawn edges, and the outlines where its surface
turns away from the eye.

Outlines are found as where the surface's own normals, which are linear in each triangle, stand square to the view
(Hertzmann and Zorin, Illustrating Smooth Surfaces, SIGGRAPH 2000). Each straight piece of a line is then held against
the triangles that lie before it: what one of them hides is an interval of the piece, given by four linear inequalities,
three of the triangle's sides and one of depth.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

from leadline.core.geometry.hiding import APART, Before, Intervals, merged
from leadline.core.geometry.mesh import DisplayMesh, Ints
from leadline.core.geometry.plane import Array, cross

# cosine to the view by which a normal counts as square to it, and share of its size by which a triangle counts as seen
# edge-on
EDGE_ON = 1e-9
ALIKE = 1e-7  # of the size of all: a line's point and a mesh's point so near to each other are one
BIAS = 1e-3  # of the size of all: how much nearer to the eye a line is held that runs along no sides of triangles
LIFTED = 1e-6  # of the size of all: how far off the mesh a line is held when it is asked what lies before it
INWARD = 2e-5  # of the size of all, and THIRD of the triangle beside it: how far beside an edge that is asked
THIRD = 1 / 3
ROUND = 0.15  # rad: how far round from where a surface turns away that is asked
BENT = 0.01  # rad along a triangle: where a surface bends less it may be flat
LIFT = 0.5  # of how high a triangle stands over its longest side: how much nearer to the eye
NEAR = 4.0  # times that height: corners farther away tell nothing of the line
# times how far the surface stands off a triangle: how far outside of it the surface can still be, as seen, where it
# turns away
BULGE = 1.5
SHORTEST = 1e-9  # of the size of all: shorter pieces are no lines


@dataclass(frozen=True)
class Lines:
    """Straight pieces (n, 2, 2) in mm, x to the right and y up as they are seen."""

    visible: Array
    hidden: Array


@dataclass(frozen=True)
class _Pieces:
    """Straight pieces as they are seen: ``ends`` (n, 2, 3), the third coordinate growing towards the eye, and where
    they are ``held`` (n, 2, 3) against what lies before them: beside them, on the surface that faces the eye; ``again``
    are places for those that seem hidden there.

    Those that no such surface has are ``lost`` (n,) behind their own body.
    """

    ends: Array
    held: Array
    again: Array
    lost: NDArray[np.bool_]

    def some(self, which: NDArray[np.bool_]) -> _Pieces:
        return _Pieces(self.ends[which], self.held[which], self.again[which], self.lost[which])


@dataclass(frozen=True)
class Drawable:
    """What is drawn: a ``mesh`` whose normals are those of the surface, and whose lines run along sides of its
    triangles.

    It is ``solid`` if it encloses what it is of, so that its back is never seen.
    """

    mesh: DisplayMesh
    solid: bool = True


def lines_seen(drawn: Sequence[Drawable], towards: Array, right: Array) -> Lines:
    """The lines of bodies, at least one, from far away: ``towards`` is a unit vector (3,) to the eye, ``right`` one
    (3,) square to it that is to the right there.
    """
    axes = np.stack([right, cross(towards, right), towards])
    every = np.vstack([d.mesh.points for d in drawn])
    size = float(np.ptp(every @ axes.T, axis=0).max()) or 1.0
    found: list[_Pieces] = []
    before = []
    for one in drawn:
        seen = _Seen(
            one.mesh.points @ axes.T, one.mesh.normals @ axes.T, one.mesh.triangles, one.mesh.off, one.solid, size
        )
        found += [_outlines(seen), _turns(seen), _edges(seen, [line @ axes.T for line in one.mesh.lines])]
        before.append(seen.before())
    pieces = _Pieces(*(np.concatenate([getattr(f, name) for f in found]) for name in ("ends", "held", "again", "lost")))
    pieces = pieces.some(np.linalg.norm(np.diff(pieces.ends[:, :, :2], axis=1)[:, 0], axis=1) > SHORTEST * size)
    triangles, reach = (np.concatenate([b[k] for b in before]) for k in (0, 1))
    return _parted(pieces.ends[:, :, :2], _hidden(pieces, Before(triangles, reach)))


@dataclass(frozen=True)
class _Seen:
    """A mesh as it is seen: x to the right, y up, z towards the eye; ``off`` (m,) is how far the surface is off its
    triangles.
    """

    points: Array
    normals: Array
    triangles: Ints
    off: Array
    solid: bool
    size: float

    @cached_property
    def facing(self) -> Array:
        """The cosine of each point's normal to the view."""
        z = self.normals[:, 2]
        return np.where(np.abs(z) < EDGE_ON, 0.0, z)

    @cached_property
    def area(self) -> Array:
        """Twice the area of each triangle as it is seen, under zero from behind; nought where it is seen edge-on."""
        corners = self.points[self.triangles]
        a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        area = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        return np.where(np.abs(area) > EDGE_ON * np.maximum((a**2).sum(axis=1), (b**2).sum(axis=1)), area, 0.0)

    @cached_property
    def turning(self) -> NDArray[np.bool_]:
        """The triangles (n,) over which the surface turns away."""
        front = self.facing[self.triangles] >= 0
        return np.asarray(front.any(axis=1) & ~front.all(axis=1))

    def before(self) -> tuple[Array, Array]:
        """The triangles (n, 3, 3) that can hide something, counter-clockwise as they are seen: of a solid those that
        face the eye.

        And how far (n,) the surface may reach beyond each.
        """
        corners, reach = self.points[self.triangles], BULGE * np.where(self._at_outline(), self.off, 0.0)
        front, back = self.area > 0, (self.area < 0) & (not self.solid)
        return np.concatenate([corners[front], corners[back][:, ::-1]]), np.concatenate([reach[front], reach[back]])

    def _at_outline(self) -> NDArray[np.bool_]:
        """The triangles (n,) that have a corner in common with one over which the surface turns away."""
        outline = np.zeros(len(self.points), dtype=bool)
        outline[self.triangles[self.turning]] = True
        return np.asarray(outline[self.triangles].any(axis=1))


def _outlines(seen: _Seen) -> _Pieces:
    """Where the surface turns away, in each triangle over which its normals do: held a little way round from there
    towards the eye.

    Where the surface bends the other way along the view it hides that line itself: a negative radial curvature
    (Koenderink, What does the occluding contour tell us about solid shape?, Perception 13, 1984).
    """
    corners = seen.triangles[seen.turning]
    g = seen.facing[corners]
    front = g >= 0
    rate, height = _radial(seen.points[corners], g)
    radius = 1 / np.maximum(np.abs(rate), 1 / seen.size)
    angle = np.minimum(ROUND, height / radius)
    lone = np.where(
        front.sum(axis=1) == 1, front.argmax(axis=1), (~front).argmax(axis=1)
    )  # the corner that is alone on its side
    rows = np.arange(len(g))
    ends, held, again = [], [], []
    for step in (1, 2):
        other = (lone + step) % 3
        share = (g[rows, lone] / (g[rows, lone] - g[rows, other]))[:, None]
        a, b = corners[rows, lone], corners[rows, other]
        place = _on_surface(seen, a, b, share)
        outward = seen.normals[a] + share * (seen.normals[b] - seen.normals[a])
        outward[:, 2] = 0.0
        beside = place - (radius * (1 - np.cos(angle)))[:, None] * _unit(outward)
        beside[:, 2] += radius * np.sin(angle) + LIFT * height
        ends.append(place)
        held.append(beside)
        corner = seen.points[np.where(front[rows, lone], a, b)] + np.array([0.0, 0.0, LIFTED * seen.size])
        near = np.linalg.norm(corner - place, axis=1) < NEAR * height
        again.append(np.where(near[:, None], corner, beside))
    return _Pieces(
        np.stack(ends, axis=1), np.stack(held, axis=1), np.stack(again, axis=1), (rate * height < -BENT) & seen.solid
    )


def _turns(seen: _Seen) -> _Pieces:
    """Where a surface has turned away just at the side of a triangle, and may go on edge-on from there: held on the
    triangle.
    """
    g = seen.facing[seen.triangles]
    turning = ((g == 0).sum(axis=1) == 2) & (g.max(axis=1) > 0)
    corners = seen.triangles[turning]
    apex = g[turning].argmax(axis=1)
    rows = np.arange(len(corners))
    ends = np.stack([seen.points[corners[rows, (apex + step) % 3]] for step in (1, 2)], axis=1)
    held = _into(seen, ends, seen.points[corners[rows, apex]])
    return _Pieces(ends, held, held, np.zeros(len(ends), dtype=bool))


def _into(seen: _Seen, ends: Array, apex: Array) -> Array:
    """Sides of triangles (n, 2, 3) moved a little way into them, towards their points across (n, 3), and off them."""
    along = _unit(ends[:, 1] - ends[:, 0])
    across = apex - ends[:, 0]
    height = np.linalg.norm(across - (across * along).sum(axis=1, keepdims=True) * along, axis=1)
    inward = np.minimum(THIRD, INWARD * seen.size / np.maximum(height, SHORTEST * seen.size))
    return np.asarray(ends + inward[:, None, None] * (apex[:, None] - ends) + np.array([0.0, 0.0, LIFTED * seen.size]))


def _on_surface(seen: _Seen, a: Ints, b: Ints, share: Array) -> Array:
    """Points at shares (n, 1) of the way from points a to points b (n,), laid on the surface: by half of how far they
    are off the tangent planes at both ends, which on a circle is right to the third order (after Boubekeur and Alexa,
    Phong tessellation, ACM TOG 27(5), 2008).
    """
    p, q, n, m = seen.points[a], seen.points[b], seen.normals[a], seen.normals[b]
    place = p + share * (q - p)
    off = (1 - share) * ((place - p) * n).sum(axis=1, keepdims=True) * n + share * ((place - q) * m).sum(
        axis=1, keepdims=True
    ) * m
    return np.asarray(place - off / 2)


def _radial(corners: Array, g: Array) -> tuple[Array, Array]:
    """How fast the normals (their cosine to the view at the corners: g, (n, 3)) turn towards the eye along triangles
    (n, 3, 3) the way that comes nearest to the view's, and how high they stand over their longest sides.
    """
    a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    aa, ab, bb = (a * a).sum(axis=1), (a * b).sum(axis=1), (b * b).sum(axis=1)
    room = np.maximum(aa * bb - ab * ab, np.finfo(float).tiny)
    along_a, along_b = (
        (bb * a[:, 2] - ab * b[:, 2]) / room,
        (aa * b[:, 2] - ab * a[:, 2]) / room,
    )  # of the view's direction laid into the triangle
    flat = along_a * a[:, 2] + along_b * b[:, 2]  # how long that is, squared
    change = along_a * (g[:, 1] - g[:, 0]) + along_b * (g[:, 2] - g[:, 0])
    return change / np.maximum(flat, EDGE_ON), np.sqrt(
        room / np.maximum(np.maximum(aa, bb), ((b - a) ** 2).sum(axis=1))
    )


def _edges(seen: _Seen, lines: Sequence[Array]) -> _Pieces:
    """The drawn edges, piece by piece: each held on every triangle beside it that faces the eye."""
    places = np.vstack([np.zeros((0, 3)), *lines])
    joined = np.ones(len(places), dtype=bool)
    joined[np.cumsum([len(line) for line in lines], dtype=np.int64) - 1] = False
    first = np.flatnonzero(joined)
    ends = np.stack([places[first], places[first + 1]], axis=1) if len(first) else np.zeros((0, 2, 3))
    piece, triangle, third = _beside(seen, places, first)
    faces = seen.area[triangle] > 0 if seen.solid else np.ones(len(triangle), dtype=bool)
    best = np.full(len(ends), -1)
    best[piece[faces]] = np.flatnonzero(faces)
    has = best >= 0
    held = ends + np.array([0.0, 0.0, BIAS * seen.size])
    held[has] = _into(seen, ends[has], seen.points[third[best[has]]])
    known = np.zeros(len(ends), dtype=bool)
    known[piece] = True
    return _Pieces(ends, held, held, known & ~has)


def _beside(seen: _Seen, places: Array, first: Ints) -> tuple[Ints, Ints, Ints]:
    """The triangles that have pieces, each from a place (n, 3) to the next one, as a side: the number of the piece, of
    the triangle, and of its point across.
    """
    near: Any = KDTree(seen.points).query_ball_point(places, ALIKE * seen.size) if len(places) else []
    count = len(seen.points)
    sides = np.concatenate([seen.triangles[:, [k, (k + 1) % 3]] for k in range(3)])
    across = np.concatenate([seen.triangles[:, (k + 2) % 3] for k in range(3)])
    owner = np.tile(np.arange(len(seen.triangles)), 3)
    keys = sides.min(axis=1) * count + sides.max(axis=1)
    order = np.argsort(keys, kind="stable")
    pairs = [
        (k, min(a, b) * count + max(a, b))
        for k, i in enumerate(first.tolist())
        for a in near[i]
        for b in near[i + 1]
        if a != b
    ]
    piece, wanted = np.array(pairs, dtype=np.int64).reshape(-1, 2).T
    low, high = np.searchsorted(keys[order], wanted, side="left"), np.searchsorted(keys[order], wanted, side="right")
    counts = high - low
    at = (
        order[np.repeat(low - np.concatenate([[0], np.cumsum(counts)[:-1]]), counts) + np.arange(counts.sum())]
        if len(pairs)
        else np.zeros(0, dtype=np.int64)
    )
    return np.repeat(piece, counts), owner[at], across[at]


def _unit(vectors: Array) -> Array:
    """Vectors (n, 3) of length one; those that are none stay so."""
    size = np.linalg.norm(vectors, axis=1, keepdims=True)
    return np.asarray(np.where(size > EDGE_ON, vectors / np.maximum(size, EDGE_ON), 0.0))


def _hidden(pieces: _Pieces, before: Before) -> Intervals:
    """What is hidden of pieces: those that seem to be are looked at again, and the less of it is taken, as near where a
    surface turns away it may seem to hide itself.
    """
    asked = np.flatnonzero(~pieces.lost)
    which, start, end = merged(before.hiding(pieces.held[asked]))
    seem = np.unique(which)
    seem = seem[(pieces.held[asked[seem]] != pieces.again[asked[seem]]).any(axis=(1, 2))]
    other, first, last = merged(before.hiding(pieces.again[asked[seem]]))
    sums = [np.bincount(w, b - a, len(asked)) for w, a, b in ((which, start, end), (seem[other], first, last))]
    anew = np.zeros(len(asked), dtype=bool)
    anew[seem] = sums[1][seem] < sums[0][seem]
    lost = np.flatnonzero(pieces.lost)
    stay, new = ~anew[which], anew[seem[other]]
    return (
        np.concatenate([asked[which[stay]], asked[seem[other][new]], lost]),
        np.concatenate([start[stay], first[new], np.zeros(len(lost))]),
        np.concatenate([end[stay], last[new], np.ones(len(lost))]),
    )


def _parted(ends: Array, hidden: Intervals) -> Lines:
    """Pieces (n, 2, 2) parted into what is visible and what is hidden of them, whose intervals may lie over
    each other.
    """
    owner, a, b = merged(hidden)
    every = np.arange(len(ends))
    edges = np.sort(np.concatenate([every * 2.0, owner * 2.0 + b]))  # where what is visible begins, and where it ends
    stops = np.sort(np.concatenate([every * 2.0 + 1.0, owner * 2.0 + a]))
    own = np.floor(edges / 2.0 + 1e-12).astype(np.int64)
    return Lines(_between(ends, own, edges - 2.0 * own, stops - 2.0 * own), _between(ends, owner, a, b))


def _between(ends: Array, which: Ints, start: Array, end: Array) -> Array:
    """The stretches of pieces from where to where along them, but those that are none."""
    some = end - start > APART
    own, a, b = ends[which[some]], start[some][:, None], end[some][:, None]
    way = own[:, 1] - own[:, 0]
    return np.stack([own[:, 0] + a * way, own[:, 0] + b * way], axis=1)
