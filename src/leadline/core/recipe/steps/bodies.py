"""From a plan to solids, and their place among the part's bodies."""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from leadline.core.clearance.copies import clearances
from leadline.core.clearance.shape import Shape
from leadline.core.geometry.mesh import DisplayMesh
from leadline.core.geometry.plane import Array
from leadline.core.problems import Message, Problem
from leadline.core.recipe.inputs import BaseStep, PlaneRef
from leadline.core.recipe.models import ExtrudeStep, RevolveStep, SweepStep
from leadline.core.recipe.results import BodyProduct, KeptBody, Report, SweepPlan
from leadline.core.recipe.steps.context import Context
from leadline.core.solids.body import Body
from leadline.core.solids.combine import Operation, combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate
from leadline.core.solids.trimming import cut_off
from leadline.core.sweep.grid import display_mesh

NOTHING = {"cut": "cut", "common": "have anything in common with"}  # what a step cannot do to no body
VOLUME_CHECK = 1e-5
CHORD_SHARE = 1 / 600


SweptStep = SweepStep | ExtrudeStep | RevolveStep


def finish(
    context: Context, step: SweptStep, plan: SweepPlan, report: Report, make: Callable[[], list[Body]] | None = None
) -> BodyProduct:
    """Build the solids of a plan, by ``make`` if they are not those of its motion, and combine them as the step says.

    Raises:
        Problem: the kernel's solid is not valid, its volume is not the motion's, or a boolean fails.
    """
    began = time.perf_counter()
    folded = isinstance(step, SweepStep) and step.build_folded
    made = make() if make is not None else sweep_bodies(plan.motion, plan.regions, step.id, step.name)
    _check(made, plan, report, folded)
    cuts = _cuts(step, plan)
    if cuts:
        made = [_trimmed(context, step, body, cuts) for body in made]
        _measure_again(_at_each(made, plan), report)
    context.kernel_seconds += time.perf_counter() - began
    if any(b.sheet for b in made) and step.result != "separate":
        raise Problem(
            "surface-alone", "A surface without thickness cannot be added, cut or kept in common.",
            "Choose separate, or give it a wall.", field="result",
        )  # fmt: skip
    if step.result == "separate" or not context.bodies:
        if step.result in NOTHING:
            raise Problem(
                f"nothing-to-{step.result}", f"There is no body before this step to {NOTHING[step.result]}.",
                "Choose separate body, or move the step down.", field="result",
            )  # fmt: skip
        meshes = [tessellate(b) if cuts or make is not None else display_mesh(plan.motion, [r], chord_for(plan), step.id) for b, r in zip(made, plan.regions, strict=True)]
        kept = [at_starts(KeptBody(f"{report.key}-{i}", b.name, step.id, b, m), plan) for i, (b, m) in enumerate(zip(made, meshes, strict=True))]
        report.messages += _starts_touch(meshes, plan)
    else:
        kept = combined(context, _at_each(made, plan), step.result, report, step)
    report.data["faces"] = sum(len(b.face_names) for b in made) * plan.count
    return BodyProduct(plan, kept, step.result == "separate")


def at_starts(body: KeptBody, plan: SweepPlan) -> KeptBody:
    """A body of a plan at all of its copies' places, if it has any."""
    return body if plan.copies is None else replace(body, places=plan.copies, shape_key=body.key)


def _at_each(made: list[Body], plan: SweepPlan) -> list[Body]:
    if plan.copies is None:
        return made
    return [b.moved(t, d) for t, d in zip(plan.copies.turns, plan.copies.shifts, strict=True) for b in made]


def _starts_touch(meshes: list[DisplayMesh], plan: SweepPlan) -> list[Message]:
    if plan.copies is None or (clearances(Shape.of(meshes), plan.copies).distance > 0).all():
        return []
    return [Message("warning", "starts-touch", "The starts touch or run into each other.", "Give more pitch, fewer starts or a narrower profile.", {"field": "profile"})]


def _check(made: list[Body], plan: SweepPlan, report: Report, folded: bool) -> None:
    sheet = any(b.sheet for b in made)
    expected = float(plan.data["numbers"]["area" if sheet else "volume"]) / plan.count
    volume = sum(b.area(1e-6) if sheet else b.volume(1e-6) for b in made)
    checks = {"valid": all(b.valid() for b in made), "kernel_volume": 0.0 if sheet else volume, "volume_error": volume / expected - 1}
    report.data["checks"] = checks
    wrong = not checks["valid"] or abs(checks["volume_error"]) > VOLUME_CHECK
    if wrong and folded:
        report.messages.append(
            Message("warning", "folded", "The solid folds over itself: its volume and validity are not assured.")
        )
    elif wrong:
        raise Problem(
            "kernel", f"The solid does not pass its check (valid: {checks['valid']}, volume off by {checks['volume_error']:.1e}).",
            "Change a size slightly; the check keeps a wrong solid from going on.",
        )  # fmt: skip


def chord_for(plan: SweepPlan) -> float:
    """Display fineness in mm: about forty chords round a circular section."""
    width, height = plan.data["section"]["width"], plan.data["section"]["height"]
    return float(np.clip(max(width, height) * CHORD_SHARE, 0.002, 0.05))


