"""The step that gives an arc, an ellipse or a curve by formula in space."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.recipe.inputs import BaseStep, PlaneRef, StepPlane
from leadline.core.recipe.places import Place, place_references
from leadline.core.sketch.model import Expr, Model


class ThreePoints(Model):
    """The arc from ``start`` through ``via`` to ``end``, or the ``whole`` circle through them."""

    by: Literal["three"] = "three"
    start: Place
    via: Place
    end: Place
    whole: bool = False


class RoundAbout(Model):
    """An arc or an ellipse about a plane's origin: ``radius`` along the plane's x axis, ``other`` along y if it is another.

    It begins at ``start_angle`` from the x axis and goes round by ``sweep``, clockwise if that is under zero; a whole turn closes it.
    """

    by: Literal["round"] = "round"
    plane: PlaneRef
    radius: Expr
    other: Expr | None = None
    start_angle: Expr = 0.0
    sweep: Expr = 360.0


class Formula(Model):
    """x, y and z (along a plane's x, y and normal, from its origin) as expressions of t, which goes from ``first`` to ``last``."""

    by: Literal["formula"] = "formula"
    plane: PlaneRef
    x: Expr
    y: Expr
    z: Expr
    first: Expr = 0.0
    last: Expr = 1.0


class CurveStep(BaseStep):
    """A curve in space: an arc through three points, an arc or ellipse about a plane's origin, or one by formula."""

    kind: Literal["curve"] = "curve"
    shape: Annotated[ThreePoints | RoundAbout | Formula, Field(discriminator="by")]


def curve_references(step: CurveStep) -> list[tuple[str, str]]:
    """The steps that it uses, as (field, step id)."""
    shape = step.shape
    if isinstance(shape, ThreePoints):
        return place_references((shape.start, shape.via, shape.end))
    return [("plane", shape.plane.step)] if isinstance(shape.plane, StepPlane) else []
