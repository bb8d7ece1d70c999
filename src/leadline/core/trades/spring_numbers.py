"""All that is told of a spring: its rate, its lengths, its stresses at each load, and what of that is beyond its
limits.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from leadline.core.geometry.plane import Plane
from leadline.core.paths.path import Path
from leadline.core.problems import Message, Problem, degrees, mm
from leadline.core.trades import springs
from leadline.core.trades.closing import Closing
from leadline.core.trades.spring_spread import Spread
from leadline.core.trades.springs import Coils, Ends, Wire
from leadline.core.trades.wire_rate import compliance, greatest_arm, quarter_turns

Duty = Literal["compression", "extension", "torsion"]
PERMITTED_PULL = 0.45  # of the tensile strength: the shear stress that EN 13906-2 permits an extension spring
PERMITTED_BEND = 0.70  # of the tensile strength: the bending stress that EN 13906-3 permits a torsion spring
# of the tensile strength: the amplitude that a shear stress which pulsates from nought may have in wire of no special
# surface
SWING = 0.20


@dataclass(frozen=True)
class LoadAsked:
    """One load: a ``length`` (mm), a ``force`` (N) or an ``angle`` (rad)."""

    by: Literal["length", "force", "angle"]
    value: float


@dataclass(frozen=True)
class LoadPoint:
    """A spring under a load: its ``length`` and ``travel`` in mm, or the ``angle`` (rad) by which its legs are turned;
    ``force`` in N or N mm.

    ``stress`` is that of the formula, ``corrected`` the greatest in the wire, MPa; ``share`` is what it uses of the
    ``permitted`` one: the former of loads that rest, the latter of loads that change often.
    """

    length: float | None
    travel: float | None
    angle: float | None
    force: float
    stress: float
    corrected: float
    share: float


@dataclass(frozen=True)
class SpringNumbers:
    """Lengths in mm, forces in N (of a torsion spring N mm, and its rate N mm for each degree), stresses in MPa, mass
    in g; None where a kind of spring has no such number.

    ``across`` are the least and the greatest mean diameter of its turns, where they are not alike. ``seated`` are the
    ends of a spring that is pressed; ``spread`` is what its sizes' tolerances make of rate and forces. ``hand``,
    ``ends`` and ``material`` are words for the sheet.
    """

    duty: Duty
    coils: Coils
    rate: float
    strength: float
    permitted: float
    wire_length: float
    mass: float
    free: float | None = None
    pitch: float | None = None
    initial: float | None = None
    solid: float | None = None
    solid_force: float | None = None
    solid_stress: float | None = None
    least_working: float | None = None
    buckles_at: float | None = None
    frequency: float | None = None
    outer_when_solid: float | None = None
    inner_when_wound: float | None = None
    loop_stress: float | None = None
    goodman: float | None = None
    across: tuple[float, float] | None = None
    seated: Ends = "open"
    spread: Spread | None = None
    hand: str = "right"
    ends: str = ""
    material: str = ""
    loads: tuple[LoadPoint, ...] = ()
    curve: tuple[tuple[float, ...], tuple[float, ...]] = ((), ())
    messages: list[Message] = field(default_factory=list)


@dataclass(frozen=True)
class Compression:
    """What a compression spring is judged by beside its coil: ``seat`` is ν of the buckling formula, ``narrowest`` and
    ``widest`` the least and the greatest mean diameter of its turns, mm.

    The turns of a spring that is not even are stressed as its widest is, and close one after the other.
    """

    free: float
    pitch: float
    ends: Ends
    seat: float
    moving: bool
    narrowest: float
    widest: float
    bore: float | None = None
    rod: float | None = None


def compression(
    coils: Coils, material: Wire, closed: Closing, wire_length: float, case: Compression, loads: Sequence[LoadAsked]
) -> SpringNumbers:
    """Raises Problem when a load is a length that the spring cannot have."""
    strength = material.strength(coils.wire)
    permitted = springs.SOLID_SHARE * strength
    conical, widest = case.widest > coils.mean * (1 + 1e-9), replace(coils, mean=case.widest)
    k = springs.correction(widest.index)
    solid = closed.solid
    gaps = springs.least_gaps(coils) * (springs.MOVING_GAP if case.moving else 1.0)
    solid_force = closed.solid_force
    solid_stress = springs.shear_stress(widest, solid_force)
    messages = [
        *_wire_messages(coils.wire, material),
        *index_messages(replace(coils, mean=case.narrowest)),
        *(index_messages(widest) if conical else []),
    ]
    points, said = _pressed(widest, closed, case, k, permitted, loads)
    messages += said
    buckles = None if conical else springs.buckles_at(coils, case.free, material, case.seat)
    most_travel = max((p.travel or 0.0 for p in points), default=0.0)
    least = min((p.length or math.inf for p in points), default=math.inf)
    if buckles is not None and most_travel > buckles:
        messages.append(
            Message(
                "warning",
                "buckles",
                f"It buckles once it is pressed by {mm(buckles)}; a load presses it by {mm(most_travel)}.",
                "Guide it in a bore or on a rod, or make it wider or shorter.",
                {"of": "loads"},
            )
        )
    if least < solid + gaps and least >= solid:
        messages.append(
            Message(
                "warning",
                "near-solid",
                f"At {mm(least)} its turns are nearly closed: the least working length is {mm(solid + gaps)}.",
                "Give it fewer turns, or a longer length under load.",
                {"of": "loads"},
            )
        )
    if solid_stress > permitted:
        messages.append(
            Message(
                "note",
                "solid-stress",
                f"Pressed solid it has {solid_stress:.0f} MPa, above the {permitted:.0f} MPa permitted: it sets.",
                "Preset it, or keep it from being pressed solid.",
                {"of": "free"},
            )
        )
    outer = springs.outer_when_solid(
        widest, case.pitch if conical else springs.pitch_when_free(coils, case.free, case.ends)
    )
    messages += _room(outer, case.narrowest - coils.wire, case)
    swing = [p.corrected for p in points]
    return SpringNumbers(
        "compression",
        coils,
        closed.rate(),
        strength,
        permitted,
        wire_length,
        springs.mass_of(coils.wire, wire_length, material),
        free=case.free,
        pitch=case.pitch,
        solid=solid,
        solid_force=solid_force,
        solid_stress=solid_stress,
        least_working=solid + gaps,
        buckles_at=buckles,
        frequency=None if conical else springs.first_frequency(coils, material),
        outer_when_solid=outer,
        across=(case.narrowest, case.widest) if conical else None,
        seated=case.ends,
        goodman=springs.goodman_share(min(swing), max(swing), permitted, SWING * strength)
        if case.moving and len(swing) > 1
        else None,
        loads=tuple(points),
        curve=_curve(closed, solid),
        messages=messages,
    )


def _pressed(
    coils: Coils, closed: Closing, case: Compression, k: float, permitted: float, loads: Sequence[LoadAsked]
) -> tuple[list[LoadPoint], list[Message]]:
    points, messages, solid = [], [], closed.solid
    for i, load in enumerate(loads):
        if load.by == "angle":
            raise Problem(
                "bad-load", "A compression spring has no angle of load.", "Give a length or a force.", of="loads"
            )
        if load.by == "length" and load.value < solid - 1e-9:
            raise Problem(
                "solid-before",
                f"The spring is solid at {mm(solid)}, before load {i + 1} at {mm(load.value)}.",
                f"Give {mm(solid)} or more, or fewer turns.",
                of="loads",
            )
        force = closed.force_at(load.value) if load.by == "length" else load.value
        if force < 0:
            raise Problem(
                "bad-load", "A compression spring is pressed, not pulled.", "Give a force above zero.", of="loads"
            )
        length = closed.length_at(force)
        if (load.by == "force" and length < solid - 1e-9) or force > closed.solid_force * (1 + 1e-9):
            messages.append(
                Message(
                    "warning",
                    "solid-before",
                    f"Under {force:.4g} N (load {i + 1}) the spring is solid: it is so at {mm(solid)}.",
                    "Give a lesser force, or a stronger spring.",
                    {"of": "loads"},
                )
            )
            length = solid
        points.append(
            _point(
                force,
                springs.shear_stress(coils, force),
                k,
                permitted,
                case.moving,
                length=length,
                travel=case.free - length,
            )
        )
        messages += _over(i, points[-1], permitted)
    return points, messages


def _point(
    force: float,
    stress: float,
    k: float,
    permitted: float,
    moving: bool,
    length: float | None = None,
    travel: float | None = None,
    angle: float | None = None,
) -> LoadPoint:
    """A spring under a force, with a ``stress`` that is corrected by k."""
    return LoadPoint(length, travel, angle, force, stress, k * stress, springs.judged(stress, k, moving) / permitted)


def _over(i: int, point: LoadPoint, permitted: float) -> list[Message]:
    """What is said of a load that is more than the wire bears."""
    if point.share <= 1:
        return []
    return [
        Message(
            "warning",
            "over-stressed",
            f"Load {i + 1} gives {point.share * permitted:.0f} MPa, above the {permitted:.0f} MPa that the wire bears.",
            "Take thicker or stronger wire, more turns, or less load.",
            {"of": "loads"},
        )
    ]


def _wire_messages(d: float, material: Wire) -> list[Message]:
    """What is said of a wire that its standard does not have."""
    if material.made(d):
        return []
    low, high = material.diameters
    said = f"from {mm(low)} to {mm(high)}" if low > 0 else f"up to {mm(high)}"
    return [
        Message(
            "warning",
            "wire-size",
            (
                f"There is no wire of {mm(d)} of {material.title}, which goes {said}: the strength that is told "
                "is that of the nearest."
            ),
            "Take another wire, or type its own strength.",
            {"of": "wire"},
        )
    ]


def index_messages(coils: Coils) -> list[Message]:
    """What is said of a spring index that is not usual."""
    if springs.LEAST_INDEX <= coils.index <= springs.MOST_INDEX:
        return []
    side = "under" if coils.index < springs.LEAST_INDEX else "over"
    bound = springs.LEAST_INDEX if side == "under" else springs.MOST_INDEX
    return [
        Message(
            "warning",
            "spring-index",
            f"The spring index is {coils.index:.3g}, {side} {bound:g}: it is hard to coil.",
            "Change the diameter or the wire.",
            {"of": "diameter"},
        )
    ]


def _room(outer: float, inner: float, case: Compression) -> list[Message]:
    found = []
    if case.bore is not None and case.bore <= outer:
        found.append(
            Message(
                "warning",
                "no-room",
                f"In a bore of {mm(case.bore)} it jams: pressed solid it is {mm(outer)} wide.",
                "Give a larger bore, or a smaller diameter.",
                {"of": "bore"},
            )
        )
    if case.rod is not None and case.rod >= inner:
        found.append(
            Message(
                "warning",
                "no-room",
                f"A rod of {mm(case.rod)} does not go in: inside it is {mm(inner)} wide.",
                "Give a thinner rod, or a larger diameter.",
                {"of": "rod"},
            )
        )
    return found


def _curve(closed: Closing, solid: float) -> tuple[tuple[float, ...], tuple[float, ...]]:
    lengths, forces = closed.curve()
    kept = lengths >= solid - 1e-9
    return tuple(lengths[kept].tolist()), tuple(forces[kept].tolist())


def extension(
    coils: Coils,
    material: Wire,
    free: float,
    initial: float,
    looped: bool,
    wire_length: float,
    loads: Sequence[LoadAsked],
    moving: bool = False,
) -> SpringNumbers:
    """A spring whose turns lie on each other with an ``initial`` tension (N).

    Raises Problem for a load that it cannot have.
    """
    if initial < 0:
        raise Problem("bad-size", "The initial tension is under zero.", "Give nought or more.", of="initial")
    rate = springs.rate(coils, material.shear_modulus)
    strength = material.strength(coils.wire)
    permitted = PERMITTED_PULL * strength
    k = springs.correction(coils.index)
    points, messages = [], [*_wire_messages(coils.wire, material), *index_messages(coils)]
    for i, load in enumerate(loads):
        if load.by == "angle":
            raise Problem(
                "bad-load", "An extension spring has no angle of load.", "Give a length or a force.", of="loads"
            )
        force = initial + rate * (load.value - free) if load.by == "length" else load.value
        if load.by == "length" and load.value < free - 1e-9:
            raise Problem(
                "shorter-than-free",
                f"Load {i + 1} at {mm(load.value)} is shorter than the spring, which is {mm(free)}.",
                "Give a longer one.",
                of="loads",
            )
        if force < 0:
            raise Problem(
                "bad-load", "An extension spring is pulled, not pressed.", "Give a force above zero.", of="loads"
            )
        travel = max(0.0, (force - initial) / rate)
        points.append(
            _point(force, springs.shear_stress(coils, force), k, permitted, moving, length=free + travel, travel=travel)
        )
        messages += _over(i, points[-1], permitted)
    most = max((p.force for p in points), default=initial)
    last = max((p.length or free for p in points), default=free * 1.5)
    return SpringNumbers(
        "extension",
        coils,
        rate,
        strength,
        permitted,
        wire_length,
        springs.mass_of(coils.wire, wire_length, material),
        free=free,
        initial=initial,
        loop_stress=springs.loop_stress(coils, most) if looped else None,
        loads=tuple(points),
        curve=((free, free, last), (0.0, initial, initial + rate * (last - free))),
        messages=messages,
    )


def torsion(
    coils: Coils,
    material: Wire,
    wire_length: float,
    rod: float | None,
    loads: Sequence[LoadAsked],
    moving: bool = False,
) -> SpringNumbers:
    """Raises Problem for a load that it cannot have."""
    rate = springs.torsion_rate(coils, material.elastic_modulus)
    strength = material.strength(coils.wire)
    permitted = PERMITTED_BEND * strength
    q = springs.bending_correction(coils.index)
    points, messages = [], [*_wire_messages(coils.wire, material), *index_messages(coils)]
    for i, load in enumerate(loads):
        if load.by == "length":
            raise Problem(
                "bad-load", "A torsion spring has no length of load.", "Give an angle or a moment.", of="loads"
            )
        moment = rate * math.degrees(load.value) if load.by == "angle" else load.value
        if moment < 0:
            raise Problem(
                "bad-load",
                "The load would open the spring.",
                "Give it above zero, as it closes the turns.",
                of="loads",
            )
        points.append(
            _point(
                moment, springs.bending_stress(coils, moment), q, permitted, moving, angle=math.radians(moment / rate)
            )
        )
        messages += _over(i, points[-1], permitted)
    most = max((p.angle or 0.0 for p in points), default=0.0)
    inner = springs.inner_when_wound(coils, most)
    if rod is not None and rod >= inner:
        messages.append(
            Message(
                "warning",
                "no-room",
                f"Turned by {degrees(most)} it is {mm(inner)} wide inside and clamps on a rod of {mm(rod)}.",
                "Give a thinner rod, or a larger diameter.",
                {"of": "rod"},
            )
        )
    return SpringNumbers(
        "torsion",
        coils,
        rate,
        strength,
        permitted,
        wire_length,
        springs.mass_of(coils.wire, wire_length, material),
        inner_when_wound=inner,
        loads=tuple(points),
        curve=((0.0, math.degrees(most) or 90.0), (0.0, rate * (math.degrees(most) or 90.0))),
        messages=messages,
    )


def free_wire(
    path: Path, d: float, material: Wire, loads: Sequence[LoadAsked], axis: Plane | None = None, moving: bool = False
) -> SpringNumbers:
    """A wire of any shape that is pressed (or, by lengths above its own, pulled), by Castigliano's theorem over its own
    path: from end to end, or along an ``axis``, the normal of a plane through its origin.

    Its coil is told by its mean: as many turns as its direction goes round, and their length. The stress is that of the
    greatest moment, as shear.

    Raises:
        Problem: its ends are one place, or a load is an angle.
    """
    through, along = (None, None) if axis is None else (axis.origin, axis.normal)
    rate = 1 / compliance(path, d, material.shear_modulus, material.elastic_modulus, through=through, along=along)
    turns = max(quarter_turns(path.tangent(path.samples(64))) / 4, 1e-3)
    coils = Coils(d, max(path.length / (math.pi * turns), 1.01 * d), turns, turns)
    ends = path.point(np.array([0.0, path.length]))
    free = float(np.linalg.norm(ends[1] - ends[0])) if axis is None else abs(float((ends[1] - ends[0]) @ axis.normal))
    strength = material.strength(d)
    permitted = springs.SOLID_SHARE * strength
    each = 16 * greatest_arm(path, through, along) / (math.pi * d**3)
    k = springs.correction(max(coils.index, 2.0))
    points, messages = [], _wire_messages(d, material)
    for i, load in enumerate(loads):
        if load.by == "angle":
            raise Problem(
                "bad-load", "A wire that is pressed has no angle of load.", "Give a length or a force.", of="loads"
            )
        force = rate * (free - load.value) if load.by == "length" else load.value
        travel = force / rate
        points.append(_point(force, each * abs(force), k, permitted, moving, length=free - travel, travel=travel))
        messages += _over(i, points[-1], permitted)
    most = max((p.travel or 0.0 for p in points), default=0.0) or free / 4
    return SpringNumbers(
        "compression",
        coils,
        rate,
        strength,
        permitted,
        path.length,
        springs.mass_of(d, path.length, material),
        free=free,
        loads=tuple(points),
        curve=((free, free - most), (0.0, rate * most)),
        messages=messages,
    )
