"""The sheet of bends, made from a path."""

from __future__ import annotations

import math
from collections.abc import Sequence

from leadline.core.geometry.dimensions import Dimension
from leadline.core.paths.bends import bends_of
from leadline.core.paths.path_dimensions import path_dimensions
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep, PathRef
from leadline.sheets.bends.model import BendLine, BendsSheet


def make(context: Context, step: BaseStep) -> BendsSheet:
    """Lengths in mm, angles in degrees.

    Raises:
        Problem: the step has no path, or one that is not of straight runs and bends.
    """
    path = context.path(PathRef(step=step.id))
    bends = bends_of(path)
    rows = [
        BendLine(
            number=i + 1,
            feed=r.feed,
            turn=math.degrees(r.turn),
            angle=math.degrees(r.angle),
            leg=bends.leg(i),
            radius=r.radius,
            start=r.start,
            end=r.end,
        )
        for i, r in enumerate(bends.rows)
    ]
    return BendsSheet(rows=rows, last=bends.last, length=path.length, bent=sum(r.radius * r.angle for r in bends.rows))


def dimensions(context: Context, step: BaseStep) -> Sequence[Dimension]:
    """From corner to corner, and what the bends are. Raises Problem when the step has no path."""
    return path_dimensions(context.path(PathRef(step=step.id)))
