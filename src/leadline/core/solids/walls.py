"""How thick the walls of a hollow body are: the distances from its new faces to those that they run along."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.gp import gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.TopAbs import TopAbs_State
from scipy.optimize import minimize

from leadline.core.clearance.shape import Shape as MeshShape
from leadline.core.geometry.mesh import DisplayMesh, Ints
from leadline.core.geometry.plane import Array
from leadline.core.solids.body import Body
from leadline.core.solids.face_distance import FacesNear
from leadline.core.solids.kernel import TOLERANCE, Shape, faces
from leadline.core.solids.tessellate import face_mesh, tessellate

COARSE = 2e-3  # of the size: the chord of the mesh by which thin and thick places are found
LOOKED_AT = 40  # of the thinnest, of the thickest, and of those between
SPLIT = 64  # triangles at once, of those in which a thinner place can be, and as many of those with a thicker one
ROUNDS = 12  # of splitting; each halves the triangles, so that these come down to the chord
TRAVEL = 8.0  # chords that a thinnest or thickest place is moved at most, once it is found to within one
TRIES = 150  # places looked at while it is moved
SAME = 1e-8  # of the size: walls, and places, no further apart than this are the same


@dataclass(frozen=True)
class Walls:
    """How thick the walls are, at the least and at the most, each with where that is, (3,); mm."""

    least: float
    least_at: Array
    most: float
    most_at: Array


def measured_walls(body: Body, owner: str) -> Walls:
    """How thick the walls of a hollow body are, whose new faces are named ``owner/inside/...``: from places on these to
    the nearest ones on the faces that they run along.
    """
    return walls_between(
        body, lambda name: name.startswith(f"{owner}/inside/"), lambda name: not name.startswith(f"{owner}/")
    )


def walls_between(body: Body, is_new: Callable[[str], bool], is_old: Callable[[str], bool]) -> Walls:
    """How far some of a body's faces, by their names, are from some others, at the least and at the most.

    Meshes tell, to within ``COARSE``, where it is thin and where it is thick. There, and at places between, the
    distance to the faces themselves is found; the thinnest place and the thickest are then moved to where the distance
    has its minimum and its maximum.
    """
    chord = COARSE * _size(body)
    mesh = tessellate(body, chord)
    named = list(zip(faces(body.shape), body.face_names, strict=True))
    new, old = [_Side(f) for f, n in named if is_new(n)], [f for f, n in named if is_old(n)]
    found = _extreme_places(new, MeshShape(mesh.points, _triangles(mesh, is_old)), chord)
    near = FacesNear(old, chord)
    away = near.distances(found.points(new))
    low, high = int(away.argmin()), int(away.argmax())
    least, least_at = _moved(new[found.side[low]], found.uv[low], near, chord, 1.0)
    minus_most, most_at = _moved(new[found.side[high]], found.uv[high], near, chord, -1.0)
    return Walls(least, least_at, -minus_most, most_at)


class _Side:
    """A face from which a wall is measured."""

    def __init__(self, face: Shape) -> None:
        self.face, self.surface = face, BRepAdaptor_Surface(face)
        self._classifier = BRepClass_FaceClassifier()

    def at(self, uv: Array) -> Array:
        """The points (n, 3) at some parameters (n, 2)."""
        return np.array([self.surface.Value(u, v).Coord() for u, v in uv.tolist()]).reshape(-1, 3)

    def has(self, u: float, v: float, beyond: float = TOLERANCE) -> bool:
        """Whether parameters lie on the face, or not further ``beyond`` its edges, mm."""
        self._classifier.Perform(self.face, gp_Pnt2d(u, v), beyond)
        return bool(self._classifier.State() != TopAbs_State.TopAbs_OUT)

    def steps(self, u: float, v: float) -> Array:
        """By how much each parameter changes for 1 mm on the face, (2,); 0 where the face does not move with it."""
        point, by_u, by_v = gp_Pnt(), gp_Vec(), gp_Vec()
        self.surface.D1(u, v, point, by_u, by_v)
        speeds = np.array([by_u.Magnitude(), by_v.Magnitude()])
        return np.where(speeds > TOLERANCE, 1.0 / np.maximum(speeds, TOLERANCE), 0.0)


@dataclass(frozen=True)
class _Places:
    """Places on sides: which ``side`` (n,), and its parameters ``uv`` (n, 2)."""

    side: Ints
    uv: Array

    def points(self, sides: Sequence[_Side]) -> Array:
        """Where they are, (n, 3)."""
        return np.vstack([sides[k].at(uv[None, :]) for k, uv in zip(self.side, self.uv, strict=True)])

    def on(self, sides: Sequence[_Side]) -> _Places:
        """Those that are on their faces: a triangle beside a hole reaches over the hole's edge."""
        kept = [i for i, (k, (u, v)) in enumerate(zip(self.side, self.uv.tolist(), strict=True)) if sides[k].has(u, v)]
        return _Places(self.side[kept], self.uv[kept])


