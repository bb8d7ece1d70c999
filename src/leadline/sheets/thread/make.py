"""The sheet of a thread, made from what its step tells of it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from leadline.core.geometry.dimensions import Dimension
from leadline.core.trades.thread_limits import Limits
from leadline.core.trades.thread_told import SOURCES, ThreadTold
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep
from leadline.recipe.products import HasDimensions, HasThread
from leadline.sheets.thread.model import DiameterLine, ThreadSheet


def make(context: Context, step: BaseStep) -> ThreadSheet:
    """Lengths in mm, angles in degrees.

    Raises:
        Problem: the step is no thread, or it is not built yet.
    """
    told = context.give(step.id, HasThread, "step", "a thread").thread
    holds = "yes" if told.locks_itself else "no"
    return ThreadSheet(
        rows=_diameters(told),
        thread=told.title(context.scope.unit),
        where="a bar" if told.side == "outside" else "a hole",
        hand="left" if told.left else "right",
        pitch=told.pitch,
        lead=told.lead,
        starts=told.starts,
        length=told.length,
        turns=told.turns,
        face=told.face_diameter,
        depth=told.groove_depth,
        lead_angle=math.degrees(told.lead_angle),
        locks_itself=f"{holds} (µ {told.friction:g})",
        tap_drill=told.tap_drill,
        wire=told.wire,
        over_wires=told.over_wires,
        stress_area=told.stress_area,
        engagement=told.engagement,
        turn_volume=told.took,
        mate=told.mate or None,
        least_clearance=None if told.clearance is None else told.clearance[0],
        most_clearance=None if told.clearance is None else told.clearance[1],
        source=SOURCES[told.form],
    )


def _diameters(told: ThreadTold) -> list[DiameterLine]:
    if told.sizes is None:
        return []
    size, bolt = told.sizes, told.side == "outside"
    crest = None if told.limits is None else told.limits.crest
    pitch = None if told.limits is None else told.limits.pitch_diameter
    return [
        _line("major d" if bolt else "major D", size.major if bolt else size.major_nut, crest if bolt else None),
        _line("pitch d2" if bolt else "pitch D2", size.pitch_diameter, pitch),
        _line("minor d3" if bolt else "minor D1", size.minor_bolt if bolt else size.minor_nut, None if bolt else crest),
    ]


def _line(name: str, basic: float, limits: Limits | None) -> DiameterLine:
    if limits is None:
        return DiameterLine(name=name, basic=basic, most=None, least=None, mean=None)
    return DiameterLine(name=name, basic=basic, most=limits.most, least=limits.least, mean=limits.mean)


def dimensions(context: Context, step: BaseStep) -> Sequence[Dimension]:
    """Those that the step tells. Raises Problem when it tells none."""
    return context.give(step.id, HasDimensions, "step", "sizes to be drawn").dimensions
