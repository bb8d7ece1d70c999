"""The report of a section that is carried along a path: the quantities by station, and the section's name."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Region
from leadline.core.paths.pieces import ArcPiece
from leadline.core.problems import Message
from leadline.core.sweep.contact import self_clearance
from leadline.core.sweep.fold import bend_use, reaching
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.mass import MassNumbers, areas_at, cap_areas, measure
from leadline.core.sweep.motion import Motion
from leadline.core.units import LengthUnit, format_length
from leadline.recipe.products import Swept
from leadline.recipe.shown import Lanes, Numbers, Section, SweptResult

POINTS = 320  # on one free piece
POINTS_A_BREAK = 48  # and on each of its smooth stretches
LOOKED_AT = 17  # stations at least, for how large a section becomes
TURN = math.radians(3)  # between stations on an arc, and of the twist
MOST = 1500
MOVING_STATIONS, MOVING_STRETCHES = 150, 24  # while something is moved: of the lanes, and of a piece that is measured
STRAIGHT = 1e-9
DRAWN = 1e-3  # of the section's size: how far its drawn outline may be off


def swept(
    owner: str,
    motion: Motion,
    regions: Sequence[Region],
    figure: str,
    title: str,
    wall: float | None = None,
    messages: Sequence[Message] = (),
    copies: Placements | None = None,
    moving: bool = False,
) -> Swept:
    """A section carried along a path, with all that is told of it: ``title`` of the section, ``figure`` of the whole.

    While something is ``moving`` its lanes have fewer stations, and none tells how far it is from itself.
    """
    outline = np.vstack([r.outer.polygon(0.001) for r in regions])
    size = np.ptp(outline, axis=0)
    if motion.blend is not None:  # the largest that it becomes
        stations = np.unique(
            np.concatenate([motion.path.samples(), motion.blend.breaks, np.linspace(0.0, motion.length, LOOKED_AT)])
        )
        size = np.ptp(motion.frames(stations).flat(outline), axis=1).max(axis=0)
    extent = (float(size[0]), float(size[1]))
    numbers = measure(motion, regions, MOVING_STRETCHES if moving else None)
    s, frames = motion.rough(MOVING_STATIONS) if moving else (at := _stations(motion), motion.frames(at))
    shown: SweptResult = {
        "length": motion.length,
        "lanes": _lanes(motion, regions, s, frames, not moving),
        "pieces": [
            {"kind": p.kind, "from": float(a), "to": float(a + p.length), "origin": p.origin}
            for p, a in zip(motion.path.pieces, motion.path.starts, strict=False)
        ],
        "joints": [{"station": j.station, "kind": j.kind} for j in motion.path.joints],
        "section": _section(motion, regions, extent, wall, title),
        "numbers": _numbers(motion, regions, numbers, float(_bend(frames).max()), copies),
        "closed": motion.path.closed,
        "home": motion.home,
    }
    return Swept(owner, motion, regions, extent, numbers.volume, numbers.area, shown, figure, list(messages), copies)


def _bend(f: Frames) -> Array:
    """The path's curvature (n,) at stations, 1/mm."""
    return np.asarray(np.linalg.norm(f.K, axis=1))


def _lanes(motion: Motion, regions: Sequence[Region], s: Array, f: Frames, clearance: bool) -> Lanes:
    """What is known at stations s (n,), where the motion has the frames f."""
    bend = _bend(f)
    hulls = [reaching(motion, r) for r in regions]
    use = np.max([bend_use(f, hull) for hull in hulls], axis=0)
    with np.errstate(divide="ignore"):
        radius = np.where(bend > STRAIGHT, 1 / np.maximum(bend, STRAIGHT), np.nan)
        limit = np.where(bend > STRAIGHT, use / np.maximum(bend, STRAIGHT), np.nan)
    twist = motion.twist.value(s) - motion.twist.value(np.array([motion.home]))
    lanes: Lanes = {
        "station": _rounded(s),
        "radius": _rounded(radius),
        "limit": _rounded(limit),
        "use": _rounded(use),
        "twist": _rounded(np.degrees(twist)),
        "point": _rounded(f.C),
        "x": _rounded(f.X),
        "y": _rounded(f.Y),
        "map": _rounded(f.maps.reshape(-1, 4)),
        "clearance": _rounded(self_clearance(motion, np.vstack(hulls), s) if clearance else np.full(len(s), np.nan)),
        "tilt": _rounded(np.degrees(np.arcsin(np.clip(f.steepness, -1, 1)))),
    }
    if motion.warp is not None:
        lanes["bending"] = _rounded(f.bending)
        if clearance and not any(r.sheet for r in regions):
            lanes["area"] = _rounded(areas_at(f, regions, 1))
    return lanes


