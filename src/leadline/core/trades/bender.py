"""A bender that is simulated: its parts, what it can hold, and how fast it goes.

The machine's axes: x ahead along the tube, the origin where the tube runs onto the die, y towards the die's axis, z up.
A bend swings the front of the tube from x towards y; the arm with the clamp swings with it. While the tube is fed and
turned the clamp, the pressure die and the die are out of its way. All lengths in mm, angles in rad but in the files,
which have degrees.
"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem
from leadline.core.trades.machine_file import PLACES, MachineFile, read_machine

FOLDER = resources.files("leadline.core.trades") / "machines"


@dataclass(frozen=True)
class Box:
    """A box of the machine by its lowest and highest corner, each (3,)."""

    low: Array
    high: Array

    def away(self, points: Array) -> Array:
        """How far points (n, 3) are from it, (n,); below zero inside."""
        x, y, z = (np.maximum(low - p, p - high) for low, high, p in zip(self.low, self.high, points.T, strict=True))
        outside = np.maximum(x, 0) ** 2 + np.maximum(y, 0) ** 2 + np.maximum(z, 0) ** 2
        return np.asarray(np.sqrt(outside) + np.minimum(np.maximum(np.maximum(x, y), z), 0))


@dataclass(frozen=True)
class Speeds:
    """``feed`` in mm/s, ``turn``, ``bend`` and ``back`` (the arm's way back) in rad/s, ``grip`` the seconds to close or
    open clamp and die.
    """

    feed: float
    turn: float
    bend: float
    back: float
    grip: float


@dataclass(frozen=True)
class Bender:
    """A machine.

    ``carriage`` stands at the face of its grip, ``clamp`` and ``arm`` as they are before a bend, for a tube of no
    width.

    It takes tubes up to ``largest_outside``, grips the last ``grip`` of them, and comes as near to the die as
    ``nearest`` and stays within ``travel`` of it. Its arm goes round by ``sweep``. While the tube moves, die and clamp
    are lowered by ``drop`` and the pressure die is ``opening`` away.
    """

    name: str
    largest_outside: float
    floor: float
    travel: float
    grip: float
    nearest: float
    clamp_length: float
    sweep: float
    drop: float
    opening: float
    die_height: float
    bed: Box
    column: Box
    carriage: Box
    clamp: Box
    pressure: Box
    arm: Box
    speeds: Speeds


def bender_of(file: MachineFile) -> Bender:
    """The machine that a file tells."""
    known: dict[str, Any] = file.model_dump()
    boxes = {name: Box(*np.array(known.pop(name), dtype=float)) for name in PLACES}
    speeds = {name: v if name in ("feed", "grip") else math.radians(v) for name, v in known.pop("speeds").items()}
    return Bender(**{**known, **boxes, "sweep": math.radians(file.sweep), "speeds": Speeds(**speeds)})


def benders() -> dict[str, str]:
    """The names of the machines that there are, by their files."""
    return {
        entry.name.removesuffix(".json"): str(json.loads(entry.read_text())["name"])
        for entry in sorted(FOLDER.iterdir(), key=lambda e: e.name)
        if entry.name.endswith(".json")
    }


@cache
def machine_file(name: str) -> MachineFile:
    """A machine that comes with the program, by the name of its file.

    Raises:
        Problem: there is none of that name.
    """
    if name not in benders():
        raise Problem(
            "unknown-machine", f"There is no machine “{name}”.", f"Take one of {', '.join(benders())}.", of="machine"
        )
    return read_machine((FOLDER / f"{name}.json").read_text())


def bender(name: str) -> Bender:
    """As ``machine_file``, as the machine that it tells. Raises Problem."""
    return bender_of(machine_file(name))
