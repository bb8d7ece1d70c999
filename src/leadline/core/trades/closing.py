"""Force against length of a coil spring whose turns close one after the other.

Over a turn u of radius r(u) a force F deflects the coil by c F with c = 64 r³/(G d⁴), until the turn lies on the next
one. A stretch of a turn that has closed gives no further. So the length is piecewise linear in the force, and both ways
round are exact for the cells that the coil is divided into.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm

CELLS = 120  # on a turn
SHUT = 1e-9  # mm of gap


@dataclass(frozen=True)
class Closing:
    """Cells of the active turns of a coil: the turn ``at`` their middles, the ``share`` of a turn that each is, what it
    gives (``give``, mm/N) and how far it can (``gap``, mm), from a ``free`` length (mm).
    """

    free: float
    at: Array
    share: Array
    give: Array
    gap: Array

    @cached_property
    def _knots(self) -> tuple[Array, Array]:
        """Forces (N) from nought on at which cells close, rising, and the deflections (mm) there: between them one is
        linear in the other.
        """
        moving = (self.give > 0) & (self.gap > SHUT)
        force = self.gap[moving] / self.give[moving]
        order = np.argsort(force, kind="stable")
        force, give, gap = force[order], self.give[moving][order], self.gap[moving][order]
        open_give = np.concatenate([np.cumsum(give[::-1])[::-1], [0.0]])
        shut = np.concatenate([[0.0], np.cumsum(gap)])
        return np.concatenate([[0.0], force]), np.concatenate([[0.0], shut[1:] + open_give[1:] * force])

    @property
    def travel(self) -> float:
        """How far the coil gives until every turn has closed, mm."""
        return float(self.gap[self.give > 0].sum())

    @property
    def solid(self) -> float:
        """The length (mm) at which every turn has closed."""
        return self.free - self.travel

    @property
    def solid_force(self) -> float:
        """The force (N) at which the last turn closes."""
        return float(self._knots[0][-1])

    def rate(self) -> float:
        """N/mm, before any turn closes."""
        give = float(self.give.sum())
        return math.inf if give == 0 else 1 / give

    def force_at(self, length: float) -> float:
        """The force (N) at a length.

        Raises:
            Problem: the length is more than the free length, or so short that the coil is solid before.
        """
        if length > self.free + SHUT:
            raise Problem(
                "longer-than-free",
                f"A length of {mm(length)} is more than the free length of {mm(self.free)}.",
                "Give a shorter one.",
                of="loads",
            )
        if length < self.solid - SHUT:
            raise Problem(
                "solid-before",
                f"The spring is solid at {mm(self.solid)}, before it is {mm(length)} long.",
                f"Give {mm(self.solid)} or more.",
                of="loads",
            )
        force, deflection = self._knots
        return float(np.interp(self.free - length, deflection, force))

    def length_at(self, force: float) -> float:
        """The length (mm) under a force; from the solid length on it stays."""
        return self.free - float(np.interp(force, *self._knots))

    def curve(self, points: int = 60) -> tuple[Array, Array]:
        """Lengths (n,) from the free one to the solid one, and the forces (n,) there, N."""
        force, deflection = self._knots
        travel = np.linspace(0.0, self.travel, points)
        return self.free - travel, np.interp(travel, deflection, force)

    def settled(self, force: float) -> Array:
        """How far each cell has given under a force, mm."""
        return np.minimum(self.give * force, self.gap)


def closing(
    free: float,
    turns: float,
    wire: float,
    shear_modulus: float,
    radius: Callable[[Array], Array],
    pitch: Callable[[Array], Array],
    dead: float,
    solid: float | None = None,
) -> Closing:
    """The cells of a coil of so many ``turns``, of which ``dead`` ones at each end lie on their seats and give nothing.

    ``radius`` and ``pitch`` are over the turn. Where the radius changes from one turn to the next by the wire's
    diameter or more, turns go into each other. Of a coil that is told to be ``solid`` at a length (mm), no more than
    the free one, the gaps are made such in proportion.
    """
    active = turns - 2 * dead
    count = max(8, math.ceil(CELLS * active))
    share = np.full(count, active / count)
    u = dead + (np.arange(count) + 0.5) * active / count
    r = radius(u)
    give = 64 * r**3 / (shear_modulus * wire**4) * share
    gap = np.maximum(pitch(u) - seats(u, r, wire), 0.0) * share
    whole = float(gap.sum())
    if solid is not None and whole > 0:
        gap *= max(free - solid, 0.0) / whole
    return Closing(free, u, share, give, gap)


def seats(u: Array, radius: Array, wire: float) -> Array:
    """How high (mm) each turn's wire stands over the one before it where they touch, at turns u (n,) of such radii
    (n,).
    """
    return np.asarray(np.sqrt(np.maximum(wire**2 - np.gradient(radius, u) ** 2, 0.0)))
