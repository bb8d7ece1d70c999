"""The springs that meet a step's wish, looked for on request."""

from __future__ import annotations

from dataclasses import replace

from typing_extensions import TypedDict

from leadline.core.problems import Problem
from leadline.core.trades import spring_design
from leadline.core.trades.spring_design import Design, TurnedWish, Wish
from leadline.kinds.sprung.build import wire_of
from leadline.kinds.sprung.model import SprungStep
from leadline.recipe.build import Memory
from leadline.recipe.context import Context
from leadline.recipe.part import Part
from leadline.recipe.preview import in_words, planned_before


class DesignShown(TypedDict):
    """A spring that meets the wish, lengths in mm (``free`` nought of one that is turned); ``diameter`` is the mean
    one, ``share`` what it uses of the permitted stress, ``mass`` in g, ``initial`` the tension (N) of one that is
    pulled.
    """

    wire: float
    diameter: float
    turns: float
    free: float
    index: float
    share: float
    mass: float
    initial: float


@in_words
def designs(part: Part, step_id: str, memory: Memory) -> list[DesignShown]:
    """Raises Problem when the step is no spring of its own coil with a wish, or nothing meets it."""
    step = next((s for s in part.steps if s.id == step_id), None)
    if (
        not isinstance(step, SprungStep)
        or step.along is not None
        or (step.turned_wish if step.duty == "torsion" else step.wish) is None
    ):
        raise Problem(
            "no-wish", "There is no wish for a spring of its own coil.", "Say what it is to do first.", field="wish"
        )
    return [
        {
            "wire": d.coils.wire,
            "diameter": d.coils.mean,
            "turns": d.coils.active,
            "free": d.free,
            "index": d.coils.index,
            "share": d.share,
            "mass": d.mass,
            "initial": d.initial,
        }
        for d in _found(planned_before(part, step, memory), step)
    ]


def _found(context: Context, step: SprungStep) -> list[Design]:
    wire, rod = wire_of(context, step), context.given(step.rod)
    if step.duty == "torsion":
        assert step.turned_wish is not None
        turned = step.turned_wish
        legs = context.value(step.leg_start), context.value(step.leg_end)
        moment, angle = context.value(turned.moment), context.value(turned.angle)
        return spring_design.torsions(
            TurnedWish(moment, angle, context.value(turned.share), rod, step.moving), wire, legs
        )
    assert step.wish is not None
    asked = step.wish
    first, second = (
        (context.value(force), context.value(length))
        for force, length in ((asked.force_1, asked.length_1), (asked.force_2, asked.length_2))
    )
    wish = Wish(
        first,
        second,
        context.value(asked.share),
        context.given(step.bore),
        rod,
        step.moving,
        context.value(step.seat),
    )
    if step.duty == "extension":
        return spring_design.extensions(replace(wish, bore=None), wire, (step.loop_start, step.loop_end))
    closed = context.value(step.end_turns) if step.ends != "open" else 0.0
    return spring_design.designs(wish, wire, step.ends, closed)
