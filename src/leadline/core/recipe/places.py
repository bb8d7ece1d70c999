"""Places in space that steps refer to, and directions there."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from leadline.core.recipe.inputs import PathRef, SketchPointRef
from leadline.core.sketch.model import Expr, Model


class PlacePoint(Model):
    """A point by its coordinates, mm."""

    by: Literal["place"] = "place"
    x: Expr
    y: Expr
    z: Expr


class DrawnPoint(SketchPointRef):
    """A point of an earlier sketch, or its origin "O"."""

    by: Literal["sketch"] = "sketch"


class PathPlace(Model):
    """A place on an earlier path, at a ``station`` from its start, or ``from_end``. As a port it faces along the path."""

    by: Literal["path"] = "path"
    path: PathRef
    station: Expr = 0.0
    from_end: bool = False


Place = Annotated[PlacePoint | DrawnPoint | PathPlace, Field(discriminator="by")]


class Direction(Model):
    """A direction by its components; their size does not matter."""

    x: Expr
    y: Expr
    z: Expr


def place_references(places: Iterable[Place]) -> list[tuple[str, str]]:
    """The steps that points stand on."""
    on = [p.step if isinstance(p, DrawnPoint) else p.path.step for p in places if not isinstance(p, PlacePoint)]
    return list(dict.fromkeys(("points", step) for step in on))
