"""A spring's forces when its sizes are off: the weakest and the strongest spring within the tolerances, made and judged
as the spring itself.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from leadline.core.problems import Message, Problem, mm
from leadline.core.trades import spring_spread, springs
from leadline.core.trades.closing import Closing
from leadline.core.trades.spring_numbers import SpringNumbers
from leadline.core.trades.spring_spread import Play, Spread
from leadline.core.trades.springs import Coils, Wire
from leadline.kinds.sprung.model import SprungStep
from leadline.recipe.context import Context

Coiled = Callable[[Play], tuple[Coils, Closing | None]]
"""The coils of a spring whose sizes are so far off, and how it closes where it is pressed.

Raises Problem when it cannot be coiled.
"""


def play_of(context: Context, step: SprungStep) -> Play | None:
    """By how much the sizes may be off; None where nothing is said. Raises Problem when a tolerance is under zero."""
    given = step.tolerances
    if given is None or step.along is not None:
        return None
    play = Play(
        context.value(given.wire),
        context.value(given.diameter),
        context.value(given.turns),
        0.0 if step.duty == "torsion" else context.value(given.free),
        context.value(given.initial) if step.duty == "extension" else 0.0,
    )
    if min(play.wire, play.diameter, play.turns, play.free, play.initial) < 0:
        raise Problem(
            "bad-size",
            "A tolerance is under zero.",
            "Give by how much the size may be off either way.",
            field="tolerances",
        )
    return play


def with_spread(numbers: SpringNumbers, play: Play, measured: str, coiled: Coiled, material: Wire) -> SpringNumbers:
    """The numbers with what they spread by, and what is to be said of that.

    Raises Problem when a spring within the tolerances cannot be coiled.
    """
    pulled = numbers.duty == "extension"
    try:
        ends = [(by, *coiled(by)) for by in (play.weakest(pulled), play.strongest(pulled))]
    except Problem as problem:
        raise problem.after("With its sizes off by all that they may: ", field="tolerances") from None
    rates = [_rate(numbers, coils, closed, material) for _, coils, closed in ends]
    forces = [
        [_force(numbers, i, by, rate, closed) for i in range(len(numbers.loads))]
        for (by, _, closed), rate in zip(ends, rates, strict=True)
    ]
    spread = Spread((rates[0], rates[1]), tuple(zip(*forces, strict=True)), play, measured)
    return replace(numbers, spread=spread, messages=[*numbers.messages, *_solid(numbers, spread)])


def _rate(numbers: SpringNumbers, coils: Coils, closed: Closing | None, material: Wire) -> float:
    if closed is not None:
        return closed.rate()
    if numbers.duty == "torsion":
        return springs.torsion_rate(coils, material.elastic_modulus)
    return springs.rate(coils, material.shear_modulus)


def _force(numbers: SpringNumbers, i: int, by: Play, rate: float, closed: Closing | None) -> float | None:
    load = numbers.loads[i]
    if load.angle is not None:
        return rate * load.force / numbers.rate
    assert load.length is not None
    if closed is None:
        return spring_spread.pulled(
            rate, (numbers.free or 0.0) + by.free, (numbers.initial or 0.0) + by.initial, load.length
        )
    return spring_spread.pressed(closed, load.length)


def _solid(numbers: SpringNumbers, spread: Spread) -> list[Message]:
    """Loads at which a spring within the tolerances is solid already."""
    return [
        Message(
            "warning",
            "solid-before",
            (
                f"With its sizes off by all that they may the spring can be solid before load {i + 1} at "
                f"{mm(load.length or 0.0)}."
            ),
            "Give it fewer turns, a longer length under load, or narrower tolerances.",
            {"field": "tolerances"},
        )
        for i, (load, between) in enumerate(zip(numbers.loads, spread.forces, strict=True))
        if None in between
    ]
