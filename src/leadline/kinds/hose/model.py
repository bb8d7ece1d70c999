"""What a hose between two ports takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, Plain, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, PlaneRef, SketchPointRef
from leadline.recipe.places import Direction, PathPlace, Place


class PlacePort(Model):
    """A point with its outward direction; both by coordinates."""

    by: Literal["place"] = "place"
    x: Length
    y: Length
    z: Length
    dx: Annotated[Plain, Field(title="Direction x")] = 1.0
    dy: Annotated[Plain, Field(title="Direction y")] = 0.0
    dz: Annotated[Plain, Field(title="Direction z")] = 0.0


class PlanePort(Model):
    """A plane's origin with its normal: a plane on a face, square to a path, or any other."""

    by: Literal["plane"] = "plane"
    plane: PlaneRef


class DrawnPort(SketchPointRef):
    """A point of a sketch with the normal of the sketch's plane."""

    by: Literal["sketch"] = "sketch"


class Port(Model):
    """An end of a hose: where it connects, whether the other way round, the straight length there, and how far it goes
    on that way.
    """

    at: Annotated[PlacePort | PlanePort | DrawnPort | PathPlace, Field(discriminator="by")]
    reverse: bool = False
    straight: Length = 0.0
    pull: Plain = 1.0


class HosePoint(Model):
    """A place that a hose passes, in a direction if one is given."""

    id: Id
    at: Place
    way: Direction | None = None


class HoseStep(BaseStep):
    """A hose between two ports.

    Without a ``length`` its curve is shaped freely through ``points``; with one it lies as an elastic rod of that
    length, straights included. ``weight`` (N/m) and ``stiffness`` (N·m², against bending) let it hang. Where it bends
    tighter than ``least_bend``, that is said.
    """

    kind: Literal["hose"] = "hose"
    start: Annotated[Port, Refers("plane")]
    end: Annotated[Port, Refers("plane")]
    points: Annotated[list[HosePoint], Refers("plane"), Field(max_length=200)] = []
    length: Length | None = None
    weight: Plain = 0.0
    stiffness: Plain = 1.0
    least_bend: Length = 0.0
