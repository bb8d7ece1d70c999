"""Sections on planes, made into one motion whose section goes over from each to the next."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.polynomial import Polynomial

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Loop, Region, joints
from leadline.core.loft.basis import Stretch, stacked
from leadline.core.loft.even import creased, evened
from leadline.core.loft.leads import Lead, Sides, lead, widened
from leadline.core.loft.matching import alike, cells, leading, matches
from leadline.core.loft.outline import Outline, Part
from leadline.core.loft.shares import Course, End, shares
from leadline.core.loft.spine import leaning, own_spine
from leadline.core.loft.spread import Spread
from leadline.core.paths.path import Path
from leadline.core.problems import Offer, Problem, mm
from leadline.core.sweep.blend import Blend
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.rails import RailTrack

Change = Literal["smooth", "even", "ruled"]
APART = 1e-6  # mm along the line that the sections stand on
RING = np.arange(97) / 96  # shares of an outline by which it is told
LINE = 65  # places by which the way of a thread is told
MISS = 1e-3  # mm between a rail and an outline that it is to meet
SHORT = 1e-6  # of the length, by which a rail may end too early
FLAT = 1e-3  # of the section's plane to the path, the least sine


@dataclass(frozen=True)
class Station:
    """A section: a region on a plane, or a point (3,). ``name`` is what messages call it."""

    name: str
    plane: Plane | None
    region: Region | None
    point: Array | None = None

    @property
    def middle(self) -> Array:
        """Its middle in space, (3,)."""
        if self.point is not None:
            return self.point
        assert self.region is not None
        assert self.plane is not None
        outline = self.region.outer.polygon(1e-3)
        if not self.region.outer.open:
            outline = np.vstack([outline, outline[:1]])
        sides = np.diff(outline, axis=0)
        weight = np.linalg.norm(sides, axis=1)
        return self.plane.to_space((weight[:, None] * (outline[:-1] + sides / 2)).sum(axis=0) / weight.sum())


@dataclass(frozen=True)
class Lofted:
    """The motion, its section, the ``stations`` of the sections, and the ``threads``: where corresponding places of the
    outer outlines are in space, (threads, sections, 3), with their shares of each outline, (threads, sections), and the
    ways from one to the next, ``lines`` (threads, n, 3); those on rails come last.

    ``rings`` are places all round the outer outlines, at even shares, (sections, n, 3).
    """

    motion: Motion
    region: Region
    stations: Array
    threads: Array
    shares: Array
    lines: Array
    rings: Array


def lofted(
    sections: Sequence[Station],
    start: End,
    end: End,
    centreline: Path | None = None,
    rails: Sequence[tuple[str, Path]] = (),
    threads: Sequence[Sequence[float]] = (),
    closed: bool = False,
    neighbours: tuple[Sides | None, Sides | None] = (None, None),
    change: Change = "smooth",
) -> Lofted:
    """A shape through sections in their order.

    ``threads`` are shares of their outlines that correspond, see ``matches``; where a rail meets the outlines, these
    places correspond too. With ``neighbours`` the first and the last section's sides are tangent to theirs. It is
    smooth through all sections, or ``even``: straight between neighbouring ones, as seen from the line that they stand
    on; or ``ruled``: straight between them in space, whatever that line is. Through open outlines it is a surface; each
    is passed the way in which it looks more like the leading one.

    Raises:
        Problem: fewer than two sections; a point that is not at an end; an open section beside a closed one; sections
            that stand at the same place of the line or in another order; one with more holes than another; a plane that
            the line runs along; a rail that does not meet all outlines; a ruled one that is to leave a section
            otherwise than straight, or to follow a centreline.
    """
    _check(sections, closed)
    if change == "ruled":
        _check_ruled(start, end, centreline is not None and not closed)
    if centreline is None:
        path, at = _through(sections, start, end, closed)
    else:
        path, at = _on(centreline, sections, closed)
    planes = [_plane(s, path, float(v)) for s, v in zip(sections, at, strict=True)]
    bare = Motion(path, orientation=leaning(path, at, planes))
    frames = bare.frames(at)
    if change == "ruled":
        frames = _points_as_neighbours(frames, sections)
    outlines = _outlines([_local(s, frames.plane(i)) for i, s in enumerate(sections)])
    tracks = [_track(name, rail, bare, at, sections) for name, rail in rails]
    held = [_held_by(track, frames, at, [o[0] for o in outlines], sections) for track in tracks]
    made = _stack(outlines, [*threads, *held], len(tracks))
    knots = np.append(at, path.length) if closed else at
    leads = tuple(
        lead(Course(knots, start, end), i == 1, bare.ends.at_index(i), sides, bool(tracks))
        for i, sides in enumerate(neighbours)
        if sides is not None
    )
    uneven = [lead for lead in leads if lead.pieces]
    made = made.widened(uneven)
    laws = shares(knots, start, end, closed, change != "smooth")
    blend = Blend(laws, made.bounds, tuple(tracks), made.anchors, leads, frames if change == "ruled" else None)
    motion = Motion(path, orientation=bare.orientation, blend=blend)
    places = np.array(
        [frames.plane(i).to_space(o.points(m)) for i, (o, m) in enumerate(zip(made.outer, made.keys, strict=True))]
    )
    rings = np.array([frames.plane(i).to_space(o.points(RING)) for i, o in enumerate(made.outer)])
    lines = np.moveaxis(motion.frames(np.linspace(0.0, motion.length, LINE)).at(made.points), 0, 1)
    return Lofted(
        motion,
        made.region,
        at,
        np.moveaxis(places, 0, 1),
        np.array([o.within(m) for o, m in zip(made.outer, made.keys, strict=True)]).T,
        lines,
        rings,
    )


def changing(
    sections: Sequence[tuple[float, Region | None]], start: End, end: End, even: bool = False
) -> tuple[Region, Blend]:
    """One region, and what takes it over from each of several sections to the next: at stations in order, each in the
    moving plane, or the path's own point.

    Before the first and after the last it stays as there; between them it is smooth through all, or ``even``: straight
    from each to the next.

    Raises:
        Problem: sections at the same station; a point between two others; one with more holes than another; none that
            has an outline.
    """
    at = np.array([s for s, _ in sections])
    for station in at[:-1][np.diff(at) < APART]:
        raise Problem(
            "same-place",
            f"Two sections stand at {mm(float(station))}.",
            "Move or take away one of them.",
            of="sections",
            station=float(station),
        )
    if all(region is None for _, region in sections):
        raise Problem(
            "few-sections", "Two points have nothing between them.", "Give one of them an outline.", of="sections"
        )
    for station, region in sections[1:-1]:
        if region is None:
            raise Problem(
                "point-inside",
                "A point can only be the first or the last section.",
                "Move it to an end.",
                of="sections",
                station=station,
            )
    _check_outlines([region for _, region in sections])
    made = _stack(_outlines([(np.zeros(2),) if region is None else region.loops for _, region in sections]), (), 0)
    return made.region, Blend(shares(at, start, end, even=even), made.bounds)


def _points_as_neighbours(frames: Frames, sections: Sequence[Station]) -> Frames:
    """Frames of sections of a ruled shape, those of points at its ends leaning as the sections next to them: the line
    that all stand on may come in otherwise, and the shape does not follow it.
    """
    own = [
        1 if i == 0 and s.point is not None else len(sections) - 2 if s.point is not None else i
        for i, s in enumerate(sections)
    ]
    return replace(frames, X=frames.X[own], Y=frames.Y[own])


def _check(sections: Sequence[Station], closed: bool) -> None:
    if len(sections) < (3 if closed else 2):
        raise Problem(
            "few-sections",
            f"A {'closed ' if closed else ''}loft goes through {3 if closed else 2} sections at least.",
            "Add a section.",
            of="sections",
        )
    for i, section in enumerate(sections):
        if section.point is not None and (closed or 0 < i < len(sections) - 1):
            raise Problem(
                "point-inside",
                "A point can only be the first or the last section.",
                "Move it to an end.",
                of="sections",
            )
    if all(s.point is not None for s in sections):
        raise Problem(
            "few-sections", "Two points have nothing between them.", "Give one of them an outline.", of="sections"
        )
    _check_outlines([s.region for s in sections])


def _check_ruled(start: End, end: End, follows: bool) -> None:
    for quantity, which, own in (("start", "first", start), ("end", "last", end)):
        if own.square:
            raise Problem(
                "ruled-end",
                f"A ruled shape leaves its {which} section straight towards the next.",
                "Leave the end free, or let the sections go over smoothly.",
                of=quantity,
            )
    if follows:
        raise Problem(
            "ruled-centreline",
            "A ruled shape goes straight from section to section, whatever its centreline is.",
            "Take the centreline away, or let the sections go over evenly.",
            of="centreline",
        ).mended(Offer("Take the centreline away", "centreline", None))


def _check_outlines(regions: Sequence[Region | None]) -> None:
    if len({r.outer.open for r in regions if r is not None}) > 1:
        raise Problem(
            "open-and-closed",
            "Some of the sections are open, others closed.",
            "Draw all of them open, for a surface, or close them all.",
            of="sections",
        )
    counts = {len(r.holes) for r in regions if r is not None}
    if len(counts) > 1:
        raise Problem(
            "holes-differ",
            f"The sections have {' and '.join(str(c) for c in sorted(counts))} holes.",
            "Give all of them as many, so that holes go with holes.",
            of="sections",
        )


def _through(sections: Sequence[Station], start: End, end: End, closed: bool) -> tuple[Path, Array]:
    """A line of their own through the middles of the sections, and their stations on it."""
    middles = np.array([s.middle for s in sections])
    if closed:
        raise Problem("no-centreline", "A closed loft needs a closed centreline.", "Pick one.", of="centreline")
    gaps = np.linalg.norm(np.diff(middles, axis=0), axis=1)
    if gaps.min() < APART:
        i = int(np.argmin(gaps))
        raise Problem(
            "same-place",
            f"{sections[i].name} and {sections[i + 1].name} have their middles at one place.",
            "Move one of them, or pick a centreline.",
            of="sections",
        )
    _check_order(sections, middles)
    ways = [middles[1] - middles[0], middles[-1] - middles[-2]]
    normals = [_towards(s, w) for s, w in zip((sections[0], sections[-1]), ways, strict=True)]
    path = own_spine(middles, np.array(normals), start, end)
    return path, _nearest(path, middles)


def _check_order(sections: Sequence[Station], middles: Array) -> None:
    """Each section between two others has them on its two sides. Raises Problem."""
    for before, section, after, a, m, b in zip(
        sections, sections[1:], sections[2:], middles, middles[1:], middles[2:], strict=False
    ):
        assert section.plane is not None  # points stand at the ends alone
        heights = [float(section.plane.normal @ (v - m)) for v in (a, b)]
        if heights[0] * heights[1] > -(APART**2):
            raise Problem(
                "out-of-order",
                f"{before.name} and {after.name} do not lie on the two sides of the plane of {section.name}.",
                "Put the sections in the order in which they stand, or pick a centreline.",
                of="sections",
            )


def _towards(section: Station, way: Array) -> Array:
    """The section's normal on the side where the shape goes; of a point the way itself."""
    if section.plane is None:
        return np.asarray(way / np.linalg.norm(way))
    normal = section.plane.normal
    return normal if float(normal @ way) > 0 else -normal


