"""What a revolved body takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle
from leadline.core.sketch.model import Id
from leadline.recipe.inputs import BaseStep, EndFace, EndPlane, ProfileRef, ResultMode


class RevolveStep(BaseStep):
    """A profile carried round an axis in its plane by ``angle``: the plane's own x or y, or a line of the profile's
    sketch.

    With ``until`` it turns as far as to a plane or a flat face through its axis, in place of the ``angle``.
    """

    kind: Literal["revolve"] = "revolve"
    profile: ProfileRef
    axis: Id = "y"
    angle: Angle = "360 deg"
    until: Annotated[EndPlane | EndFace, Field(discriminator="by")] | None = None
    result: ResultMode = "separate"
