"""The display mesh of a sweep: a structured grid straight from motion and section, with exact normals."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import manifold3d
import numpy as np

from leadline.core.geometry.edges import MOST_SAMPLES, Edge, bent_samples, largest_turn
from leadline.core.geometry.mesh import DisplayMesh, Fineness, MeshBuilder
from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.sweep.borders import SHARP, turn_between
from leadline.core.sweep.frames import Frames, swept_tangents
from leadline.core.sweep.motion import Motion

MAX_STATIONS = 20000
PROBED_TURNS = 40
FLAT = 1e-9
MOST_ACROSS = 64
PROBED_SECTIONS, PROBED_STRETCHES = 8, 40
# rad between the normals at both ends of a triangle's side that lies in the surface: between these they are taken for
# linear
SKEW = 0.12
WARPED = 24  # steps at least where rails bend the section: its quads are not flat even along straight tracks
KINK = 1e-3  # rad between the normals on both sides of a crease that is drawn
CREASE_SEEN = 5  # places on an edge of the section at which it is looked for
POINTED = 1e-9  # of the section beside it: less than that is a point
ROUGH_CHORDS = (1 / 200, 1 / 100, 1 / 50, 1 / 20)  # of the section's extent
ROUGH_POINTS = 10_000
COARSENINGS, SPARE = (
    6,
    1.1,
)  # times that a mesh of too many triangles is made coarser, each by so much more than should do
TRUER = 2.5  # times as fine as a whole mesh is asked to be, chords are along a sweep and across it
TRUER_ANGLE = (
    1.15  # likewise: where both bend, triangles that share a diagonal lie at a larger angle than stations and points
)
# times as large as between triangles beside each other is the angle between normals at a triangle's corners, where both
# ways bend
DIAGONAL = 1.3
TRIES = 3  # times that a mesh is made finer for its angle
MOST_FINE = 1024  # steps on a smooth stretch of a section's curve, where a fineness is asked for
UNEVEN = 1.1  # times the fineness: how far from flat a quad may be, beside what its sides cut off


@dataclass(frozen=True)
class _Stretch:
    """A smooth stretch of the motion; ``kinked`` when the motion has a crease where it begins."""

    origin: str
    frames: Frames
    kinked: bool
    piece: int
    stations: Array
    plain: bool


@dataclass(frozen=True)
class _Outline:
    """A loop of the section with the parameters, by edge, of the points that sides and caps share."""

    loop: Loop
    parameters: list[Array]

    def points(self) -> Array:
        """The outline's points (n, 2), the last one of an edge left out where the next begins."""
        return np.vstack([edge.point(t[:-1]) for edge, t in zip(self.loop.edges, self.parameters, strict=True)])

    def each(self) -> tuple[Array, Array]:
        """Points and derivatives (n, 2) of all edges, one after the other, ends included."""
        pairs = list(zip(self.loop.edges, self.parameters, strict=True))
        return np.vstack([e.point(t) for e, t in pairs]), np.vstack([e.derivative(t) for e, t in pairs])


def display_mesh(
    motion: Motion, regions: Sequence[Region], chord: float = 0.05, owner: str = "", most: int | None = None
) -> DisplayMesh:
    """Triangles, normals and edge lines of a sweep; chords deviate by about ``chord`` mm at most along it and across
    it, so that the mesh is within two and a half times that of the exact surface.

    If that takes more than about ``most`` triangles they are as fine as so many make them.

    Faces are named ``owner/side/<section edge>/<path piece>`` and ``owner/cap/start|end``.
    """
    stretches, outlines = _grids(motion, regions, chord)
    for _ in range(COARSENINGS):
        count = _count(stretches, outlines)
        if most is None or count <= most:
            break
        chord *= SPARE * count / most  # there are as many both ways as the root of the fineness
        stretches, outlines = _grids(motion, regions, chord)
    return _meshed(motion, regions, stretches, outlines, owner)


def fine_mesh(
    motion: Motion, regions: Sequence[Region], fineness: Fineness, owner: str, most: int
) -> DisplayMesh | int:
    """As ``display_mesh``, the whole of it within a fineness; about how many triangles that takes, where it is more
    than ``most``.
    """
    angle = fineness.angle / TRUER_ANGLE
    for _ in range(TRIES):
        stretches, outlines = _grids(motion, regions, fineness.chord / TRUER, angle, MOST_FINE)
        count = _count(stretches, outlines)
        if count > most:
            return count
        mesh = _meshed(motion, regions, stretches, outlines, owner)
        bend = mesh.bend()
        if bend <= DIAGONAL * fineness.angle:
            break
        angle *= fineness.angle / bend  # where a loft's section bends otherwise than its path and its outline
    return mesh