def _nearest(path: Path, middles: Array) -> Array:
    """The stations of points that lie on a path, in order."""
    breaks = path.pieces[0].breaks()
    if len(breaks) == len(middles):
        return np.asarray(breaks)
    way = path.tangent(np.zeros(1))[0]
    return np.asarray((middles - middles[0]) @ way)


def _on(centreline: Path, sections: Sequence[Station], closed: bool) -> tuple[Path, Array]:
    """The stretch of a centreline from the first section to the last, and their stations on it."""
    if closed != centreline.closed:
        raise Problem(
            "centreline-closed",
            "The centreline is closed, the loft is not."
            if centreline.closed
            else "The loft is closed, its centreline is not.",
            "Pick another centreline, or change whether the loft is closed.",
            of="centreline",
        )
    at = np.array([_station(centreline, s) for s in sections])
    first = float(at[0])
    if closed:
        at = np.mod(at - at[0], centreline.length)
    for i in (int(i) for i in np.flatnonzero(np.diff(at) < APART)):
        raise Problem(
            "out-of-order",
            (
                f"{sections[i + 1].name} stands at {mm(float(at[i + 1]))} of the centreline, {sections[i].name} "
                f"before it at {mm(float(at[i]))}."
            ),
            "Put the sections in the order of the centreline, or turn it round.",
            of="sections",
        )
    return _begun_at(centreline, first) if closed else centreline.between(first, float(at[-1])), at - at[0]


