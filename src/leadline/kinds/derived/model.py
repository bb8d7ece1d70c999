"""What a path made of another takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, When
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import AlongPath, Axis, BaseStep, PathRef, PlaneRef


class PieceOf(Model):
    """The stretch between two stations: lengths or, by ``measure``, shares of the length; counted ``from_end`` if
    wanted.

    Without a station it begins or ends with the path, or where a plane cuts it: the first and the last crossing.
    """

    by: Literal["piece"] = "piece"
    start: Annotated[Length | None, When("measure", ("length",)), Field(title="From")] = None
    end: Annotated[Length | None, When("measure", ("length",)), Field(title="To")] = None
    measure: Literal["length", "ratio"] = "length"
    from_end: bool = False
    cut_start: PlaneRef | None = None
    cut_end: PlaneRef | None = None


class Beside(Model):
    """At a ``distance``, in the direction at an ``angle`` about the path: 0 in the plane of a flat one, 90 degrees
    square to it.
    """

    by: Literal["beside"] = "beside"
    distance: Length
    angle: Angle = 0.0


class Mirrored(Model):
    by: Literal["mirror"] = "mirror"
    plane: PlaneRef


class Carried(Model):
    """Turned by ``turn`` about an axis through the origin, then moved by dx, dy, dz."""

    by: Literal["move"] = "move"
    dx: Annotated[Length, Field(title="Along X")] = 0.0
    dy: Annotated[Length, Field(title="Along Y")] = 0.0
    dz: Annotated[Length, Field(title="Along Z")] = 0.0
    axis: Axis = "Z"
    turn: Angle = 0.0


class CopiedAlong(AlongPath):
    """Carried along another path."""

    by: Literal["along"] = "along"


class DerivedStep(BaseStep):
    """A path made of another: a piece of it, one beside it, its mirror image, or a copy that is moved, or carried along
    a path.
    """

    kind: Literal["derived"] = "derived"
    path: PathRef
    how: Annotated[PieceOf | Beside | Mirrored | Carried | CopiedAlong, Field(discriminator="by")]
