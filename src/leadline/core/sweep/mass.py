"""Volume, area and centre of a sweep by Gauss quadrature over the motion."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Region, edge_nodes
from leadline.core.sweep.frames import Frames, swept_tangents
from leadline.core.sweep.motion import Motion

WARP_PARTS = 6  # of each edge: the warp is less smooth where an anchor lies on it
SEEN = 15  # stations inside at which a section that changes is measured
_X, _W = np.polynomial.legendre.leggauss(12)


@dataclass(frozen=True)
class MassNumbers:
    """``volume`` mm³, ``area`` mm² (with caps), ``centre`` (3,) mm."""

    volume: float
    area: float
    centre: Array


def stations_and_weights(motion: Motion, parts: int = 4, most: int | None = None) -> list[tuple[int, Array, Array]]:
    """Gauss nodes piece by piece: (piece, stations, weights); on at most so many stretches of a piece, if that is
    given.
    """
    out = []
    for i, piece in enumerate(motion.path.pieces):
        edges = motion.breaks(i)
        turns = abs(motion.turned(float(edges[0]), float(edges[-1])))
        least = 1 if turns == 0 and piece.kind in ("line", "arc") and motion.exact(i) else parts * max(1.0, turns)
        while len(edges) - 1 < least:
            edges = np.sort(np.concatenate([edges, (edges[1:] + edges[:-1]) / 2]))
        if most is not None and len(edges) - 1 > most:
            edges = np.linspace(edges[0], edges[-1], most + 1)
        half = np.diff(edges)[:, None] / 2
        s = (edges[:-1, None] + half * (1 + _X)).ravel()
        out.append((i, s, (half * _W).ravel()))
    return out


def measure(motion: Motion, regions: Sequence[Region], most: int | None = None) -> MassNumbers:
    """Volume and centre from the section's moments, exact for what bends; area by quadrature of the swept edges.

    With ``most`` stretches of a piece it is quick and only as exact as they are even.

    Where rails bend the section, its moments are those of its outline at every station.
    """
    if motion.warp is not None:
        return _measure_warped(motion, regions, most)
    moments = np.sum([r.moments for r in regions], axis=0)
    A, Sx, Sy, Sxx, Sxy, Syy = moments
    sheet = all(r.sheet for r in regions)
    volume, first, lateral = 0.0, np.zeros(3), 0.0
    points, slopes, weights = _outline_nodes(regions)
    for piece, s, w in stations_and_weights(motion, most=most):
        f = motion.frames_on(piece, s)
        j0, j1, j2 = f.jacobian.T
        c0 = A * j0 + Sx * j1 + Sy * j2
        c1, c2 = Sx * j0 + Sxx * j1 + Sxy * j2, Sy * j0 + Sxy * j1 + Syy * j2
        volume += float(w @ c0)
        first += w @ (f.C * c0[:, None] + f.X * c1[:, None] + f.Y * c2[:, None])
        along, across = swept_tangents(f, points, slopes)
        skin = np.linalg.norm(cross(across, along), axis=-1) * weights * w[:, None]
        lateral += float(skin.sum())
        if sheet:
            first += (f.at(points) * skin[..., None]).sum(axis=(0, 1))
    if sheet:
        return MassNumbers(0.0, lateral, first / lateral)
    return MassNumbers(volume, lateral + float(np.sum(cap_areas(motion, regions))), first / volume)


def _measure_warped(motion: Motion, regions: Sequence[Region], most: int | None) -> MassNumbers:
    """Gauss's theorem over the swept edges and the end faces: V = ∮ p.n dA / 3, and so on."""
    sheet = all(r.sheet for r in regions)
    volume, first, lateral, skin_first = 0.0, np.zeros(3), 0.0, np.zeros(3)
    points, slopes, weights = _outline_nodes(regions, WARP_PARTS)

    def gather(p: Array, n: Array) -> None:
        nonlocal volume, first
        volume += float((p * n).sum()) / 3
        first += ((p * n).sum(axis=-1)[..., None] * p).reshape(-1, 3).sum(axis=0) / 4

    for piece, s, w in stations_and_weights(motion, most=most):
        f = motion.frames_on(piece, s)
        along, across = swept_tangents(f, points, slopes)
        skin = cross(across, along) * (weights * w[:, None])[..., None]
        p = f.at(points)
        gather(p, skin)
        size = np.linalg.norm(skin, axis=-1)
        lateral += float(size.sum())
        skin_first += (p * size[..., None]).sum(axis=(0, 1))
    if sheet:
        return MassNumbers(0.0, lateral, skin_first / lateral)
    if not motion.path.closed:
        f = motion.ends
        for i, way in enumerate((-1.0, 1.0)):
            plane = f.plane(i)
            A, Sx, Sy = _moments_at(f, i, regions)
            h = way * float(plane.normal @ plane.origin)  # p.n on the face
            volume += h * A / 3
            first += h * (plane.origin * A + plane.x * Sx + plane.y * Sy) / 4
    return MassNumbers(volume, lateral + float(cap_areas(motion, regions).sum()), first / volume)


