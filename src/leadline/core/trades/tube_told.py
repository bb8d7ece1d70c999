"""All that is told of a tube that is bent."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

from leadline.core.paths.bends import Bends
from leadline.core.trades.bender_run import Run, other_way
from leadline.core.trades.tube_bending import Cutting, Machine, Springback, Walls


@dataclass(frozen=True)
class TubeTold:
    """A round tube (``wall`` is its radius where it is a bar) with the ``bends`` that are left (stations counted from
    the end it is told from), what the machine is told, its ``walls`` in each bend, how long it is cut and how many are
    cut from which bars.

    ``length`` is that of its path; ``trims`` are cut off after bending, before its told start and after its end;
    ``oval`` is the most that a bend may be, of one, ``long_turns`` are the bends, from 1, that the machine turns to the
    longer way round; ``played`` is how the program goes on a machine, if one is chosen.
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
    machine: Machine
    trims: tuple[float, float]
    oval: float
    long_turns: tuple[int, ...]
    played: Run | None = None
    played_on: str = ""

    @property
    def turns(self) -> tuple[float, ...]:
        """How far the machine turns before each bend, rad."""
        turns = [math.remainder(row.turn, 2 * math.pi) for row in self.made.rows]
        return tuple(other_way(turn) if i + 1 in self.long_turns else turn for i, turn in enumerate(turns))

    @cached_property
    def held(self) -> Bends:
        """The bends as they are made, what is trimmed off later still on: the grip holds the one end of it, the clamp
        the other.
        """
        rows = tuple(replace(r, feed=r.feed + self.trims[0]) if i == 0 else r for i, r in enumerate(self.bends.rows))
        return Bends(rows, self.bends.last + self.trims[1] + (0.0 if rows else self.trims[0]))

    def station(self, at: float) -> float:
        """Where along the path, from its own start, a station told from the other end is."""
        return self.length - at if self.flipped else at
