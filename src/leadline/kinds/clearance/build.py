"""The clearance step: a tube's distance to the bodies about it, along its path."""

from __future__ import annotations

import numpy as np

from leadline.core.clearance.along import Clear, Tube, along
from leadline.core.clearance.shape import Bools, Shape
from leadline.core.geometry.mesh import repeated
from leadline.core.geometry.plane import Array
from leadline.core.geometry.quick import round_section
from leadline.core.geometry.section import Region
from leadline.core.problems import Message, Problem, mm
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_length
from leadline.kinds.clearance.model import ClearanceStep
from leadline.kinds.clearance.result import ClearanceResult
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.motion_mesh import CHORD_SHARE, chord_for
from leadline.recipe.products import HasMotion, MeasureProduct
from leadline.recipe.results import Report


def build(context: Context, step: ClearanceStep, report: Report) -> MeasureProduct:
    """Measure, unless the build is quick: then there are no bodies to measure to.

    Raises:
        Problem: no section or diameter, no body to measure to, or nothing left of the path.
    """
    motion, regions, chord = _tube(context, step)
    if context.quick:
        return MeasureProduct()
    unit = context.scope.unit
    skip = (
        context.value(step.skip_start),
        context.value(step.skip_end),
    )
    if min(skip) < 0 or sum(skip) >= motion.length:
        raise Problem(
            "bad-size",
            f"Of the {mm(motion.length)} of the path nothing is left to measure.",
            "Leave less out at its ends.",
            field="skip_start",
        )
    bodies = _obstacles(context, step)
    clear = along(Tube.of(motion, regions, chord, skip), [_shape(b) for b in bodies])
    names = [b.name for b in bodies]
    least = context.value(step.least)
    report.messages += _close(clear, names, least)
    word = (
        "runs into"
        if clear.least < 0
        else "touches"
        if clear.least == 0
        else f"{format_length(clear.least, unit)} clear of"
    )
    report.figure = f"{word} {names[clear.nearest]}"
    report.data = ClearanceResult(
        clear={
            "length": motion.length,
            "stations": np.round(clear.stations, 5).tolist(),
            "distance": np.round(clear.distance, 5).tolist(),
            "other": clear.other.tolist(),
            "bodies": names,
            "asked": least,
            "least": clear.least,
            "nearest": clear.nearest,
            "station": clear.station,
            "at": clear.at.tolist(),
            "to": clear.to.tolist(),
        }
    )
    return MeasureProduct()


def _tube(context: Context, step: ClearanceStep) -> tuple[Motion, list[Region], float]:
    """A sweep's own motion and regions, or those of a round tube about a path; with how fine its mesh is to be."""
    swept = context.product(step.path.step, "path").give(HasMotion)
    if swept is not None and any(r.sheet for r in swept.regions):
        raise Problem(
            "surface-alone",
            "A surface without thickness has no inside that could stay clear.",
            "Give it a wall, or pick its path and a diameter.",
            field="path",
        )
    if swept is not None:
        return swept.motion, list(swept.regions), chord_for(swept)
    if step.diameter in (None, ""):
        raise Problem(
            "no-radius",
            "The path has no section of its own, so the tube about it needs a diameter.",
            "Give its diameter, or pick a sweep.",
            field="diameter",
        )
    diameter = context.given(step.diameter) or 0.0
    region = round_section(diameter)
    return Motion(context.path(step.path), mitred=True), [region], diameter * CHORD_SHARE


def _obstacles(context: Context, step: ClearanceStep) -> list[KeptBody]:
    """The bodies to measure to. Raises Problem."""
    own = [b for b in context.bodies if _is_of(b, step.path.step)]
    others = [b for b in context.bodies if b not in own]
    if not step.obstacles:
        if not others:
            raise Problem(
                "no-obstacles",
                "There is no other body before this step.",
                "Move it down below the bodies that it is to stay clear of.",
                field="obstacles",
            )
        return others
    found = [b for b in others if any(_is_of(b, o) for o in step.obstacles)]
    gone = [o for o in step.obstacles if not any(_is_of(b, o) for b in found)]
    if gone:
        names = ", ".join(f"“{context.names.get(o, o)}”" for o in gone)
        raise Problem(
            "no-obstacles",
            f"{names} has no body here, or the tube itself is part of it.",
            "Pick other bodies.",
            field="obstacles",
            source=gone[0],
        )
    return found


def _is_of(body: KeptBody, step: str) -> bool:
    """Whether a step made a body, or part of what it became."""
    return body.step == step or any(face.startswith(f"{step}/") for face in body.body.face_names)


def _shape(body: KeptBody) -> Shape:
    mesh = body.shown()
    return Shape.of([mesh if body.places is None else repeated(mesh, body.places)])


def _close(clear: Clear, names: list[str], least: float) -> list[Message]:
    """Of each body the worst: that the tube runs into it, touches it or comes too close, and where."""
    found = []
    for k, name in enumerate(names):
        d = np.where(clear.other == k, clear.distance, np.inf)
        nearest = clear.least if k == clear.nearest else float(d.min())
        if nearest < 0:
            code, bad, text = "runs-into", d <= 0, f"It runs into “{name}”, {mm(-nearest)} deep,"
        elif nearest == 0:
            code, bad, text = "touches", d <= 0, f"It touches “{name}”"
        elif nearest < least:
            code, bad, text = (
                "too-close",
                d < least,
                f"It comes within {mm(nearest)} of “{name}”, and {mm(least)} are asked for,",
            )
        else:
            continue
        at = clear.station if k == clear.nearest else float(clear.stations[int(np.argmin(d))])
        place = _stretches(clear.stations, bad) or f"at {mm(at)}"
        found.append(Message("warning", code, f"{text} {place}.", "Lead the path round it.", {"station": at}))
    return found


def _stretches(stations: Array, bad: Bools) -> str:
    """ "from 12 to 18 mm, at 40 mm"."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], bad, [False]]).astype(int)))
    parts = []
    for a, b in zip(edges[::2], edges[1::2] - 1, strict=True):
        low, high = (float(stations[i]) for i in (a, b))
        parts.append(f"at {mm(low)}" if np.isclose(low, high) else f"from {mm(low)} to {mm(high)}")
    return ", ".join(parts[:3]) + (" …" if len(parts) > 3 else "")