def _moments_at(f: Frames, i: int, regions: Sequence[Region]) -> Array:
    """[area, Sx, Sy] (3,) of sections as they stand in their plane at one of the stations, by Green's theorem."""
    points, slopes, weights = _outline_nodes(regions, WARP_PARTS)
    f = f.at_index(i)
    x, y = (f.flat(points)[0] @ f.maps[0].T).T
    dx, dy = (f.flat_along(points, slopes)[0] @ f.maps[0].T).T * weights
    return np.array([float(x @ dy), float(x**2 @ dy) / 2, -float(y**2 @ dx) / 2])


def areas_at(f: Frames, regions: Sequence[Region], parts: int = WARP_PARTS) -> Array:
    """Areas (n,) of closed sections as they stand in their planes at stations, by Green's theorem with so many
    ``parts`` of each smooth span.
    """
    if not regions:
        return np.zeros(len(f.C))
    points, slopes, weights = _outline_nodes(regions, parts)
    places, ways = f.flat(points), f.flat_along(points, slopes)
    doubled = (places[..., 0] * ways[..., 1] - places[..., 1] * ways[..., 0]) @ weights
    return np.asarray(doubled / 2 * np.linalg.norm(cross(f.X, f.Y), axis=1))


def thickness(motion: Motion, region: Region) -> float:
    """How thick a closed section is, mm, as a plate or a tube of its area and girth has it (twice the one by the
    other): where it is thickest, if it goes over into others.
    """
    if motion.blend is None:
        return 2 * region.area / region.girth
    f = motion.frames(np.linspace(0.0, motion.length, SEEN + 2)[1:-1])
    points, slopes, weights = _outline_nodes([region], WARP_PARTS)
    girths = np.linalg.norm(swept_tangents(f, points, slopes)[1], axis=-1) @ weights
    return float((2 * np.abs(areas_at(f, [region])) / girths).max())


def cap_areas(motion: Motion, regions: Sequence[Region]) -> Array:
    """Areas of the sections at the two ends, (2,); nought where the path is closed."""
    if motion.path.closed:
        return np.zeros(2)
    f = motion.ends
    closed = [r for r in regions if not r.sheet]
    if motion.warp is not None:
        return areas_at(f, closed)
    return np.asarray(sum(r.area for r in closed) * np.linalg.norm(cross(f.X, f.Y), axis=1))


def _outline_nodes(regions: Sequence[Region], parts: int = 1) -> tuple[Array, Array, Array]:
    """Gauss nodes on every edge of the sections, each smooth span in ``parts``: points (n, 2), derivatives (n, 2),
    weights (n,).
    """
    loops = [loop for region in regions for loop in region.loops]
    nodes = [loop.nodes if parts == 1 else edge_nodes(loop.edges, parts) for loop in loops]
    points, slopes, weights = zip(*nodes, strict=True)
    return np.vstack(points), np.vstack(slopes), np.concatenate(weights)
