"""What a revolved body takes in."""

from __future__ import annotations

from typing import Literal

from leadline.core.marks import Angle
from leadline.core.sketch.model import Id
from leadline.recipe.inputs import BaseStep, ProfileRef, ResultMode


class RevolveStep(BaseStep):
    """A profile carried round an axis in its plane by ``angle``: the plane's own x or y, or a line of the profile's sketch."""

    kind: Literal["revolve"] = "revolve"
    profile: ProfileRef
    axis: Id = "y"
    angle: Angle = "360 deg"
    result: ResultMode = "separate"
