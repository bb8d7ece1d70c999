"""The bend sheet, made from what the bending of a tube tells."""

from __future__ import annotations

import math
from collections.abc import Sequence

from leadline.core.geometry.dimensions import Dimension
from leadline.core.trades.tube_bending import ovality
from leadline.core.trades.tube_told import TubeTold
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep
from leadline.recipe.products import HasDimensions, HasTube
from leadline.sheets.tube.model import TubeBendLine, TubeSheet


def make(context: Context, step: BaseStep) -> TubeSheet:
    """Lengths in mm, angles in degrees, shares in percent.

    Raises:
        Problem: the step tells of no tube that is bent.
    """
    told = context.give(step.id, HasTube, "step", "a tube that is bent").tube
    tightest = min(told.walls, key=lambda w: w.tightness, default=None)
    hardest = max(told.walls, key=lambda w: w.thinness / w.tightness, default=None)
    bent = sum(r.radius * r.angle for r in told.bends.rows)
    return TubeSheet(
        rows=[_line(told, i) for i in range(len(told.bends.rows))],
        outside=told.outside,
        wall=told.wall,
        told_from="its end" if told.flipped else "its start",
        last=told.bends.last,
        straight=told.length - bent,
        bent=bent,
        length=told.length,
        cut=told.cut,
        fixed=math.degrees(told.give.fixed),
        share=told.give.share,
        growth=told.give.growth,
        clamp=told.machine.clamp,
        grip=told.machine.grip,
        stretched=None if tightest is None else 100 * tightest.strain,
        tightness=None if tightest is None else tightest.tightness,
        thinness=told.outside / told.wall,
        tooling="" if hardest is None else hardest.tooling,
        count=told.count,
        bars=None if told.cutting is None else len(told.cutting.bars),
        waste=None if told.cutting is None else told.cutting.waste,
        machine=told.played_on or None,
        seconds=None if told.played is None else round(told.played.seconds, 1),
        met=None
        if told.played is None
        else "; ".join(dict.fromkeys("itself" if h.part == "tube" else f"the {h.part}" for h in told.played.hits))
        or "nothing",
        source="constant volume of the wall",
    )


def _line(told: TubeTold, i: int) -> TubeBendLine:
    row, made, walls = told.bends.rows[i], told.made.rows[i], told.walls[i]
    differs = any(
        (m.feed, t) != (r.feed, r.turn) for r, m, t in zip(told.bends.rows, told.made.rows, told.turns, strict=True)
    )
    start, end = sorted((told.station(row.start), told.station(row.end)))
    return TubeBendLine(
        number=i + 1,
        feed_by=made.feed if differs else None,
        turn_by=math.degrees(told.turns[i]) if differs else None,
        feed=row.feed,
        turn=math.degrees(row.turn),
        angle=math.degrees(row.angle),
        leg=told.bends.leg(i),
        made=math.degrees(made.angle),
        radius=row.radius,
        tool=made.radius,
        outer=walls.outer,
        inner=walls.inner,
        oval=100 * ovality(told.outside, row.radius, told.oval),
        start=start,
        end=end,
    )


def dimensions(context: Context, step: BaseStep) -> Sequence[Dimension]:
    """Those that the step tells. Raises Problem when it tells none."""
    return context.give(step.id, HasDimensions, "step", "sizes to be drawn").dimensions