def _begun_at(path: Path, station: float) -> Path:
    """A closed path that begins at one of its stations."""
    if station < APART or station > path.length - APART:
        return path
    return Path([*path.between(station, path.length).pieces, *path.between(0.0, station).pieces], True, path.up)


def _station(path: Path, section: Station) -> float:
    if section.plane is None:
        s = path.samples()
        return float(s[int(np.argmin(np.linalg.norm(path.point(s) - section.middle, axis=1)))])
    stations = path.crossings(section.plane)
    if len(stations) == 0:
        raise Problem(
            "misses-path",
            f"The centreline does not cross the plane of {section.name}.",
            "Draw it longer, or move the plane.",
            of="centreline",
        )
    return float(min(stations, key=lambda s: float(np.linalg.norm(path.point(np.array([s]))[0] - section.middle))))


def _plane(section: Station, path: Path, station: float) -> Plane | None:
    """The section's plane through the place where it stands on the path; None of a point.

    Raises Problem when the path runs along it.
    """
    at = np.array([station])
    origin, tangent = path.point(at)[0], path.tangent(at)[0]
    if section.plane is None:
        return None
    if abs(float(section.plane.normal @ tangent)) < FLAT:
        raise Problem(
            "edge-on",
            f"The line runs along the plane of {section.name}.",
            "Turn the plane, or pick another centreline.",
            of="sections",
            station=station,
        )
    return Plane(origin, section.plane.x, section.plane.y)


