"""A sweep step's inputs worked out: the stretch of path, the section on it, and the motion that carries it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from leadline.core.geometry.laws import Even, Law, Table, told_at
from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.corners import rounded
from leadline.core.paths.path import Path
from leadline.core.problems import Message, Problem, degrees, mm
from leadline.core.sketch.outline import coordinates
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.orientation import Field, Held, Orientation, Turning, Upright
from leadline.core.sweep.placing import Placed, bring_to_path, place_on_path
from leadline.core.sweep.rails import RailMap, RailTrack
from leadline.core.sweep.skin import Skin
from leadline.kinds.sweep.model import SweepStep
from leadline.kinds.sweep.remedies import round_corners
from leadline.kinds.sweep.sections import blended
from leadline.recipe.context import Context
from leadline.recipe.inputs import (
    Bring,
    FaceRef,
    PitchTwist,
    QuickProfile,
    RailRef,
    RatioSize,
    Size,
    TablePoint,
    TaperSize,
)
from leadline.recipe.placing import up_direction
from leadline.recipe.sections import quick_region, wall_of, walled

SMALLEST = 0.01
ON_OUTLINE = 0.05  # mm within which a rail that crosses the section's plane counts as on its outline


@dataclass
class Sweeping:
    """What is to be swept: ``notes`` are messages that came up on the way."""

    motion: Motion
    regions: list[Region]
    wall: float | None
    notes: list[Message] = field(default_factory=list)


def resolve(context: Context, step: SweepStep) -> Sweeping:
    """Everything a sweep takes in, evaluated. Raises Problem."""
    path = context.path(step.path)
    if step.corners == "round":
        path = rounded(path, context.value(step.corner_radius))
    placed = _placed(context, step, path)
    wall = wall_of(context, step.wall)
    if wall is not None:
        placed.regions[:] = [walled(r, wall, step.wall_side) for r in placed.regions]
    a, b = _stretch(context, step, path, placed.home)
    notes: list[Message] = []
    rails = [(r, context.path(r.path, "rails")) for r in step.rails]
    if rails and step.size is not None:
        raise Problem(
            "rails-and-size",
            "Both the rails and a size law say how large the section is.",
            "Take one of them away.",
            field="size",
        )
    before, after = context.value(step.extend_start), context.value(step.extend_end)
    stretch, home = _cut(path, a, b).extended(before, after), placed.home - a + before
    motion = _motion(context, step, stretch, home, placed, rails)
    if step.sections:
        region, blend = blended(context, step, motion, placed.regions, a - before, wall)
        placed.regions[:] = [region]
        motion = motion.with_blend(blend)
    if motion.rails is not None:
        lo, hi = max(t.reach[0] for t in motion.rails.tracks), min(t.reach[1] for t in motion.rails.tracks)
        if lo > 1e-6 * stretch.length or hi < stretch.length * (1 - 1e-6):
            notes.append(_rail_ends(motion, lo, hi))
            motion = _motion(context, step, stretch.between(lo, hi), home - lo, placed, rails)
    if wall is not None:
        notes += _wall_note(motion, placed.regions, wall, context.moving)
    return Sweeping(motion, placed.regions, wall, notes)


def _wall_note(motion: Motion, regions: list[Region], wall: float, moving: bool) -> list[Message]:
    """A wall is drawn into the section, so that it is stretched with it: say by how much."""
    outline = np.vstack([r.outer.polygon(0.1) for r in regions]) if motion.warp else np.zeros((1, 2))
    frames = motion.rough()[1] if moving else motion.frames(motion.path.samples())
    stretch = np.linalg.svd(frames.stretches(outline), compute_uv=False)
    low, high = wall * float(stretch.min()), wall * float(stretch.max())
    if high - low < 1e-3 * wall:
        return []
    return [
        Message(
            "note",
            "wall-stretched",
            f"The wall is stretched with the section: between {mm(low)} and {mm(high)} where {mm(wall)} is given.",
            "",
            {"field": "wall"},
        )
    ]


def _cut(path: Path, a: float, b: float) -> Path:
    return path if a <= 0 and b >= path.length else path.between(a, b)


def _rail_ends(motion: Motion, lo: float, hi: float) -> Message:
    assert motion.rails is not None
    tracks = motion.rails.tracks
    first = hi < motion.length * (1 - 1e-6)
    track = min(tracks, key=lambda t: t.reach[1]) if first else max(tracks, key=lambda t: t.reach[0])
    at = hi if first else lo
    return Message(
        "warning",
        "rail-ends",
        f"{track.name} ends at {mm(at)} of {mm(motion.length)}, so the sweep {'ends' if first else 'begins'} there.",
        "Draw the rail longer to sweep the whole path.",
        {"field": "rails"},
    )


# -- the section ------------------------------------------------------------------------------------


def _placed(context: Context, step: SweepStep, path: Path) -> Placed:
    profile = step.profile
    if isinstance(profile, QuickProfile):
        solid = quick_region(context, profile)
        region = replace(solid, sheet=True) if step.surface else solid
        if step.bring is None:
            at = 0.0 if step.start is None or step.start == "" else context.station(step.start, path.length)
            return bring_to_path(path, [region], np.zeros(2), _on_path(at, path), 0.0)
        at, turn = _bring_numbers(context, step.bring, path)
        return bring_to_path(path, [region], np.zeros(2), at, turn)
    plane, regions = context.profile(profile, step.surface)
    for more in step.more_profiles:
        other, found = context.profile(more, step.surface)
        regions = regions + [_onto(r, other, plane, context.names.get(more.step, more.step)) for r in found]
    if step.bring is None:
        return place_on_path(path, plane, regions)
    at, turn = _bring_numbers(context, step.bring, path)
    return bring_to_path(path, regions, _anchor(context, step, step.bring, regions), at, turn)


def _bring_numbers(context: Context, bring: Bring, path: Path) -> tuple[float, float]:
    return _on_path(context.station(bring.at, path.length), path), context.value(bring.turn)


def _on_path(at: float, path: Path) -> float:
    if not -1e-9 <= at <= path.length * (1 + 1e-9):
        raise Problem(
            "off-path",
            f"The station {mm(at)} is not on the path.",
            f"Give 0 to {mm(path.length, 6)}.",
            field="bring",
        )
    return at


def _onto(region: Region, source: Plane, plane: Plane, name: str) -> Region:
    """A region drawn on another plane, which has to be the same one."""
    away = float(
        np.abs(plane.height(np.array([source.origin, source.origin + source.x, source.origin + source.y]))).max()
    )
    if away > 1e-6:
        raise Problem(
            "other-plane",
            f"“{name}” does not lie in the plane of the first profile.",
            "Draw both on one plane.",
            field="profile",
        )
    matrix = np.array([[source.x @ plane.x, source.y @ plane.x], [source.x @ plane.y, source.y @ plane.y]])
    return region.mapped(matrix, plane.to_plane(source.origin))


def _anchor(context: Context, step: SweepStep, bring: Bring, regions: list[Region]) -> Array:
    """The profile's point that comes to stand on the path, on the profile's plane."""
    if bring.anchor == "origin":
        return np.zeros(2)
    if bring.anchor == "middle":
        low, high = (f(np.vstack([r.outer.polygon(0.01) for r in regions]), axis=0) for f in (np.min, np.max))
        return np.asarray((low + high) / 2)
    return _profile_point(context, step, bring.anchor, "bring")


def _profile_point(context: Context, step: SweepStep, point: str, field_name: str) -> Array:
    if isinstance(step.profile, QuickProfile | FaceRef):
        raise Problem("no-points", "This profile has no points to pick from.", "Choose its middle.", field=field_name)
    at = coordinates(context.sketch(step.profile.step, "profile").solution.sketch)
    if point not in at:
        raise Problem("deleted-reference", f"The profile's point {point} is gone.", "Choose another.", field=field_name)
    return at[point]


def _stretch(context: Context, step: SweepStep, path: Path, home: float) -> tuple[float, float]:
    a = 0.0 if step.start is None or step.start == "" else context.station(step.start, path.length)
    b = path.length if step.end is None or step.end == "" else context.station(step.end, path.length)
    path.between(a, b)  # refuses what is not on the path
    if step.way == "forward":
        a = max(a, home)
    elif step.way == "back":
        b = min(b, home)
    if b - a < 1e-6:
        raise Problem(
            "no-stretch",
            "Nothing of the path lies on that side of the profile.",
            "Sweep the other way, or both.",
            field="way",
        )
    if not a - 1e-6 <= home <= b + 1e-6:
        raise Problem(
            "outside-stretch",
            f"The profile stands at {mm(home)}, outside the stretch from {mm(a)} to {mm(b)}.",
            "Move the profile or the stretch, or bring the profile to a station in it.",
            field="start",
        )
    return a, b


# -- the motion -------------------------------------------------------------------------------------


def _motion(
    context: Context, step: SweepStep, path: Path, home: float, placed: Placed, rails: list[tuple[RailRef, Path]]
) -> Motion:
    twist = _twist(context, step, path.length)
    sizes = _sizes(context, step, path, placed.regions)
    orientation = _orientation(context, step, path, home, placed)
    turn = context.value(step.start_angle)
    home = float(np.clip(home, 0.0, path.length))
    axes: Array | None = placed.axes
    if placed.turn is not None and step.orientation in ("upright", "lying", "facing"):
        axes, turn = None, turn + placed.turn  # what is brought stands with its y up, or towards the rail

    def made(found: RailMap | None) -> Motion:
        return Motion(
            path,
            twist,
            home,
            orientation=orientation,
            axes=axes,
            sizes=sizes,
            rails=found,
            start_angle=turn,
            mitred=step.corners == "mitre",
        )

    try:
        bare = made(None)
    except Problem as problem:
        raise (
            problem.mended(*round_corners(path, placed.regions)) if problem.message.code == "corner" else problem
        ) from None
    return made(_rail_map(context, step, bare, placed, rails)) if rails else bare


def _orientation(context: Context, step: SweepStep, path: Path, home: float, placed: Placed) -> Orientation:
    if step.orientation == "held":
        x, y = placed.axes
        return Held(np.array([x, y, np.cross(x, y)]))
    if step.orientation == "upright":
        return Upright(path, up_direction(context, step.up), "the upright direction")
    if step.orientation == "lying":
        return Upright(path, _surface_normals(context, step, path), "the surface's normal")
    if step.orientation == "facing":
        if step.facing is None:
            raise Problem("no-rail", "Nothing is picked for the section to face.", "Pick a curve.", field="facing")
        name = f"“{context.names.get(step.facing.step, step.facing.step)}”"
        planes = Motion(path, mitred=step.corners == "mitre").frames
        at = path.point(np.array([home]))[0]
        track = RailTrack(name, context.path(step.facing, "facing"), path, planes, home, at)

        def towards(piece: int, s: Array) -> tuple[Array, Array]:  # noqa: ARG001
            f = planes(s)
            place, slope = track.points(s, f)
            return place - f.P, slope - f.T

        return Upright(path, towards, f"the way to {name}")
    return Turning(path)


def _surface_normals(context: Context, step: SweepStep, path: Path) -> Field:
    """The surface's normals along the path; their slopes by differences across a millionth of its length."""
    if step.lying is None:
        raise Problem(
            "no-surface",
            "No side is picked for the section to lie on.",
            "Click a side of a body, then take it.",
            field="lying",
        )
    body = context.motion(step.lying.step, "lying")
    skin = Skin(body.motion, body.regions, step.lying.face)
    h = 1e-6 * path.length

    def normals(piece: int, s: Array) -> tuple[Array, Array]:
        own, start = path.pieces[piece], float(path.starts[piece])
        local = np.clip(s - start, 0.0, own.length)
        after, before = np.minimum(local + h, own.length), np.maximum(local - h, 0.0)
        n, ahead, behind = (skin.normals(own.point(v)) for v in (local, after, before))
        return n, (ahead - behind) / (after - before)[:, None]

    return normals


