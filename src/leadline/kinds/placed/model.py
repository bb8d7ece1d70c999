"""What a placed part takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.expressions import MAX_NAME
from leadline.core.marks import Angle, Expr, Length, Newest
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, EndFace, EndPlane, KeptDocument, PrincipalPlane
from leadline.recipe.places import PathPlace


class OwnValue(Model):
    """A value in place of that which the other part has under this name."""

    name: Annotated[str, Field(max_length=MAX_NAME)]
    value: Expr


class PlacedStep(BaseStep):
    """Another part, placed so that its XY plane, or its step ``own`` with a plane, comes to lie ``at`` a plane, a face
    or a path.

    ``file`` is the SHA-256 of that part's document as it is kept. Where it ``follows`` the part of the list that
    ``part`` names, the newest state of that one is built in place of it. It is turned over where it is ``over``, then
    moved by ``x``, ``y`` and ``out`` as seen on the plane, and turned by ``turn`` about its normal. ``values`` are its
    own.
    """

    kind: Literal["placed"] = "placed"
    part: Annotated[str, Field(max_length=36), Newest(kept="file", when="follows")] = ""
    file: KeptDocument
    title: Annotated[str, Field(max_length=120)] = ""
    follows: bool = True
    values: Annotated[list[OwnValue], Field(max_length=200)] = []
    own: Id | None = None
    at: Annotated[EndPlane | EndFace | PathPlace, Field(discriminator="by")] = EndPlane(
        plane=PrincipalPlane(plane="XY")
    )
    over: bool = False
    x: Annotated[Length, Field(title="Along x")] = 0.0
    y: Annotated[Length, Field(title="Along y")] = 0.0
    out: Annotated[Length, Field(title="Out of the plane")] = 0.0
    turn: Angle = 0.0
