"""Springs that meet a wish: wires of the usual sizes, whole half turns, and the diameter that gives the rate."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace

from leadline.core.geometry.plane import PRINCIPAL
from leadline.core.problems import Problem, degrees, mm
from leadline.core.trades import spring_wire, springs
from leadline.core.trades.spring_numbers import PERMITTED_BEND, PERMITTED_PULL
from leadline.core.trades.spring_wire import Loop, Seat
from leadline.core.trades.springs import Coils, Ends, Wire

SIZES = (
    0.2, 0.22, 0.25, 0.28, 0.3, 0.32, 0.34, 0.36, 0.38, 0.4, 0.43, 0.45, 0.48, 0.5, 0.53, 0.56, 0.6, 0.63, 0.65,
    0.7, 0.75, 0.8, 0.85, 0.9, 0.95, 1.0, 1.05, 1.1, 1.2, 1.25, 1.3, 1.4, 1.5, 1.6, 1.7, 1.8, 1.9, 2.0, 2.1, 2.25,
    2.4, 2.5, 2.6, 2.8, 3.0, 3.2, 3.4, 3.6, 3.8, 4.0, 4.25, 4.5, 4.75, 5.0, 5.3, 5.6, 6.0, 6.3, 6.5, 7.0, 7.5, 8.0,
    8.5, 9.0, 9.5, 10.0,
)  # fmt: skip
"""Diameters of patented drawn wire, mm (EN 10270-1)."""

FEWEST, MOST = 2.5, 30.0  # active turns
STEP = 0.5
SHORT = 2.0  # turns of a spring whose loops are measured
KEPT = 40  # designs at most
TIGHTEST = 0.15  # of the permitted stress: as much as turns are coiled upon each other with, without further ado
UPRIGHT = Seat(PRINCIPAL["XY"], 0.0, "right")


@dataclass(frozen=True)
class Wish:
    """Two loads (N at mm), how much of the permitted stress may be used (of one), and the room: a bore and a rod (mm),
    None where there are none.
    """

    first: tuple[float, float]
    second: tuple[float, float]
    share: float
    bore: float | None = None
    rod: float | None = None
    moving: bool = False
    seat: float = 0.5


@dataclass(frozen=True)
class TurnedWish:
    """A moment (N mm) when the legs are turned by an ``angle`` (rad), how much of the permitted stress may be used (of
    one), and a rod (mm) that it stands on.
    """

    moment: float
    angle: float
    share: float
    rod: float | None = None
    moving: bool = False


@dataclass(frozen=True)
class Design:
    """A spring that meets a wish: its coils, free length (mm; nought of a torsion spring), the share of the permitted
    stress that it uses, its mass (g), and its ``initial`` tension (N).
    """

    coils: Coils
    free: float
    share: float
    mass: float
    initial: float = 0.0


def designs(wish: Wish, wire: Wire, ends: Ends, end_turns: float) -> list[Design]:
    """All springs of the usual wires that meet a wish, the lightest first.

    Raises:
        Problem: the loads are none of a compression spring, or nothing fits.
    """
    (f1, l1), (f2, l2) = sorted((wish.first, wish.second))
    if not (0 < f1 < f2 and l1 > l2 > 0):
        raise Problem(
            "bad-wish",
            f"{f2:g} N at {mm(l2)} and {f1:g} N at {mm(l1)} are no loads of one spring that is pressed.",
            "Give the greater force at the lesser length.",
            of="wanted",
        )
    rate = (f2 - f1) / (l1 - l2)
    free = l1 + f1 / rate
    return _best(
        _fitting(replace(c, total=c.active + 2 * end_turns), free, f2, l2, wish, wire, ends)
        for c in _of_rate(rate, wire)
    )


def extensions(wish: Wish, wire: Wire, loops: tuple[Loop, Loop]) -> list[Design]:
    """All springs of the usual wires that are pulled as is wished, the lightest first: their initial tension makes up
    for what their length leaves over.

    Raises:
        Problem: the loads are none of an extension spring, or nothing fits.
    """
    (f1, l1), (f2, l2) = sorted((wish.first, wish.second))
    if not (0 < f1 < f2 and 0 < l1 < l2):
        raise Problem(
            "bad-wish",
            f"{f1:g} N at {mm(l1)} and {f2:g} N at {mm(l2)} are no loads of one spring that is pulled.",
            "Give the greater force at the greater length.",
            of="wanted",
        )
    rate = (f2 - f1) / (l2 - l1)
    return _best(_pulled(c, (f1, l1), (f2, l2), rate, wish, wire, loops) for c in _of_rate(rate, wire))


def torsions(wish: TurnedWish, wire: Wire, legs: tuple[float, float]) -> list[Design]:
    """All torsion springs of the usual wires, with legs (mm), that meet a wish, the lightest first.

    Raises:
        Problem: the load is none of a torsion spring, or nothing fits.
    """
    if not (wish.moment > 0 and wish.angle > 0):
        raise Problem(
            "bad-wish",
            f"{wish.moment:g} N mm at {degrees(wish.angle)} is no load of a spring that is turned.",
            "Give both above zero.",
            of="wanted",
        )
    rate = wish.moment / math.degrees(wish.angle)
    return _best(
        _turned(c, wish, wire, sum(legs))
        for c in _coils(
            wire,
            lambda d, active: (
                springs.torsion_rate(Coils(d, 2 * d, active, active), wire.elastic_modulus) * 2 * d / rate
            ),
        )
    )


def _turned(coils: Coils, wish: TurnedWish, wire: Wire, legs: float) -> Design | None:
    """A torsion spring with the right rate, if it bears its moment and does not clamp on its rod."""
    permitted = PERMITTED_BEND * wire.strength(coils.wire)
    share = (
        springs.judged(springs.bending_stress(coils, wish.moment), springs.bending_correction(coils.index), wish.moving)
        / permitted
    )
    if share > wish.share or (wish.rod is not None and springs.inner_when_wound(coils, wish.angle) <= wish.rod):
        return None
    return Design(coils, 0.0, share, springs.mass_of(coils.wire, coils.active * math.pi * coils.mean + legs, wire))


def _of_rate(rate: float, wire: Wire) -> Iterator[Coils]:
    """Coils of the usual wires, with whole half turns, that have a rate (N/mm)."""
    return _coils(wire, lambda d, active: float((wire.shear_modulus * d**4 / (8 * active * rate)) ** (1 / 3)))


def _coils(wire: Wire, mean_of: Callable[[float, float], float]) -> Iterator[Coils]:
    """Coils of the usual wires, with whole half turns, of the mean diameter that wire and turns ask for, of usual
    proportions.
    """
    for d in filter(wire.made, SIZES):
        for k in range(round((MOST - FEWEST) / STEP) + 1):
            active = FEWEST + k * STEP
            mean = mean_of(d, active)
            if springs.LEAST_INDEX <= mean / d <= springs.MOST_INDEX:
                yield Coils(d, mean, active, active)


def _best(designs: Iterable[Design | None]) -> list[Design]:
    found = [design for design in designs if design is not None]
    if not found:
        raise Problem(
            "no-design",
            "No spring of the usual wires meets the wish.",
            "Allow more stress or more room, or bring the loads nearer to each other.",
            of="wanted",
        )
    return sorted(found, key=lambda design: design.mass)[:KEPT]


def _pulled(
    coils: Coils,
    first: tuple[float, float],
    second: tuple[float, float],
    rate: float,
    wish: Wish,
    wire: Wire,
    loops: tuple[Loop, Loop],
) -> Design | None:
    """A spring with the right rate, if its loops leave it short enough, its turns can be coiled as tight as that takes,
    and it bears its load.
    """
    permitted = PERMITTED_PULL * wire.strength(coils.wire)
    share = (
        springs.judged(springs.shear_stress(coils, second[0]), springs.correction(coils.index), wish.moving) / permitted
    )
    if (
        share > wish.share
        or (wish.bore is not None and coils.mean + coils.wire >= wish.bore)
        or (coils.total + 1) * coils.wire > first[1]
    ):
        return None
    coil = spring_wire.close_coil(
        coils.wire, coils.mean, SHORT + coils.active % 1
    )  # its loops are those of one that is longer
    path = spring_wire.close_extension_path(coil, UPRIGHT, loops)
    more, pitch = coils.active - coil.turns, float(coil.pitch[0])
    low, high = spring_wire.inside_heights(path, coils.wire, UPRIGHT.plane, loops)
    free = high - low + more * pitch
    initial = first[0] - rate * (first[1] - free)
    if free > first[1] or initial < 0 or springs.shear_stress(coils, initial) > TIGHTEST * permitted:
        return None
    return Design(
        coils,
        free,
        share,
        springs.mass_of(coils.wire, path.length + more * math.hypot(math.pi * coils.mean, pitch), wire),
        initial,
    )


def _fitting(
    coils: Coils, free: float, force: float, length: float, wish: Wish, wire: Wire, ends: Ends
) -> Design | None:
    """A spring with the right rate, if it has room, bears its load and is not solid before it."""
    d, mean = coils.wire, coils.mean
    pitch = (free - (coils.total - coils.active) * d - (0.0 if ends == "ground" else d)) / coils.active
    gaps = springs.least_gaps(coils) * (springs.MOVING_GAP if wish.moving else 1.0)
    if pitch <= d or length < springs.solid_length(coils, ends) + gaps:
        return None
    if (
        wish.bore is not None
        and springs.outer_when_solid(coils, springs.pitch_when_free(coils, free, ends)) >= wish.bore
    ):
        return None
    if wish.rod is not None and mean - d <= wish.rod:
        return None
    permitted = springs.SOLID_SHARE * wire.strength(d)
    share = springs.judged(springs.shear_stress(coils, force), springs.correction(coils.index), wish.moving) / permitted
    buckles = springs.buckles_at(coils, free, wire, wish.seat)
    if share > wish.share or (buckles is not None and free - length > buckles):
        return None
    return Design(coils, free, share, springs.mass_of(d, coils.total * math.pi * mean, wire))
