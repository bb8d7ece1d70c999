"""What the sheet of a spring says."""

from __future__ import annotations

from pydantic import BaseModel, Field

from leadline.core.marks import Angle, Length, Size


class LoadLine(BaseModel):
    """The spring under one load."""

    number: int = Field(title="Load")
    length: Length | None = Field(title="Length")
    travel: Length | None = Field(title="Travel")
    angle: Angle | None = Field(title="Turned")
    force: float | None = Field(title="Force (N)")
    moment: float | None = Field(title="Moment (N mm)")
    least: float | None = Field(
        title="Least",
        description="Of the force or moment, by the tolerances of the sizes; none where the spring is solid before",
    )
    most: float | None = Field(title="Greatest")
    stress: float = Field(title="Stress (MPa)")
    corrected: float = Field(title="Corrected (MPa)", description="With the greater stress at the coil's inner side")
    share: float = Field(title="Of permitted (%)")


class SpringSheet(BaseModel):
    """A spring's sizes, its rate, its limits and its loads."""

    rows: list[LoadLine]
    duty: str = Field(title="Kind")
    wire: Length = Field(title="Wire")
    outer: Size = Field(title="Outer diameter", description="Where it is widest")
    mean: Length = Field(title="Mean diameter", description="On average over its turns")
    inner: Length = Field(title="Inner diameter", description="Where it is narrowest")
    index: float = Field(title="Spring index")
    active: float = Field(title="Active turns")
    total: float = Field(title="Total turns")
    hand: str = Field(title="Hand")
    ends: str = Field(title="Ends")
    free: Size | None = Field(title="Free length")
    pitch: Length | None = Field(title="Pitch")
    rate: float | None = Field(title="Rate (N/mm)")
    torsion_rate: float | None = Field(title="Rate (N mm/deg)")
    least_rate: float | None = Field(title="Least rate by the tolerances")
    most_rate: float | None = Field(title="Greatest rate by the tolerances")
    initial: float | None = Field(title="Initial tension (N)")
    solid: Length | None = Field(title="Solid length")
    least_working: Length | None = Field(title="Least working length")
    solid_force: float | None = Field(title="Force when solid (N)")
    solid_stress: float | None = Field(title="Stress when solid (MPa)")
    buckles_at: Length | None = Field(title="Buckles when pressed by")
    frequency: float | None = Field(title="First frequency (Hz)")
    outer_when_solid: Length | None = Field(title="Outer diameter when solid")
    inner_when_wound: Length | None = Field(title="Inner diameter when turned")
    loop_stress: float | None = Field(title="Bending in the loop (MPa)")
    goodman: float | None = Field(title="Share of endurance between the loads (%)")
    material: str = Field(title="Wire grade")
    strength: float = Field(title="Tensile strength of the wire (MPa)")
    permitted: float = Field(title="Permitted stress (MPa)")
    wire_length: Length = Field(title="Length of wire")
    mass: float = Field(title="Mass (g)")
    source: str = Field(title="By")
    own_tolerances: dict[str, float | None] = Field(default={}, exclude=True)
