"""A bender as a file: what ``docs/part-format.md`` tells of machines, lengths in mm, angles in degrees."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, ValidationError, model_validator

from leadline.core.problems import Problem
from leadline.core.sketch.model import Model, Number, Size

Corner = tuple[Number, Number, Number]
Corners = tuple[Corner, Corner]
NotNegative = Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e7)]
PLACES = ("bed", "column", "carriage", "clamp", "pressure", "arm")


class SpeedsFile(Model):
    """``feed`` in mm/s; ``turn``, ``bend`` and ``back`` in degrees a second; ``grip`` in s."""

    feed: Size
    turn: Size
    bend: Size
    back: Size
    grip: NotNegative


class MachineFile(Model):
    """A bender, its boxes by their lowest and highest corners."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    largest_outside: Size
    floor: Number
    travel: Size
    grip: Size
    nearest: NotNegative
    clamp_length: Size
    sweep: Annotated[float, Field(gt=0, le=360)]
    drop: NotNegative
    opening: NotNegative
    die_height: Size
    bed: Corners
    column: Corners
    carriage: Corners
    clamp: Corners
    pressure: Corners
    arm: Corners
    speeds: SpeedsFile

    @model_validator(mode="after")
    def _boxes_have_room(self) -> MachineFile:
        for name in PLACES:
            low, high = getattr(self, name)
            if any(a >= b for a, b in zip(low, high, strict=True)):
                raise ValueError(f"the first corner of “{name}” is not below the second")
        if self.nearest >= self.travel:
            raise ValueError("its carriage cannot come nearer than it stands at most away")
        return self


def read_machine(text: str) -> MachineFile:
    """A machine from its file.

    Raises:
        Problem: the file is no machine; it says where.
    """
    try:
        return MachineFile.model_validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(map(str, first["loc"]))
        said = f"{where}: {first['msg']}" if where else first["msg"]
        raise Problem(
            "bad-machine",
            f"This file tells no bender: {said}.",
            "Describe it as in docs/part-format.md.",
            of="machine",
        ) from None
