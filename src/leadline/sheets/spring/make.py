"""The sheet of a spring, made from what its step tells of it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from leadline.core.geometry.dimensions import Dimension
from leadline.core.problems import Problem
from leadline.core.trades.spring_numbers import LoadPoint, SpringNumbers
from leadline.core.trades.spring_spread import Between, Spread
from leadline.recipe.context import Context
from leadline.recipe.inputs import BaseStep
from leadline.recipe.products import HasDimensions, HasSpring
from leadline.sheets.spring.model import LoadLine, SpringSheet

SOURCES = {"compression": "EN 13906-1", "extension": "EN 13906-2", "torsion": "EN 13906-3"}


def make(context: Context, step: BaseStep) -> SpringSheet:
    """Lengths in mm, angles in degrees, shares in percent.

    Raises:
        Problem: the step is no spring.
    """
    found = context.product(step.id, "step").give(HasSpring)
    if found is None:
        raise Problem("no-spring", f"“{step.name}” is no spring.", "Pick a spring.")
    numbers = found.spring
    coils = numbers.coils
    turned = numbers.duty == "torsion"
    rates, forces = (
        ((None, None), [(None, None)] * len(numbers.loads))
        if numbers.spread is None
        else (numbers.spread.rate, numbers.spread.forces)
    )
    narrowest, widest = numbers.across or (coils.mean, coils.mean)
    return SpringSheet(
        rows=[_line(i, load, turned, forces[i]) for i, load in enumerate(numbers.loads)],
        duty=numbers.duty.capitalize(),
        wire=coils.wire,
        outer=widest + coils.wire,
        mean=coils.mean,
        inner=narrowest - coils.wire,
        index=coils.index,
        active=coils.active,
        total=coils.total,
        hand=numbers.hand,
        ends=numbers.ends,
        free=numbers.free,
        pitch=numbers.pitch,
        rate=None if turned else numbers.rate,
        torsion_rate=numbers.rate if turned else None,
        least_rate=rates[0],
        most_rate=rates[1],
        initial=numbers.initial,
        solid=numbers.solid,
        least_working=numbers.least_working,
        solid_force=numbers.solid_force,
        solid_stress=numbers.solid_stress,
        buckles_at=numbers.buckles_at,
        frequency=numbers.frequency,
        outer_when_solid=numbers.outer_when_solid,
        inner_when_wound=numbers.inner_when_wound,
        loop_stress=numbers.loop_stress,
        goodman=_percent(numbers),
        material=numbers.material,
        strength=numbers.strength,
        permitted=numbers.permitted,
        wire_length=numbers.wire_length,
        mass=numbers.mass,
        source="Castigliano's theorem over the wire's own path"
        if numbers.ends == "as its path"
        else SOURCES[numbers.duty],
        own_tolerances={} if numbers.spread is None else _own(numbers.spread),
    )


def _line(i: int, load: LoadPoint, turned: bool, between: Between) -> LoadLine:
    angle = None if load.angle is None else math.degrees(load.angle)
    return LoadLine(
        number=i + 1,
        length=load.length,
        travel=load.travel,
        angle=angle,
        force=None if turned else load.force,
        moment=load.force if turned else None,
        least=between[0],
        most=between[1],
        stress=load.stress,
        corrected=load.corrected,
        share=100 * load.share,
    )


def _own(spread: Spread) -> dict[str, float | None]:
    """The tolerances that are given, by the figures that they are of; None for the outer diameter where another one's
    tell it.
    """
    play = spread.play
    given = {
        "wire": play.wire,
        spread.measured: play.diameter,
        "active": play.turns,
        "free": play.free,
        "initial": play.initial,
    }
    told: dict[str, float | None] = {name: off for name, off in given.items() if off > 0}
    return {"outer": None, **told} if play.diameter > 0 else told


def _percent(numbers: SpringNumbers) -> float | None:
    return None if numbers.goodman is None else 100 * numbers.goodman


def dimensions(context: Context, step: BaseStep) -> Sequence[Dimension]:
    """Those that the step tells. Raises Problem when it tells none."""
    return context.give(step.id, HasDimensions, "step", "sizes to be drawn").dimensions
