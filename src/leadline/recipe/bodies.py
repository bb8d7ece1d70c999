"""Solids are made from a plan and combined with the bodies of the part."""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from leadline.core.clearance.copies import clearances
from leadline.core.clearance.shape import Shape
from leadline.core.geometry.mesh_booleans import Operation, closed
from leadline.core.geometry.section import Region
from leadline.core.problems import Message, Problem, Remedy
from leadline.core.solids.body import Body, at_places, boxes_meet, together
from leadline.core.solids.combine import combine
from leadline.core.solids.kernel import solids
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import triangulated
from leadline.core.solids.trimming import EndCut, cut_off
from leadline.core.solids.walls import Walls
from leadline.core.sweep.mass import measure
from leadline.recipe.context import Context
from leadline.recipe.inputs import ResultMode
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.motion_mesh import MotionMesh
from leadline.recipe.products import BodyProduct, HasMotion, Swept
from leadline.recipe.results import Report
from leadline.recipe.shown import Checks, Combined, WallsShown

NOTHING = {"cut": "cut", "common": "have anything in common with"}  # what a step cannot do to no body
ON_ITS_OWN = Remedy("Make it a separate body", {"result": "separate"})
VOLUME_CHECK = 1e-5
GAP_CHORD = 0.1  # of the smallest volume to area of tools, the fineness of the meshes that tell whether they stay clear
GAP = 4.0  # times that fineness: as far as tools must stay apart to be taken at once
MANY = 3  # tools from which it is worth while to take them at once


class Named(Protocol):
    """A step, as far as what it makes is named after it."""

    id: str
    name: str


class BodyStep(Named, Protocol):
    """A step that makes bodies: they are its own, or put together with those before it, as ``result`` says."""

    result: ResultMode


def finish(
    context: Context,
    step: BodyStep,
    plan: Swept,
    report: Report,
    make: Callable[[], list[Body]] | None = None,
    cuts: Sequence[EndCut] = (),
    folded: bool = False,
    shorten: Callable[[Body], Body] | None = None,
) -> BodyProduct:
    """Build the solids of a plan, by ``make`` if they are not those of its motion, and combine them as the step says.

    ``cuts`` take their ends off, or ``shorten`` does with each. What is ``folded`` is built although it may fold over
    itself.

    Raises:
        Problem: the kernel's solid is not valid, its volume is not the motion's, or a boolean fails.
    """
    began = time.perf_counter()
    data = plan.shown.copy()
    report.data = data
    made = make() if make is not None else sweep_bodies(plan.motion, plan.regions, step.id, step.name)
    if cuts:
        made, data["checks"] = _trimmed(made, plan, cuts, report, folded)
    else:
        data["checks"] = _check(made, plan, report, folded)
    if shorten is not None:
        made = [shorten(body) for body in made]
    if cuts or shorten is not None:
        found = measured(at_each(made, plan))
        data["numbers"] = {
            **data["numbers"],
            "volume": found["volume"],
            "area": found["area"],
            "centre": found["centre"],
        }
    context.kernel_seconds += time.perf_counter() - began
    if any(b.sheet for b in made) and step.result != "separate":
        raise Problem(
            "surface-alone",
            "A surface without thickness cannot be added, cut or kept in common.",
            "Choose separate, or give it a wall.",
            field="result",
        ).mended(ON_ITS_OWN)
    data["faces"] = sum(len(b.face_names) for b in made) * plan.count
    alone = stands_alone(context, step)
    if alone:
        planes = tuple((c.kept, c.name) for c in cuts)
        sources = [MotionMesh(plan, i, planes) if make is None and shorten is None else None for i in range(len(made))]
        kept = [
            at_starts(KeptBody(f"{report.key}-{i}", b.name, step.id, b, source=m), plan)
            for i, (b, m) in enumerate(zip(made, sources, strict=True))
        ]
        report.messages += _starts_touch(kept, plan)
    else:
        assert step.result != "separate"  # or it stood alone
        kept, result = combined(context, at_each(made, plan), step.result, report, step)
        if result is not None:
            data["result"] = result
    return BodyProduct(plan, kept, alone)