def _track(name: str, rail: Path, bare: Motion, at: Array, sections: Sequence[Station]) -> RailTrack:
    """A rail followed through the planes of all sections. Raises Problem when it does not reach as far."""
    first = next(i for i, s in enumerate(sections) if s.point is None)
    track = RailTrack(name, rail, bare.path, bare.frames, float(at[first]), sections[first].middle)
    low, high = track.reach
    if low > SHORT * bare.length or high < (1 - SHORT) * bare.length:
        station = high if high < (1 - SHORT) * bare.length else low
        raise Problem(
            "rail-ends",
            f"{name} ends at {mm(station)} of {mm(bare.length)}.",
            "Draw it from the first section to the last.",
            of="rails",
            station=station,
        )
    return track


def _held_by(
    track: RailTrack, frames: Frames, at: Array, outlines: Sequence[Outline], sections: Sequence[Station]
) -> list[float]:
    """The places at which a rail meets the outlines."""
    places, _ = track.points(at, frames)
    found = []
    for i, outline in enumerate(outlines):
        share, gap = outline.nearest(frames.plane(i).to_plane(places[i]))
        if gap > MISS:
            raise Problem(
                "rail-misses",
                f"{track.name} passes {sections[i].name} at {mm(gap)} from its outline.",
                "Tie it to the outline there.",
                of="rails",
                station=float(at[i]),
            )
        found.append(share)
    return found


def _local(section: Station, plane: Plane) -> tuple[Loop | Array, ...]:
    """The section's outlines in the motion's own plane there, or its point."""
    if section.region is None:
        assert section.point is not None
        return (plane.to_plane(section.point),)
    own = section.plane
    assert own is not None
    matrix = np.array([[own.x @ plane.x, own.y @ plane.x], [own.x @ plane.y, own.y @ plane.y]])
    placed = section.region.mapped(matrix, plane.to_plane(own.origin))
    return placed.loops


@dataclass(frozen=True)
class _Stacked:
    """One region for all sections; the outer outlines; for each of them the places that correspond and that a person
    would name: those that were given, else the corners, last those on rails; the section's points (threads, k) that go
    from one of them to the next; the points that rails hold.
    """

    region: Region
    outer: list[Outline]
    keys: list[Array]
    points: Array
    anchors: Array

    def widened(self, leads: Sequence[Lead]) -> _Stacked:
        """The same with the further coordinates of some leads."""
        if not leads:
            return self
        region = widened(self.region, leads)
        starts = _joints(region.outer)

        def again(points: Array) -> Array:
            return starts[[int(np.abs(starts[:, : points.shape[1]] - p).sum(axis=1).argmin()) for p in points]]

        n = self.points.shape[1]
        anchors = again(self.anchors) if len(self.anchors) else np.zeros((0, starts.shape[1]))
        return replace(
            self,
            region=region,
            points=again(self.points),
            anchors=np.delete(anchors, np.s_[self.anchors.shape[1] : n], axis=1),
        )

    @property
    def bounds(self) -> Array:
        """How large the coordinates after x and y become at most."""
        further = np.vstack([e.control for loop in self.region.loops for e in loop.edges])[:, 2:]
        return np.asarray(np.abs(further).max(axis=0))


