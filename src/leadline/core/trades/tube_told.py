"""All that is told of a tube that is bent."""

from __future__ import annotations

from dataclasses import dataclass

from leadline.core.paths.bends import Bends
from leadline.core.trades.tube_bending import Cutting, Springback, Walls


@dataclass(frozen=True)
class TubeTold:
    """A round tube (``wall`` is its radius where it is a bar) with the ``bends`` that are left (stations counted from the end it is told from), what the
    machine is told, its ``walls`` in each bend, how long it is cut and how many are cut from which bars. ``length`` is that of its path; ``oval`` the most that a bend may be, of one.
    """

    outside: float
    wall: float
    bends: Bends
    made: Bends
    give: Springback
    walls: tuple[Walls, ...]
    flipped: bool
    length: float
    cut: float
    count: int
    cutting: Cutting | None
    clamp: float
    grip: float
    oval: float

    def station(self, at: float) -> float:
        """Where along the path, from its own start, a station told from the other end is."""
        return self.length - at if self.flipped else at
