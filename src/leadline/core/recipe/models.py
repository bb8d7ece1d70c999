"""The part document: named values and an ordered list of steps.

A step refers to earlier steps by their id. To add a kind of step: a model here (entered in ``Step``), a
module in ``recipe/steps`` that builds it, and an entry in ``recipe/steps/__init__.py``.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from leadline.core.recipe.clearance_step import ClearanceStep, clearance_references
from leadline.core.recipe.curve_step import CurveStep
from leadline.core.recipe.inputs import (
    BaseStep,
    Bring,
    FaceRef,
    Name,
    Orientation,
    PathRef,
    PlaneRef,
    ProfileRef,
    QuickProfile,
    RailRef,
    ResultMode,
    Size,
    SketchPointRef,
    StepPlane,
    Twist,
    Up,
    up_references,
)
from leadline.core.recipe.materials import Material
from leadline.core.recipe.path_steps import (
    PATH_STEPS,
    CrossingStep,
    DerivedStep,
    EdgesStep,
    HelixStep,
    HoseStep,
    JoinedStep,
    ProjectedStep,
    RouteStep,
    WoundStep,
    path_references,
)
from leadline.core.recipe.repeat_step import RepeatStep, repeat_references
from leadline.core.sketch.model import Expr, Id, Model, Sketch

FORMAT = "leadline-part"
VERSION = 1


Colour = Literal["reed", "sea", "brass", "madder", "ink", "chalk"]


class NamedValue(Model):
    name: Annotated[str, Field(max_length=40)]
    value: Expr
    note: Annotated[str, Field(max_length=200)] = ""


class SketchStep(BaseStep):
    kind: Literal["sketch"] = "sketch"
    plane: PlaneRef
    sketch: Sketch = Field(default_factory=Sketch)


class PlaneStep(BaseStep):
    """A plane square to a path: at its start or end, at a length along it, or at a share of its length."""

    kind: Literal["plane"] = "plane"
    path: PathRef
    place: Literal["start", "end", "length", "ratio"] = "start"
    value: Expr = 0.0


class OffsetBy(Model):
    """Beside another plane, ``distance`` along its normal."""

    by: Literal["offset"] = "offset"
    plane: PlaneRef
    distance: Expr


class ThroughPoints(Model):
    """Through three points, the first its origin, the second on its x axis."""

    by: Literal["points"] = "points"
    points: Annotated[list[SketchPointRef], Field(min_length=3, max_length=3)]


class ThroughLine(Model):
    """Through a straight line of an earlier sketch, turned by ``angle`` out of that sketch's plane."""

    by: Literal["line"] = "line"
    step: Id
    line: Id
    angle: Expr = 90.0


class Midway(Model):
    """Midway between two parallel planes, or in the middle of the angle between two that cross."""

    by: Literal["midway"] = "midway"
    first: PlaneRef
    second: PlaneRef


class OnFace(Model):
    """On a flat face of an earlier step's body, by the face's name (its origin)."""

    by: Literal["face"] = "face"
    step: Id
    face: Annotated[str, Field(max_length=200)]


class ByNormal(Model):
    """Through a point, square to a direction. ``along`` is what its x axis follows as nearly as it can; null: the X axis, or Y
    where the normal lies along X.
    """

    by: Literal["normal"] = "normal"
    x: Expr = 0.0
    y: Expr = 0.0
    z: Expr = 0.0
    normal: tuple[Expr, Expr, Expr]
    along: tuple[Expr, Expr, Expr] | None = None


class Turned(Model):
    """Another plane turned by ``angle`` about its own x or y axis."""

    by: Literal["angle"] = "angle"
    plane: PlaneRef
    axis: Literal["x", "y"] = "x"
    angle: Expr = 30.0


class DatumStep(BaseStep):
    """A plane placed by numbers, other planes, points, lines or faces."""

    kind: Literal["datum"] = "datum"
    how: Annotated[OffsetBy | ThroughPoints | ThroughLine | Midway | OnFace | ByNormal | Turned, Field(discriminator="by")]


class ExtrudeStep(BaseStep):
    """A profile carried straight along its plane's normal, ``length`` forward and ``back`` behind.

    As a ``surface`` the profile's outlines are carried, open ones too.
    """

    kind: Literal["extrude"] = "extrude"
    profile: ProfileRef
    length: Expr
    back: Expr = 0.0
    surface: bool = False
    result: ResultMode = "separate"


class RevolveStep(BaseStep):
    """A profile carried round an axis in its plane by ``angle``: the plane's own x or y, or a line of the profile's sketch."""

    kind: Literal["revolve"] = "revolve"
    profile: ProfileRef
    axis: Id = "y"
    angle: Expr = "360 deg"
    result: ResultMode = "separate"


