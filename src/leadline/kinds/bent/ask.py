"""What the bending of a tube answers to: how a machine plays its program, which order is freer, and what a bent sample
measures.
"""

from __future__ import annotations

import math
import zlib
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from typing_extensions import TypedDict

from leadline.core.geometry.plane import Array
from leadline.core.marks import Expr
from leadline.core.paths.bends import corners_of, first_plane
from leadline.core.problems import Problem
from leadline.core.sketch.model import Model
from leadline.core.trades import tube_bending
from leadline.core.trades.bender import Bender, machine_file
from leadline.core.trades.bender_run import PHASES, Run, run
from leadline.core.trades.machine_file import read_machine
from leadline.core.trades.tube_bending import Springback
from leadline.core.trades.tube_measuring import Correction, Sample, bends_through, bent_of, compared, corrected, probed
from leadline.core.trades.tube_told import TubeTold
from leadline.core.units import LENGTH_UNITS
from leadline.core.values import Kind
from leadline.kinds.bent.build import bender_for, corrections_of, tube_of
from leadline.kinds.bent.model import BentStep
from leadline.kinds.bent.program import doing, fits, named, orders, place_of, program_of
from leadline.recipe.build import Memory
from leadline.recipe.context import Context
from leadline.recipe.part import Part
from leadline.recipe.preview import in_words, planned_before

FROM_TOLD = Springback(math.radians(0.6), 0.011)  # how the sample springs back more than is told
TURNED, SLIP, NOISE = math.radians(0.5), 0.002, 0.03
Vec3 = list[float]


class BoxShown(TypedDict):
    """A part of the machine and what it moves with: "carriage", "arm", "clamp" (the arm, lowered while the tube moves),
    "pressure" or nothing.
    """

    name: str
    low: Vec3
    high: Vec3
    moves: str


class HitShown(TypedDict):
    """Where tube and machine meet, in words, with which part of it, at which moment, where along the path and in the
    machine's axes.
    """

    text: str
    part: str
    moment: int
    station: float
    row: int
    point: Vec3


class RunShown(TypedDict):
    """A program that was played; lengths in mm, angles in radians, times in seconds.

    ``fronts`` are polylines, the columns of ``moments`` are of equal length.

    The first ``moments`` of a phase are where ``phase`` changes, which counts up ``phases``.
    """

    machine: str
    outside: float
    floor: float
    drop: float
    opening: float
    die_height: float
    boxes: list[BoxShown]
    phases: list[str]
    fronts: list[list[Vec3]]
    rows: list[int]
    phase: list[int]
    shift: list[float]
    turn: list[float]
    bend: list[float]
    radius: list[float]
    tool: list[float]
    carriage: list[float]
    arm: list[float]
    seconds: list[float]
    hits: list[HitShown]


class OrderShown(TypedDict):
    """A way to bend the tube: from which end, which bends turn to the longer way round, what is met and how long it
    takes (s).
    """

    flipped: bool
    long_turns: list[int]
    hits: list[str]
    seconds: float


class RowMeasured(TypedDict):
    """What a row is off by: mm and degrees."""

    feed: float
    turn: float
    angle: float


class MeasuredShown(TypedDict):
    """A sample that was bent and measured: rows, corners and ends (mm) off, and the corrections for the next one
    (mm, degrees).
    """

    rows: list[RowMeasured]
    last: float
    away: list[float]
    worst: float
    tolerance: float
    corrections: list[RowMeasured]


class CornersShown(TypedDict):
    """Corners of a path, its ends included, and the radius at each between them, in the part's unit."""

    corners: list[Vec3]
    radii: list[float]


class MachineText(Model):
    """The text of a machine's file, if one is read."""

    text: Annotated[str, Field(max_length=100_000)] | None = None


class RowEdit(Model):
    """A number of a row that is changed."""

    row: int
    size: Literal["feed", "turn", "angle", "radius"]
    value: Expr


@in_words
def played(part: Part, step_id: str, memory: Memory) -> RunShown:
    """Raises Problem when the step has no machine, its tube cannot be told, or the machine does not take it."""
    context, step = _asked(part, step_id, memory)
    told, machine = tube_of(context, step), _machine(step)
    fits(told, machine)
    return _run_shown(told, machine, run(program_of(told), machine))


@in_words
def freer(part: Part, step_id: str, memory: Memory) -> list[OrderShown]:
    """The best order from each end, the freer one first. Raises Problem as ``played``."""
    context, step = _asked(part, step_id, memory)
    told, machine = tube_of(context, step), _machine(step)
    fits(told, machine)
    ways = orders(told, tube_of(context, step, not step.flipped), machine)
    return [
        {
            "flipped": step.flipped != other,
            "long_turns": long,
            "seconds": done.seconds,
            "hits": [f"{named(h)} {doing(h)}" for h in done.hits] + ["short of grip"] * (done.short_of_grip > 0),
        }
        for other, long, done in ways
    ]


