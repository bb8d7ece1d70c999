"""The part document: named values and an ordered list of steps.

A step refers to earlier steps by their id. To add a kind of step: a model here (entered in ``Step``), a
module in ``recipe/steps`` that builds it, and an entry in ``recipe/steps/__init__.py``.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from leadline.core.sketch.model import Expr, Id, Model, Sketch

FORMAT = "leadline-part"
VERSION = 1
Name = Annotated[str, Field(min_length=1, max_length=80)]


class NamedValue(Model):
    name: Annotated[str, Field(max_length=40)]
    value: Expr
    note: Annotated[str, Field(max_length=200)] = ""


class PrincipalPlane(Model):
    kind: Literal["principal"] = "principal"
    plane: Literal["XY", "XZ", "YZ"]


class StepPlane(Model):
    """The plane that an earlier plane step gives."""

    kind: Literal["step"] = "step"
    step: Id


PlaneRef = Annotated[PrincipalPlane | StepPlane, Field(discriminator="kind")]


class PathRef(Model):
    """The chain drawn in a sketch step, or only its named ``curves``."""

    step: Id
    curves: list[Id] | None = None


class ProfileRef(Model):
    """The closed regions of a sketch step, or only those that hold the named outer edges."""

    step: Id
    regions: list[Id] | None = None


class BaseStep(Model):
    id: Id
    name: Name
    off: bool = False


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


class SketchPointRef(Model):
    """A point of an earlier sketch, or its origin "O"."""

    step: Id
    point: Id


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


class DatumStep(BaseStep):
    """A plane placed by other planes, points, lines or faces."""

    kind: Literal["datum"] = "datum"
    how: Annotated[OffsetBy | ThroughPoints | ThroughLine | Midway | OnFace, Field(discriminator="by")]


ResultMode = Literal["add", "cut", "separate"]


class ExtrudeStep(BaseStep):
    """A profile carried straight along its plane's normal, ``length`` forward and ``back`` behind."""

    kind: Literal["extrude"] = "extrude"
    profile: ProfileRef
    length: Expr
    back: Expr = 0.0
    result: ResultMode = "separate"


class SweepStep(BaseStep):
    """A profile carried along a path, turning with it; ``twist`` in turns over the length."""

    kind: Literal["sweep"] = "sweep"
    path: PathRef
    profile: ProfileRef
    orientation: Literal["turning"] = "turning"
    twist: Expr = 0.0
    wall: Expr | None = None
    result: ResultMode = "separate"
    build_folded: bool = False


Step = Annotated[SketchStep | PlaneStep | DatumStep | ExtrudeStep | SweepStep, Field(discriminator="kind")]


class Part(Model):
    """``sinker`` names the last step that is built; None builds all."""

    format: Literal["leadline-part"] = "leadline-part"
    version: Literal[1] = 1
    name: Name
    units: Literal["mm", "in"] = "mm"
    values: Annotated[list[NamedValue], Field(max_length=500)] = []
    steps: Annotated[list[Step], Field(max_length=1000)] = []
    sinker: Id | None = None

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
    if isinstance(step, ExtrudeStep):
        return [("profile", step.profile.step)]
    return [("path", step.path.step), ("profile", step.profile.step)]


def _datum_references(step: DatumStep) -> list[tuple[str, str]]:
    how = step.how
    if isinstance(how, ThroughPoints):
        return list(dict.fromkeys(("points", p.step) for p in how.points))
    if isinstance(how, ThroughLine | OnFace):
        return [("line" if isinstance(how, ThroughLine) else "face", how.step)]
    planes = [how.plane] if isinstance(how, OffsetBy) else [how.first, how.second]
    return [("plane", p.step) for p in planes if isinstance(p, StepPlane)]


def part_schema() -> dict[str, Any]:
    """The JSON Schema of the part file."""
    return Part.model_json_schema()
