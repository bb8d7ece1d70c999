"""What a plane placed by numbers, other planes, points, lines or faces takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, Plain, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import AlongPath, BaseStep, EdgeRef, PlaneRef, SeenFace, SketchPointRef


class OffsetBy(Model):
    """Beside another plane, ``distance`` along its normal."""

    by: Literal["offset"] = "offset"
    plane: PlaneRef
    distance: Length


class ThroughPoints(Model):
    """Through three points, the first its origin, the second on its x axis."""

    by: Literal["points"] = "points"
    points: Annotated[list[SketchPointRef], Field(min_length=3, max_length=3)]


class ThroughLine(Model):
    """Through a straight line of an earlier sketch, turned by ``angle`` out of that sketch's plane."""

    by: Literal["line"] = "line"
    step: Annotated[Id, Refers("any")]
    line: Id
    angle: Angle = 90.0


class Midway(Model):
    """Midway between two parallel planes, or in the middle of the angle between two that cross."""

    by: Literal["midway"] = "midway"
    first: PlaneRef
    second: PlaneRef


class OnFace(Model):
    """On a flat face of an earlier step's body, by the face's name (its origin); with its origin in the ``middle`` of
    the face, or where the face has it.
    """

    by: Literal["face"] = "face"
    step: Annotated[Id, Refers("body")]
    face: Annotated[str, Field(max_length=200)]
    seen: SeenFace | None = None
    middle: bool = False


class OnRound(Model):
    """In a round edge of an earlier body, about its centre, facing out of the flat face that it bounds, or ``over`` the
    other way.
    """

    by: Literal["round"] = "round"
    edge: EdgeRef
    over: bool = False


class ByNormal(Model):
    """Through a point, square to a direction.

    ``along`` is what its x axis follows as nearly as it can; null: the X axis, or Y where the normal lies along X.
    """

    by: Literal["normal"] = "normal"
    x: Length = 0.0
    y: Length = 0.0
    z: Length = 0.0
    normal: tuple[Plain, Plain, Plain]
    along: tuple[Plain, Plain, Plain] | None = None


class Turned(Model):
    """Another plane turned by ``angle`` about its own x or y axis."""

    by: Literal["angle"] = "angle"
    plane: PlaneRef
    axis: Literal["x", "y"] = "x"
    angle: Angle = 30.0


class CarriedPlane(AlongPath):
    """Another plane carried along a path, by its origin."""

    by: Literal["along"] = "along"
    plane: PlaneRef


class DatumPlane(BaseStep):
    """A plane placed by numbers, other planes, points, lines or faces."""

    kind: Literal["datum"] = "datum"
    how: Annotated[
        OffsetBy | ThroughPoints | ThroughLine | Midway | OnFace | OnRound | ByNormal | Turned | CarriedPlane,
        Field(discriminator="by"),
        Refers("plane"),
    ]
