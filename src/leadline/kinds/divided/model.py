"""What splitting a body takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, PlaneRef, ProfileRef


class PlaneCut(Model):
    """By a plane; ahead of it is where its normal points."""

    by: Literal["plane"] = "plane"
    plane: PlaneRef


class SurfaceCut(Model):
    """By the surfaces without thickness of an earlier step."""

    by: Literal["surface"] = "surface"
    surface: Annotated[Id, Refers("body")]


class DrawnCut(Model):
    """By the outlines of a sketch, open ones too, carried straight through the body."""

    by: Literal["drawing"] = "drawing"
    profile: ProfileRef


Cut = Annotated[PlaneCut | SurfaceCut | DrawnCut, Field(discriminator="by")]


class InPiece(Model):
    """A piece, by the middle that it had when it was chosen, mm: the nearest one is meant."""

    x: Length
    y: Length
    z: Length


class DividedStep(BaseStep):
    """The bodies of an earlier step split by a plane, a surface or a sketch; kept are the pieces on ``both`` sides, or
    on one, but for those ``dropped``.
    """

    kind: Literal["divided"] = "divided"
    body: Annotated[Id, Refers("body")]
    cut: Cut
    keep: Literal["both", "ahead", "behind"] = "both"
    dropped: Annotated[list[InPiece], Field(max_length=200)] = []
