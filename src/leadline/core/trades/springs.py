"""Helical springs of round wire: compression (EN 13906-1), extension (EN 13906-2) and torsion (EN 13906-3), and their
wires (EN 10270).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from leadline.core.problems import Problem, mm
from leadline.core.trades.standard_rows import told

Ends = Literal["open", "closed", "ground"]
LEAST_INDEX, MOST_INDEX = 4.0, 20.0  # of EN 13906-1 for cold coiled springs
SOLID_SHARE = 0.56  # of the tensile strength: the stress that is permitted at the solid length
MOVING_GAP = 1.5  # times the sum of least gaps, for loads that change often


@dataclass(frozen=True)
class Wire:
    """A wire's material: shear modulus and elastic modulus (MPa), density (kg/dm³), and its tensile strength
    ``a - b lg d`` (MPa, d in mm), or by a ``table`` of diameters (mm) up to which it is so many MPa.

    ``title`` and ``diameters`` (mm) are those of its standard, if it is of one.
    """

    shear_modulus: float
    elastic_modulus: float
    density: float
    strength_at_1: float
    strength_fall: float
    table: tuple[tuple[float, float], ...] = ()
    title: str = ""
    diameters: tuple[float, float] = (0.0, math.inf)

    def strength(self, d: float) -> float:
        """The least tensile strength of a wire of diameter d (mm), MPa; of one that its standard does not have, that of
        the nearest one.
        """
        d = min(max(d, self.diameters[0]), self.diameters[1])
        if self.table:
            return next(strength for most, strength in self.table if told(d) <= most)
        return self.strength_at_1 - self.strength_fall * math.log10(d)

    def made(self, d: float) -> bool:
        """Whether its standard has wire of a diameter (mm)."""
        return self.diameters[0] <= told(d) <= self.diameters[1]


STAINLESS = (
    (0.2, 2200.0),
    (0.3, 2150.0),
    (0.4, 2100.0),
    (0.5, 2050.0),
    (0.65, 2000.0),
    (0.8, 1950.0),
    (1.0, 1900.0),
    (1.25, 1850.0),
    (1.5, 1800.0),
    (1.75, 1750.0),
    (2.0, 1700.0),
    (2.5, 1650.0),
    (3.0, 1600.0),
    (3.5, 1550.0),
    (4.25, 1500.0),
    (5.0, 1450.0),
    (6.0, 1400.0),
    (7.0, 1350.0),
    (8.5, 1300.0),
    (10.0, 1250.0),
)
"""Least tensile strengths (MPa) of 1.4310 of the normal grade up to diameters (mm), EN 10270-3."""

WIRES: dict[str, Wire] = {
    "SL": Wire(81500, 206000, 7.85, 1720, 660, title="EN 10270-1 SL", diameters=(1.0, 10.0)),
    "SM": Wire(81500, 206000, 7.85, 1980, 740, title="EN 10270-1 SM", diameters=(0.3, 20.0)),
    "SH": Wire(81500, 206000, 7.85, 2220, 820, title="EN 10270-1 SH", diameters=(0.3, 20.0)),
    "1.4310": Wire(70000, 180000, 7.9, 0, 0, STAINLESS, "EN 10270-3 1.4310", (0.0, 10.0)),
}
"""Patented drawn wire of EN 10270-1 by its grade, and stainless wire of EN 10270-3."""


def mass_of(wire: float, length: float, material: Wire) -> float:
    """The mass of a round wire of a diameter and a length (mm), g."""
    return math.pi / 4 * wire**2 * length * material.density * 1e-3


@dataclass(frozen=True)
class Coils:
    """A cylindrical spring: ``wire`` diameter and ``mean`` coil diameter (mm), ``active`` and ``total`` turns.

    Raises:
        Problem: a size is not above zero, or the wire fills the coil.
    """

    wire: float
    mean: float
    active: float
    total: float

    def __post_init__(self) -> None:
        for field, value in (("wire", self.wire), ("diameter", self.mean), ("turns", self.active)):
            if not value > 0:
                raise Problem("bad-size", f"The spring's {field} is not above zero.", "Give it above zero.", of=field)
        if self.mean <= self.wire:
            raise Problem(
                "wire-too-thick",
                f"A wire of {mm(self.wire)} fills a coil of {mm(self.mean)} mean diameter.",
                "Give a larger diameter, or a thinner wire.",
                of="wire",
            )

    @property
    def index(self) -> float:
        """w = D/d."""
        return self.mean / self.wire


def rate(coils: Coils, shear_modulus: float) -> float:
    """G d⁴ / (8 D³ n), N/mm."""
    return shear_modulus * coils.wire**4 / (8 * coils.mean**3 * coils.active)


def shear_stress(coils: Coils, force: float) -> float:
    """8 F D / (π d³), MPa, not corrected."""
    return 8 * force * coils.mean / (math.pi * coils.wire**3)


def correction(index: float) -> float:
    """k = (w + 0.5)/(w - 0.75), for the greater stress at the coil's inner side (Bergsträsser, EN 13906-1)."""
    return (index + 0.5) / (index - 0.75)


