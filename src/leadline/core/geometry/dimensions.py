"""Sizes that matter on a drawing, each where it is in space."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array


@dataclass(frozen=True)
class Span:
    """The distance (mm) from a place ``a`` (3,) to a place ``b`` (3,); ``before`` stands before the number, and
    ``said``, if anything, in place of it.

    An ``outermost`` one is between faces or outlines that nothing reaches beyond: the lines out to it begin at the edge
    of the view.
    """

    a: Array
    b: Array
    before: str = ""
    said: str = ""
    outermost: bool = False

    @property
    def size(self) -> float:
        return float(np.linalg.norm(self.b - self.a))


@dataclass(frozen=True)
class Note:
    """A ``size`` (mm) that is said beside a place ``at`` (3,), with a line to it that comes from the direction ``away``
    (3,).

    It is right where it is seen along ``facing`` (3,), from everywhere if that is None; ``before`` and ``after`` stand
    about the number.
    """

    at: Array
    away: Array
    size: float
    facing: Array | None = None
    before: str = ""
    after: str = ""


Dimension = Span | Note
