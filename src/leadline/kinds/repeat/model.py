"""The step that repeats bodies along a path."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, Plain, Refers, When
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, PathRef, PlaneRef, ResultMode, Up


class CopyRun(Model):
    """A further run of copies, ``phase`` of a spacing further on than the first and turned by ``turn`` about
    the path.
    """

    id: Id
    phase: Annotated[Plain, Field(title="Phase of the run")] = 0.5
    turn: Annotated[Angle, Field(title="Turn of the run")] = 0.0


class RepeatStep(BaseStep):
    """Copies of the ``source`` step's bodies along a path, spaced by arc length.

    ``count`` alone spreads them over the path, ``spacing`` alone fills it from the start (``fitted``: with the nearest
    spacing that ends on its end), both make so many from the start; ``first`` and ``last`` stay free at its ends. A
    copy stands to the path as the source does where its own path comes closest; with a ``seat`` that plane's origin
    comes to stand on the path and its normal along it. Every copy is turned about the path by ``turn``, every second
    one by ``alternate`` more. ``refit`` builds the source's step anew at each place, so that it ends on the planes that
    cut it.
    """

    kind: Literal["repeat"] = "repeat"
    source: Annotated[Id, Refers("body")]
    path: PathRef
    count: Plain | None = None
    spacing: Length | None = None
    fitted: bool = False
    first: Annotated[Length, Field(title="Free at start")] = 0.0
    last: Annotated[Length, Field(title="Free at end")] = 0.0
    seat: PlaneRef | None = None
    orientation: Literal["turning", "held", "upright"] = "turning"
    up: Annotated[Up, Refers("plane"), When("orientation", ("upright",))] | None = None
    turn: Annotated[Angle, Field(title="Turned by")] = 0.0
    alternate: Annotated[Angle, Field(title="Every second")] = 0.0
    runs: Annotated[list[CopyRun], Field(max_length=20)] = []
    refit: bool = False
    keep: bool = False
    result: ResultMode = "separate"
