"""What steps take in: planes, paths and profiles of earlier steps; a sweep's orientation, laws and rails."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self, TypeVar

from pydantic import Field, model_validator

from leadline.core.marks import Angle, Expr, Kept, Length, Plain, Refers, Turns
from leadline.core.sketch.model import Id, Model
from leadline.recipe.fields import bind

Name = Annotated[str, Field(min_length=1, max_length=80)]
Axis = Literal["X", "Y", "Z"]
Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]  # the SHA-256 of a file, in hexadecimal
KeptFile = Annotated[Digest, Kept("file")]
KeptDocument = Annotated[Digest, Kept("document")]


class BaseStep(Model):
    """What all steps have. Its quantities know their place once it is read."""

    id: Id
    name: Name
    off: bool = False
    kind: str

    @model_validator(mode="after")
    def _bound(self) -> Self:
        bind(self)
        return self


class PrincipalPlane(Model):
    kind: Literal["principal"] = "principal"
    plane: Literal["XY", "XZ", "YZ"]


class StepPlane(Model):
    """The plane that an earlier plane step gives."""

    kind: Literal["step"] = "step"
    step: Annotated[Id, Refers("plane")]


PlaneRef = Annotated[PrincipalPlane | StepPlane, Field(discriminator="kind")]


class SketchPointRef(Model):
    """A point of an earlier sketch, or its origin "O"."""

    step: Annotated[Id, Refers("any")]
    point: Id


class PathRef(Model):
    """The chain drawn in a sketch step, or only its named ``curves``; or the path that another step gives."""

    step: Annotated[Id, Refers("path")]
    curves: list[Id] | None = None


class ProfileRef(Model):
    """The closed regions of a sketch step, or only those that hold the named outer edges."""

    step: Annotated[Id, Refers("section")]
    regions: list[Id] | None = None


class SeenFace(Model):
    """Where a flat face lay when it was picked: a point on it and its outward normal, mm.

    A preview goes by it while the solid that has the face is not built, and it tells which face was meant should it be
    lost.
    """

    point: tuple[float, float, float]
    normal: tuple[float, float, float]


class FaceRef(Model):
    """A face of an earlier body, by its name: as a profile a flat one, to lie on a side."""

    step: Annotated[Id, Refers("body")]
    face: Annotated[str, Field(max_length=200)]
    seen: SeenFace | None = None


class EndPlane(Model):
    """At a plane."""

    by: Literal["plane"] = "plane"
    plane: PlaneRef


class EndFace(Model):
    """At the plane of a flat face."""

    by: Literal["face"] = "face"
    face: FaceRef


def edge_owners(edge: str) -> set[str]:
    """The steps whose faces meet at an edge of this name."""
    return {name.split("/")[0] for name in edge.split("&")}


class EdgeRef(Model):
    """An edge of an earlier body, by its name (the two faces that meet there); ``seen`` is a point of it where it lay
    when it was picked, mm.
    """

    step: Annotated[Id, Refers("body")]
    edge: Annotated[str, Field(max_length=400)]
    seen: tuple[float, float, float] | None = None

    @property
    def owners(self) -> set[str]:
        """The steps whose faces meet there."""
        return edge_owners(self.edge)


class SidesRef(Model):
    """The sides of an earlier sweep, extrusion or revolved body as a surface, or only the one along a section ``edge``.

    With ``off`` it is the surface that far outside of them, or inside if under zero.
    """

    step: Annotated[Id, Refers("body")]
    edge: Id | None = None
    off: Annotated[Length, Field(title="Distance off")] = 0.0


class Corner(Model):
    """A corner of a polygon, from the path."""

    x: Annotated[Length, Field(title="Corner x")]
    y: Annotated[Length, Field(title="Corner y")]


class QuickProfile(Model):
    """A section without a sketch, about the path.

    ``width`` is the diameter of a round or a ring (with its ``wall``), or the width across the flats of a hexagon;
    ``height`` the other size of a rectangle, a slot or an ellipse. A polygon has ``corners`` and no sizes.
    """

    quick: Literal["round", "ring", "rectangle", "slot", "ellipse", "hexagon", "polygon"]
    width: Length = 0.0
    height: Length = 0.0
    wall: Length = 0.0
    corners: Annotated[list[Corner], Field(max_length=200)] = []


class Bring(Model):
    """The profile is moved to the path's start and stood up square to it.

    ``anchor`` is what comes to stand on the path: the middle of the profile, the sketch's origin, or a point of the
    sketch. ``at`` is the station, ``turn`` an angle about the path.
    """

    anchor: Annotated[str, Field(max_length=60)] = "middle"
    at: Annotated[Length, Field(title="At station")] = 0.0
    turn: Annotated[Angle, Field(title="Turned by")] = 0.0


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
    step: Annotated[Id, Refers("any")]
    line: Id


Up = Annotated[UpAxis | UpPlane | UpLine, Field(discriminator="by")]


class AlongPath(Model):
    """Carried along a path: from where that passes nearest to what is carried to its station ``at``, a length or, with
    %, a share of it.

    It turns with the path, or is ``held`` parallel, and is turned about the path by ``turn``.
    """

    along: PathRef
    at: Annotated[Length, Field(title="Station")]
    held: bool = False
    turn: Angle = 0.0


class TablePoint(Model):
    """A value at a station, mm from the path's start."""

    at: Annotated[Length, Field(title="Station")]
    value: Expr


