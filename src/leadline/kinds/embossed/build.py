"""The embossed step: what lies between a body's side and its offset, within outlines, added to the body or cut from it."""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np

from leadline.core.geometry.edges import line_edge
from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem, mm
from leadline.core.solids.body import Body
from leadline.core.solids.raising import raised_on
from leadline.core.solids.splitting import straight_through
from leadline.core.units import format_length
from leadline.kinds.embossed.model import EmbossedStep
from leadline.kinds.embossed.result import EmbossedResult
from leadline.recipe.bodies import combined
from leadline.recipe.changing import solids_of
from leadline.recipe.context import Context
from leadline.recipe.products import BodyProduct, KeptBody, Product
from leadline.recipe.results import Report

ROOM = 1.5  # times the height, by which the patch that is offset is wider than the outline
ROOM_SHARE = 0.05  # and of the outline's size


def build(context: Context, step: EmbossedStep, report: Report) -> Product:
    """Raises Problem when there is no such body, the outlines miss it, or its side cannot be raised so."""
    height = context.value(step.height, "length", "Height")
    if height <= 1e-6:
        raise Problem("bad-size", f"A height of {mm(height)} raises nothing.", "Give a height above zero; it is sunk by choosing so.", field="height")
    if context.quick:
        return Product()
    plane, regions = context.profile(step.profile)
    own = solids_of(context, step.body, "body")
    began = time.perf_counter()
    home, tools = _on_the_side(own, plane, regions, height if step.way == "raised" else -height, step)
    context.kernel_seconds += time.perf_counter() - began
    operation: Operation = "add" if step.way == "raised" else "cut"
    made, result = combined(context, tools, operation, report, step, [home])
    plain, before = home.plain or home.body, home.raised
    made = [replace(k, plain=plain, raised=(*before, *((t, operation) for t in tools))) if len(made) == 1 else k for k in made]
    volume = sum(t.volume() for t in tools)
    report.data = EmbossedResult(volume=volume)
    if result is not None:
        report.data["result"] = result
    report.figure = f"{step.way} by {format_length(height, context.scope.unit)}"
    return BodyProduct(None, [*(k for k in context.bodies if k is not home), *made], False)


def _on_the_side(own: list[KeptBody], plane: Plane, regions: list[Region], height: float, step: EmbossedStep) -> tuple[KeptBody, list[Body]]:
    """The first of some bodies that the outlines meet, and what is to be added to it or cut from it. Raises Problem."""
    missed: Problem | None = None
    for kept in own:
        try:
            return kept, [_tool(kept.body, plane, region, height, step) for region in regions]
        except Problem as problem:
            if problem.message.code != "misses-body":
                raise
            missed = missed or problem
    assert missed is not None  # there is a body
    raise missed


def _tool(body: Body, plane: Plane, region: Region, height: float, step: EmbossedStep) -> Body:
    prism, wide = (straight_through(body, plane, [r], step.id, step.name, abs(height))[0] for r in (region, _wider(region, abs(height))))
    return raised_on(body, plane, prism, wide, height, step.id)


def _wider(region: Region, height: float) -> Region:
    """A rectangle with room all round an outline."""
    outline = region.outer.polygon(0.01)
    low, high = outline.min(axis=0), outline.max(axis=0)
    room = ROOM * height + ROOM_SHARE * float(np.linalg.norm(high - low))
    (x0, y0), (x1, y1) = low - room, high + room
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    return Region(Loop(tuple(line_edge(p, q, "wide") for p, q in zip(corners, corners[1:] + corners[:1], strict=True))))
