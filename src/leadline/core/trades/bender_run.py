"""A bend program played on a bender: how tube and machine stand at each moment, and where they meet.

The tube is taken as its centreline with its radius about it. In front of the die it is one rigid piece while a bend is
made, so that each moment is a motion of a ``front``: pushed along x, turned about x, then carried round by the bend
that is being made.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.plane import Array
from leadline.core.paths.bends import BendRow, Bends, path_of
from leadline.core.trades.bender import Bender, Box

Phase = Literal["feed", "turn", "bend", "release", "back"]
PHASES: tuple[Phase, ...] = ("feed", "turn", "bend", "release", "back")
FINE = 3.0  # parts of the outside diameter between places along the tube
STEP_BEND, STEP_TURN, STEP_BACK = math.radians(3), math.radians(5), math.radians(10)
STEP_FEED = 0.5  # of the outside diameter
SKIP = 12  # places along the tube of which one is looked at first
# outside diameters along the tube within which it cannot meet itself: the chord of no bend is shorter than the tube is
# wide
BESIDE = 1.6
TOUCH = 1e-6  # mm
NONE = 1e-12  # mm or rad of a phase that is none
X, Z = np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0])


@dataclass(frozen=True)
class Program:
    """What a machine is told: the ``bends`` that are left, how far each is ``made`` and on a tool of which radius, how
    far to turn before each (rad).
    """

    bends: Bends
    made: Bends
    turns: tuple[float, ...]
    outside: float

    @property
    def length(self) -> float:
        return sum(r.feed + r.radius * r.angle for r in self.bends.rows) + self.bends.last


@dataclass(frozen=True)
class Moments:
    """How tube and machine stand, moment by moment, each (n,): the bend (from 0) and the phase (of ``PHASES``) that is
    on; how far the front is pushed back from its place (mm) and turned (rad); the bend made so far (rad) and its radius
    (mm); where the carriage is (x of its grip's face, mm), where the arm is (rad), and the time since the beginning
    (s).
    """

    row: Array
    phase: Array
    shift: Array
    turn: Array
    bend: Array
    radius: Array
    carriage: Array
    arm: Array
    seconds: Array


@dataclass(frozen=True)
class Hit:
    """Tube and a ``part`` of the machine, the floor or itself ("tube") meet in a bend (from 0): first in a phase, at a
    ``moment`` and a ``station`` of the tube, and by up to ``deep`` mm.
    """

    part: str
    row: int
    phase: Phase
    moment: int
    station: float
    deep: float
    point: tuple[float, float, float]


@dataclass(frozen=True)
class Run:
    """A program that was played: the ``fronts`` of its bends, each (k, 3) from the die to the tube's front, all its
    moments, and where something meets.
    """

    fronts: tuple[Array, ...]
    moments: Moments
    hits: tuple[Hit, ...]
    short_of_grip: float

    @property
    def seconds(self) -> float:
        return float(self.moments.seconds[-1]) if len(self.moments.seconds) else 0.0


def front_of(program: Program, k: int) -> tuple[Array, Array]:
    """The tube in front of bend ``k`` as it lies when that is begun, (p, 3), and how far along it from the die each
    point is, (p,).
    """
    before = program.bends.rows[: k + 1]
    feeds = [row.feed for row in reversed(before)]
    turns = [row.turn for row in reversed(before)]
    bends = list(reversed(before[:-1]))
    rows = [
        BendRow(feed, turn, r.angle, r.radius, 0.0, 0.0) for feed, turn, r in zip(feeds, turns, bends, strict=False)
    ]
    if not rows and feeds[-1] <= 0:
        return np.zeros((1, 3)), np.zeros(1)
    path = path_of(Bends(tuple(rows), feeds[-1]), np.zeros(3), X, Z)
    along = np.linspace(0.0, path.length, max(2, math.ceil(path.length / program.outside * FINE) + 1))
    return path.point(along), along


def moments_of(program: Program, machine: Bender) -> Moments:
    """All moments of a program, fine enough that nothing is passed by unseen."""
    rows: list[tuple[Array, ...]] = []
    time, fed = 0.0, 0.0
    for k, (row, made, turn) in enumerate(zip(program.bends.rows, program.made.rows, program.turns, strict=True)):
        for phase, (shift, round_, bend, radius, drawn, arm, seconds) in enumerate(
            _phases(program, machine, row, made, turn)
        ):
            count = len(shift)
            rows.append(
                (
                    np.full(count, k),
                    np.full(count, phase),
                    shift,
                    round_,
                    bend,
                    radius,
                    machine.grip - program.length + fed + drawn,
                    arm,
                    time + seconds,
                )
            )
            time += float(seconds[-1]) if count else 0.0
        fed += row.feed + row.radius * row.angle
    columns = zip(*rows, strict=True) if rows else [[np.zeros(0)]] * 9
    return Moments(*(np.concatenate(column) for column in columns))


def _phases(program: Program, machine: Bender, row: BendRow, made: BendRow, turn: float) -> list[tuple[Array, ...]]:
    """Of the phases of one bend: push, turn, bend, its radius, how far the tube is drawn in, the arm, and the seconds
    since the phase began.
    """
    speeds = machine.speeds

    def spread(size: float, step: float) -> Array:
        return np.linspace(0.0, 1.0, max(2, math.ceil(abs(size) / step) + 1)) if abs(size) > NONE else np.zeros(0)

    def phase(share: Array, seconds: float, **given: Array | float) -> tuple[Array, ...]:
        columns = [
            np.broadcast_to(np.asarray(given.get(name, 0.0), dtype=float), share.shape)
            for name in ("shift", "turn", "bend", "radius", "drawn", "arm")
        ]
        return (*columns, share * seconds)

    feed, round_, bend = (
        spread(row.feed, STEP_FEED * program.outside),
        spread(turn, STEP_TURN),
        spread(made.angle, STEP_BEND),
    )
    back, arc = spread(made.angle, STEP_BACK), row.radius * row.angle
    give = np.array([0.0, 0.5, 1.0])
    return [
        phase(
            feed,
            row.feed / speeds.feed,
            shift=(feed - 1) * row.feed,
            turn=-turn,
            radius=made.radius,
            drawn=feed * row.feed,
        ),
        phase(round_, abs(turn) / speeds.turn, turn=(round_ - 1) * turn, radius=made.radius, drawn=row.feed),
        phase(
            bend,
            speeds.grip + made.angle / speeds.bend,
            bend=bend * made.angle,
            radius=made.radius,
            drawn=row.feed + bend * arc,
            arm=bend * made.angle,
        ),
        phase(
            give,
            speeds.grip,
            bend=made.angle + give * (row.angle - made.angle),
            radius=made.radius + give * (row.radius - made.radius),
            drawn=row.feed + arc,
            arm=made.angle,
        ),
        phase(
            back,
            made.angle / speeds.back,
            bend=row.angle,
            radius=row.radius,
            drawn=row.feed + arc,
            arm=(1 - back) * made.angle,
        ),
    ]


def placed(front: Array, shift: Array, turn: Array, bend: Array, radius: Array) -> Array:
    """A front (p, 3) as it stands at moments (m,): pushed, turned, then carried round by the bend; (m, p, 3)."""
    x, y, z = front[:, 0] + shift[:, None], front[:, 1], front[:, 2]
    c, s = np.cos(turn)[:, None], np.sin(turn)[:, None]
    y, z = c * y - s * z, s * y + c * z
    c, s, r = np.cos(bend)[:, None], np.sin(bend)[:, None], radius[:, None]
    return np.stack([c * x - s * y + r * s, s * x + c * y + r * (1 - c), z], axis=2)


def too_long(program: Program, machine: Bender) -> float:
    """By how much (mm) a tube is longer than a machine can take; 0 when it is not."""
    return max(0.0, program.length - machine.grip - machine.travel)


def run(program: Program, machine: Bender) -> Run:
    """Play a program, and find where the tube meets the machine, the floor or itself."""
    moments = moments_of(program, machine)
    fronts, hits = [], []
    for k in range(len(program.bends.rows)):
        front, along = front_of(program, k)
        fronts.append(front)
        for phase in range(len(PHASES)):
            which = np.flatnonzero((moments.row == k) & (moments.phase == phase))
            if len(which):
                hits += _met(program, machine, moments, which, front, along)
    nearest = float(moments.carriage.max()) if len(moments.carriage) else machine.grip - program.length
    return Run(tuple(fronts), moments, _firsts([*hits, *_own(program)]), max(0.0, nearest + machine.nearest))


def _firsts(hits: list[Hit]) -> tuple[Hit, ...]:
    """Of each thing that is met in a bend the first moment, with the most that it is met by in that bend."""
    found: dict[tuple[str, int], Hit] = {}
    for hit in hits:
        first = found.get((hit.part, hit.row))
        found[hit.part, hit.row] = hit if first is None else replace(first, deep=max(first.deep, hit.deep))
    return tuple(sorted(found.values(), key=lambda h: (h.row, h.moment)))


def _met(program: Program, machine: Bender, moments: Moments, which: Ints, front: Array, along: Array) -> list[Hit]:
    """What the front meets in one phase of one bend, each thing once.

    Moments at which every ``SKIP``-th place is farther from all than the others can reach are passed by.
    """
    few = np.unique(np.append(np.arange(0, len(along), SKIP), len(along) - 1))
    reach = SKIP * float(along[-1]) / max(len(along) - 1, 1)
    near = np.zeros(len(which), dtype=bool)
    for _, deep, _ in _depths(program, machine, moments, which, front[few], along[few]):
        near |= deep.max(axis=1) > -reach - TOUCH
    return _hits(program, machine, moments, which[near], front, along) if near.any() else []


def _hits(program: Program, machine: Bender, moments: Moments, which: Ints, front: Array, along: Array) -> list[Hit]:
    """What the front meets at some moments of one phase of one bend, each thing once, looked at in full."""
    k, phase = int(moments.row[which[0]]), PHASES[int(moments.phase[which[0]])]
    started = program.bends.rows[k].feed + sum(r.feed + r.radius * r.angle for r in program.bends.rows[:k])
    found = []
    for part, deep, points in _depths(program, machine, moments, which, front, along):
        worst = deep.max(axis=1)
        over = np.flatnonzero(worst > TOUCH)
        if len(over):
            at = int(over[0])
            p = int(deep[at].argmax())
            x, y, z = points[at, p].tolist()
            found.append(Hit(part, k, phase, int(which[at]), started - float(along[p]), float(worst.max()), (x, y, z)))
    return found


def _depths(
    program: Program, machine: Bender, moments: Moments, which: Ints, front: Array, along: Array
) -> list[tuple[str, Array, Array]]:
    """How deep each place of the front is in each thing at some moments of one phase of one bend, (m, p), below zero
    outside; and where the places are, (m, p, 3).
    """
    first = which[0]
    phase = PHASES[int(moments.phase[first])]
    shift, turn, bend, radius = (
        column[which] for column in (moments.shift, moments.turn, moments.bend, moments.radius)
    )
    points = placed(front, shift, turn, bend, radius)
    # what is held by die and clamp, and while it is fed what is still behind the die, meets nothing by being there
    held = machine.clamp_length + program.outside / 2 if phase in ("bend", "release", "back") else 0.0
    seen = (along[None, :] + shift[:, None] >= held - TOUCH) & np.ones((len(which), 1), dtype=bool)
    round_ = along[None, :] + shift[:, None] + bend[:, None] * radius[:, None]
    return [
        (part, np.where(seen, program.outside / 2 * (2 if part == "tube" else 1) - away, -np.inf), points)
        for part, away in _distances(program, machine, moments, which, points, phase, round_)
    ]


def _distances(
    program: Program, machine: Bender, moments: Moments, which: Ints, points: Array, phase: Phase, round_: Array
) -> list[tuple[str, Array]]:
    """How far the centreline of the tube is from each thing, (m, p)."""
    shape = points.shape[:2]
    half = program.outside / 2
    open_ = phase != "bend"
    carriage, arm, radius = (
        moments.carriage[which],
        moments.arm[which],
        program.made.rows[int(moments.row[which[0]])].radius,
    )
    flat = points.reshape(-1, 3)
    beside = flat - np.repeat(carriage, shape[1])[:, None] * X
    c, s = np.repeat(np.cos(arm), shape[1]), np.repeat(np.sin(arm), shape[1])
    x, y = flat[:, 0], flat[:, 1] - radius
    with_arm = np.column_stack([c * x + s * y, -s * x + c * y + radius, flat[:, 2]])  # as if the arm had not turned
    lowered = machine.drop * Z if open_ else np.zeros(3)
    aside = np.array([0.0, -half - (machine.opening if open_ else 0.0), 0.0])
    to_end = np.minimum(np.maximum(x, np.repeat(carriage, shape[1])), 0.0)
    behind = np.sqrt((flat[:, 0] - to_end) ** 2 + flat[:, 1] ** 2 + flat[:, 2] ** 2).reshape(shape)
    die = np.maximum(np.hypot(x, y) - (radius - half), np.abs(flat[:, 2] + lowered[2]) - machine.die_height / 2)
    boxes: list[tuple[str, Box, Array]] = [
        ("bed", machine.bed, flat),
        ("column", machine.column, flat),
        ("carriage", machine.carriage, beside),
        ("pressure", machine.pressure, flat - aside),
        ("arm", machine.arm, with_arm),
        ("clamp", machine.clamp, with_arm + np.array([0.0, half, 0.0]) + lowered),
    ]
    return [
        ("floor", points[:, :, 2] - machine.floor),
        *((name, box.away(at).reshape(shape)) for name, box, at in boxes),
        ("die", die.reshape(shape)),
        ("tube", np.where(round_ > BESIDE * program.outside, behind, np.inf)),
    ]


def _own(program: Program) -> list[Hit]:
    """Where the finished tube runs into itself, whatever bends it."""
    rows = program.bends.rows
    if not rows:
        return []
    path = path_of(program.bends, np.zeros(3), X, Z)
    along = np.linspace(0.0, path.length, max(2, math.ceil(path.length / program.outside * FINE) + 1))
    points = path.point(along)
    away = np.linalg.norm(points[:, None] - points[None], axis=2)
    away[np.abs(along[:, None] - along[None]) < BESIDE * program.outside] = np.inf
    i, j = np.unravel_index(int(away.argmin()), away.shape)
    deep = program.outside - float(away[i, j])
    if deep <= program.outside * 1e-3:
        return []
    last = (
        max(k for k, r in enumerate(rows) if r.start <= max(along[i], along[j]) + TOUCH)
        if rows[0].start <= max(along[i], along[j])
        else 0
    )
    x, y, z = points[i].tolist()
    return [Hit("tube", last, "bend", -1, float(min(along[i], along[j])), deep, (x, y, z))]


def other_way(turn: float) -> float:
    """The turn that comes to the same the other way round."""
    return turn - math.copysign(2 * math.pi, turn) if turn else 0.0


def freest_turns(program: Program, machine: Bender) -> Program:
    """The same program with each bend turned to by the way on which nothing is met, the shorter one where both are
    alike.
    """
    around = replace(program, turns=tuple(map(other_way, program.turns)))
    ways = [[_depth(run(p, machine), k) for k in range(len(p.turns))] for p in (program, around)]
    turns = tuple(b if far < near else a for a, b, near, far in zip(program.turns, around.turns, *ways, strict=True))
    return replace(program, turns=turns)


def _depth(played: Run, row: int) -> float:
    return max((h.deep for h in played.hits if h.row == row and h.phase == "turn"), default=0.0)
