"""What the bending of a tube takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import ABOVE_ZERO, ZERO_OR_MORE, Angle, Length, Plain, Refers
from leadline.core.sketch.model import Id, Model
from leadline.core.trades.machine_file import MachineFile
from leadline.recipe.inputs import BaseStep


class TestBend(Model):
    """A bend that was made to try the material: how far the machine went, and what was left."""

    __test__ = False  # no test, though its name begins so

    bent: Annotated[Angle, Field(title="Bent by")]
    left: Angle


class RowCorrection(Model):
    """What is added to a row of the program after a tube of it was measured."""

    feed: Length = 0.0
    turn: Angle = 0.0
    angle: Annotated[Angle, Field(title="Bend")] = 0.0


class ToolingRow(Model):
    """What the tool has to have for bends up to so much: (OD/t) / (R/OD)."""

    up_to: Plain
    words: Annotated[str, Field(min_length=1, max_length=80)]


class BentStep(BaseStep):
    """How the round tube of an earlier sweep is bent: the machine's program with springback, what is checked, and how
    tubes are cut from stock; it makes nothing.

    It is told from the path's start, ``flipped`` from its end. Springback is ``fixed`` and a ``share`` of the angle (of
    one), or what two ``tests`` say; the radius grows by ``growth`` (of one). ``stretch`` is by how much of their length
    (of one) bends stretch; ``trim_start`` and ``trim_end`` are cut off after. ``clamp`` and ``grip`` are the straights
    that the machine needs, twice the diameter where they are not given; ``longest_feed`` and ``stock`` any length.
    ``count`` tubes are cut, each cut losing a ``kerf``. ``oval`` is how oval (of one) a bend of twice the diameter may
    become. The ``machine`` is one that the program is played on, or an ``own_machine`` from a file; ``long_turns`` the
    bends, from 1, that it turns to the longer way round; ``corrections`` are added to the rows, and a measured tube may
    be off by the ``tolerance`` at its corners and ends. ``tooling`` is what the tool has to have, in order; the usual
    where none is given.
    """

    kind: Literal["bent"] = "bent"
    tube: Annotated[Id, Refers("body")]
    flipped: bool = False
    fixed: Annotated[Angle, Field(title="Fixed springback")] = 0.0
    share: Annotated[Plain, Field(title="Share of the angle")] = 0.0
    growth: Annotated[Plain, Field(title="Radius grows by")] = 0.0
    tests: Annotated[list[TestBend], Field(max_length=2)] = []
    stretch: Annotated[Plain, Field(title="Bends stretch by")] = 0.0
    trim_start: Annotated[Length, ZERO_OR_MORE, Field(title="Trimmed at the start")] = 0.0
    trim_end: Annotated[Length, ZERO_OR_MORE, Field(title="Trimmed at the end")] = 0.0
    clamp: Annotated[Length | None, ZERO_OR_MORE, Field(title="Straight for the clamp")] = None
    grip: Annotated[Length | None, ZERO_OR_MORE, Field(title="Straight for the grip")] = None
    longest_feed: Annotated[Length | None, ZERO_OR_MORE] = None
    stock: Annotated[Length | None, ZERO_OR_MORE, Field(title="Stock length")] = None
    count: Annotated[Plain, Field(title="Tubes")] = 1.0
    kerf: Annotated[Length, ZERO_OR_MORE, Field(title="Lost at each cut")] = 0.0
    oval: Annotated[Plain, Field(title="Oval at 2 × Ø")] = 0.05
    machine: Annotated[str, Field(max_length=60)] | None = None
    own_machine: MachineFile | None = None
    long_turns: Annotated[list[int], Field(max_length=200)] = []
    corrections: Annotated[list[RowCorrection], Field(max_length=200)] = []
    tolerance: Annotated[Length, ABOVE_ZERO] = 1.0
    tooling: Annotated[list[ToolingRow], Field(max_length=20)] = []
