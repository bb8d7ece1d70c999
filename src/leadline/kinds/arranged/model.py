"""What copying bodies takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Angle, Length, Plain, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, PlaneRef, ResultMode


class Mirrored(Model):
    """Seen in the plane as in a mirror."""

    by: Literal["mirror"] = "mirror"
    keep: bool = True


class MovedOnce(Model):
    """Turned about the plane's normal through its origin, then shifted along its x, its y and its normal."""

    by: Literal["move"] = "move"
    x: Annotated[Length, Field(title="Along x")] = 0.0
    y: Annotated[Length, Field(title="Along y")] = 0.0
    out: Annotated[Length, Field(title="Out of the plane")] = 0.0
    turn: Angle = 0.0
    keep: bool = False


class InRows(Model):
    """So many along the plane's x and y, the source itself the first."""

    by: Literal["rows"] = "rows"
    count: Annotated[Plain, Field(title="Count along x")] = 2.0
    spacing: Annotated[Length, Field(title="Spacing along x")]
    count_y: Annotated[Plain, Field(title="Count along y")] = 1.0
    spacing_y: Annotated[Length, Field(title="Spacing along y")] = 0.0


class Round(Model):
    """So many round the plane's normal through its origin, the source itself the first, each ``rise`` further
    along it.
    """

    by: Literal["round"] = "round"
    count: Plain = 2.0
    angle: Annotated[Angle, Field(title="Angle in all")] = 360.0
    rise: Annotated[Length, Field(title="Rise of each")] = 0.0


How = Annotated[Mirrored | MovedOnce | InRows | Round, Field(discriminator="by")]


class ArrangedStep(BaseStep):
    """The bodies of an earlier step mirrored, moved, or copied in rows or round an axis, as a plane places them.

    Where the source stays it is the first of them: copied again, or put together with other bodies, all are. With
    ``cut`` the source cuts too, and stays.
    """

    kind: Literal["arranged"] = "arranged"
    source: Annotated[Id, Refers("body")]
    plane: PlaneRef
    how: How
    result: ResultMode = "separate"

    @property
    def stays(self) -> bool:
        """Whether the source stays where it is."""
        return self.how.keep if isinstance(self.how, Mirrored | MovedOnce) else True