Cut = tuple[str, PlaneRef, Array]  # which end, by which plane, and where the end is


def _cuts(step: SweptStep, plan: SweepPlan) -> list[Cut]:
    """The ends that a step cuts off by planes."""
    if not isinstance(step, SweepStep):
        return []
    ends = plan.motion.path.point(np.array([0.0, plan.motion.length]))
    both = (("start", step.cut_start, ends[0]), ("end", step.cut_end, ends[1]))
    return [(end, plane, at) for end, plane, at in both if plane is not None]


def _trimmed(context: Context, step: SweptStep, body: Body, cuts: list[Cut]) -> Body:
    """A body with its ends cut off. Raises Problem."""
    if body.sheet:
        raise Problem("surface-uncut", "A surface without thickness is not cut by planes.", "Give it a wall, or take the planes away.", field="cut_end")
    for end, plane, at in cuts:
        body = cut_off(body, context.plane(plane), at, f"{step.id}/cap/{end}", f"cut_{end}")
    return body


def _measure_again(made: list[Body], report: Report) -> None:
    """After a cut the numbers are the kernel's."""
    volumes = np.array([b.volume() for b in made])
    centre = np.average([b.centre() for b in made], axis=0, weights=volumes)
    numbers = {"volume": float(volumes.sum()), "area": sum(b.area() for b in made), "centre": centre.tolist()}
    report.data["numbers"] = {**report.data["numbers"], **numbers}


def combined(
    context: Context, made: list[Body], operation: Operation, report: Report, step: BaseStep
) -> list[KeptBody]:
    """The bodies so far with what was made; new ones get their key and mesh last, when it is known which they are."""
    began = time.perf_counter()
    rows = [b for b in context.bodies if b.places is not None]
    near = [_within_reach(row, made) for row in rows]
    old = [b for b in context.bodies if b.places is None] + [single for singles in near for single in singles.values()]
    found = _in_common(old, made) if operation == "common" else _one_by_one(old, made, operation, step)
    found = _rows_after(rows, near, found, report.key)
    context.kernel_seconds += time.perf_counter() - began
    if all(b.key or b.step == step.id for b in found):
        word = {"cut": "cut", "add": "join", "common": "keep"}[operation]
        report.messages.append(
            Message("warning", "no-contact", f"The result does not touch a body, so there was nothing to {word}.",
                    "Move the path or the profile, or choose separate body.")
        )  # fmt: skip
    fresh = itertools.count()
    return [b if b.key else replace(b, key=f"{report.key}-{next(fresh)}", mesh=tessellate(b.body)) for b in found]


def _within_reach(row: KeptBody, tools: list[Body]) -> dict[int, KeptBody]:
    """Of a row of copies those that a tool may touch, each as a body of its own, by their number."""
    assert row.places is not None
    boxes = [t.box() for t in tools]
    singles = [row.body.moved(t, d) for t, d in zip(row.places.turns, row.places.shifts, strict=True)]
    near = {}
    for i, body in enumerate(singles):
        low, high = body.box()
        if any((low <= b[1]).all() and (b[0] <= high).all() for b in boxes):
            near[i] = KeptBody(f"{row.key}.{i}", f"{row.name} {i + 1}", row.step, body)
    return near


def _rows_after(rows: list[KeptBody], near: list[dict[int, KeptBody]], found: list[KeptBody], key: str) -> list[KeptBody]:
    """What a combination left, the copies that it did not touch in their rows again."""
    keys = {b.key for b in found}
    after = []
    for row, singles in zip(rows, near, strict=True):
        assert row.places is not None
        touched = [i for i, single in singles.items() if single.key not in keys]
        rest = np.setdiff1d(np.arange(len(row.places)), touched)
        if not touched:
            after.append(row)
        elif len(rest):  # not of the combining step's own key: its mesh is that of the row
            after.append(replace(row, key=f"{row.key}.{key}", places=row.places.some(rest)))
    apart = {single.key for singles in near for single in singles.values()}
    return after + [b for b in found if b.key not in apart]


def _new(body: Body, owner: str) -> KeptBody:
    return KeptBody("", body.name, owner, body)


def _one_by_one(kept: list[KeptBody], made: list[Body], operation: Operation, step: BaseStep) -> list[KeptBody]:
    """Add or cut each of the tools in turn. A tool that joins several bodies makes them one."""
    for tool in made:
        after: list[KeptBody] = []
        joined, home = Body(step.name, tool.shape, tool.face_names), step.id
        for old in kept:
            done = combine(old.body, joined if operation == "add" else tool, operation)
            if not done.touched:
                after.append(old)
            elif operation == "cut":
                after += [_new(b, old.step) for b in done.bodies]
            else:
                joined, home = done.bodies[0], old.step if home == step.id else home
        kept = [*after, _new(joined, home)] if operation == "add" else after
    return kept


def _in_common(kept: list[KeptBody], made: list[Body]) -> list[KeptBody]:
    """Of every body that a tool touches, what it has in common with any of them; the others stay."""
    after: list[KeptBody] = []
    for old in kept:
        pieces = [b for tool in made if (done := combine(old.body, tool, "common")).touched for b in done.bodies]
        after += [_new(b, old.step) for b in pieces] or [old]
    return after
