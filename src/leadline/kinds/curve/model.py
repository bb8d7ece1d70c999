"""The step that gives an arc, an ellipse or a curve by formula in space."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, LengthFormula, Plain
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import BaseStep, PlaneRef
from leadline.recipe.places import Place


class ThreePoints(Model):
    """The arc from ``start`` through ``via`` to ``end``, or the ``whole`` circle through them."""

    by: Literal["three"] = "three"
    start: Place
    via: Place
    end: Place
    whole: bool = False


class RoundAbout(Model):
    """An arc or an ellipse about a plane's origin: ``radius`` along the plane's x axis, ``other`` along y if it is
    another.

    It begins at ``start_angle`` from the x axis and goes round by ``sweep``, clockwise if that is under zero; a whole
    turn closes it.
    """

    by: Literal["round"] = "round"
    plane: PlaneRef
    radius: Annotated[Length, Field(title="Radius along x")]
    other: Annotated[Length | None, Field(title="Radius along y")] = None
    start_angle: Angle = 0.0
    sweep: Annotated[Angle, Field(title="Angle round")] = 360.0


class Formula(Model):
    """x, y and z (along a plane's x, y and normal, from its origin) as expressions of t, which goes from ``first`` to
    ``last``.
    """

    by: Literal["formula"] = "formula"
    plane: PlaneRef
    x: LengthFormula
    y: LengthFormula
    z: LengthFormula
    first: Annotated[Plain, Field(title="t from")] = 0.0
    last: Annotated[Plain, Field(title="t to")] = 1.0


class CurveStep(BaseStep):
    """A curve in space: an arc through three points, an arc or ellipse about a plane's origin, or one by formula."""

    kind: Literal["curve"] = "curve"
    shape: Annotated[ThreePoints | RoundAbout | Formula, Field(discriminator="by")]
