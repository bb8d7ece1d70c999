"""Steps that give a path of their own: coils, and runs through points."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.recipe.curve_step import CurveStep, curve_references
from leadline.core.recipe.inputs import (
    Axis,
    BaseStep,
    PathRef,
    PlaneRef,
    Points,
    ProfileRef,
    SketchPointRef,
    StepPlane,
    Up,
    up_references,
)
from leadline.core.recipe.places import Direction, PathPlace, Place, place_references
from leadline.core.sketch.model import Expr, Id, Model


class HelixStep(BaseStep):
    """A helix about the normal of a plane through its origin; it starts on the plane's x axis, turned by ``start_angle``.

    Two of ``pitch``, ``turns`` and ``height`` are given, the third is None; or ``turns`` and a ``pitch_table`` of pitches at
    turns, straight between them. With an ``end_radius`` it is conical, and flat if it has no height. With several ``starts`` the
    pitch is from one to the next, so that a turn advances by as many pitches; what is swept along it is made once for each.
    """

    kind: Literal["helix"] = "helix"
    plane: PlaneRef
    radius: Expr
    pitch: Expr | None = None
    turns: Expr | None = None
    height: Expr | None = None
    end_radius: Expr | None = None
    pitch_table: Points | None = None
    starts: Annotated[int, Field(ge=1, le=100)] = 1
    start_angle: Expr = 0.0
    hand: Literal["right", "left"] = "right"


class Curving(Model):
    """How a smooth route curves at a point: with this ``radius`` of curvature, ``towards`` its centre, as far as that is square to the route."""

    radius: Expr
    towards: Direction


class RoutePoint(Model):
    """A corner of a route, or an end; ``radius`` of its bend when it is not the route's own.

    A smooth route has no bends, but a point may give it a direction (``way``) and a curvature (``curving``).
    """

    id: Id
    at: Place
    radius: Expr | None = None
    way: Direction | None = None
    curving: Curving | None = None


class HeldLength(Model):
    """A route's ``length`` that is kept by one ``point`` giving way, along an axis or its own way: an end along its run, any other away from its neighbours."""

    length: Expr
    point: Id
    along: Axis | None = None


class RouteStep(BaseStep):
    """A path through points: ``bends`` are straight runs with a bend at each corner, ``radius`` unless the point has its own;
    ``smooth`` is one curve through all of them, with the directions and curvatures that they give.

    Straights between two bends that are shorter than ``least_straight`` are said. A length that is ``held`` moves one point.
    """

    kind: Literal["route"] = "route"
    points: Annotated[list[RoutePoint], Field(min_length=2, max_length=1000)]
    radius: Expr
    least_straight: Expr = 0.0
    closed: bool = False
    shape: Literal["bends", "smooth"] = "bends"
    held: HeldLength | None = None


class WoundStep(BaseStep):
    """A coil about another path, at ``radius`` (to ``end_radius``) or along the outline of a ``former``, ``standoff`` off it.

    ``radii`` is a table of radii at stations instead. Without a radius it lies on the round tube that the path belongs to.
    ``turns`` or ``pitch`` along the path is given, or ``turn_table``: turns at stations. A former is drawn about its sketch's
    origin, which comes to stand on the path; by its end it has grown to ``former_end`` times its size. The turns are ``even``
    along the axis, or so that the coil crosses the tube at an even angle, without corners where bends begin.
    """

    kind: Literal["wound"] = "wound"
    path: PathRef
    radius: Expr | None = None
    end_radius: Expr | None = None
    radii: Points | None = None
    former: ProfileRef | None = None
    former_end: Expr = 1.0
    standoff: Expr = 0.0
    turns: Expr | None = None
    pitch: Expr | None = None
    turn_table: Points | None = None
    even: Literal["axis", "angle"] = "axis"
    start_angle: Expr = 0.0
    hand: Literal["right", "left"] = "right"


class PlacePort(Model):
    """A point with its outward direction; both by coordinates."""

    by: Literal["place"] = "place"
    x: Expr
    y: Expr
    z: Expr
    dx: Expr = 1.0
    dy: Expr = 0.0
    dz: Expr = 0.0


class PlanePort(Model):
    """A plane's origin with its normal: a plane on a face, square to a path, or any other."""

    by: Literal["plane"] = "plane"
    plane: PlaneRef


class DrawnPort(SketchPointRef):
    """A point of a sketch with the normal of the sketch's plane."""

    by: Literal["sketch"] = "sketch"


class Port(Model):
    """An end of a hose: where it connects, whether the other way round, the straight length there, and how far it goes on that way."""

    at: Annotated[PlacePort | PlanePort | DrawnPort | PathPlace, Field(discriminator="by")]
    reverse: bool = False
    straight: Expr = 0.0
    pull: Expr = 1.0


class HosePoint(Model):
    """A place that a hose passes, in a direction if one is given."""

    id: Id
    at: Place
    way: Direction | None = None


class HoseStep(BaseStep):
    """A hose between two ports.

    Without a ``length`` its curve is shaped freely through ``points``; with one it lies as an elastic rod of that length, straights
    included. ``weight`` (N/m) and ``stiffness`` (N·m², against bending) let it hang. Where it bends tighter than ``least_bend``, that is said.
    """

    kind: Literal["hose"] = "hose"
    start: Port
    end: Port
    points: Annotated[list[HosePoint], Field(max_length=200)] = []
    length: Expr | None = None
    weight: Expr = 0.0
    stiffness: Expr = 1.0
    least_bend: Expr = 0.0


