"""What a helix takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, Turns
from leadline.recipe.inputs import BaseStep, PitchPoint, PlaneRef, Points


class HelixStep(BaseStep):
    """A helix about the normal of a plane through its origin; it starts on the plane's x axis, turned by
    ``start_angle``.

    Two of ``pitch``, ``turns`` and ``height`` are given, the third is None; or ``turns`` and a ``pitch_table`` of
    pitches at turns, straight between them. With an ``end_radius`` it is conical, and flat if it has no height. With
    several ``starts`` the pitch is from one to the next, so that a turn advances by as many pitches; what is swept
    along it is made once for each.
    """

    kind: Literal["helix"] = "helix"
    plane: PlaneRef
    radius: Length
    pitch: Length | None = None
    turns: Turns | None = None
    height: Length | None = None
    end_radius: Annotated[Length | None, Field(title="Radius at the end")] = None
    pitch_table: Points[PitchPoint] | None = None
    starts: Annotated[int, Field(ge=1, le=100)] = 1
    start_angle: Angle = 0.0
    hand: Literal["right", "left"] = "right"