def judged(stress: float, k: float, moving: bool) -> float:
    """The stress (MPa) that is compared with the permitted one: as the formula has it for loads that rest, corrected by
    k for loads that change often (EN 13906-1 to -3).
    """
    return k * stress if moving else stress


def solid_length(coils: Coils, ends: Ends) -> float:
    """Lc: nt d with ground ends, (nt + 1.5) d with ends that are not."""
    return coils.total * coils.wire if ends == "ground" else (coils.total + 1.5) * coils.wire


def least_gaps(coils: Coils) -> float:
    """Sa = n (0.0015 D²/d + 0.1 d): the gaps that have to stay open together under a resting load."""
    return coils.active * (0.0015 * coils.mean**2 / coils.wire + 0.1 * coils.wire)


def buckles_at(coils: Coils, free: float, wire: Wire, seat: float) -> float | None:
    """The deflection (mm) at which the spring buckles, None where it never does; ``seat`` is ν, 0.5 for flat guided
    ends.

    ``sK = L0 · 0.5/(1 - G/E) · [1 - sqrt(1 - (1 - G/E)/(0.5 + G/E) · (π D / (ν L0))²)]``
    """
    share = wire.shear_modulus / wire.elastic_modulus
    under = 1 - (1 - share) / (0.5 + share) * (math.pi * coils.mean / (seat * free)) ** 2
    return None if under < 0 else free * 0.5 / (1 - share) * (1 - math.sqrt(under))


def first_frequency(coils: Coils, wire: Wire) -> float:
    """3560 d/(n D²) sqrt(G/ρ), Hz, both ends held."""
    return 3560 * coils.wire / (coils.active * coils.mean**2) * math.sqrt(wire.shear_modulus / wire.density)


def pitch_when_free(coils: Coils, free: float, ends: Ends) -> float:
    """m (mm), by which EN 13906-1 tells how much a spring widens: (L0 - d)/n, or (L0 - 2.5 d)/n where the ends are
    closed and not ground.
    """
    return (free - (2.5 if ends == "closed" else 1.0) * coils.wire) / coils.active


def outer_when_solid(coils: Coils, pitch: float) -> float:
    """De at the solid length: D + 0.1 (m² - 0.8 m d - 0.2 d²)/D + d with m as ``pitch_when_free`` has it (EN
    13906-1).
    """
    d, m = coils.wire, pitch
    return coils.mean + 0.1 * (m * m - 0.8 * m * d - 0.2 * d * d) / coils.mean + d


def goodman_share(low: float, high: float, strength: float, most_swing: float) -> float:
    """How much of what is allowed a stress that goes from ``low`` to ``high`` (corrected, MPa) uses: one on the Goodman
    line.

    The line falls from ``most_swing``, the amplitude that a pulsating load from nought may have, straight to the
    ``strength`` in shear.
    """
    mean, swing = (low + high) / 2, (high - low) / 2
    return swing / most_swing * (1 - most_swing / strength) + mean / strength


def torsion_rate(coils: Coils, elastic_modulus: float) -> float:
    """E d⁴/(3667 D n), N mm for each degree."""
    return elastic_modulus * coils.wire**4 / (3667 * coils.mean * coils.active)


def bending_stress(coils: Coils, moment: float) -> float:
    """32 M / (π d³), MPa, not corrected."""
    return 32 * moment / (math.pi * coils.wire**3)


def bending_correction(index: float) -> float:
    """q = (w + 0.07)/(w - 0.75), EN 13906-3."""
    return (index + 0.07) / (index - 0.75)


def inner_when_wound(coils: Coils, turned: float) -> float:
    """The inner diameter (mm) of a torsion spring whose ends are turned by an angle (rad) against each other, closing:
    D n/(n + α/2π) - d.
    """
    return coils.mean * coils.active / (coils.active + turned / (2 * math.pi)) - coils.wire


def loop_stress(coils: Coils, force: float) -> float:
    """The bending stress (MPa) where a full loop turns out of the coil: 16 F D/(π d³) times (4 w² - w - 1)/(4 w (w -
    1)) plus 4 F/(π d²).
    """
    w = coils.index
    return 16 * force * coils.mean / (math.pi * coils.wire**3) * (4 * w * w - w - 1) / (4 * w * (w - 1)) + 4 * force / (
        math.pi * coils.wire**2
    )