@in_words
def measured(part: Part, step_id: str, memory: Memory) -> MeasuredShown:
    """Bend a sample by the program as it stands, which springs back otherwise than is told, measure it, and correct the
    program.

    Raises:
        Problem: the tube has no bends, or cannot be told.
    """
    context, step = _asked(part, step_id, memory)
    told = tube_of(context, step)
    if not told.bends.rows:
        raise Problem("no-bends", "The tube has no bends.", "Give its path a corner.", field="tube")
    sample = Sample(
        Springback(told.give.fixed + FROM_TOLD.fixed, told.give.share + FROM_TOLD.share, told.give.growth),
        TURNED,
        SLIP,
        NOISE,
    )
    so_far = [*corrections_of(context, step), *[Correction()] * len(told.bends.rows)][: len(told.bends.rows)]
    random = np.random.default_rng(
        zlib.crc32(repr((step.id, so_far)).encode())
    )  # another sample each time that the program is another
    tube = bent_of(told.made, sample)
    found = compared(told.bends, bends_through(probed(tube, sample.noise, random), [r.radius for r in told.bends.rows]))
    return {
        "rows": [_row(c) for c in found.off],
        "last": found.last,
        "away": found.away.tolist(),
        "worst": float(found.away.max()),
        "tolerance": context.value(step.tolerance),
        "corrections": [_row(c) for c in corrected(so_far, found)],
    }


@in_words
def edited(part: Part, step_id: str, memory: Memory, given: dict[str, Any]) -> CornersShown:
    """The corners of the tube's path with one number of a row changed: ``row`` (from 0), ``size`` ("feed", "turn",
    "angle" or "radius"; of the straight after the last bend "feed" of the row after it) and ``value``, a number or an
    expression.

    Its beginning stays where it is.

    Raises:
        Problem: there is no such row or size, the value is none, or the rows cannot be bent.
    """
    asked = RowEdit.model_validate(given)
    context, step = _asked(part, step_id, memory)
    told = tube_of(context, step)
    measure: Kind = "angle" if asked.size in ("turn", "angle") else "length"
    value = context.evaluated(asked.value, measure, asked.size.capitalize(), "value")
    bends = tube_bending.changed(told.bends, asked.row, asked.size, value)
    if told.flipped:
        bends = tube_bending.reversed_bends(bends)
    path = context.motion(step.tube, "tube").motion.path
    corners, radii = corners_of(bends, path.point(np.zeros(1))[0], path.tangent(np.zeros(1))[0], first_plane(path))
    unit = LENGTH_UNITS[part.units]
    return {"corners": (corners / unit).round(6).tolist(), "radii": (radii / unit).round(6).tolist()}


def machine(part: Part, step_id: str, _: Memory, given: dict[str, Any] | None = None) -> dict[str, Any]:
    """The step's machine as its file tells it, or one that is read from the ``text`` of a file.

    Raises:
        Problem: the text tells no machine, or the step has none.
    """
    asked = MachineText.model_validate(given or {})
    step = _step(part, step_id)
    if asked.text is not None:
        return read_machine(asked.text).model_dump()
    if step.own_machine is not None:
        return step.own_machine.model_dump()
    if step.machine is None:
        raise _no_machine()
    return machine_file(step.machine).model_dump()


QUESTIONS = {"run": played, "orders": freer, "measured": measured, "edited": edited, "machine": machine}


def _asked(part: Part, step_id: str, memory: Memory) -> tuple[Context, BentStep]:
    step = _step(part, step_id)
    return planned_before(part, step, memory), step


def _step(part: Part, step_id: str) -> BentStep:
    step = next(s for s in part.steps if s.id == step_id)
    assert isinstance(step, BentStep)
    return step


def _machine(step: BentStep) -> Bender:
    machine = bender_for(step)
    if machine is None:
        raise _no_machine()
    return machine


def _no_machine() -> Problem:
    return Problem("no-machine", "No machine is chosen to play the program on.", "Choose one.", field="machine")


def _row(c: Correction) -> RowMeasured:
    return {"feed": round(c.feed, 4), "turn": round(math.degrees(c.turn), 5), "angle": round(math.degrees(c.angle), 5)}


def _run_shown(told: TubeTold, machine: Bender, done: Run) -> RunShown:
    half = told.outside / 2
    m = done.moments

    def column(values: Array) -> list[float]:
        return [round(float(v), 5) for v in values]

    beside = {"clamp": -half, "pressure": -half}
    boxes: list[BoxShown] = [
        {
            "name": name,
            "low": [box.low[0], box.low[1] + beside.get(name, 0.0), box.low[2]],
            "high": [box.high[0], box.high[1] + beside.get(name, 0.0), box.high[2]],
            "moves": name if name in ("carriage", "arm", "clamp", "pressure") else "",
        }
        for name, box in (
            ("bed", machine.bed),
            ("column", machine.column),
            ("carriage", machine.carriage),
            ("clamp", machine.clamp),
            ("pressure", machine.pressure),
            ("arm", machine.arm),
        )
    ]
    tools = np.array([r.radius for r in told.made.rows])
    return {
        "machine": machine.name,
        "outside": told.outside,
        "floor": machine.floor,
        "drop": machine.drop,
        "opening": machine.opening,
        "die_height": machine.die_height,
        "boxes": boxes,
        "phases": list(PHASES),
        "fronts": [f.round(3).tolist() for f in done.fronts],
        "rows": m.row.astype(int).tolist(),
        "phase": m.phase.astype(int).tolist(),
        "shift": column(m.shift),
        "turn": column(m.turn),
        "bend": column(m.bend),
        "radius": column(m.radius),
        "tool": column(tools[m.row.astype(int)]),
        "carriage": column(m.carriage),
        "arm": column(m.arm),
        "seconds": column(m.seconds),
        "hits": [
            {
                "text": f"The tube runs into {named(h)} {doing(h)}.",
                "part": h.part,
                "moment": h.moment,
                "station": place_of(told, h),
                "row": h.row,
                "point": list(h.point),
            }
            for h in done.hits
        ],
    }
