"""What a sweep takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, Refers, When
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import (
    BaseStep,
    Bring,
    FaceRef,
    Orientation,
    PathRef,
    PlaneRef,
    ProfileRef,
    QuickProfile,
    RailRef,
    ResultMode,
    Size,
    Twist,
    Up,
)


class FurtherSection(Model):
    """A section that the profile goes over into: at a station it is brought there by its middle, without one it stands
    where it is drawn.

    Without a profile the shape ends in a point of the path there.
    """

    profile: Annotated[ProfileRef | FaceRef | QuickProfile, Refers("section")] | None
    at: Annotated[Length | None, Field(title="Stands at")] = None


class SweepStep(BaseStep):
    """A profile carried along a path.

    ``up`` goes with the upright orientation, ``lying`` (a side of an earlier body) with lying on a surface, ``facing``
    with facing a rail. A number as ``twist`` is turns spread evenly over the length. ``size`` holds both ways unless
    ``size_y`` is given for the profile's y direction. ``start`` and ``end`` are stations of the path, ``way`` the side
    of the profile's own station that is swept; ``extend_start`` and ``extend_end`` go on straight beyond its ends,
    ``cut_start`` and ``cut_end`` cut them off by planes. As a ``surface`` the profile's outlines are swept, open ones
    too; with a ``wall`` they get a thickness. Between the profile and further ``sections`` it changes evenly or, as
    ``section_change`` says, smoothly: level where the first and the last one stand.
    """

    kind: Literal["sweep"] = "sweep"
    path: PathRef
    profile: Annotated[ProfileRef | FaceRef | QuickProfile, Refers("section")]
    more_profiles: Annotated[list[ProfileRef], Field(max_length=50)] = []
    bring: Bring | None = None
    orientation: Orientation = "turning"
    up: Annotated[Up, Refers("plane"), When("orientation", ("upright",))] | None = None
    lying: Annotated[FaceRef, Refers("plane"), When("orientation", ("lying",))] | None = None
    facing: Annotated[PathRef, Refers("rail"), When("orientation", ("facing",))] | None = None
    start_angle: Angle = 0.0
    twist: Twist = 0.0
    size: Size | None = None
    size_y: Size | None = None
    rails: Annotated[list[RailRef], Field(max_length=20)] = []
    rail_use: Literal["stretch", "across", "turn"] = "stretch"
    sections: Annotated[list[FurtherSection], Field(max_length=50)] = []
    section_change: Literal["even", "smooth"] = "smooth"
    start: Annotated[Length | None, Field(title="From station")] = None
    end: Annotated[Length | None, Field(title="To station")] = None
    way: Literal["both", "forward", "back"] = "both"
    extend_start: Annotated[Length, Field(title="Longer at its start")] = 0.0
    extend_end: Annotated[Length, Field(title="Longer at its end")] = 0.0
    cut_start: PlaneRef | None = None
    cut_end: PlaneRef | None = None
    corners: Literal["refuse", "mitre", "round"] = "refuse"
    corner_radius: Length = 0.0
    surface: bool = False
    wall: Length | None = None
    wall_side: Literal["inward", "outward", "both"] = "inward"
    result: ResultMode = "separate"
    build_folded: bool = False