class JoinedStep(BaseStep):
    """Paths of earlier steps put in order end to end; gaps up to ``tolerance`` are closed by straight pieces."""

    kind: Literal["joined"] = "joined"
    parts: Annotated[list[PathRef], Field(min_length=1, max_length=100)]
    tolerance: Expr = 0.001


class PieceOf(Model):
    """The stretch between two stations: lengths or, by ``measure``, shares of the length; counted ``from_end`` if wanted.

    Without a station it begins or ends with the path, or where a plane cuts it: the first and the last crossing.
    """

    by: Literal["piece"] = "piece"
    start: Expr | None = None
    end: Expr | None = None
    measure: Literal["length", "ratio"] = "length"
    from_end: bool = False
    cut_start: PlaneRef | None = None
    cut_end: PlaneRef | None = None


class Beside(Model):
    """At a ``distance``, in the direction at an ``angle`` about the path: 0 in the plane of a flat one, 90 degrees square to it."""

    by: Literal["beside"] = "beside"
    distance: Expr
    angle: Expr = 0.0


class Mirrored(Model):
    by: Literal["mirror"] = "mirror"
    plane: PlaneRef


class Carried(Model):
    """Turned by ``turn`` about an axis through the origin, then moved by dx, dy, dz."""

    by: Literal["move"] = "move"
    dx: Expr = 0.0
    dy: Expr = 0.0
    dz: Expr = 0.0
    axis: Axis = "Z"
    turn: Expr = 0.0


class DerivedStep(BaseStep):
    """A path made of another: a piece of it, one beside it, its mirror image, or a moved copy."""

    kind: Literal["derived"] = "derived"
    path: PathRef
    how: Annotated[PieceOf | Beside | Mirrored | Carried, Field(discriminator="by")]


class SidesRef(Model):
    """The sides of an earlier sweep, extrusion or revolved body as a surface, or only the one along a section ``edge``.

    With ``off`` it is the surface that far outside of them, or inside if under zero.
    """

    step: Id
    edge: Id | None = None
    off: Expr = 0.0


class EdgeRef(Model):
    """An edge of an earlier sweep, extrusion or revolved body, by its name (the two faces that meet there)."""

    step: Id
    edge: Annotated[str, Field(max_length=400)]


class EdgesStep(BaseStep):
    """Edges of bodies put end to end as a path; with ``tangent`` all edges that go on smoothly from them as well."""

    kind: Literal["edges"] = "edges"
    edges: Annotated[list[EdgeRef], Field(min_length=1, max_length=200)]
    tangent: bool = True


class CrossingStep(BaseStep):
    """A curve in which two surfaces cross: the ``branch``-th, the longest being the first."""

    kind: Literal["crossing"] = "crossing"
    first: SidesRef
    second: SidesRef
    branch: Annotated[int, Field(ge=1, le=1000)] = 1


class ProjectedStep(BaseStep):
    """A path laid ``onto`` the sides of a body: ``along`` an axis or a plane's normal, where it first meets them (against it if not all along), or at the nearest place."""

    kind: Literal["projected"] = "projected"
    path: PathRef
    onto: SidesRef
    along: Up | None = None


PathStep = CurveStep | EdgesStep | HelixStep | RouteStep | WoundStep | HoseStep | JoinedStep | DerivedStep | CrossingStep | ProjectedStep
PATH_STEPS = (CurveStep, EdgesStep, HelixStep, RouteStep, WoundStep, HoseStep, JoinedStep, DerivedStep, CrossingStep, ProjectedStep)


def path_references(step: PathStep) -> list[tuple[str, str]]:
    """The steps that a path step uses, as (field, step id)."""
    if isinstance(step, HelixStep):
        return [("plane", step.plane.step)] if isinstance(step.plane, StepPlane) else []
    if isinstance(step, RouteStep):
        return place_references(p.at for p in step.points)
    if isinstance(step, CurveStep):
        return curve_references(step)
    if isinstance(step, HoseStep):
        return _hose_references(step)
    if isinstance(step, EdgesStep):
        return list(dict.fromkeys(("edges", e.step) for e in step.edges))
    if isinstance(step, JoinedStep):
        return list(dict.fromkeys(("parts", p.step) for p in step.parts))
    if isinstance(step, CrossingStep):
        return list(dict.fromkeys([("first", step.first.step), ("second", step.second.step)]))
    if isinstance(step, ProjectedStep):
        return list(dict.fromkeys([("path", step.path.step), ("onto", step.onto.step), *up_references(step.along)]))
    if isinstance(step, DerivedStep):
        return _derived_references(step)
    former = [("former", step.former.step)] if step.former is not None else []
    return [("path", step.path.step), *former]


def _derived_references(step: DerivedStep) -> list[tuple[str, str]]:
    how = step.how
    planes = [how.cut_start, how.cut_end] if isinstance(how, PieceOf) else [how.plane] if isinstance(how, Mirrored) else []
    return list(dict.fromkeys([("path", step.path.step), *(("plane", p.step) for p in planes if isinstance(p, StepPlane))]))


def _hose_references(step: HoseStep) -> list[tuple[str, str]]:
    found: list[tuple[str, str]] = []
    for name, port in (("start", step.start), ("end", step.end)):
        if isinstance(port.at, DrawnPort):
            found.append((name, port.at.step))
        elif isinstance(port.at, PlanePort) and isinstance(port.at.plane, StepPlane):
            found.append((name, port.at.plane.step))
        elif isinstance(port.at, PathPlace):
            found.append((name, port.at.path.step))
    return list(dict.fromkeys(found + place_references(p.at for p in step.points)))