class RadiusPoint(TablePoint):
    """A radius at a station."""

    value: Annotated[Length, Field(title="Radius")]


class AnglePoint(TablePoint):
    """An angle at a station."""

    value: Annotated[Angle, Field(title="Angle")]


class TurnsPoint(TablePoint):
    """Turns done at a station."""

    value: Annotated[Turns, Field(title="Turns")]


class FactorPoint(TablePoint):
    """A factor at a station."""

    value: Annotated[Plain, Field(title="Times")]


class PitchPoint(Model):
    """A pitch at a number of turns."""

    at: Annotated[Turns, Field(title="Turn")]
    value: Annotated[Length, Field(title="Pitch")]


P = TypeVar("P")
Points = Annotated[list[P], Field(min_length=2, max_length=200)]


class PitchTwist(Model):
    """A turn for every ``pitch`` mm."""

    by: Literal["pitch"] = "pitch"
    pitch: Annotated[Length, Field(title="Length per turn")]


class TableTwist(Model):
    """Angles (degrees without a unit) at stations."""

    by: Literal["table"] = "table"
    points: Points[AnglePoint]
    smooth: bool = True


Twist = Turns | Annotated[PitchTwist | TableTwist, Field(discriminator="by")]


class RatioSize(Model):
    """Evenly from ``start`` to ``end`` times the drawn size."""

    by: Literal["ratio"] = "ratio"
    start: Annotated[Plain, Field(title="Times at the start")] = 1.0
    end: Annotated[Plain, Field(title="Times at the end")]


class TaperSize(Model):
    """The sides lean outward by ``angle`` against the path, measured where the section reaches farthest from it."""

    by: Literal["taper"] = "taper"
    angle: Annotated[Angle, Field(title="Outward lean")]


class TableSize(Model):
    """Factors on the drawn size at stations."""

    by: Literal["table"] = "table"
    points: Points[FactorPoint]
    smooth: bool = True


Size = Annotated[RatioSize | TaperSize | TableSize, Field(discriminator="by")]


class RailRef(Model):
    """A curve that the profile reaches; ``anchor`` is the point of the profile's sketch that lies on it, None the
    nearest.
    """

    path: Annotated[PathRef, Refers("rail")]
    anchor: Id | None = None


ResultMode = Literal["add", "cut", "common", "separate"]
Orientation = Literal["turning", "held", "upright", "lying", "facing"]


def combines(step: Any) -> bool:
    """Whether a step's ``result`` is put together with the bodies before it."""
    return bool(step.result != "separate")
