"""The wound step: a coil about another path, round or along a former."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from leadline.core.geometry.laws import Even, Law, Table
from leadline.core.geometry.plane import Array
from leadline.core.geometry.walls import hollow
from leadline.core.paths.even_angle import Advance, Advanced
from leadline.core.paths.formers import DrawnFormer, Former, RoundFormer
from leadline.core.paths.path import Path
from leadline.core.paths.wound import wound
from leadline.core.problems import Problem, mm
from leadline.core.units import format_length
from leadline.kinds.wound.model import WoundStep
from leadline.kinds.wound.result import WoundResult
from leadline.recipe.context import Context
from leadline.recipe.inputs import TablePoint
from leadline.recipe.path_report import check_turns, path_report
from leadline.recipe.products import HasMotion, PathProduct
from leadline.recipe.results import Report

SMALLEST = 1e-3  # mm
EVEN = 1e-6  # of its radius, by which a tube may be uneven


def build(context: Context, step: WoundStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    carrier = context.path(step.path)
    former, size, start, shape = _shape(context, step, carrier)
    angle = _angle(context, step, carrier)
    turns = abs(float(np.diff(angle.value(np.array([0.0, carrier.length])))[0])) / (2 * math.pi)
    check_turns(turns)
    if step.even == "angle":
        advance = Advance(carrier, start, angle, size, former)
        angle, size = Advanced(angle, advance), Advanced(size, advance)
    path = wound(carrier, start, angle, size, former, step.id)
    report.figure = f"{shape}, {turns:.4g} turns, {format_length(path.length, unit)}"
    report.data = WoundResult(path=path_report(path, turns), turns=turns)
    return PathProduct(path)


def _angle(context: Context, step: WoundStep, carrier: Path) -> Law:
    given = [
        name
        for name, v in (("turns", step.turns), ("pitch", step.pitch), ("turn_table", step.turn_table))
        if v not in (None, "")
    ]
    if len(given) != 1:
        raise Problem(
            "one-of-three",
            f"A coil needs its turns, its pitch or a table of turns; {len(given) or 'none'} of them are given.",
            "Give one and leave the others empty.",
            field="turns",
        )
    sign = -1.0 if step.hand == "left" else 1.0
    first = context.value(step.start_angle)
    if step.turn_table is not None:
        return _turn_table(context, step.turn_table, first, sign, carrier.length)
    pitch = context.given(step.pitch)
    if pitch is not None:
        if abs(pitch) < SMALLEST:
            raise Problem("bad-size", "The pitch of the coil is nought.", "Give a length per turn.", field="pitch")
        return Even(first, sign * 2 * math.pi / pitch)
    turns = context.given(step.turns) or 0.0
    if abs(turns) < 1e-6:
        raise Problem("bad-size", "The coil has no turns.", "Give turns above zero.", field="turns")
    return Even(first, sign * 2 * math.pi * turns / carrier.length)


def _turn_table(context: Context, points: Sequence[TablePoint], first: float, sign: float, length: float) -> Law:
    at = [context.station(p.at, length) for p in points]
    turns = [context.value(p.value) for p in points]
    if np.any(np.diff(np.array(turns)[np.argsort(at, kind="stable")]) < 0):
        raise Problem(
            "turns-back",
            "The table's turns go down along the path.",
            "Let them rise from station to station.",
            field="turn_table",
        )
    return Table(at, [first + sign * 2 * math.pi * t for t in turns], True, "turn_table")


def _shape(context: Context, step: WoundStep, carrier: Path) -> tuple[Former, Law, Array, str]:
    """The former, its size law, the normal that angles count from, and its figure."""
    standoff = context.value(step.standoff)
    if step.former is not None:
        return _on_former(context, step, carrier, standoff)
    start = carrier.start_normal()
    unit = context.scope.unit
    if step.radii is not None:
        at = [context.station(p.at, carrier.length) for p in step.radii]
        radii = [_above(context.value(p.value) + standoff, "radii") for p in step.radii]
        return (
            RoundFormer(),
            Table(at, radii, True, "radii"),
            start,
            f"Ø{format_length(2 * radii[0], unit)} to Ø{format_length(2 * radii[-1], unit)}",
        )
    own, end = context.given(step.radius), context.given(step.end_radius)
    first = _above((_tube_radius(context, step) if own is None else own) + standoff, "radius")
    last = first if end is None else _above(end + standoff, "end_radius")
    figure = f"Ø{format_length(2 * first, unit)}" + (
        f" to Ø{format_length(2 * last, unit)}" if abs(last - first) > 1e-9 else ""
    )
    return RoundFormer(), Even(first, (last - first) / carrier.length), start, figure


def _above(radius: float, field: str) -> float:
    if radius < SMALLEST:
        raise Problem("bad-size", f"The coil's radius is {mm(radius)}.", "Give one above zero.", field=field)
    return radius


def _tube_radius(context: Context, step: WoundStep) -> float:
    """The outer radius of the round tube whose path the coil is wound about."""
    tube = context.product(step.path.step, "path").give(HasMotion)
    arcs = {e.arc for r in tube.regions for e in r.outer.edges} if tube is not None else {None}
    if len(arcs) == 1 and None not in arcs and tube is not None and not _even_about_path(tube):
        raise Problem(
            "not-even",
            (
                "The tube that it is wound about is not one of an even round section about its path, so its "
                "surface is not where one radius says."
            ),
            "Give the coil's radius, or radii by station.",
            field="radius",
        )
    if len(arcs) != 1 or None in arcs:
        raise Problem(
            "no-radius",
            "The path that it is wound about is not that of one round tube, so the coil needs a radius.",
            "Give its radius.",
            field="radius",
        )
    (arc,) = arcs
    assert arc is not None
    return float(arc[2])


def _even_about_path(tube: HasMotion) -> bool:
    """Whether the round outline of a sweep keeps its size and its middle on the path, all along."""
    motion, (arc, *_) = tube.motion, [e.arc for r in tube.regions for e in r.outer.edges]
    assert arc is not None
    f = motion.frames(motion.path.samples(8))
    middle = f.at(np.array([arc[:2]]))[:, 0]
    return bool(
        np.abs(middle - f.P).max() < EVEN * arc[2]
        and np.abs(f.maps - np.eye(2)).max() < EVEN
        and f.steepness.min() > 1 - EVEN
    )


def _on_former(context: Context, step: WoundStep, carrier: Path, standoff: float) -> tuple[Former, Law, Array, str]:
    assert step.former is not None
    plane, regions = context.profile(step.former)
    if len(regions) != 1:
        raise Problem("one-former", f"The former has {len(regions)} closed outlines.", "Pick one.", field="former")
    outline = hollow(regions[0], standoff, "outward").outer if standoff > 0 else regions[0].outer
    grown = context.value(step.former_end)
    if grown < SMALLEST:
        raise Problem(
            "bad-size", "The former shrinks to nothing.", "Give a size above zero at its end.", field="former_end"
        )
    tangent = carrier.tangent(np.zeros(1))[0]
    start = plane.x - tangent * float(plane.x @ tangent)
    if float(np.linalg.norm(start)) < 1e-6:
        raise Problem(
            "former-along", "The former's plane holds the path.", "Draw the former across the path.", field="former"
        )
    if float(plane.normal @ tangent) < 0:  # seen from behind: turned over about its x axis
        outline = type(outline)(tuple(e.mapped(np.diag([1.0, -1.0]), np.zeros(2)) for e in outline.edges)).oriented(
            True
        )
    return DrawnFormer(outline), Even(1.0, (grown - 1) / carrier.length), start / np.linalg.norm(start), "on a former"
