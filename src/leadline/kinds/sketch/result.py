"""What views are told of a sketch."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.core.sketch.model import Sketch
from leadline.recipe.shown import PlaneShown, Shown, Vec2, Vec4


class RegionShown(TypedDict):
    """A closed outline with the holes in it; ``material`` where a sweep takes it unless others are picked."""

    id: str
    area: float
    material: bool
    loops: list[list[Vec2]]


class Faults(TypedDict, total=False):
    """Where outlines are open and where they cross."""

    loose: list[Vec2]
    crossing: list[Vec2]


class Solved(Shown, total=False):
    """A solved sketch: how free it is, what is ``free`` and what ``repeated``, the sizes ``measured`` by dimensions and
    smoothed outlines, the free ``motions`` of its points, and what is drawn: polylines by entity, and of splines points
    with curvature vectors, [x, y, kx, ky].
    """

    sketch: Sketch
    freedom: int
    free: list[str]
    repeated: list[str]
    measured: dict[str, float]
    motions: list[dict[str, Vec2]]
    curves: dict[str, list[Vec2]]
    combs: dict[str, list[Vec4]]
    faults: Faults


class SketchResult(Solved, total=False):
    plane: PlaneShown
    regions: list[RegionShown]