class SweepStep(BaseStep):
    """A profile carried along a path.

    ``up`` goes with the upright orientation, ``lying`` (a side of an earlier body) with lying on a surface, ``facing`` with
    facing a rail. A number as ``twist`` is turns spread evenly
    over the length. ``size`` holds both ways unless ``size_y`` is given for the profile's y direction. ``start`` and ``end``
    are stations of the path, ``way`` the side of the profile's own station that is swept; ``extend_start`` and ``extend_end``
    go on straight beyond its ends, ``cut_start`` and ``cut_end`` cut them off by planes. As a ``surface`` the profile's
    outlines are swept, open ones too; with a ``wall`` they get a thickness.
    """

    kind: Literal["sweep"] = "sweep"
    path: PathRef
    profile: ProfileRef | FaceRef | QuickProfile
    more_profiles: Annotated[list[ProfileRef], Field(max_length=50)] = []
    bring: Bring | None = None
    orientation: Orientation = "turning"
    up: Up | None = None
    lying: FaceRef | None = None
    facing: PathRef | None = None
    start_angle: Expr = 0.0
    twist: Twist = 0.0
    size: Size | None = None
    size_y: Size | None = None
    rails: Annotated[list[RailRef], Field(max_length=20)] = []
    rail_use: Literal["stretch", "across", "turn"] = "stretch"
    start: Expr | None = None
    end: Expr | None = None
    way: Literal["both", "forward", "back"] = "both"
    extend_start: Expr = 0.0
    extend_end: Expr = 0.0
    cut_start: PlaneRef | None = None
    cut_end: PlaneRef | None = None
    corners: Literal["refuse", "mitre", "round"] = "refuse"
    corner_radius: Expr = 0.0
    surface: bool = False
    wall: Expr | None = None
    wall_side: Literal["inward", "outward", "both"] = "inward"
    result: ResultMode = "separate"
    build_folded: bool = False


Step = Annotated[
    SketchStep | PlaneStep | DatumStep | CurveStep | EdgesStep | HelixStep | RouteStep | WoundStep | HoseStep | JoinedStep | DerivedStep | CrossingStep | ProjectedStep | ExtrudeStep | RevolveStep | SweepStep | RepeatStep | ClearanceStep,
    Field(discriminator="kind"),
]


class Part(Model):
    """``sinker`` names the last step that is built; None builds all. ``colours`` of bodies by their step are for display alone."""

    format: Literal["leadline-part"] = "leadline-part"
    version: Literal[1] = 1
    name: Name
    units: Literal["mm", "in"] = "mm"
    material: Material | None = None
    values: Annotated[list[NamedValue], Field(max_length=500)] = []
    steps: Annotated[list[Step], Field(max_length=1000)] = []
    sinker: Id | None = None
    colours: Annotated[dict[Id, Colour], Field(max_length=1000)] = {}

    @model_validator(mode="after")
    def _ids_are_distinct(self) -> Part:
        seen: set[str] = set()
        for step in self.steps:
            if step.id in seen:
                raise ValueError(f"two steps have the id {step.id}")
            seen.add(step.id)
        return self


def references(step: Step) -> list[tuple[str, str]]:
    """The steps that a step uses, as (field, step id), in the order of its fields."""
    if isinstance(step, SketchStep):
        found = [("plane", step.plane.step)] if isinstance(step.plane, StepPlane) else []
        ties = [("on path", c.path) for c in step.sketch.constraints if c.kind == "on_path" and c.path]
        projected = [("projection", p.source) for p in step.sketch.projections]
        return found + list(dict.fromkeys([*ties, *projected]))
    if isinstance(step, PlaneStep):
        return [("path", step.path.step)]
    if isinstance(step, DatumStep):
        return _datum_references(step)
    if isinstance(step, ExtrudeStep | RevolveStep):
        return [("profile", step.profile.step)]
    if isinstance(step, PATH_STEPS):
        return path_references(step)
    if isinstance(step, RepeatStep):
        return repeat_references(step)
    if isinstance(step, ClearanceStep):
        return clearance_references(step)
    return _sweep_references(step)


def _sweep_references(step: SweepStep) -> list[tuple[str, str]]:
    found = [("path", step.path.step)]
    if not isinstance(step.profile, QuickProfile):
        found.append(("profile", step.profile.step))
    found += [("profile", p.step) for p in step.more_profiles]
    if step.orientation == "upright":
        found += up_references(step.up)
    found += [("cut", p.step) for p in (step.cut_start, step.cut_end) if isinstance(p, StepPlane)]
    if step.orientation == "lying" and step.lying is not None:
        found.append(("lying", step.lying.step))
    if step.orientation == "facing" and step.facing is not None:
        found.append(("facing", step.facing.step))
    return list(dict.fromkeys(found + [("rails", r.path.step) for r in step.rails]))


def _datum_references(step: DatumStep) -> list[tuple[str, str]]:
    how = step.how
    if isinstance(how, ThroughPoints):
        return list(dict.fromkeys(("points", p.step) for p in how.points))
    if isinstance(how, ThroughLine | OnFace):
        return [("line" if isinstance(how, ThroughLine) else "face", how.step)]
    if isinstance(how, ByNormal):
        return []
    planes = [how.plane] if isinstance(how, OffsetBy | Turned) else [how.first, how.second]
    return [("plane", p.step) for p in planes if isinstance(p, StepPlane)]


def part_schema() -> dict[str, Any]:
    """The JSON Schema of the part file."""
    return Part.model_json_schema()