def stands_alone(context: Context, step: BodyStep) -> bool:
    """Whether what a step makes is a body of its own, there being none to put it together with.

    Raises Problem when it cannot be.
    """
    if step.result == "separate" or any(not b.body.sheet for b in context.bodies):
        return step.result == "separate"
    if step.result in NOTHING:
        raise Problem(
            f"nothing-to-{step.result}",
            f"There is no body before this step to {NOTHING[step.result]}.",
            "Choose separate body, or move the step down.",
            field="result",
        ).mended(ON_ITS_OWN)
    return True


def walls_shown(walls: Sequence[Walls]) -> WallsShown:
    """The thinnest and the thickest of some bodies' walls."""
    least, most = min(walls, key=lambda w: w.least), max(walls, key=lambda w: w.most)
    (x, y, z), (a, b, c) = least.least_at.tolist(), most.most_at.tolist()
    return {"least": least.least, "least_at": (x, y, z), "most": most.most, "most_at": (a, b, c)}


def at_starts(body: KeptBody, plan: HasMotion) -> KeptBody:
    """A body of a plan at all of its copies' places, if it has any."""
    return body if plan.copies is None else replace(body, places=plan.copies, shape_key=body.key)


def at_each(made: list[Body], plan: HasMotion) -> list[Body]:
    if plan.copies is None:
        return made
    return at_places(made, plan.copies)


def _starts_touch(bodies: list[KeptBody], plan: Swept) -> list[Message]:
    if plan.copies is None or (clearances(Shape.of([b.shown() for b in bodies]), plan.copies).distance > 0).all():
        return []
    return [
        Message(
            "warning",
            "starts-touch",
            "The starts touch or run into each other.",
            "Give more pitch, fewer starts or a narrower profile.",
            {"field": "profile"},
        )
    ]


def _check(made: list[Body], plan: Swept, report: Report, folded: bool) -> Checks:
    """Raises Problem when the solids are not valid or not of the motion's volume, unless they are ``folded``."""
    sheet = any(b.sheet for b in made)
    expected = plan.area if sheet else plan.volume
    volume = sum(b.area() if sheet else b.volume() for b in made)
    checks: Checks = {
        "valid": all(b.valid() for b in made),
        "kernel_volume": 0.0 if sheet else volume,
        "volume_error": volume / expected - 1,
    }
    wrong = not checks["valid"] or abs(checks["volume_error"]) > VOLUME_CHECK
    if wrong and folded:
        report.messages.append(
            Message("warning", "folded", "The solid folds over itself: its volume and validity are not assured.")
        )
    elif wrong:
        raise Problem(
            "kernel",
            (
                f"The solid does not pass its check (valid: {checks['valid']}, volume off by "
                f"{checks['volume_error']:.1e})."
            ),
            "Change a size slightly; the check keeps a wrong solid from going on.",
        )
    return checks


def _size_of(plan: Swept, region: Region) -> tuple[float, float]:
    """The volume (mm³) and the area (mm²) of one region's body by quadrature over the motion."""
    if len(plan.regions) == 1:
        return plan.volume, plan.area
    own = measure(plan.motion, [region])
    return own.volume, own.area


def _trimmed(
    made: list[Body], plan: Swept, cuts: Sequence[EndCut], report: Report, folded: bool
) -> tuple[list[Body], Checks]:
    """Bodies with their ends cut off; the pieces of each are checked against the volume of the motion.

    Raises Problem.
    """
    if any(b.sheet for b in made):
        raise Problem(
            "surface-uncut",
            "A surface without thickness is not cut by planes.",
            "Give it a wall, or take the planes away.",
            field="cut_end",
        )
    checks = _check(made, plan, report, folded) if folded else None
    known = [(b.volume(), b.area()) if folded else _size_of(plan, r) for b, r in zip(made, plan.regions, strict=True)]
    done = [cut_off(body, cuts, *size) for body, size in zip(made, known, strict=True)]
    if checks is None:
        found = sum(whole for _, whole in done)
        checks = {"valid": True, "kernel_volume": found, "volume_error": found / sum(v for v, _ in known) - 1}
    return [left for left, _ in done], checks


