"""What the sheet of bends says."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from leadline.core.marks import Angle, Length, Size, Toleranced


class BendLine(BaseModel):
    """One bend, in the order in which it is made."""

    number: int = Field(title="Bend")
    feed: Size = Field(title="Feed", description="Straight before the bend")
    turn: Angle = Field(
        title="Turn", description="Of the bend's plane against the one before, right-handed about the way ahead"
    )
    angle: Annotated[Angle, Toleranced("leg")] = Field(title="Angle")
    leg: Length = Field(exclude=True, description="The shorter straight beside it")
    radius: Size = Field(title="Radius")
    start: Length = Field(title="From")
    end: Length = Field(title="To")


class BendsSheet(BaseModel):
    """The bends of a path, the straight after the last of them, and the length of all."""

    rows: list[BendLine]
    last: Size = Field(title="Straight after the last bend")
    length: Length = Field(title="Length")
    bent: Length = Field(title="In bends")
