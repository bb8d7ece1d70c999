"""From a plan to solids, and their place among the part's bodies."""

from __future__ import annotations

import time

import numpy as np

from leadline.core.problems import Message, Problem
from leadline.core.recipe.models import ExtrudeStep, SweepStep
from leadline.core.recipe.results import BodyProduct, KeptBody, Report, SweepPlan
from leadline.core.recipe.steps.context import Context
from leadline.core.solids.body import Body
from leadline.core.solids.combine import Operation, combine
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate
from leadline.core.sweep.grid import display_mesh

VOLUME_CHECK = 1e-5
CHORD_SHARE = 1 / 600


def finish(context: Context, step: SweepStep | ExtrudeStep, plan: SweepPlan, report: Report) -> BodyProduct:
    """Build the solids of a plan and combine them as the step says.

    Raises:
        Problem: the kernel's solid is not valid, its volume is not the motion's, or a boolean fails.
    """
    began = time.perf_counter()
    folded = isinstance(step, SweepStep) and step.build_folded
    made = sweep_bodies(plan.motion, plan.regions, step.id, step.name)
    volume = sum(b.volume(1e-6) for b in made)
    _check(made, volume, plan, report, folded)
    context.kernel_seconds += time.perf_counter() - began
    if step.result == "separate":
        kept = _fresh(plan, made, report, step)
    elif not context.bodies:
        kept = _first(plan, made, report, step)
    else:
        kept = _combined(context, made, step.result, report, step)
    report.data["faces"] = sum(len(b.face_names) for b in made)
    return BodyProduct(plan, kept, step.result == "separate")


def _check(made: list[Body], volume: float, plan: SweepPlan, report: Report, folded: bool) -> None:
    expected = float(plan.data["numbers"]["volume"])
    checks = {"valid": all(b.valid() for b in made), "kernel_volume": volume, "volume_error": volume / expected - 1}
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


def _fresh(plan: SweepPlan, made: list[Body], report: Report, step: SweepStep | ExtrudeStep) -> list[KeptBody]:
    return [
        KeptBody(f"{report.key}-{i}", b.name, step.id, b, display_mesh(plan.motion, [r], chord_for(plan), step.id))
        for i, (b, r) in enumerate(zip(made, plan.regions, strict=True))
    ]


def _first(plan: SweepPlan, made: list[Body], report: Report, step: SweepStep | ExtrudeStep) -> list[KeptBody]:
    """With no body before it, a step that adds begins one, and a step that cuts has nothing to cut."""
    if step.result == "cut":
        raise Problem(
            "nothing-to-cut", "There is no body before this step to cut.",
            "Choose separate body, or move the step down.", field="result",
        )  # fmt: skip
    return _fresh(plan, made, report, step)


def _combined(
    context: Context, made: list[Body], operation: Operation, report: Report, step: SweepStep | ExtrudeStep
) -> list[KeptBody]:
    began = time.perf_counter()
    kept, touched, counter = list(context.bodies), False, 0
    for tool in made:
        after: list[KeptBody] = []
        joined = False
        for old in kept:
            done = combine(old.body, tool, operation)
            if not done.touched:
                after.append(old)
                continue
            joined = touched = True
            if operation == "add":
                tool = done.bodies[0]
            for body in done.bodies:
                after.append(KeptBody(f"{report.key}-{counter}", body.name, old.step, body, tessellate(body)))
                counter += 1
        if operation == "add" and not joined:
            after.append(KeptBody(f"{report.key}-{counter}", step.name, step.id, tool, tessellate(tool)))
            counter += 1
        kept = after
    context.kernel_seconds += time.perf_counter() - began
    if not touched:
        word = "cut" if operation == "cut" else "join"
        report.messages.append(
            Message("warning", "no-contact", f"The result does not touch a body, so there was nothing to {word}.",
                    "Move the path or the profile, or choose separate body.")
        )  # fmt: skip
    return kept
