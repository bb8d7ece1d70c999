"""Places in space that steps refer to, and directions there."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, Plain
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import PathRef, SketchPointRef


class PlacePoint(Model):
    """A point by its coordinates, mm."""

    by: Literal["place"] = "place"
    x: Length
    y: Length
    z: Length


class DrawnPoint(SketchPointRef):
    """A point of an earlier sketch, or its origin "O"."""

    by: Literal["sketch"] = "sketch"


class PathPlace(Model):
    """A place on an earlier path, at a ``station`` from its start, or ``from_end``.

    As a port it faces along the path.
    """

    by: Literal["path"] = "path"
    path: PathRef
    station: Length = 0.0
    from_end: bool = False


Place = Annotated[PlacePoint | DrawnPoint | PathPlace, Field(discriminator="by")]


class Direction(Model):
    """A direction by its components; their size does not matter."""

    x: Plain
    y: Plain
    z: Plain