def _twist(context: Context, step: SweepStep, length: float) -> Law | float:
    twist = step.twist
    if isinstance(twist, PitchTwist):
        pitch = context.value(twist.pitch)
        if abs(pitch) < 1e-6:
            raise Problem("bad-size", "The pitch of the twist is nought.", "Give a length per turn.", field="twist")
        return Even(0.0, 2 * math.pi / pitch)
    if isinstance(twist, float | int | str):
        return context.value(twist)
    return _table(context, twist.points, twist.smooth, "twist", length)


def _table(context: Context, points: Sequence[TablePoint], smooth: bool, field_name: str, length: float) -> Table:
    at = [context.station(p.at, length) for p in points]
    values = [context.value(p.value) for p in points]
    return Table(at, values, smooth, field_name)


def _sizes(context: Context, step: SweepStep, path: Path, regions: list[Region]) -> tuple[Law, Law] | None:
    if step.size is None and step.size_y is None:
        return None
    x = Even(1.0) if step.size is None else _size(context, step.size, path, regions, "size")
    y = x if step.size_y is None else _size(context, step.size_y, path, regions, "size_y")
    return x, y


def _size(context: Context, size: Size, path: Path, regions: list[Region], field_name: str) -> Law:
    law: Law
    if isinstance(size, RatioSize):
        first = context.value(size.start)
        law = Even(first, (context.value(size.end) - first) / path.length)
    elif isinstance(size, TaperSize):
        reach = max(float(np.hypot(*r.outer.polygon(0.01).T).max()) for r in regions)
        angle = context.value(size.angle)
        if abs(angle) > math.radians(80):
            raise Problem("bad-size", f"A taper of {degrees(angle)} is too flat.", "Give up to 80°.", field=field_name)
        law = Even(1.0, math.tan(angle) / reach)
    else:
        law = _table(context, size.points, size.smooth, field_name, path.length)
    s = told_at(law, path.length)
    values = law.value(s)
    if values.min() < SMALLEST:
        at = float(s[int(np.argmax(values < SMALLEST))])
        raise Problem(
            "vanishes",
            f"The section shrinks to {float(values.min()):.4g} times its size by {mm(at)}.",
            f"Keep it at {SMALLEST:g} times or more.",
            field=field_name,
            station=at,
        )
    return law


