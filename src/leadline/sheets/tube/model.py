"""What the bend sheet of a tube says."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from leadline.core.marks import Angle, Length, Size, Toleranced


class TubeBendLine(BaseModel):
    """One bend, in the order in which it is made."""

    number: int = Field(title="Bend")
    feed: Size = Field(title="Feed", description="Straight before the bend")
    turn: Angle = Field(
        title="Turn", description="Of the bend's plane against the one before, right-handed about the way ahead"
    )
    angle: Annotated[Angle, Toleranced("leg")] = Field(title="Angle")
    leg: Length = Field(exclude=True, description="The shorter straight beside it")
    made: Angle = Field(title="Bend by", description="With springback")
    feed_by: Length | None = Field(title="Feed by", description="Where the program is corrected")
    turn_by: Angle | None = Field(title="Turn by", description="Where it is corrected, or goes the longer way round")
    radius: Size = Field(title="Radius")
    tool: Length = Field(title="Tool", description="Whose radius grows to it")
    outer: Length = Field(title="Wall outside")
    inner: Length = Field(title="Wall inside")
    oval: float = Field(title="Oval to (%)")
    start: Length = Field(title="From")
    end: Length = Field(title="To")


class TubeSheet(BaseModel):
    """A tube's program, its material in the bends, and how it is cut."""

    rows: list[TubeBendLine]
    outside: Length = Field(title="Outside diameter")
    wall: Length = Field(title="Wall")
    told_from: str = Field(title="Told from")
    last: Size = Field(title="Straight after the last bend")
    straight: Length = Field(title="In straights")
    bent: Length = Field(title="In bends")
    length: Length = Field(title="Length of the centreline")
    cut: Size = Field(title="Cut length")
    fixed: Angle = Field(title="Springback, fixed")
    share: float = Field(title="Springback, of the angle")
    growth: float = Field(title="Growth of the radius")
    clamp: Length = Field(title="Straight for the clamp")
    grip: Length = Field(title="Straight for the grip")
    stretched: float | None = Field(title="Greatest stretch (%)")
    tightness: float | None = Field(title="Tightest bend, by the diameter")
    thinness: float = Field(title="Diameter by wall")
    tooling: str = Field(title="Tool has to have")
    machine: str | None = Field(title="Machine")
    seconds: float | None = Field(title="Time on it (s)")
    met: str | None = Field(title="Runs into")
    count: int = Field(title="Tubes")
    bars: int | None = Field(title="Bars of stock")
    waste: Length | None = Field(title="Left over of them")
    source: str = Field(title="By")
