"""The springs that meet a step's wish, looked for on request."""

from __future__ import annotations

from dataclasses import replace

from typing_extensions import TypedDict

from leadline.core.problems import Problem
from leadline.core.trades import spring_design
from leadline.core.trades.spring_design import Wish
from leadline.kinds.sprung.build import size_of, wire_of
from leadline.kinds.sprung.model import SprungStep
from leadline.recipe.build import Memory
from leadline.recipe.part import Part
from leadline.recipe.preview import in_words, planned_before


class DesignShown(TypedDict):
    """A spring that meets the wish, lengths in mm; ``diameter`` is the mean one, ``share`` what it uses of the permitted stress, ``mass`` in g, ``initial`` the tension (N) of one that is pulled."""

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
    """Raises Problem when the step is no compression or extension spring with a wish, or nothing meets it."""
    step = next((s for s in part.steps if s.id == step_id), None)
    if not isinstance(step, SprungStep) or step.duty == "torsion" or step.along is not None or step.wish is None:
        raise Problem("no-wish", "There is no wish for a spring that is pressed or pulled.", "Say two loads first.", field="wish")
    context = planned_before(part, step, memory)
    asked = step.wish
    forces = [context.value(v, "number", "Force") for v in (asked.force_1, asked.force_2)]
    lengths = [context.value(v, "length", "Length") for v in (asked.length_1, asked.length_2)]
    closed = context.value(step.end_turns, "turns", "End turns") if step.ends != "open" else 0.0
    wish = Wish(
        (forces[0], lengths[0]), (forces[1], lengths[1]), context.value(asked.share, "number", "Share of the stress"), size_of(context, step.bore, "Bore"),
        size_of(context, step.rod, "Rod"), step.moving, context.value(step.seat, "number", "Seat factor"),
    )  # fmt: skip
    wire = wire_of(context, step)
    if step.duty == "extension":
        found = spring_design.extensions(replace(wish, bore=None), wire, (step.loop_start, step.loop_end))
    else:
        found = spring_design.designs(wish, wire, step.ends, closed)
    return [
        {"wire": d.coils.wire, "diameter": d.coils.mean, "turns": d.coils.active, "free": d.free, "index": d.coils.index, "share": d.share, "mass": d.mass, "initial": d.initial}
        for d in found
    ]  # fmt: skip
