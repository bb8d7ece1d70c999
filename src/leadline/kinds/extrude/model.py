"""What an extrusion takes in."""

from __future__ import annotations

from typing import Literal

from leadline.core.marks import Length
from leadline.recipe.inputs import BaseStep, ProfileRef, ResultMode


class ExtrudeStep(BaseStep):
    """A profile carried straight along its plane's normal, ``length`` forward and ``back`` behind.

    As a ``surface`` the profile's outlines are carried, open ones too.
    """

    kind: Literal["extrude"] = "extrude"
    profile: ProfileRef
    length: Length
    back: Length = 0.0
    surface: bool = False
    result: ResultMode = "separate"
