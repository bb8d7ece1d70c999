"""The embossed step: what lies between a body's side and its offset, within outlines, added to the body or cut
from it.
"""

from __future__ import annotations

import itertools
import math
import time
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
import shapely

from leadline.core.geometry.edges import arc_edges, line_edge
from leadline.core.geometry.mesh_booleans import Operation
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Message, Problem
from leadline.core.solids.body import Body
from leadline.core.solids.raising import BORDER, Outline, raised_on
from leadline.core.solids.splitting import straight_through
from leadline.core.units import format_length
from leadline.kinds.embossed.model import EmbossedStep
from leadline.kinds.embossed.result import EmbossedResult
from leadline.recipe.bodies import combined
from leadline.recipe.changing import solids_of
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product
from leadline.recipe.results import Report

ROOM = 1.5  # times the height, by which the patch that is offset is wider than the outline
SIMPLER, MITRE = (
    8,
    2.0,
)  # parts of the room, by which a wider outline may be simpler; times the room, as far as its corners go
LESS, ROUNDED = 1e-4, 1e-7  # of what is raised, of the body: by how much less a body may change than what is put to it
ROOM_SHARE = 0.05  # and of the outline's size


def build(context: Context, step: EmbossedStep, report: Report) -> Product:
    """Raises Problem when there is no such body, the outlines miss it, or its side cannot be raised so."""
    height = context.value(step.height)
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
    made = [
        replace(k, plain=plain, raised=(*before, *((t, operation) for t in tools))) if len(made) == 1 else k
        for k in made
    ]
    tooled, whole = sum(t.volume() for t in tools), home.body.volume()
    volume = abs(whole - sum(k.body.volume() for k in made))
    if tooled - volume > LESS * tooled + ROUNDED * whole:
        said = "A sunk area goes right through" if operation == "cut" else "A raised area runs into another side of"
        report.messages.append(
            Message(
                "warning",
                "area-through",
                f"{said} “{home.name}”.",
                "Give less height, if that is not meant.",
                {"field": "height"},
            )
        )
    report.data = EmbossedResult(volume=volume)
    if result is not None:
        report.data["result"] = result
    report.figure = f"{step.way} by {format_length(height, context.scope.unit)}"
    return BodyProduct(None, [*(k for k in context.bodies if k is not home), *made], False)


def _on_the_side(
    own: list[KeptBody], plane: Plane, regions: list[Region], height: float, step: EmbossedStep
) -> tuple[KeptBody, list[Body]]:
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
    deep = abs(height)

    def through(own: Region) -> Body:
        return straight_through(body, plane, [own], step.id, step.name, deep)[0]

    corners = region.outer.polygon(0.01)
    shape = shapely.Polygon(corners)

    def wider(room: float, close: bool) -> tuple[Body, Callable[[np.ndarray], bool]]:
        grown = _grown(region, shape, room) if close else _box(corners, room)
        within = shapely.Polygon(grown.outer.polygon(0.01)).buffer(-BORDER)
        return through(grown), lambda place: bool(within.contains(shapely.Point(place)))

    size = float(np.linalg.norm(np.ptp(corners, axis=0)))
    return raised_on(body, Outline(plane, through(region), ROOM * deep + ROOM_SHARE * size, wider), height, step.id)


def _box(corners: np.ndarray, room: float) -> Region:
    """A rectangle with room all round an outline."""
    (x0, y0), (x1, y1) = corners.min(axis=0) - room, corners.max(axis=0) + room
    return _polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def _grown(region: Region, shape: shapely.Polygon, room: float) -> Region:
    """An outline with room all round: of a circle a larger one, else of few straight sides."""
    circles = {edge.arc for edge in region.outer.edges}
    if len(circles) == 1 and (circle := next(iter(circles))) is not None:
        return Region(Loop(tuple(arc_edges(circle[:2], circle[2] + room, 0.0, 2 * math.pi, "wide"))))
    grown = shape.simplify(room / SIMPLER).buffer(room, join_style="mitre", mitre_limit=MITRE).simplify(room / SIMPLER)
    return _polygon(list(shapely.orient_polygons(grown).exterior.coords)[:-1])


def _polygon(corners: Sequence[Sequence[float]]) -> Region:
    return Region(Loop(tuple(line_edge(p, q, "wide") for p, q in itertools.pairwise([*corners, corners[0]]))))