def _stack(outlines: list[list[Outline]], threads: Sequence[Sequence[float]], rails: int) -> _Stacked:
    """``outlines`` are those of each section, the outer one first; of ``threads`` the last ones are those that
    ``rails`` make.
    """
    loops: list[Loop] = []
    outer = [own[0] for own in outlines]
    found = matches(outer, threads)
    first = leading(outer)
    held = np.array([t[first] for t in threads[len(threads) - rails :]]) if rails else np.zeros(0)
    is_open = outer[first].open
    spread = Spread(outer[first].within(held), outer[first].corners, is_open)
    at = cells(outer, found, spread.keys)
    loops.append(_loop(outer, [m.to(at) for m in found], [spread.over(a, b) for a, b in itertools.pairwise(at)]))

    def point_at(place: float) -> Array:
        """The stacked point at a place of the leading outline at which a stretch begins, of an open one also ends."""
        joints = _joints(loops[0])
        return np.asarray(joints[int(np.argmin(np.abs(at[: len(joints)] - place)))])

    anchors = [point_at(h)[: 2 * len(outer)] for h in spread.held]
    none = [Polynomial([0.0])] * rails
    for k in range(1, max(len(own) for own in outlines)):
        holes = [own[min(k, len(own) - 1)] for own in outlines]
        pairs = matches(holes)
        inner = cells(holes, pairs)
        loops.append(_loop(holes, [m.to(inner) for m in pairs], [none] * (len(inner) - 1)))
    given = [t[first] for t in threads[: len(threads) - rails]] or outer[first].corners.tolist()
    own = [0.0, *given, 1.0] if is_open else given or ([] if rails else [0.0])
    keys = np.concatenate([np.sort(outer[first].within(np.array(own))), spread.held])
    points = np.array([point_at(k) for k in keys])
    return _Stacked(
        Region(loops[0], tuple(loops[1:]), is_open),
        outer,
        [m.to(keys) for m in found],
        points,
        np.reshape(anchors, (rails, 2 * len(outer))),
    )


def _outlines(local: Sequence[tuple[Loop | Array, ...]]) -> list[list[Outline]]:
    """The outlines of each section, the outer one first, holes in the order in which they are near to those of the
    first that has them; open ones all passed the same way.
    """
    first = next(own for own in local if isinstance(own[0], Loop))
    found = [[_outline(own, k, first) for k in range(len(first))] for own in local]
    reference = found[leading([own[0] for own in found])][0]
    return [[alike(reference, own[0])] if own[0].open else own for own in found]


def _outline(own: tuple[Loop | Array, ...], k: int, first: tuple[Loop | Array, ...]) -> Outline:
    """A section's outline number k, of its holes the one nearest to the first section's."""
    if not isinstance(own[0], Loop):
        return Outline(None, own[0])
    if k == 0:
        return Outline(own[0])
    wanted = first[k]
    assert isinstance(wanted, Loop)
    holes = [loop for loop in own[1:] if isinstance(loop, Loop)]
    return Outline(
        min(
            holes,
            key=lambda loop: float(np.linalg.norm(loop.polygon(0.01).mean(axis=0) - wanted.polygon(0.01).mean(axis=0))),
        )
    )


def _joints(loop: Loop) -> Array:
    """The points at which edges begin, of an open loop its end as well."""
    return np.array([e.start for e in loop.edges] + ([loop.edges[-1].end] if loop.open else []))


def _loop(outlines: Sequence[Outline], places: Sequence[Array], more: Sequence[Sequence[Polynomial]]) -> Loop:
    is_open = any(o.open for o in outlines)
    edges = _edges(outlines, places, more, lambda part: part)
    if creased(edges, len(outlines), is_open):
        edges = _edges(outlines, places, more, evened)
    for before, edge in joints(edges, is_open):
        edge.control[0] = before.control[-1]
    return Loop(tuple(edges), is_open)


def _edges(
    outlines: Sequence[Outline],
    places: Sequence[Array],
    more: Sequence[Sequence[Polynomial]],
    passed: Callable[[Part], Part],
) -> list[Edge]:
    """The stacked edges, each stretch as it is ``passed``."""
    first = next(i for i, o in enumerate(outlines) if o.only is None)
    edges = []
    for j in range(len(places[0]) - 1):
        stretches: list[Stretch] = [
            o.only if o.only is not None else passed(o.part(float(at[j]), float(at[j + 1])))
            for o, at in zip(outlines, places, strict=True)
        ]
        named = stretches[first]
        assert not isinstance(named, np.ndarray)
        edges.append(stacked(stretches, named.edge.origin, more[j]))
    return edges