def _count(stretches: Sequence[_Stretch], outlines: Sequence[Sequence[_Outline]]) -> int:
    """About how many triangles they make."""
    return (
        2 * sum(len(s.stations) for s in stretches) * sum(len(t) for own in outlines for o in own for t in o.parameters)
    )


def _meshed(
    motion: Motion,
    regions: Sequence[Region],
    stretches: Sequence[_Stretch],
    outlines: Sequence[Sequence[_Outline]],
    owner: str,
) -> DisplayMesh:
    builder = MeshBuilder()
    for outline in (o for own in outlines for o in own):
        for stretch in stretches:
            _add_sides(builder, stretch, outline, f"{owner}/side/{{}}/{stretch.origin}")
    _add_caps(builder, motion, regions, outlines, owner)
    return builder.mesh()


def _grids(
    motion: Motion, regions: Sequence[Region], chord: float, angle: float = math.inf, most: int = MOST_SAMPLES
) -> tuple[list[_Stretch], list[list[_Outline]]]:
    """The stations of all stretches, and the points of all outlines, that a fineness (mm, rad) takes."""
    stretches = _stretches(motion, regions, motion.reach(regions), chord, angle)
    fine = chord / max(1.0, max(_widening(s.frames, regions) for s in stretches))
    turn = max(_twist_step(s.frames) for s in stretches)
    outlines = [
        [
            _Outline(
                loop, [_across(edge, turn, fine, stretches, bool(motion.warp), angle, most) for edge in loop.edges]
            )
            for loop in r.loops
        ]
        for r in regions
    ]
    return [_flattened(motion, stretch, [o for own in outlines for o in own], chord) for stretch in stretches], outlines


