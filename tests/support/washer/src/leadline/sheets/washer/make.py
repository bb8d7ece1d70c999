"""The sheet, made from what its step gave."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol, runtime_checkable

from leadline.core.geometry.dimensions import Dimension
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep
from leadline.sheets.washer.model import WasherSheet


@runtime_checkable
class HasRing(Protocol):
    """It is a flat ring."""

    rim: float
    thickness: float


def make(context: Context, step: BaseStep) -> WasherSheet:
    """Lengths in mm.

    Raises:
        Problem: the step is no washer.
    """
    ring = context.give(step.id, HasRing, "step", "a washer")
    return WasherSheet(rows=[], rim=ring.rim, thickness=ring.thickness)


def dimensions(context: Context, step: BaseStep) -> Sequence[Dimension]:  # noqa: ARG001  # as of every sheet
    """The sizes that its drawings show: none."""
    return []
