"""What a thread takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import ABOVE_ZERO, ZERO_OR_MORE, Angle, Length, Plain, Turns, When
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import BaseStep, FaceRef, PathRef


class GrooveCorner(Model):
    """A corner of a groove of one's own: so far ``along`` the axis, so ``deep`` below the face."""

    along: Length
    deep: Annotated[Length, Field(title="Depth")]


class ThreadedStep(BaseStep):
    """A thread on a cylindrical or conical ``face`` of a body, on a bar or in a hole as the body lies inside of it or
    about it.

    ``size`` is the nominal diameter, by default the one that the face has; ``pitch`` by default that of the coarse
    metric series. It begins ``offset`` from the face's start (its other end where it is ``flipped``), through that end
    if there is none, and is ``length`` long, through the other end if there is none; threads of one axis, pitch and
    hand go into each other by themselves, and ``start_angle`` turns one of them about its axis; where it ends within
    the face it runs out over ``run_out`` turns, or into a groove, ``relief`` wide and by default a little deeper than
    the thread. ``rounded`` it has the arcs that its standard gives its roots (a pipe thread's crests, too). Of ``real``
    geometry, or drawn only. ``tolerance`` is its class (6g, 6H), ``mate`` that of the thread that goes with it (the
    usual one where none is given), and ``made`` whether it is cut to the basic size or to the middle of the class's
    pitch diameter. ``own`` is a groove by its corners, ``drawn`` one by an open path of lines and arcs in a plane,
    whose ends are on the face. ``friction`` and the strengths (MPa) of bolt and nut are for its sheet.
    """

    kind: Literal["threaded"] = "threaded"
    face: FaceRef
    form: Literal["metric", "unified", "trapezoidal", "pipe", "buttress", "square", "knuckle", "taper", "own"] = (
        "metric"
    )
    rounded: bool = False
    size: Length | None = None
    pitch: Length | None = None
    own: Annotated[list[GrooveCorner], Field(max_length=40), When("form", ("own",))] = []
    drawn: Annotated[PathRef, When("form", ("own",))] | None = None
    starts: Annotated[int, Field(ge=1, le=12)] = 1
    hand: Literal["right", "left"] = "right"
    start_angle: Angle = 0.0
    flipped: bool = False
    offset: Annotated[Length | None, ZERO_OR_MORE, Field(title="Begins after")] = None
    length: Length | None = None
    run_out: Annotated[Turns, Field(title="Runs out over")] = 1.0
    chamfer: Annotated[Length, ZERO_OR_MORE] = 0.0
    relief: Annotated[Length, ZERO_OR_MORE, Field(title="Relief groove")] = 0.0
    relief_depth: Annotated[Length | None, ZERO_OR_MORE, Field(title="Relief depth")] = None
    real: bool = True
    tolerance: Annotated[str, Field(max_length=12)] = ""
    mate: Annotated[str, Field(max_length=12)] = ""
    made: Literal["basic", "mean"] = "basic"
    friction: Annotated[Plain, ZERO_OR_MORE] = 0.14
    bolt_strength: Annotated[Plain, ABOVE_ZERO, Field(title="Bolt's strength")] = 800.0
    nut_strength: Annotated[Plain, ABOVE_ZERO, Field(title="Nut's strength")] = 600.0