@dataclass
class _Done:
    """The bodies after a combination, and the names of those that it touched."""

    bodies: list[KeptBody]
    touched: list[str]


def combined(
    context: Context,
    made: list[Body],
    operation: Operation,
    report: Report,
    step: Named,
    before: list[KeptBody] | None = None,
) -> tuple[list[KeptBody], Combined | None]:
    """The bodies so far, or those given as ``before``, with what was made, and the sizes of those that changed.

    New ones get their key last, when it is known which they are. Raises Problem.
    """
    began = time.perf_counter()
    every = context.bodies if before is None else before
    bodies = [b for b in every if not b.body.sheet]  # surfaces have nothing that could be cut or joined
    rows = [b for b in bodies if b.places is not None]
    near = [_within_reach(row, made) for row in rows]
    old = [b for b in bodies if b.places is None] + [single for singles in near for single in singles.values()]
    done = _all_at_once(old, made, operation)
    if done is None:
        done = _in_common(old, made) if operation == "common" else _one_by_one(old, made, operation, step)
    for body in (*(b.body for b in old), *made):
        body.checking.clear()  # they have served: a body that is kept need not keep them
    found = _rows_after(rows, near, done.bodies, report.key)
    fresh = itertools.count()
    found = [b if b.key else replace(b, key=f"{report.key}-{next(fresh)}") for b in found]
    own = [b.body for b in found if b.key.startswith(f"{report.key}-")]
    report.messages += _told(done.touched, own, operation)
    result = measured(own) if own else None
    context.kernel_seconds += time.perf_counter() - began
    return [*(b for b in every if b.body.sheet), *found], result


def _told(touched: list[str], own: list[Body], operation: Operation) -> list[Message]:
    """What a designer should know of a combination that is done: it did nothing, or left nothing."""
    if not touched:
        word = {"cut": "cut", "add": "join", "common": "keep"}[operation]
        return [
            Message(
                "warning",
                "no-contact",
                f"The result does not touch a body, so there was nothing to {word}.",
                "Move one of them, or let it be a body of its own.",
            )
        ]
    if not own:
        return [
            Message(
                "warning",
                "nothing-left",
                f"The cut takes all of {', '.join(touched)} away.",
                "Move or shorten what is cut out, if that is not meant.",
            )
        ]
    return []


def measured(bodies: list[Body]) -> Combined:
    """Volume (mm³), area (mm²), centre (mm) and how many bodies and solids came of a step."""
    volumes = np.array([b.volume() for b in bodies])
    centre = np.average([b.centre() for b in bodies], axis=0, weights=volumes)
    return {
        "volume": float(volumes.sum()),
        "area": sum(b.area() for b in bodies),
        "centre": centre.tolist(),
        "bodies": len(bodies),
        "solids": sum(len(solids(b.shape)) for b in bodies),
        "faces": sum(len(b.face_names) for b in bodies),
    }


def _within_reach(row: KeptBody, tools: list[Body]) -> dict[int, KeptBody]:
    """Of a row of copies those that a tool may touch, each as a body of its own, by their number."""
    assert row.places is not None
    boxes = [t.box() for t in tools]
    near = {}
    for i, body in enumerate(at_places([row.body], row.places)):
        low, high = body.box()
        if any(boxes_meet((low, high), box) for box in boxes):
            near[i] = KeptBody(f"{row.key}.{i}", f"{row.name} {i + 1}", row.step, body)
    return near


