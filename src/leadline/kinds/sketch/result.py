"""What views are told of a sketch."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.core.sketch.model import Sketch
from leadline.recipe.shown import PlaneShown, Rows2, Shown, Vec2


class RegionShown(TypedDict):
    """A closed outline with the holes in it; ``material`` where a sweep takes it unless others are picked."""

    id: str
    area: float
    material: bool
    loops: list[Rows2]


class Faults(TypedDict, total=False):
    """Where outlines are open and where they cross."""

    loose: Rows2
    crossing: Rows2


class Solved(TypedDict):
    """A solved sketch: how free it is, what is ``free`` and what ``repeated``, the sizes ``measured`` by dimensions and smoothed outlines, the free
    ``motions`` of its points, and what is drawn: polylines by entity, and of splines points with curvature vectors, [x, y, kx, ky].
    """

    sketch: Sketch
    freedom: int
    free: list[str]
    repeated: list[str]
    measured: dict[str, float]
    motions: list[dict[str, Vec2]]
    curves: dict[str, Rows2]
    combs: dict[str, list[list[float]]]
    faults: Faults


class SketchResult(Shown, total=False):
    sketch: Sketch
    freedom: int
    free: list[str]
    repeated: list[str]
    measured: dict[str, float]
    motions: list[dict[str, Vec2]]
    curves: dict[str, Rows2]
    combs: dict[str, list[list[float]]]
    faults: Faults
    plane: PlaneShown
    regions: list[RegionShown]
