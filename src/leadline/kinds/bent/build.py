"""The step that tells how a tube is bent: its sweep's path as rows of bends, with what the material and the machine
make of them.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np

from leadline.core.expressions import Expression
from leadline.core.geometry.dimensions import Note
from leadline.core.geometry.section import Region
from leadline.core.paths.bends import bends_of
from leadline.core.paths.path_dimensions import path_dimensions
from leadline.core.problems import Message, Problem, degrees, mm
from leadline.core.sweep.motion import Motion
from leadline.core.trades import tube_bending
from leadline.core.trades.bender import Bender, bender, bender_of, benders
from leadline.core.trades.bender_run import run
from leadline.core.trades.tube_bending import CLAMP, Machine, Springback
from leadline.core.trades.tube_measuring import Correction, with_corrections
from leadline.core.trades.tube_told import TubeTold
from leadline.core.units import format_length
from leadline.kinds.bent.model import BentStep
from leadline.kinds.bent.program import met, program_of, refused
from leadline.kinds.bent.result import BentResult, BentShown
from leadline.recipe.context import Context
from leadline.recipe.given import field_of
from leadline.recipe.products import HasMotion, TubePlan
from leadline.recipe.results import Report

MOST_TUBES = 1000
ON_PATH = 1e-6  # mm between the middle of the section and the path
# by which, as tables of bends are told to some digits, the section's axes may be off being of one, and square to the
# path
ROUND = 1e-4
GIVES = {
    "fixed": (-math.pi - 1e-9, math.pi, "Give an angle, such as 1°."),
    "share": (-0.5, 1.0, "Give a share of the angle, such as 0.02."),
    "growth": (-0.5, 1.0, "Give a share of the radius, such as 0.01."),
}
"""Springback as (more than, at most, way out): no bend gives back more than half of what it is bent, and more than all
of it is a slip of the pen.
"""


def build(context: Context, step: BentStep, report: Report) -> TubePlan:
    """Raises Problem when the step is no round tube of straights and bends, or a number is none."""
    told = tube_of(context, step)
    report.messages = [_placed(m, told) for m in tube_bending.checked(told.held, told.outside, told.machine, told.cut)]
    report.figure = (
        f"{len(told.bends.rows)} bend{'s' if len(told.bends.rows) != 1 else ''}, cut "
        f"{format_length(told.cut, context.scope.unit, 5)}"
    )
    report.data = BentResult(bent=_shown(told))
    machine = bender_for(step)
    if machine is not None:
        why = refused(told, machine)
        report.messages += why
        if not why and not context.moving:  # what meets what is looked for when the hand rests
            told = replace(told, played=run(program_of(told), machine), played_on=machine.name)
            report.messages += met(told, machine)
    path = context.motion(step.tube, "tube").motion.path
    begins = Note(
        path.point(np.zeros(1))[0],
        -path.tangent(np.zeros(1))[0],
        told.outside,
        before="Ø",
        after=f" × {format_length(told.wall, context.scope.unit).split()[0]}",
    )
    return TubePlan(told, [*path_dimensions(path), begins])


def tube_of(context: Context, step: BentStep, flipped: bool | None = None) -> TubeTold:
    """What is told of the step's tube from its start, or from its end if ``flipped``, which is as the step has it where
    it is not given.

    Raises Problem.
    """
    swept = context.motion(step.tube, "tube")
    outside, wall = _tube(context, step, swept)
    try:
        bends = bends_of(swept.motion.path)
    except Problem as problem:
        raise problem.after("", field="tube") from None
    flipped = step.flipped if flipped is None else flipped
    if flipped:
        bends = tube_bending.reversed_bends(bends)
    give = give_of(context, step)
    first, last = context.value(step.trim_start), context.value(step.trim_end)
    trims = (last, first) if flipped else (first, last)
    machine = _machine(context, step, outside)
    stretch, oval = _share(context, step.stretch), _share(context, step.oval)
    cut = tube_bending.cut_length(bends, stretch, trims)
    tooling = _tooling(context, step)
    walls = tuple(tube_bending.walls_in(outside, wall, row.radius, tooling) for row in bends.rows)
    count = _count(context, step)
    cutting = None
    if machine.stock is not None and cut <= machine.stock:
        cutting = tube_bending.cutting_list([cut] * count, machine.stock, context.value(step.kerf))
    made = with_corrections(tube_bending.programmed(bends, give), corrections_of(context, step))
    _check_rows(context, step, len(bends.rows))
    for i, row in enumerate(made.rows):
        if row.angle <= 0 or row.feed < 0:
            raise Problem(
                "bad-program",
                f"Bend {i + 1} would be made by {degrees(row.angle)} after a feed of {mm(row.feed)}.",
                "Take back what corrects the program, or the springback.",
                field="corrections" if step.corrections else "fixed",
            )
    return TubeTold(
        outside,
        wall,
        bends,
        made,
        give,
        walls,
        flipped,
        swept.motion.length,
        cut,
        count,
        cutting,
        machine,
        trims,
        oval,
        tuple(step.long_turns),
    )


def _check_rows(context: Context, step: BentStep, count: int) -> None:
    """Raises Problem where something is said of bends that are not there, and for a tolerance that is none."""
    bends = f"{count} bend{'s' if count != 1 else ''}"
    if len(step.corrections) > count:
        raise Problem(
            "unknown-row",
            f"There are {len(step.corrections)} corrections, but {bends}.",
            "Take those of bends away that are not there.",
            field="corrections",
        )
    gone = next((k for k in step.long_turns if not 1 <= k <= count), None)
    if gone is not None:
        raise Problem(
            "unknown-row",
            f"Bend {gone} is to be turned to the longer way round, but there are {bends}.",
            "Take it away.",
            field="long_turns",
        )
    context.value(step.tolerance)  # whether it is needed as the step stands or not


def bender_for(step: BentStep) -> Bender | None:
    """The machine that the program is played on. Raises Problem when there is none of its name."""
    if step.own_machine is not None:
        return bender_of(step.own_machine)
    return None if step.machine is None else bender(step.machine)


def _machine(context: Context, step: BentStep, outside: float) -> Machine:
    """What the bender needs: what the step says, else what its machine has, else twice the diameter. Raises Problem."""
    clamp, grip = (context.given(v) for v in (step.clamp, step.grip))
    own = bender_for(step)
    usual = (CLAMP * outside,) * 2 if own is None else (own.clamp_length, own.grip + own.nearest)
    return Machine(
        usual[0] if clamp is None else clamp,
        usual[1] if grip is None else grip,
        context.given(step.longest_feed),
        context.given(step.stock),
    )


def _tooling(context: Context, step: BentStep) -> list[tuple[float, str]]:
    """What the tool has to have, up to how thin for how tight. Raises Problem when the rows do not rise."""
    rows = [(context.value(row.up_to), row.words) for row in step.tooling] or list(tube_bending.TOOLING)
    if any(a >= b for (a, _), (b, _) in itertools.pairwise(rows)):
        raise Problem(
            "tooling-order", "The rows of the tooling do not rise.", "Put the smallest number first.", field="tooling"
        )
    return rows


def corrections_of(context: Context, step: BentStep) -> list[Correction]:
    """What the step adds to the rows of its program. Raises Problem."""
    return [
        Correction(
            context.value(c.feed),
            context.value(c.turn),
            context.value(c.angle),
        )
        for c in step.corrections
    ]


def _tube(context: Context, step: BentStep, swept: HasMotion) -> tuple[float, float]:
    """The outside diameter of a round tube and its wall; of a bar its radius.

    Raises Problem when it is none of them.
    """
    name = context.names.get(step.tube, step.tube)
    region: Region | None = swept.regions[0] if len(swept.regions) == 1 else None
    circle = None if region is None else region.outer.edges[0].arc
    if (
        region is None
        or circle is None
        or region.sheet
        or any(e.arc is None for loop in region.loops for e in loop.edges)
        or len(region.holes) > 1
    ):
        raise Problem(
            "not-a-tube",
            f"“{name}” is not a round tube.",
            "Pick a sweep of a round section or of a ring.",
            field="tube",
            source=step.tube,
        )
    inner = region.holes[0].edges[0].arc if region.holes else None
    if any(math.hypot(*arc[:2]) > ON_PATH for arc in (circle, inner) if arc is not None):
        raise Problem(
            "not-a-tube",
            f"The middle of “{name}” does not lie on its path, by which its bends are told.",
            "Draw the section about the path.",
            field="tube",
            source=step.tube,
        )
    if not _rides_round(swept.motion):
        raise Problem(
            "not-a-tube",
            (
                f"“{name}” is not of one size and round all along: its section changes, or does not stand "
                "square to the path."
            ),
            "Pick a sweep that turns with its path, of one size.",
            field="tube",
            source=step.tube,
        )
    if swept.trimmed:
        raise Problem(
            "not-a-tube",
            f"Planes cut off the ends of “{name}”, so that it is not as long as its path.",
            "Take the planes away, and give here what is trimmed off.",
            field="tube",
            source=step.tube,
        )
    return 2 * circle[2], circle[2] - (inner[2] if inner is not None else 0.0)


def _rides_round(motion: Motion) -> bool:
    """Whether the section keeps its size and stands square to the path all along."""
    if motion.warp is not None:
        return False
    f = motion.frames(motion.path.samples())
    return float(np.abs(f.maps - np.eye(2)).max()) < ROUND and float(f.steepness.min()) > 1 - ROUND


def give_of(context: Context, step: BentStep) -> Springback:
    growth = context.value(step.growth)
    if len(step.tests) == 1:
        raise Problem(
            "test-bends",
            "One test bend alone does not tell the springback.",
            "Add a second one, or take it away.",
            field="tests",
        )
    if len(step.tests) == 2:
        first, second = ((context.value(t.bent), context.value(t.left)) for t in step.tests)
        found = replace(tube_bending.fitted_springback(first, second), growth=growth)
    else:
        found = Springback(context.value(step.fixed), context.value(step.share), growth)
    told = "tests" if len(step.tests) == 2 else None
    for field, value in (("fixed", found.fixed), ("share", found.share), ("growth", growth)):
        least, most, way_out = GIVES[field]
        if not least < value <= most:
            raise Problem(
                "bad-size",
                "So much springback cannot be.",
                way_out,
                field=field if field == "growth" else told or field,
            )
    return found


def _share(context: Context, value: Expression) -> float:
    found = context.value(value)
    if not 0 <= found < 1:
        raise Problem("bad-size", f"{found:g} is no share of one.", "Give a share such as 0.02.", field=field_of(value))
    return found


def _count(context: Context, step: BentStep) -> int:
    count = context.value(step.count)
    if abs(count - round(count)) > 1e-9 or not 1 <= count <= MOST_TUBES:
        raise Problem(
            "bad-count", f"{count:g} tubes cannot be cut.", f"Give a whole number up to {MOST_TUBES}.", field="count"
        )
    return round(count)


def _placed(message: Message, told: TubeTold) -> Message:
    """A message with its station counted from the path's start."""
    if "station" not in message.place:
        return message
    return replace(message, place={**message.place, "station": told.station(message.place["station"])})


def _shown(told: TubeTold) -> BentShown:
    need = max(told.walls, key=lambda w: w.thinness / w.tightness).tooling if told.walls else ""
    return {
        "rows": [
            {
                "feed": r.feed,
                "turn": math.degrees(r.turn),
                "angle": math.degrees(r.angle),
                "fed": m.feed,
                "turned": math.degrees(turn),
                "made": math.degrees(m.angle),
                "radius": r.radius,
                "start": min(told.station(r.start), told.station(r.end)),
                "end": max(told.station(r.start), told.station(r.end)),
            }
            for r, m, turn in zip(told.bends.rows, told.made.rows, told.turns, strict=True)
        ],
        "last": told.bends.last,
        "cut": told.cut,
        "bars": [] if told.cutting is None else [list(bar) for bar in told.cutting.bars],
        "waste": 0.0 if told.cutting is None else told.cutting.waste,
        "tooling": need,
        "machines": benders(),
        "tooling_rows": [
            {"up_to": None if most == math.inf else most, "words": words} for most, words in tube_bending.TOOLING
        ],
    }
