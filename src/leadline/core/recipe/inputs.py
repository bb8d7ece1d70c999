"""What steps take in: planes, paths and profiles of earlier steps; a sweep's orientation, laws and rails."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.sketch.model import Expr, Id, Model

Name = Annotated[str, Field(min_length=1, max_length=80)]
Axis = Literal["X", "Y", "Z"]


class BaseStep(Model):
    id: Id
    name: Name
    off: bool = False


class PrincipalPlane(Model):
    kind: Literal["principal"] = "principal"
    plane: Literal["XY", "XZ", "YZ"]


class StepPlane(Model):
    """The plane that an earlier plane step gives."""

    kind: Literal["step"] = "step"
    step: Id


PlaneRef = Annotated[PrincipalPlane | StepPlane, Field(discriminator="kind")]


class SketchPointRef(Model):
    """A point of an earlier sketch, or its origin "O"."""

    step: Id
    point: Id


class PathRef(Model):
    """The chain drawn in a sketch step, or only its named ``curves``; or the path that another step gives."""

    step: Id
    curves: list[Id] | None = None


class ProfileRef(Model):
    """The closed regions of a sketch step, or only those that hold the named outer edges."""

    step: Id
    regions: list[Id] | None = None


class FaceRef(Model):
    """A face of an earlier body, by its name: as a profile a flat one, to lie on a side."""

    step: Id
    face: Annotated[str, Field(max_length=200)]


class Corner(Model):
    """A corner of a polygon, from the path."""

    x: Expr
    y: Expr


class QuickProfile(Model):
    """A section without a sketch, about the path.

    ``width`` is the diameter of a round or a ring (with its ``wall``), or the width across the flats of a hexagon; ``height``
    the other size of a rectangle, a slot or an ellipse. A polygon has ``corners`` and no sizes.
    """

    quick: Literal["round", "ring", "rectangle", "slot", "ellipse", "hexagon", "polygon"]
    width: Expr = 0.0
    height: Expr = 0.0
    wall: Expr = 0.0
    corners: Annotated[list[Corner], Field(max_length=200)] = []


class Bring(Model):
    """The profile is moved to the path's start and stood up square to it.

    ``anchor`` is what comes to stand on the path: the middle of the profile, the sketch's origin, or a point of the sketch.
    ``at`` is the station, ``turn`` an angle about the path.
    """

    anchor: Annotated[str, Field(max_length=60)] = "middle"
    at: Expr = 0.0
    turn: Expr = 0.0


class UpAxis(Model):
    by: Literal["axis"] = "axis"
    axis: Axis


class UpPlane(Model):
    """Along a plane's normal."""

    by: Literal["plane"] = "plane"
    plane: PlaneRef


class UpLine(Model):
    """Along a straight line of an earlier sketch."""

    by: Literal["line"] = "line"
    step: Id
    line: Id


Up = Annotated[UpAxis | UpPlane | UpLine, Field(discriminator="by")]


def up_references(up: Up | None) -> list[tuple[str, str]]:
    """The steps that say which way is up, as (field, step id)."""
    if isinstance(up, UpLine):
        return [("up", up.step)]
    return [("up", up.plane.step)] if isinstance(up, UpPlane) and isinstance(up.plane, StepPlane) else []


class TablePoint(Model):
    """A value at a station, mm from the path's start."""

    at: Expr
    value: Expr


Points = Annotated[list[TablePoint], Field(min_length=2, max_length=200)]


class PitchTwist(Model):
    """A turn for every ``pitch`` mm."""

    by: Literal["pitch"] = "pitch"
    pitch: Expr


class TableTwist(Model):
    """Angles (degrees without a unit) at stations."""

    by: Literal["table"] = "table"
    points: Points
    smooth: bool = True


Twist = Expr | Annotated[PitchTwist | TableTwist, Field(discriminator="by")]


class RatioSize(Model):
    """Evenly from ``start`` to ``end`` times the drawn size."""

    by: Literal["ratio"] = "ratio"
    start: Expr = 1.0
    end: Expr


class TaperSize(Model):
    """The sides lean outward by ``angle`` against the path, measured where the section reaches farthest from it."""

    by: Literal["taper"] = "taper"
    angle: Expr


class TableSize(Model):
    """Factors on the drawn size at stations."""

    by: Literal["table"] = "table"
    points: Points
    smooth: bool = True


Size = Annotated[RatioSize | TaperSize | TableSize, Field(discriminator="by")]


class RailRef(Model):
    """A curve that the profile reaches; ``anchor`` is the point of the profile's sketch that lies on it, None the nearest."""

    path: PathRef
    anchor: Id | None = None


ResultMode = Literal["add", "cut", "common", "separate"]
Orientation = Literal["turning", "held", "upright", "lying", "facing"]
