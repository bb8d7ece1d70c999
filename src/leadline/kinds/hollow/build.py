"""The hollow step: walls of a body's own shape, by the kernel, measured."""

from __future__ import annotations

import time

from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.combine import combine
from leadline.core.solids.hollow_sweep import Carried
from leadline.core.solids.hollowing import Hollowing, hollowed
from leadline.core.solids.walls import Walls
from leadline.core.units import format_length
from leadline.kinds.hollow.model import HollowStep
from leadline.kinds.hollow.result import HollowResult
from leadline.recipe.bodies import measured, walls_shown
from leadline.recipe.changing import solids_of
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.titles import face_title

CLEAR = 1e-4  # of its volume, by which an area may differ from what it changes: it does not reach through the wall


def build(context: Context, step: HollowStep, report: Report) -> Product:
    """Raises Problem when there is no such body, a face is gone, or the walls do not fit."""
    if context.quick:
        return Product()
    began = time.perf_counter()
    own = solids_of(context, step.body, "body")
    how = _how(context, step, {n for k in own for n in k.body.face_names})
    after: list[KeptBody] = []
    changed: list[KeptBody] = []
    walls: list[Walls] = []
    for kept in context.bodies:
        if kept in own:
            body, wall = hollowed(kept.plain or kept.body, how, step.id, _carried(context, step, kept))
            for raised, operation in kept.raised:
                body = _with_area(body, raised, operation)
            kept = kept.changed(f"{report.key}-{len(changed)}", body)
            changed.append(kept)
            walls.append(wall)
        after.append(kept)
    context.kernel_seconds += time.perf_counter() - began
    report.data = HollowResult(
        result=measured([k.body for k in changed]),
        walls=walls_shown(walls),
    )
    report.figure = f"wall {format_length(how.wall, context.scope.unit)}, {len(step.opened)} open"
    return BodyProduct(None, after, False)


def _carried(context: Context, step: HollowStep, kept: KeptBody) -> Carried | None:
    """A body as what it was made by, if nothing has changed it since."""
    product = context.product(step.body, "body")
    if not isinstance(product, BodyProduct) or not isinstance(product.planned, Swept):
        return None
    plan, plain = product.planned, kept.plain is not None
    if (
        len(plan.regions) != 1
        or plan.copies is not None
        or not (plain or any(own.key == kept.key for own in product.bodies))
    ):
        return None
    return Carried(plan.motion, plan.regions[0], step.body, plan.volume)


def _with_area(body: Body, raised: Body, operation: Operation) -> Body:
    """A hollow body with an area of its side that was raised or sunk before it was made hollow. Raises Problem."""
    done = combine(body, raised, operation).bodies
    if len(done) != 1 or abs(abs(done[0].volume() - body.volume()) - raised.volume()) > CLEAR * raised.volume():
        raise Problem(
            "area-through-wall",
            "A sunk area goes through the wall.",
            "Give a thicker wall, or sink it less.",
            field="wall",
        )
    return done[0]


def _how(context: Context, step: HollowStep, known: set[str]) -> Hollowing:
    for reference in (*step.opened, *(w.face for w in step.walls)):
        if reference.face not in known:
            raise Problem(
                "deleted-reference",
                f"The {face_title(reference.face, context.names)} is no longer there.",
                "Take it away or pick another.",
                field="opened" if reference in step.opened else "walls",
                source=reference.step,
                lost=reference.face,
            )
    opened = list(dict.fromkeys(f.face for f in step.opened))
    own: dict[str, float] = {}
    for given in step.walls:
        name, wall = given.face.face, context.value(given.wall)
        if name in opened:
            raise Problem(
                "face-twice",
                f"The {face_title(name, context.names)} is left open, so that it has no wall of its own.",
                "Take it out of the open faces, or its wall away.",
                field="walls",
            )
        if name in own:
            raise Problem(
                "face-twice",
                f"The {face_title(name, context.names)} has two walls of its own.",
                "Take one of them away.",
                field="walls",
            )
        own[name] = wall
    return Hollowing(context.value(step.wall), step.side == "outward", opened, own)