def rough_mesh(motion: Motion, regions: Sequence[Region], owner: str = "", points: int = ROUGH_POINTS) -> DisplayMesh:
    """Triangles and normals of a sweep that is being changed: of about so many ``points`` at most, few enough to be
    made and drawn while a hand moves, whatever its size.

    Stations stand closer where path and section turn. Between them the mesh may be off by more than can be told
    beforehand.
    """
    builder = MeshBuilder()
    extent = max(float(np.ptp(r.outer.polygon(0.5), axis=0).max()) for r in regions)
    wanted = len(motion.rough()[0])
    for chord in ROUGH_CHORDS:  # where the motion turns much it is the section that is drawn with fewer points first
        outlines = [
            [_Outline(loop, [edge.samples(extent * chord) for edge in loop.edges]) for loop in r.loops] for r in regions
        ]
        around = sum(len(t) for own in outlines for o in own for t in o.parameters)
        if around * wanted <= points:
            break
    s, frames = motion.rough(max(24, points // around))
    stretch = _Stretch("0", frames, False, 0, s, True)
    for outline in (o for own in outlines for o in own):
        _add_sides(builder, stretch, outline, f"{owner}/side/{{}}/{stretch.origin}")
    _add_caps(builder, motion, regions, outlines, owner)
    return builder.mesh()


def _stretches(motion: Motion, regions: Sequence[Region], extent: float, chord: float, angle: float) -> list[_Stretch]:
    found: list[_Stretch] = []
    outline = (
        None if motion.blend is None else np.vstack([loop.polygon(extent / 20) for r in regions for loop in r.loops])
    )
    for piece, own in enumerate(motion.path.pieces):
        plain = len(motion.breaks(piece)) == len(own.breaks())
        for a, b in itertools.pairwise(motion.breaks(piece)):
            s = _stations(motion, piece, a, b, extent, chord, outline, angle)
            f = _frames(motion, piece, s, plain)
            kinked = bool(found) and _creased(found[-1].frames, f, regions)
            found.append(_Stretch(own.origin or str(piece), f, kinked, piece, s, plain))
    return found


def _creased(before: Frames, after: Frames, regions: Sequence[Region]) -> bool:
    """Whether the surface has a crease where one stretch goes over into the next, anywhere on the outline."""
    edges = [(e, np.linspace(*e.domain, CREASE_SEEN)) for r in regions for loop in r.loops for e in loop.edges]
    p, d = np.vstack([e.point(t) for e, t in edges]), np.vstack([e.derivative(t) for e, t in edges])
    sides = []
    for frames, beside in (
        (before, slice(-2, None)),
        (after, slice(0, 2)),
    ):  # with the station next to it, which tells the normal where the section is a point
        along, across = swept_tangents(_some(frames, beside), p, d)
        sides.append(_unit_normals(cross(across, along)))
    return float(np.abs(sides[0][-1] - sides[1][0]).max()) > KINK


def _some(frames: Frames, which: slice) -> Frames:
    return frames.gathered(lambda read: read(frames)[which])


def _frames(motion: Motion, piece: int, s: Array, plain: bool) -> Frames:
    """Frames at stations of a smooth stretch.

    Where it ends inside its piece, slopes there are taken from its own side.
    """
    f = motion.frames_on(piece, s)
    if plain:
        return f
    inside = motion.frames_on(piece, motion.one_sided(float(s[0]), float(s[-1]), s))
    return replace(f, dC=inside.dC, dX=inside.dX, dY=inside.dY, dZ=inside.dZ)


def _flattened(motion: Motion, stretch: _Stretch, outlines: Sequence[_Outline], chord: float) -> _Stretch:
    """The stretch with more stations where quads are so far from flat that their triangles leave the surface.

    The middle of a quad's diagonal is off the surface by a quarter of how much its opposite sides differ, which halves
    with every halving along: straight tracks between skew rails are the case.
    """
    off = 0.0
    for outline in outlines:
        sides = np.diff(stretch.frames.at(outline.each()[0]), axis=1)
        off = max(off, float(np.linalg.norm(np.diff(sides, axis=0), axis=2).max(initial=0.0)) / 4)
    times = off / (UNEVEN * chord)
    if times <= 1:
        return stretch
    steps = min(math.ceil(times * (len(stretch.stations) - 1)), MAX_STATIONS)
    s = np.linspace(stretch.stations[0], stretch.stations[-1], steps + 1)
    return replace(stretch, stations=s, frames=_frames(motion, stretch.piece, s, stretch.plain))


def _stations(
    motion: Motion, piece: int, a: float, b: float, extent: float, chord: float, outline: Array | None, angle: float
) -> Array:
    """Stations on a smooth stretch, close enough for the outermost track; for those of an ``outline``'s points, if
    there is one.

    The motion turns by at most about ``angle`` (rad) between.
    """
    turns = abs(motion.turned(a, b))
    at = np.linspace(a, b, 9 + 16 * min(PROBED_TURNS, math.ceil(turns)))
    f = motion.frames_on(piece, motion.one_sided(a, b, at))
    tracks = np.stack([np.linalg.norm(np.diff(d, axis=0), axis=1) for d in (f.dC, f.dX, f.dY)]) / (at[1] - at[0])
    acceleration = float((tracks[0] + extent * np.maximum(tracks[1], tracks[2])).max())
    turning = max(map(largest_turn, (f.dC, f.X, f.Y)))
    if outline is not None:
        along, across = swept_tangents(f, outline, np.roll(outline, -1, axis=0) - outline)
        acceleration = float(np.linalg.norm(np.diff(along, axis=0), axis=2).max()) / float(at[1] - at[0])
        turning = largest_turn(np.swapaxes(cross(across, along), 0, 1))
    if turns > PROBED_TURNS:  # too many to look at each: even twist stands for all
        acceleration = max(acceleration, extent * (2 * math.pi * turns / (b - a)) ** 2)
        turning = max(turning, 2 * math.pi * turns / (len(at) - 1))
    n = math.ceil((b - a) * math.sqrt(acceleration / (8 * chord)) - 1e-6) if acceleration > FLAT / (b - a) else 1
    n = max(n, math.ceil(turning * (len(at) - 1) / angle - 1e-6))
    return np.linspace(a, b, min(MAX_STATIONS, max(WARPED if motion.warp and outline is None else 1, n)) + 1)


def _add_sides(builder: MeshBuilder, stretch: _Stretch, outline: _Outline, name: str) -> None:
    """All edges of a loop are carried in one evaluation, then each becomes a grid of its own."""
    f, loop, parameters = stretch.frames, outline.loop, outline.parameters
    p, d = outline.each()
    along, across = swept_tangents(f, p, d)
    normals = _unit_normals(cross(across, along))
    points = f.at(p)
    if stretch.kinked:
        builder.add_line(points[0] if loop.open else np.vstack([points[0], points[0, :1]]))
    first = 0
    for i, (edge, t) in enumerate(zip(loop.edges, parameters, strict=True)):
        columns = slice(first, first + len(t))
        builder.add_grid(points[:, columns], normals[:, columns], name.format(edge.origin))
        if (loop.open and i == 0) or turn_between(loop.edges[i - 1], edge) > SHARP:
            builder.add_line(points[:, first])
        first += len(t)
    if loop.open:
        builder.add_line(points[:, -1])


def _unit_normals(normals: Array) -> Array:
    """Unit normals (stations, points, 3); where the section is a point, those of the station beside it."""
    size = np.linalg.norm(normals, axis=-1, keepdims=True)
    normals = normals / np.maximum(size, 1e-300)
    for end, beside in ((0, 1), (-1, -2)):
        if size[end].max() < POINTED * size[beside].max():
            normals[end] = normals[beside]
    return normals


def _widening(f: Frames, regions: Sequence[Region]) -> float:
    """How far the section is stretched at most."""
    if f.warp is None:
        return float(np.abs(f.maps).max())
    some = f.some(PROBED_SECTIONS)
    return max(float(np.abs(some.stretches(r.outer.polygon(0.1))).max()) for r in regions)


def _across(
    edge: Edge, turn: float, chord: float, stretches: Sequence[_Stretch], warped: bool, angle: float, most: int
) -> Array:
    """Parameters across the section, the same all along; a straight edge is cut where its ``turn`` (rad) from one
    station to the next would warp its quads, any edge where rails bend it.
    """
    if warped:
        some = [s.frames.some(PROBED_SECTIONS) for s in stretches]
        t = bent_samples(lambda t: np.vstack([f.at(edge.point(t)) for f in some]), edge.domain, chord, angle, most)
    else:
        t = edge.samples(chord, angle, most)
    if not edge.straight:
        return t
    n = 1 if warped else math.ceil(math.hypot(*(edge.end - edge.start)) * turn / (4 * chord) - 1e-6)
    n = max(n, len(t) - 1, math.ceil(_skew(edge, stretches) / min(SKEW, angle) - 1e-6))
    return np.linspace(t[0], t[-1], min(max(MOST_ACROSS, len(t) - 1), n) + 1)


def _skew(edge: Edge, stretches: Sequence[_Stretch]) -> float:
    """The largest angle (rad) between the surface's normals at both ends of a straight edge, as between a blade's at
    its shaft and at its rim.
    """
    ends = np.array(edge.domain)
    p, d = edge.point(ends), edge.derivative(ends)
    few = stretches[:: math.ceil(len(stretches) / PROBED_STRETCHES)]
    normals = (
        cross(across, along) for along, across in (swept_tangents(s.frames.some(PROBED_SECTIONS), p, d) for s in few)
    )
    return max(map(largest_turn, normals))


def _twist_step(f: Frames) -> float:
    """The largest turn (rad) about the path from one station to the next."""
    if len(f.X) < 2:
        return 0.0
    x, y = (a / np.linalg.norm(a, axis=1)[:, None] for a in (f.X, f.Y))
    return float(np.abs((np.diff(x, axis=0) * y[:-1]).sum(axis=1)).max())


def _add_caps(
    builder: MeshBuilder, motion: Motion, regions: Sequence[Region], outlines: Sequence[Sequence[_Outline]], owner: str
) -> None:
    """The two end faces of each region; what is closed has none, nor has a surface."""
    if motion.path.closed:
        return
    for own in (own for own, region in zip(outlines, regions, strict=True) if not region.sheet):
        _add_cap(builder, motion.ends.at_index(0), own, f"{owner}/cap/start", False)
        _add_cap(builder, motion.ends.at_index(1), own, f"{owner}/cap/end", True)


def _add_cap(builder: MeshBuilder, f: Frames, outlines: Sequence[_Outline], name: str, at_end: bool) -> None:
    """The end face of the section with the frame ``f``, on the sides' own points, so that the mesh closes."""
    plane = f.plane(0)
    if f.is_point(outlines[0].points()):
        return
    placed = [f.at(outline.points())[0] for outline in outlines]
    triangles = np.asarray(manifold3d.triangulate([plane.to_plane(p) for p in placed]))
    points = np.vstack(placed)
    normal = plane.normal * (1 if at_end else -1)
    builder.add_triangles(points, np.tile(normal, (len(points), 1)), triangles if at_end else triangles[:, ::-1], name)
    for ring in placed:
        builder.add_line(np.vstack([ring, ring[:1]]))
