"""The thickened step: what lies between a surface and the same one moved along its normals."""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np

from leadline.core.geometry.laws import Even, Law, Table, told_at
from leadline.core.geometry.section import Region
from leadline.core.problems import Problem, Remedy, at_most, mm
from leadline.core.solids.body import Body
from leadline.core.solids.hollowing import THIN
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.thickening import Skin, between, kept_skin, moved_skin
from leadline.core.solids.walls import Walls, walls_between
from leadline.core.surfaces.moved_side import Height
from leadline.core.surfaces.offset import FINE, Offset, thickest
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_length
from leadline.kinds.thickened.model import TableWall, ThickenedStep
from leadline.kinds.thickened.result import ThickenedResult
from leadline.recipe.bodies import at_each, at_starts, combined, measured, stands_alone, walls_shown
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, HasMotion, Product
from leadline.recipe.results import Report

SHARES = {"front": (0.0, 1.0), "back": (-1.0, 0.0), "both": (-0.5, 0.5)}  # of the wall, where its two sides are
THINNEST = 1e-3
SHOWN = 101  # stations at which a table's wall is told, beside its own


def build(context: Context, step: ThickenedStep, report: Report) -> Product:
    """Raises Problem when there is no such surface, or it cannot be moved by so much."""
    source = context.motion(step.surface, "surface")
    if not all(r.sheet for r in source.regions):
        name = context.names.get(step.surface, step.surface)
        raise Problem(
            "no-surface",
            f"“{name}” has no surface without thickness.",
            "Pick a step whose result is one.",
            field="surface",
            source=step.surface,
        )
    wall = _wall(context, step, source.motion.length)
    told = _along(step, wall, source.motion.length)
    report.data = told
    if context.quick:
        return Product()
    began = time.perf_counter()
    made = [_thick(source.motion, region, wall, step, i) for i, region in enumerate(source.regions)]
    if len(made) == 1:
        made = [(replace(body, name=step.name), walls) for body, walls in made]
    context.kernel_seconds += time.perf_counter() - began
    bodies = [body for body, _ in made]
    walls = walls_shown([w for _, w in made])
    report.data = shown = ThickenedResult(**told, result=measured(bodies), walls=walls)
    report.figure = f"wall {format_length(walls['most'], context.scope.unit)}"
    return _product(context, step, bodies, source, report, shown)


def _product(
    context: Context, step: ThickenedStep, bodies: list[Body], source: HasMotion, report: Report, shown: ThickenedResult
) -> Product:
    if stands_alone(context, step):
        kept = [at_starts(KeptBody(f"{report.key}-{i}", b.name, step.id, b), source) for i, b in enumerate(bodies)]
        return BodyProduct(None, kept, True, step.surface)
    assert step.result != "separate"  # or it stood alone
    after, result = combined(context, at_each(bodies, source), step.result, report, step)
    if result is not None:
        shown["result"] = result
    return BodyProduct(None, [k for k in after if k.step != step.surface or not k.body.sheet], False)


def _wall(context: Context, step: ThickenedStep, length: float) -> Law:
    law: Law
    if isinstance(step.wall, TableWall):
        at = [context.station(p.at, length) for p in step.wall.points]
        law = Table(at, [context.value(p.value) for p in step.wall.points], step.wall.smooth, "wall")
    else:
        law = Even(context.value(step.wall))
    values = law.value(told_at(law, length))
    if values.min() < THINNEST:
        raise Problem(
            "bad-size", f"A wall of {mm(float(values.min()))} is none.", f"Give {mm(THINNEST)} or more.", field="wall"
        )
    return law


def _thick(motion: Motion, region: Region, wall: Law, step: ThickenedStep, i: int) -> tuple[Body, Walls]:
    """One outline's surface made thick, and how thick it has become. Raises Problem."""
    low, high = SHARES[step.side]
    try:
        one, other = (_skin(motion, region, wall, share, step) for share in (low, high))
        body = between(one, other, f"{step.name} {i + 1}", step.id)
    except Problem as problem:
        raise _mended(problem, motion, region, wall, step) from None
    walls = walls_between(body, lambda n: n.startswith(f"{step.id}/front/"), lambda n: n.startswith(f"{step.id}/back/"))
    least = float(wall.value(told_at(wall, motion.length)).min())
    if walls.least < THIN * least:
        raise Problem(
            "wall-meets-itself",
            f"The wall runs into itself: it is {mm(walls.least, 3)} thin somewhere.",
            "Give it less, or take the other side.",
            field="wall",
        )
    return body, walls


def _along(step: ThickenedStep, wall: Law, length: float) -> ThickenedResult:
    if not isinstance(step.wall, TableWall):
        return ThickenedResult()
    s = np.unique(np.concatenate([np.linspace(0.0, length, SHOWN), told_at(wall, length)]))
    return ThickenedResult(along={"station": s.round(4).tolist(), "wall": wall.value(s).round(5).tolist()})


def _skin(motion: Motion, region: Region, wall: Law, share: float, step: ThickenedStep) -> Skin:
    height: Height = lambda s: share * wall.value(s)  # noqa: E731
    offset = Offset(motion, region, height, wall.breaks.tolist())
    owner = f"{step.id}/{'front' if share > 0 or (share == 0 and step.side == 'back') else 'back'}"
    if share != 0:
        return moved_skin(offset, owner)
    body = sweep_bodies(motion, [region], owner, step.name, FINE)[0]
    return kept_skin(body, [n.replace("/side/", "/", 1) for n in body.face_names], offset)


def _mended(problem: Problem, motion: Motion, region: Region, wall: Law, step: ThickenedStep) -> Problem:
    """A refusal with the thickest wall that can be made, where that is known."""
    if problem.message.code != "offset-folds" or isinstance(step.wall, TableWall):
        return problem
    given = float(wall.value(np.zeros(1))[0])
    most = min(thickest(motion, region, share, given) for share in SHARES[step.side] if share != 0)
    return problem.mended(Remedy(f"Make it {mm(most, 3)}", {"wall": at_most(most)}))