def _section(
    motion: Motion, regions: Sequence[Region], extent: tuple[float, float], wall: float | None, title: str
) -> Section:
    outline = [loop.polygon(max(extent) * DRAWN) for r in regions for loop in r.loops]
    section: Section = {
        "loops": [_rounded(o[:, :2]) for o in outline],
        "width": extent[0],
        "height": extent[1],
        "area": float(sum(r.area for r in regions)),
        "wall": wall,
        "title": title,
        "open": any(loop.open for r in regions for loop in r.loops),
    }
    if motion.warp is not None:
        section["lift"] = [_rounded(motion.warp.lift(o)) for o in outline]
    return section


def _numbers(
    motion: Motion, regions: Sequence[Region], one: MassNumbers, bend: float, copies: Placements | None
) -> Numbers:
    """Sizes of all copies together; ``bend`` is the greatest curvature of the path, 1/mm."""
    count = 1 if copies is None else len(copies)
    centre = one.centre if copies is None else copies.moved(np.array([one.centre])).mean(axis=(0, 1))
    return {
        "length": motion.length,
        "volume": count * one.volume,
        "area": count * one.area,
        "centre": centre.tolist(),
        "tightest": 1 / bend if bend > STRAIGHT else None,
        "ends": cap_areas(motion, regions).tolist(),
    }


def _stations(motion: Motion) -> np.ndarray:
    """Stations close enough to draw every lane, with both sides of every joint."""
    tiny = 1e-9 * motion.length
    parts = []
    for i, (piece, start) in enumerate(zip(motion.path.pieces, motion.path.starts, strict=False)):
        n = abs(motion.turned(start, start + piece.length)) * 2 * math.pi / TURN
        if isinstance(piece, ArcPiece):
            n += piece.sweep / TURN
        elif piece.kind != "line" or not motion.exact(i):
            n += max(POINTS, POINTS_A_BREAK * (len(piece.breaks()) - 1))
        parts.append(np.linspace(start, start + piece.length - tiny, max(2, math.ceil(min(n, MOST)) + 1)))
    return np.concatenate([*parts, [motion.length]])


def _rounded(values: np.ndarray) -> list[Any]:
    """JSON numbers; what is not finite becomes null."""
    data = np.round(values, 6)
    if np.isfinite(data).all():
        return list(data.tolist())
    return [None if not np.isfinite(v) else float(v) for v in data]


def describe(regions: list[Region], wall: float | None, unit: LengthUnit) -> str:
    """The section in a few characters: "Ø22 × 1.5 mm", "40 × 12 mm" or its area."""
    if len(regions) > 1:
        return f"{len(regions)} regions"
    outer = regions[0].outer
    if regions[0].sheet:
        return f"surface, {format_length(regions[0].girth, unit)} wide"
    arcs = {e.arc for e in outer.edges}
    plain = not regions[0].holes or _ring_wall(regions[0], 0.0) is not None
    if len(arcs) == 1 and None not in arcs and plain:
        (circle,) = arcs
        assert circle is not None
        inner = wall if wall is not None else _ring_wall(regions[0], circle[2])
        size = f"Ø{format_length(2 * circle[2], unit)}"
        return f"{size.removesuffix(' ' + unit)} × {format_length(inner, unit)}" if inner else size
    if len(outer.edges) == 4 and all(e.straight for e in outer.edges):
        a, b = (math.dist(e.start, e.end) for e in outer.edges[:2])
        if math.isclose(a * b, abs(outer.area), rel_tol=1e-6):
            return f"{format_length(max(a, b), unit).removesuffix(' ' + unit)} × {format_length(min(a, b), unit)}"
    area = regions[0].area / (645.16 if unit == "in" else 1.0)
    return f"{area:.4g} {unit}²"


def _ring_wall(region: Region, radius: float) -> float | None:
    if len(region.holes) != 1:
        return None
    arc = region.holes[0].edges[0].arc
    return radius - arc[2] if arc is not None else None
