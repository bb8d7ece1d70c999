"""What a path through points takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import Axis, BaseStep
from leadline.recipe.places import Direction, Place


class Curving(Model):
    """How a smooth route curves at a point: with this ``radius`` of curvature, ``towards`` its centre, as far as that
    is square to the route.
    """

    radius: Annotated[Length, Field(title="Radius of curvature")]
    towards: Direction


class RoutePoint(Model):
    """A corner of a route, or an end; ``radius`` of its bend when it is not the route's own.

    A smooth route has no bends, but a point may give it a direction (``way``) and a curvature (``curving``).
    """

    id: Id
    at: Place
    radius: Annotated[Length | None, Field(title="Bend radius")] = None
    way: Direction | None = None
    curving: Curving | None = None


class HeldLength(Model):
    """A route's ``length`` that is kept by one ``point`` giving way, along an axis or its own way: an end along its
    run, any other away from its neighbours.
    """

    length: Length
    point: Id
    along: Axis | None = None


class RouteStep(BaseStep):
    """A path through points: ``bends`` are straight runs with a bend at each corner, ``radius`` unless the point has
    its own; ``smooth`` is one curve through all of them, with the directions and curvatures that they give.

    Straights between two bends that are shorter than ``least_straight`` are said. A length that is ``held`` moves one
    point.
    """

    kind: Literal["route"] = "route"
    points: Annotated[list[RoutePoint], Refers("path"), Field(min_length=2, max_length=1000)]
    radius: Annotated[Length, Field(title="Bend radius")]
    least_straight: Length = 0.0
    closed: bool = False
    shape: Literal["bends", "smooth"] = "bends"
    held: HeldLength | None = None
