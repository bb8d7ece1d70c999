"""What an extrusion takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import BaseStep, EndFace, EndPlane, FaceRef, ProfileRef, ResultMode


class UntilPlane(EndPlane):
    """Up to a plane, or ``short`` of it, measured along the extrusion."""

    short: Annotated[Length, Field(title="Short of it")] = 0.0


class UntilFace(EndFace):
    """Up to the plane of a flat face, or ``short`` of it, measured along the extrusion."""

    short: Annotated[Length, Field(title="Short of it")] = 0.0


class UntilAll(Model):
    """Through all bodies that are there before."""

    by: Literal["all"] = "all"


class UntilSide(Model):
    """Up to a face of any shape that goes right through it; the ``length`` is what is shown before the build."""

    by: Literal["side"] = "side"
    face: FaceRef


Until = Annotated[UntilPlane | UntilFace | UntilAll | UntilSide, Field(discriminator="by")]


class ExtrudeStep(BaseStep):
    """A profile carried straight along its plane's normal, ``length`` forward and ``back`` behind.

    With ``until`` it goes up to there in place of the ``length``, also where that lies behind the profile. As a
    ``surface`` the profile's outlines are carried, open ones too. With a ``taper`` its sides lean outward by that
    angle, inward under zero, from the profile to its end.
    """

    kind: Literal["extrude"] = "extrude"
    profile: ProfileRef
    length: Annotated[Length, Field(title="Forward")]
    back: Annotated[Length, Field(title="Behind")] = 0.0
    until: Until | None = None
    taper: Annotated[Angle, Field(title="Outward by")] = 0.0
    surface: bool = False
    result: ResultMode = "separate"
