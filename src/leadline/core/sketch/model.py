"""What a sketch is made of, as it stands in a part file.

Points are shared: two lines that meet hold the same point id. Coordinates are mm in the sketch
plane and are the state as last solved; they decide sides, signs and which way round an arc goes.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Id = Annotated[str, Field(pattern=r"^[A-Za-z][A-Za-z0-9_-]{0,31}$")]
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e7, le=1e7)]
Size = Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e7)]
Expr = Annotated[float, Field(allow_inf_nan=False)] | Annotated[str, Field(max_length=300)]

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


class Spline(Model):
    """A C2 cubic through its points, straight at the ends.

    ``knots`` (one per point, rising from 0) are kept once drawn: recomputing them after a solve would
    turn the end tangents.
    """

    kind: Literal["spline"] = "spline"
    id: Id
    points: Annotated[list[Id], Field(min_length=2, max_length=200)]
    knots: list[Annotated[float, Field(allow_inf_nan=False, ge=0)]] | None = None
    construction: bool = False


Entity = Annotated[Line | Arc | Circle | Spline, Field(discriminator="kind")]

ConstraintKind = Literal[
    "coincident", "horizontal", "vertical", "parallel", "perpendicular", "tangent", "equal", "fix",
    "midpoint", "on_curve", "on_path",
]  # fmt: skip
DimensionKind = Literal["length", "distance", "horizontal_distance", "vertical_distance", "radius", "diameter", "angle"]


class Constraint(Model):
    """A geometric relation between points and entities named in ``items``.

    ``on_path`` holds a point where the path of the step ``path`` crosses the sketch plane.
    """

    id: Id
    kind: ConstraintKind
    items: Annotated[list[Id], Field(min_length=1, max_length=4)]
    path: str | None = None


class Dimension(Model):
    """A measured size. A driving one is held; a reference one is only shown.

    ``at`` is where the figure stands, relative to the middle of what it measures.
    """

    id: Id
    kind: DimensionKind
    items: Annotated[list[Id], Field(min_length=1, max_length=2)]
    value: Expr = 0.0
    driving: bool = True
    at: tuple[Number, Number] | None = None


class Sketch(Model):
    points: Annotated[list[Point], Field(max_length=3000)] = []
    entities: Annotated[list[Entity], Field(max_length=3000)] = []
    constraints: Annotated[list[Constraint], Field(max_length=5000)] = []
    dimensions: Annotated[list[Dimension], Field(max_length=2000)] = []


def entity_points(entity: Line | Arc | Circle | Spline) -> list[str]:
    """The ids of the points that an entity stands on, centre first."""
    if isinstance(entity, Line):
        return [entity.start, entity.end]
    if isinstance(entity, Arc):
        return [entity.center, entity.start, entity.end]
    if isinstance(entity, Circle):
        return [entity.center]
    return list(entity.points)


def end_points(entity: Line | Arc | Circle | Spline) -> tuple[str, str] | None:
    """First and last point of an open entity; None for a circle."""
    if isinstance(entity, Spline):
        return entity.points[0], entity.points[-1]
    if isinstance(entity, Circle):
        return None
    return entity.start, entity.end
