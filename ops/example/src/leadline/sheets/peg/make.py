"""The sheet, made from what its step gave."""

from __future__ import annotations

from collections.abc import Sequence

from leadline.core.geometry.dimensions import Dimension
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep
from leadline.sheets.peg.model import PegLine, PegSheet


def make(context: Context, step: BaseStep) -> PegSheet:
    """Lengths in mm.

    Raises:
        Problem: the step is no sweep.
    """
    swept = context.motion(step.id, "step")
    pieces = swept.motion.path.pieces
    return PegSheet(
        rows=[PegLine(number=i + 1, length=piece.length) for i, piece in enumerate(pieces)],
        length=swept.motion.path.length,
        width=max(swept.extent),
    )


def dimensions(context: Context, step: BaseStep) -> Sequence[Dimension]:  # noqa: ARG001  # as of every sheet
    """The sizes that its drawings show: none."""
    return []
