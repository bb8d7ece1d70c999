"""What a coil about another path takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import ZERO_OR_MORE, Angle, Length, Plain, Turns
from leadline.recipe.inputs import BaseStep, PathRef, Points, ProfileRef, RadiusPoint, TurnsPoint


class WoundStep(BaseStep):
    """A coil about another path, at ``radius`` (to ``end_radius``) or along the outline of a ``former``, ``standoff``
    off it.

    ``radii`` is a table of radii at stations instead. Without a radius it lies on the round tube that the path belongs
    to. ``turns`` or ``pitch`` along the path is given, or ``turn_table``: turns at stations. A former is drawn about
    its sketch's origin, which comes to stand on the path; by its end it has grown to ``former_end`` times its size. The
    turns are ``even`` along the axis, or so that the coil crosses the tube at an even angle, without corners where
    bends begin.
    """

    kind: Literal["wound"] = "wound"
    path: PathRef
    radius: Length | None = None
    end_radius: Annotated[Length | None, Field(title="Radius at the end")] = None
    radii: Points[RadiusPoint] | None = None
    former: ProfileRef | None = None
    former_end: Annotated[Plain, Field(title="Size at the end")] = 1.0
    standoff: Annotated[Length, ZERO_OR_MORE] = 0.0
    turns: Turns | None = None
    pitch: Annotated[Length | None, Field(title="Length per turn")] = None
    turn_table: Points[TurnsPoint] | None = None
    even: Literal["axis", "angle"] = "axis"
    start_angle: Angle = 0.0
    hand: Literal["right", "left"] = "right"
