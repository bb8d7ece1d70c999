"""The arranged step: bodies as they are, at places that a plane gives; mirrored ones are new bodies."""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np

from leadline.core.clearance.copies import clearances
from leadline.core.clearance.shape import Shape
from leadline.core.expressions import Expression
from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Plane
from leadline.core.problems import Message, Problem
from leadline.core.repeat.grids import in_rows, moved_once, round_normal
from leadline.core.repeat.spacing import MOST
from leadline.core.solids.body import Body
from leadline.core.solids.mirroring import mirrored
from leadline.kinds.arranged.model import ArrangedStep, InRows, Mirrored, MovedOnce, Round
from leadline.kinds.arranged.result import ArrangedResult
from leadline.recipe.bodies import combined
from leadline.recipe.changing import singles, solids_of
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product
from leadline.recipe.results import Report

HERE = Placements(np.eye(3)[None], np.zeros((1, 3)))


def build(context: Context, step: ArrangedStep, report: Report) -> Product:
    """Raises Problem when there is no such body, the copies cannot be placed, or putting them together with others
    fails.
    """
    plane = context.plane(step.plane)
    places = None if isinstance(step.how, Mirrored) else _places(context, step.how, plane)
    stays = step.stays
    count = (1 if places is None else len(places)) + stays
    done = "mirrored" if places is None else f"{count} in all" if count > 1 else "moved"
    report.figure = f"{context.names.get(step.source, step.source)}, {done}"
    report.data = ArrangedResult(count=count)
    if context.quick:
        return Product()
    began = time.perf_counter()
    own = solids_of(context, step.source, "source", rows=True)
    made = [_copy(kept, plane, places, step, f"{report.key}-{i}") for i, kept in enumerate(own)]
    report.data["volume"] = sum(k.body.volume() * k.count for k in made)
    rest = [k for k in context.bodies if stays or k not in own]
    context.kernel_seconds += time.perf_counter() - began
    if step.result == "separate":
        report.messages += _touching(made, own if stays else [])
        return BodyProduct(None, [*rest, *made], False)
    first = (
        own if stays and step.result == "cut" else []
    )  # the source is the first of what cuts, and is not cut by the others
    kept, result = combined(
        context, singles([*first, *made], "how"), step.result, report, step, [k for k in rest if k not in first]
    )
    if result is not None:
        report.data["result"] = result
    return BodyProduct(None, [*first, *kept], False)


def _places(context: Context, how: MovedOnce | InRows | Round, plane: Plane) -> Placements:
    """Where the copies stand, without the place of the source itself where that stays."""
    if isinstance(how, MovedOnce):
        shift = [context.value(v) for v in (how.x, how.y, how.out)]
        return moved_once(plane, np.array(shift), context.value(how.turn))
    if isinstance(how, InRows):
        counts = _count(context, how.count), _count(context, how.count_y)
        spacings = context.value(how.spacing), context.value(how.spacing_y)
        if any(n > 1 and abs(s) < 1e-6 for n, s in zip(counts, spacings, strict=True)):
            raise Problem(
                "bad-size", "Without a spacing the copies stand in one place.", "Give a spacing.", field="how"
            )
        _few(counts[0] * counts[1])
        placed = in_rows(plane, counts, spacings)
    else:
        count = _count(context, how.count)
        angle, rise = context.value(how.angle), context.value(how.rise)
        if count > 1 and abs(angle) < 1e-9 and abs(rise) < 1e-6:
            raise Problem(
                "bad-size", "Without an angle the copies stand in one place.", "Give an angle or a rise.", field="how"
            )
        _few(count)
        placed = round_normal(plane, count, angle, rise)
    if len(placed) < 2:
        raise Problem("no-copies", "One in all is the source itself.", "Ask for two or more.", field="how")
    return placed.some(np.arange(1, len(placed)))


def _count(context: Context, value: Expression) -> int:
    count = context.value(value)
    if abs(count - round(count)) > 1e-9 or count < 1:
        raise Problem("bad-count", f"{count:g} copies cannot be made.", "Give a whole number.", field="how")
    return round(count)


def _few(count: int) -> None:
    if count > MOST:
        raise Problem("too-many-copies", f"These are {count} copies.", f"Ask for at most {MOST}.", field="how")


def _copy(kept: KeptBody, plane: Plane, places: Placements | None, step: ArrangedStep, key: str) -> KeptBody:
    """A body's copies, as many as there are places, or its mirror image."""
    if places is None:
        body = _owned(mirrored(kept.body, plane), kept, step)
        inner = None if kept.places is None else kept.places.mirrored(plane.normal, plane.origin)
        return KeptBody(key, step.name, step.id, body, None, inner, key if inner is not None else "")
    if kept.places is None and len(places) == 1:  # one copy is a body as good as any
        body = _owned(kept.body.moved(places.turns[0], places.shifts[0]), kept, step)
        return KeptBody(key, step.name, step.id, body)
    everywhere = places.of_each(kept.places or HERE)
    _few(len(everywhere))
    return replace(kept, key=key, name=step.name, step=step.id, places=everywhere, shape_key=kept.mesh_key)


def _owned(body: Body, source: KeptBody, step: ArrangedStep) -> Body:
    """A body of its own, its faces named as those of the source but for the step that they belong to."""
    names = [
        f"{step.id}/{name.partition('/')[2]}" if name.startswith(f"{source.step}/") else name
        for name in body.face_names
    ]
    return replace(body, name=step.name, face_names=names)


def _touching(made: list[KeptBody], stay: list[KeptBody]) -> list[Message]:
    """Copies of one body that touch each other, or the body itself where it stays."""
    for i, copy in enumerate(made):
        if copy.places is None:
            continue
        places = copy.places
        if stay:
            first = stay[i].places or HERE
            places = Placements(
                np.concatenate([first.turns, places.turns]), np.concatenate([first.shifts, places.shifts])
            )
        if (clearances(Shape.of([copy.shown()]), places).distance == 0).any():
            return [
                Message(
                    "warning",
                    "copies-touch",
                    "Copies touch or run into each other.",
                    "Give them more room, or add them together.",
                    {"field": "how"},
                )
            ]
    return []
