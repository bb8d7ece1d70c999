"""What a sketch is made of, as it stands in a part file.

Points are shared: two lines that meet hold the same point id. Coordinates are mm in the sketch
plane and are the state as last solved; they decide sides, signs and which way round an arc goes.
"""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, model_validator

from leadline.core.marks import Length, Refers, When
from leadline.limits import SKETCH_POINTS

Id = Annotated[str, Field(pattern=r"^[A-Za-z][A-Za-z0-9_-]{0,31}$")]
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e7, le=1e7)]
Size = Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e7)]

ORIGIN = "O"
X_AXIS = "X"
Y_AXIS = "Y"


class Model(BaseModel):
    """Part file models refuse what they do not know."""

    model_config = ConfigDict(extra="forbid")


class Point(Model):
    id: Id
    x: Number
    y: Number


class Line(Model):
    kind: Literal["line"] = "line"
    id: Id
    start: Id
    end: Id
    construction: bool = False


class Arc(Model):
    """Runs counter-clockwise from ``start`` to ``end`` about ``center``."""

    kind: Literal["arc"] = "arc"
    id: Id
    center: Id
    start: Id
    end: Id
    construction: bool = False


class Circle(Model):
    kind: Literal["circle"] = "circle"
    id: Id
    center: Id
    radius: Size
    construction: bool = False


class Ellipse(Model):
    """``major`` is a point at the end of the major half-axis, ``minor`` the other half-axis in mm.

    With ``start`` and ``end`` it is an elliptical arc that runs counter-clockwise between them.
    """

    kind: Literal["ellipse"] = "ellipse"
    id: Id
    center: Id
    major: Id
    minor: Size
    start: Id | None = None
    end: Id | None = None
    construction: bool = False

    @model_validator(mode="after")
    def _both_ends_or_none(self) -> Ellipse:
        if (self.start is None) != (self.end is None):
            raise ValueError("an elliptical arc has both a start and an end")
        return self


class Spline(Model):
    """A C2 cubic through its points.

    An end leaves towards its handle, the more strongly the farther away the handle is; without one the end
    has no curvature. ``knots`` (one per point, rising from 0) are kept once drawn: recomputing them after a
    solve would turn the end tangents.
    """

    kind: Literal["spline"] = "spline"
    id: Id
    points: Annotated[list[Id], Field(min_length=2, max_length=200)]
    knots: list[Annotated[float, Field(allow_inf_nan=False, ge=0)]] | None = None
    start_handle: Id | None = None
    end_handle: Id | None = None
    construction: bool = False


class ControlSpline(Model):
    """A cubic with even clamped knots (a parabola with three points) that its control points pull on.

    It ends at its first and last points and leaves them along its first and last legs.
    """

    kind: Literal["control_spline"] = "control_spline"
    id: Id
    points: Annotated[list[Id], Field(min_length=3, max_length=200)]
    construction: bool = False


class Smoothed(Model):
    """One closed C2 spline that stays within ``tolerance`` of the closed outline of lines and arcs ``of``.

    It has no points of its own: it follows the outline.
    """

    kind: Literal["smoothed"] = "smoothed"
    id: Id
    of: Annotated[list[Id], Field(min_length=1, max_length=400)]
    tolerance: Size
    construction: bool = False


Entity = Annotated[Line | Arc | Circle | Ellipse | Spline | ControlSpline | Smoothed, Field(discriminator="kind")]

ConstraintKind = Literal[
    "coincident",
    "horizontal",
    "vertical",
    "parallel",
    "perpendicular",
    "tangent",
    "smooth",
    "equal",
    "concentric",
    "symmetric",
    "collinear",
    "fix",
    "midpoint",
    "on_curve",
    "on_path",
]
DimensionKind = Literal[
    "length",
    "distance",
    "horizontal_distance",
    "vertical_distance",
    "radius",
    "diameter",
    "angle",
    "curve_length",
    "minor_radius",
]
LENGTHS = tuple(kind for kind in get_args(DimensionKind) if kind != "angle")


class Constraint(Model):
    """A geometric relation between points and entities named in ``items``.

    ``on_path`` holds a point where the path of the step ``path`` crosses the sketch plane.
    """

    id: Id
    kind: ConstraintKind
    items: Annotated[list[Id], Field(min_length=1, max_length=4)]
    path: Annotated[Id, Refers("path")] | None = None


class Dimension(Model):
    """A measured size. A driving one is held; a reference one is only shown.

    ``at`` is where the figure stands, relative to the middle of what it measures. A distance to a circle is
    measured to its ``side``.
    """

    id: Id
    kind: DimensionKind
    items: Annotated[list[Id], Field(min_length=1, max_length=2)]
    value: Annotated[Length, When("kind", LENGTHS)] = 0.0
    driving: bool = True
    at: tuple[Number, Number] | None = None
    side: Literal["near", "far"] = "near"


class Projection(Model):
    """Reference geometry that follows something outside: ``points`` (and sizes of ``entities``) stand where it projects
    to.

    The source is a step and, in it, a point or curve of its sketch, its whole path, or a face or an edge of its
    body by name.
    """

    id: Id
    source: Annotated[Id, Refers("any")]
    what: Literal["point", "curve", "path", "face", "edge"]
    item: Annotated[str, Field(max_length=400)] = ""
    points: Annotated[list[Id], Field(max_length=2000)]
    entities: Annotated[list[Id], Field(max_length=400)] = []


class Sketch(Model):
    points: Annotated[list[Point], Field(max_length=SKETCH_POINTS)] = []
    entities: Annotated[list[Entity], Field(max_length=SKETCH_POINTS)] = []
    constraints: Annotated[list[Constraint], Field(max_length=5000)] = []
    dimensions: Annotated[list[Dimension], Field(max_length=2000)] = []
    projections: Annotated[list[Projection], Field(max_length=400)] = []


def entity_points(entity: Entity) -> list[str]:
    """The ids of the points that an entity stands on, centre first."""
    if isinstance(entity, Line):
        return [entity.start, entity.end]
    if isinstance(entity, Arc):
        return [entity.center, entity.start, entity.end]
    if isinstance(entity, Circle):
        return [entity.center]
    if isinstance(entity, Ellipse):
        return [p for p in (entity.center, entity.major, entity.start, entity.end) if p is not None]
    if isinstance(entity, Spline):
        return [*entity.points, *(p for p in (entity.start_handle, entity.end_handle) if p is not None)]
    return list(entity.points) if isinstance(entity, ControlSpline) else []


def end_points(entity: Entity) -> tuple[str, str] | None:
    """First and last point of an open entity; None for a closed one."""
    if isinstance(entity, Spline | ControlSpline):
        return entity.points[0], entity.points[-1]
    if isinstance(entity, Circle | Smoothed) or entity.start is None or entity.end is None:
        return None
    return entity.start, entity.end