# -- rails ------------------------------------------------------------------------------------------


def _rail_map(
    context: Context, step: SweepStep, bare: Motion, placed: Placed, rails: list[tuple[RailRef, Path]]
) -> RailMap:
    tracks, anchors = [], []
    for reference, rail in rails:
        name = f"The rail “{context.names.get(reference.path.step, reference.path.step)}”"
        fixed = _fixed_anchor(context, step, reference, placed)
        at = np.array([bare.home])
        near = bare.frames(at).at(np.zeros((1, 2)) if fixed is None else fixed[None])[0, 0]
        track = RailTrack(name, rail, bare.path, bare.frames, bare.home, near)
        tracks.append(track)
        anchors.append(_nearest_anchor(track, bare, placed) if fixed is None else fixed)
    return RailMap(tuple(tracks), np.array(anchors), step.rail_use)


def _fixed_anchor(context: Context, step: SweepStep, reference: RailRef, placed: Placed) -> Array | None:
    """The picked point, or the profile's point that is tied to the rail, in the placed section."""
    if isinstance(step.profile, QuickProfile | FaceRef):
        return None
    sketch = context.sketch(step.profile.step, "profile").solution.sketch
    tied = [c.items[0] for c in sketch.constraints if c.kind == "on_path" and c.path == reference.path.step]
    point = reference.anchor or (tied[0] if tied else None)
    return None if point is None else placed.local(_profile_point(context, step, point, "rails"))


def _nearest_anchor(track: RailTrack, bare: Motion, placed: Placed) -> Array:
    """The outline's point nearest to where the rail crosses the section as drawn; the crossing when it is on the
    outline.
    """
    at = np.array([bare.home])
    f = bare.frames(at)
    place = track.points(at, f)[0][0] - f.C[0]
    crossing = np.linalg.lstsq(np.stack([f.X[0], f.Y[0]], axis=1), place, rcond=None)[0]
    outline = np.vstack([r.outer.polygon(1e-3) for r in placed.regions])
    nearest = outline[int(np.argmin(np.linalg.norm(outline - crossing, axis=1)))]
    return np.asarray(crossing if np.linalg.norm(nearest - crossing) < ON_OUTLINE else nearest)