def _rows_after(
    rows: list[KeptBody], near: list[dict[int, KeptBody]], found: list[KeptBody], key: str
) -> list[KeptBody]:
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


def _all_at_once(kept: list[KeptBody], made: list[Body], operation: Operation) -> _Done | None:
    """Add or cut many tools that stay clear of each other in one go, which takes the time of one.

    None where that is not possible: few tools, tools that come close to each other, tools that would be added to
    several bodies or to none, or a result that is not sound. Then they are taken one by one, which also finds out which
    one is at fault.
    """
    boxes = [tool.box() for tool in made]
    if operation == "common" or len(made) < MANY or not _clear_of_each_other(made, boxes):
        return None
    around = [old.body.box() for old in kept]
    near = [[tool for tool, box in zip(made, boxes, strict=True) if boxes_meet(box, own)] for own in around]
    if operation == "add" and sorted(len(own) for own in near if own) != [len(made)]:
        return None
    after: list[KeptBody] = []
    touched: list[str] = []
    for old, own in zip(kept, near, strict=True):
        try:
            done = combine(old.body, together(own), operation) if own else None
        except Problem:
            return None
        if done is None or not done.touched:
            if operation == "add" and own:
                return None
            after.append(old)
            continue
        touched.append(old.name)
        after += [_new(b, old.step) for b in done.bodies]
    return _Done(after, list(dict.fromkeys(touched)))


def _clear_of_each_other(tools: list[Body], boxes: list[tuple[np.ndarray, np.ndarray]]) -> bool:
    """Whether no two come closer than their meshes can tell; where their boxes stay apart no mesh is needed."""
    close = [(i, j) for i, j in itertools.combinations(range(len(tools)), 2) if boxes_meet(boxes[i], boxes[j])]
    chord = GAP_CHORD * min(tool.volume() / tool.area() for tool in tools)
    meshes = {i: closed(*triangulated(tools[i], chord)) for i in {k for pair in close for k in pair}}
    gap = GAP * chord
    for i, j in close:
        a, b = meshes[i], meshes[j]
        if a is None or b is None or a.min_gap(b, gap) < gap:
            return False
    return True


def _one_by_one(kept: list[KeptBody], made: list[Body], operation: Operation, step: Named) -> _Done:
    """Add or cut each of the tools in turn. A tool that joins several bodies makes them one."""
    touched: list[str] = []
    for tool in made:
        after: list[KeptBody] = []
        joined, home = Body(step.name, tool.shape, tool.face_names), step.id
        for old in kept:
            done = combine(old.body, joined if operation == "add" else tool, operation)
            if not done.touched:
                after.append(old)
                continue
            touched.append(old.name)
            if operation == "cut":
                after += [_new(b, old.step) for b in done.bodies]
            else:
                joined, home = done.bodies[0], old.step if home == step.id else home
        kept = [*after, _new(joined, home)] if operation == "add" else after
    return _Done(kept, list(dict.fromkeys(touched)))


def _in_common(kept: list[KeptBody], made: list[Body]) -> _Done:
    """Of every body that a tool touches, what it has in common with any of them; the others stay."""
    after: list[KeptBody] = []
    touched: list[str] = []
    for old in kept:
        pieces = _joined(
            [b for tool in made if (done := combine(old.body, tool, "common")).touched for b in done.bodies]
        )
        after += [_new(b, old.step) for b in pieces] or [old]
        touched += [old.name] * bool(pieces)
    return _Done(after, touched)


def _joined(pieces: list[Body]) -> list[Body]:
    """Pieces of one body that lie in each other or meet as one: what several tools have in common with it is there
    once.
    """
    found: list[Body] = []
    for piece in pieces:
        whole = piece
        for other in list(found):
            done = combine(other, whole, "add")
            if done.touched:
                found.remove(other)
                whole = done.bodies[0]
        found.append(whole)
    return found if len(found) > 1 else [replace(b, name=pieces[0].name) for b in found]
