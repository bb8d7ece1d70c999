"""What a spring takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import ABOVE_ZERO, ZERO_OR_MORE, Angle, Length, Plain, Turns, When
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, PathRef, PlaneRef, ResultMode

Loop = Literal["none", "half", "full", "side"]


class OwnWire(Model):
    """A wire that is none of the list: ``shear`` and ``elastic`` modulus and tensile ``strength`` in MPa, ``density``
    in kg/dm³.
    """

    shear: Annotated[Plain, ABOVE_ZERO, Field(title="Shear modulus")]
    elastic: Annotated[Plain, ABOVE_ZERO, Field(title="Elastic modulus")]
    strength: Annotated[Plain, ABOVE_ZERO]
    density: Annotated[Plain, ABOVE_ZERO] = 7.85


class AtLength(Model):
    """A load that makes the spring so long."""

    id: Id
    by: Literal["length"] = "length"
    length: Annotated[Length, Field(title="Length under load")]


class AtForce(Model):
    """A load of so many N; of a torsion spring so many N mm."""

    id: Id
    by: Literal["force"] = "force"
    force: Plain


class AtAngle(Model):
    """A load that turns the legs of a torsion spring by so much."""

    id: Id
    by: Literal["angle"] = "angle"
    angle: Angle


Load = Annotated[AtLength | AtForce | AtAngle, Field(discriminator="by")]


class Wish(Model):
    """What a spring that is pressed or pulled is to do: two forces (N) at two lengths, with at most a ``share`` (of
    one) of the stress that its wire bears.
    """

    force_1: Annotated[Plain, Field(title="First force")]
    length_1: Annotated[Length, Field(title="First length")]
    force_2: Annotated[Plain, Field(title="Second force")]
    length_2: Annotated[Length, Field(title="Second length")]
    share: Annotated[Plain, Field(title="Share of the stress")] = 0.8


class TurnedWish(Model):
    """What a torsion spring is to do: a ``moment`` (N mm) when its legs are turned by an ``angle``, with at most a
    ``share`` of the stress that its wire bears.
    """

    moment: Plain
    angle: Angle
    share: Annotated[Plain, Field(title="Share of the stress")] = 0.8


class Tolerances(Model):
    """By how much a spring's sizes may be off either way; the ``diameter`` as it is measured, the ``initial`` tension
    in N.
    """

    wire: Annotated[Length, Field(title="Tolerance of the wire")] = 0.0
    diameter: Annotated[Length, Field(title="Tolerance of the diameter")] = 0.0
    turns: Annotated[Turns, Field(title="Tolerance of the turns")] = 0.0
    free: Annotated[Length, Field(title="Tolerance of the free length")] = 0.0
    initial: Annotated[Plain, Field(title="Tolerance of the initial tension")] = 0.0


class SprungStep(BaseStep):
    """A spring of round wire, its axis the normal of a plane through its origin; or the wire ``along`` a path of any
    shape, ``pressed`` from end to end or along that axis, of which ``wire``, ``material`` and ``loads`` alone are
    asked.

    ``diameter`` is the coil's as ``measured``: to the wire's middle, outside or inside. A compression spring has a
    ``free`` length, ``turns`` that are active, and ``end_turns`` more at each end that lie closed (none with open
    ends); with an ``end_diameter`` it is conical, with a ``middle_diameter`` a barrel or an hourglass. Its pitch is
    even, or goes straight between two or more ``pitches``, shares of it that stand evenly over the active turns. An
    extension spring has loops at its ends and an ``initial`` tension (N), a torsion spring legs. ``loads`` are what it
    is judged at; ``shown_under`` one of them it is drawn so. A ``wish``, of a torsion spring a ``turned_wish``, is what
    springs are looked for by; it changes nothing by itself. ``bore`` and ``rod`` are what it stands in or on, ``seat``
    is ν of the buckling formula, ``moving`` says that its loads change often. ``tolerances`` tell how far rate and
    forces spread.
    """

    kind: Literal["sprung"] = "sprung"
    plane: PlaneRef
    along: PathRef | None = None
    pressed: Literal["ends", "axis"] = "ends"
    duty: Literal["compression", "extension", "torsion"] = "compression"
    wire: Length
    diameter: Length
    measured: Literal["mean", "outer", "inner"] = "outer"
    end_diameter: Annotated[Length | None, When("duty", ("compression",)), Field(title="Diameter at the end")] = None
    middle_diameter: Annotated[Length | None, When("duty", ("compression",)), Field(title="Diameter in the middle")] = (
        None
    )
    turns: Turns
    free: Annotated[Length, When("duty", ("compression",)), Field(title="Free length")] = 0.0
    pitches: Annotated[list[Plain], Field(max_length=50), When("duty", ("compression",))] = []
    ends: Annotated[Literal["open", "closed", "ground"], When("duty", ("compression",))] = "ground"
    end_turns: Annotated[Turns, ZERO_OR_MORE, When("ends", ("closed", "ground")), Field(title="Closed turns each")] = (
        1.0
    )
    loop_start: Annotated[Loop, When("duty", ("extension",))] = "full"
    loop_end: Annotated[Loop, When("duty", ("extension",))] = "full"
    initial: Annotated[Plain, When("duty", ("extension",)), Field(title="Initial tension")] = 0.0
    leg_start: Annotated[Length, ZERO_OR_MORE, When("duty", ("torsion",)), Field(title="Leg at the start")] = 0.0
    leg_end: Annotated[Length, ZERO_OR_MORE, When("duty", ("torsion",)), Field(title="Leg at the end")] = 0.0
    hand: Literal["right", "left"] = "right"
    start_angle: Angle = 0.0
    material: Literal["SL", "SM", "SH", "1.4310"] | OwnWire = "SM"
    loads: Annotated[list[Load], Field(max_length=20)] = []
    shown_under: Id | None = None
    moving: bool = False
    seat: Annotated[Plain, ABOVE_ZERO, When("duty", ("compression",)), Field(title="Seat factor")] = 0.5
    bore: Annotated[Length | None, ABOVE_ZERO, When("duty", ("compression",)), Field(title="Stands in a bore of")] = (
        None
    )
    rod: Annotated[Length | None, ABOVE_ZERO, Field(title="Stands on a rod of")] = None
    wish: Annotated[Wish, When("duty", ("compression", "extension"))] | None = None
    turned_wish: Annotated[TurnedWish, When("duty", ("torsion",))] | None = None
    tolerances: Tolerances | None = None
    result: ResultMode = "separate"
