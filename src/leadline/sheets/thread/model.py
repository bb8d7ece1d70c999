"""What the sheet of a thread says."""

from __future__ import annotations

from pydantic import BaseModel, Field

from leadline.core.marks import Angle, Length, Size


class DiameterLine(BaseModel):
    """One diameter of the thread, with its limits where it has a class."""

    name: str = Field(title="Diameter")
    basic: Length = Field(title="Basic")
    most: Length | None = Field(title="Most")
    least: Length | None = Field(title="Least")
    mean: Length | None = Field(title="Middle")


class ThreadSheet(BaseModel):
    """A thread's diameters and what a shop needs to make and to measure it."""

    rows: list[DiameterLine]
    thread: str = Field(title="Thread")
    where: str = Field(title="On")
    hand: str = Field(title="Hand")
    pitch: Length = Field(title="Pitch")
    lead: Length = Field(title="Lead")
    starts: int = Field(title="Starts")
    length: Size = Field(title="Threaded length")
    turns: float = Field(title="Turns")
    face: Length = Field(title="Diameter of the face")
    depth: Length = Field(title="Depth of the groove")
    lead_angle: Angle = Field(title="Lead angle")
    locks_itself: str = Field(title="Holds a load by itself")
    tap_drill: Length | None = Field(title="Tap drill")
    wire: Length | None = Field(title="Best measuring wire")
    over_wires: Length | None = Field(title="Over three wires")
    stress_area: float | None = Field(title="Stress area (mm²)")
    engagement: Length | None = Field(title="Engagement as strong as the bolt")
    turn_volume: float = Field(title="Volume of the groove (mm³)")
    mate: str | None = Field(title="Goes with")
    least_clearance: Length | None = Field(title="Least clearance at the pitch diameter")
    most_clearance: Length | None = Field(title="Greatest clearance there")
    source: str = Field(title="By")