@dataclass(frozen=True)
class _Patches:
    """Triangles in the parameters of sides: which ``side`` (n,), the ``corners`` (n, 3, 2), how far their middles are
    ``away`` (n,), and how far they ``reach`` (n,) from their middles, mm.
    """

    side: Ints
    corners: Array
    away: Array
    reach: Array

    @classmethod
    def measured(cls, side: Ints, corners: Array, sides: Sequence[_Side], old: MeshShape) -> _Patches:
        middles, points = np.empty((len(side), 3)), np.empty((len(side), 3, 3))
        for k in np.unique(side):
            mine = side == k
            middles[mine] = sides[k].at(corners[mine].mean(axis=1))
            points[mine] = sides[k].at(corners[mine].reshape(-1, 2)).reshape(-1, 3, 3)
        reach = np.linalg.norm(points - middles[:, None, :], axis=2).max(axis=1)
        return cls(side, corners, old.nearest(middles)[0], reach)

    @classmethod
    def joined(cls, some: Sequence[_Patches]) -> _Patches:
        return cls(
            np.concatenate([p.side for p in some]),
            np.concatenate([p.corners for p in some]),
            np.concatenate([p.away for p in some]),
            np.concatenate([p.reach for p in some]),
        )

    def some(self, which: Ints) -> _Patches:
        return _Patches(self.side[which], self.corners[which], self.away[which], self.reach[which])

    @property
    def middles(self) -> _Places:
        return _Places(self.side, self.corners.mean(axis=1))

    def quarters(self) -> tuple[Ints, Array]:
        """The sides (4n,) and corners (4n, 3, 2) of the four triangles that each is made of."""
        a, b, c = (self.corners[:, k] for k in range(3))
        p, q, r = (a + b) / 2, (b + c) / 2, (c + a) / 2
        corners = [np.stack(three, axis=1) for three in ((a, p, r), (p, b, q), (r, q, c), (p, q, r))]
        return np.tile(self.side, 4), np.concatenate(corners)


def _extreme_places(sides: Sequence[_Side], old: MeshShape, chord: float) -> _Places:
    """Places among which are those nearest to a mesh and furthest from it, to within ``chord`` mm, and others between.

    The distance to something changes by no more than one moves oneself; so a triangle of which the middle is ``away``
    holds nothing nearer than ``away - reach`` nor further than ``away + reach``. Only those that can hold a nearer or a
    further place than is known are split (branch and bound).
    """
    starts = [(k, mesh) for k, side in enumerate(sides) if (mesh := face_mesh(side.face)) is not None]
    nodes = _Places(
        np.concatenate([np.full(len(m.parameters), k) for k, m in starts]), np.vstack([m.parameters for _, m in starts])
    )
    at_nodes = old.nearest(np.vstack([m.points for _, m in starts]))[0]
    pool = _Patches.measured(
        np.concatenate([np.full(len(m.triangles), k) for k, m in starts]),
        np.concatenate([m.parameters[m.triangles] for _, m in starts]),
        sides,
        old,
    )
    places, away = [nodes, pool.middles], [at_nodes, pool.away]
    for _ in range(ROUNDS):
        low, high = min(a.min() for a in away), max(a.max() for a in away)
        chosen = np.union1d(
            _worth_splitting(pool, pool.away + pool.reach - high, chord),
            _worth_splitting(pool, low - (pool.away - pool.reach), chord),
        )
        if len(chosen) == 0:
            break
        split = _Patches.measured(*pool.some(chosen).quarters(), sides, old)
        places.append(split.middles)
        away.append(split.away)
        pool = _Patches.joined([pool.some(np.setdiff1d(np.arange(len(pool.side)), chosen)), split])
    every = _Places(np.concatenate([p.side for p in places]), np.concatenate([p.uv for p in places]))
    return _spread(every, np.argsort(np.concatenate(away)), sides)


def _worth_splitting(pool: _Patches, gain: Array, chord: float) -> Ints:
    """Which triangles promise most, by what could be gained (n,), mm, in each; those down to the chord are done."""
    order = np.argsort(-np.where(pool.reach > chord, gain, 0.0))[:SPLIT]
    return np.asarray(order[(gain[order] > chord) & (pool.reach[order] > chord)])


def _spread(every: _Places, order: Ints, sides: Sequence[_Side]) -> _Places:
    """Of places in the order of their distances the first ones, the last ones, and others between."""
    some = np.concatenate([order[:LOOKED_AT], order[-LOOKED_AT:], order[:: max(1, len(order) // LOOKED_AT)]])
    chosen = np.unique(some)
    found = _Places(every.side[chosen], every.uv[chosen]).on(sides)
    return found if len(found.side) else _Places(every.side[chosen], every.uv[chosen])


def _moved(side: _Side, uv: Array, near: FacesNear, chord: float, sign: float) -> tuple[float, Array]:
    """The least of ``sign`` times the distance about a place on a side, and where it is, (3,).

    The distance has ridges, at which it cannot be differentiated, so that the search goes by its values alone (Nelder
    and Mead, The Computer Journal 7, 1965).
    """
    begin, steps = side.at(uv[None, :])[0], side.steps(*uv.tolist())
    some = near.within(begin, TRAVEL * chord)

    def value(t: Array) -> float:
        u, v = (uv + steps * t).tolist()
        place = side.at(np.array([[u, v]]))
        if np.linalg.norm(place[0] - begin) > TRAVEL * chord or not side.has(u, v, beyond=0.0):
            return np.inf
        return sign * float(some.distances(place)[0])

    legs = np.diag([chord if side.has(*(uv + steps * leg).tolist()) else -chord for leg in chord * np.eye(2)])
    first = sign * float(some.distances(begin[None, :])[0])
    same = SAME * chord / COARSE
    done = minimize(
        value,
        np.zeros(2),
        method="Nelder-Mead",
        options={
            "initial_simplex": np.vstack([np.zeros(2), legs]),
            "maxfev": TRIES,
            "xatol": same,
            "fatol": same,
        },
    )
    if not done.fun < first:
        return first, begin
    return float(done.fun), side.at((uv + steps * done.x)[None, :])[0]


def _size(body: Body) -> float:
    low, high = body.box()
    return float(np.linalg.norm(high - low))


def _triangles(mesh: DisplayMesh, wanted: Callable[[str], bool]) -> Ints:
    """The triangles of the faces whose names are wanted."""
    which = [i for i, name in enumerate(mesh.names) if wanted(name)]
    return np.asarray(mesh.triangles[np.isin(mesh.face, which)])
