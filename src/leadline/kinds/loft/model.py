"""What a loft takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, Plain, Refers
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import (
    BaseStep,
    FaceRef,
    PathRef,
    PlaneRef,
    ProfileRef,
    QuickProfile,
    ResultMode,
    SketchPointRef,
)


class DrawnSection(Model):
    """A drawn profile, or a flat face of a body."""

    by: Literal["drawn"] = "drawn"
    profile: Annotated[ProfileRef | FaceRef, Refers("section")]


class QuickSection(Model):
    """A section without a sketch on a plane, ``x`` and ``y`` from the plane's origin, turned by ``turn``."""

    by: Literal["quick"] = "quick"
    profile: QuickProfile
    plane: PlaneRef
    x: Annotated[Length, Field(title="Place x")] = 0.0
    y: Annotated[Length, Field(title="Place y")] = 0.0
    turn: Angle = 0.0


class PointSection(Model):
    """A point at which the shape ends."""

    by: Literal["point"] = "point"
    point: SketchPointRef


Section = Annotated[DrawnSection | QuickSection | PointSection, Field(discriminator="by")]


class LoftEnd(Model):
    """How the shape leaves a section at an end: as it comes, square to it, or ``tangent`` to the sides of the body
    whose end face the section is.

    The latter two hold for longer with more ``strength``.
    """

    how: Literal["free", "square", "tangent"] = "free"
    strength: Plain = 1.0


class Thread(Model):
    """Places that correspond: a share (0 to 1) of each section's outline from its start."""

    shares: Annotated[list[Plain], Field(max_length=50)]


class LoftRail(Model):
    """A curve that meets the outlines of all sections and that the shape follows between them."""

    path: Annotated[PathRef, Refers("rail")]


class LoftStep(BaseStep):
    """A body whose section goes over from each of the ``sections`` to the next, along a ``centreline`` or a line of its
    own.

    ``threads`` say which places of the outlines correspond; without them corners go with corners, and places without by
    share of length. Between sections it is ``smooth`` through all of them, or ``even``: straight from each to the next
    as seen from its line, or ``ruled``: straight in space. A ``closed`` one goes on from the last section to the first,
    on a closed centreline. As a ``surface`` it is the outlines' alone, which may then be open, all of them; with a
    ``wall`` it gets a thickness, measured in each section's plane.
    """

    kind: Literal["loft"] = "loft"
    sections: Annotated[list[Section], Field(max_length=50)] = []
    centreline: PathRef | None = None
    rails: Annotated[list[LoftRail], Field(max_length=20)] = []
    threads: Annotated[list[Thread], Field(max_length=200)] = []
    section_change: Literal["smooth", "even", "ruled"] = "smooth"
    closed: bool = False
    start: LoftEnd = LoftEnd()
    end: LoftEnd = LoftEnd()
    surface: bool = False
    wall: Length | None = None
    wall_side: Literal["inward", "outward", "both"] = "inward"
    result: ResultMode = "separate"
    build_folded: bool = False
