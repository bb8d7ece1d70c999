"""By how much a spring's rate and its forces spread where its sizes may be off.

At a length the force of a spring rises with its wire and its initial tension, falls with its diameter and its turns,
and with its free length rises when it is pressed and falls when it is pulled; each of them alone. So the least and the
greatest force are those of the weakest and of the strongest spring whose sizes are within their tolerances.
"""

from __future__ import annotations

from dataclasses import dataclass

from leadline.core.trades.closing import Closing

Between = tuple[float | None, float | None]


@dataclass(frozen=True)
class Play:
    """By how much sizes may be off either way: ``wire``, ``diameter`` and ``free`` length in mm, ``turns``, ``initial``
    tension in N.
    """

    wire: float = 0.0
    diameter: float = 0.0
    turns: float = 0.0
    free: float = 0.0
    initial: float = 0.0

    def weakest(self, pulled: bool) -> Play:
        """What is added to the sizes of the weakest spring."""
        return Play(-self.wire, self.diameter, self.turns, self.free if pulled else -self.free, -self.initial)

    def strongest(self, pulled: bool) -> Play:
        """What is added to the sizes of the strongest spring."""
        weak = self.weakest(pulled)
        return Play(-weak.wire, -weak.diameter, -weak.turns, -weak.free, -weak.initial)


@dataclass(frozen=True)
class Spread:
    """The least and the greatest rate, and force at each load: as ``SpringNumbers`` has them.

    A force is None where the spring is solid before.

    ``play`` is what they come of, its diameter that which is ``measured``: "mean", "outer" or "inner".
    """

    rate: tuple[float, float]
    forces: tuple[Between, ...]
    play: Play
    measured: str


def pressed(closed: Closing, length: float) -> float | None:
    """The force (N) of a compression spring at a length (mm): nought where it is not that long, None where it is solid
    before.
    """
    if length >= closed.free:
        return 0.0
    return None if length < closed.solid else closed.force_at(length)


def pulled(rate: float, free: float, initial: float, length: float) -> float:
    """The force (N) of an extension spring at a length (mm): nought where it is longer by itself."""
    return 0.0 if length < free else max(0.0, initial + rate * (length - free))
