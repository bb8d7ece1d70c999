"""The round step: edges of bodies by their names, rounded or chamfered by the kernel."""

from __future__ import annotations

import itertools
import math
import time
from collections.abc import Mapping, Sequence

import numpy as np

from leadline.core.expressions import Expression
from leadline.core.problems import Problem, Remedy, at_most, degrees, mm
from leadline.core.solids.edging import Chamfer, Edging, Radius, edged, length_of, points_along, sharp_edges
from leadline.core.solids.kernel import Shape
from leadline.core.solids.tessellate import edge_points
from leadline.core.units import format_length
from leadline.kinds.rounding.model import EvenRound, RoundingStep, VaryingRound
from leadline.kinds.rounding.result import RoundingResult
from leadline.recipe.bodies import measured
from leadline.recipe.candidates import with_edges
from leadline.recipe.context import Context
from leadline.recipe.given import label
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product
from leadline.recipe.results import Report
from leadline.recipe.titles import edge_title

SLANT = math.radians(1)  # of a chamfer at least, out of either face
AT_END = 1e-9  # of the length of the edges


def build(context: Context, step: RoundingStep, report: Report) -> Product:
    """Raises Problem when no edge is picked, one is gone, or they cannot be rounded so."""
    if context.quick:
        return Product()
    if not step.edges:
        raise Problem("no-edges", "No edge is picked.", "Pick edges in the stage.", field="edges")
    began = time.perf_counter()
    wanted = list(dict.fromkeys(e.edge for e in step.edges))
    rows, known = [], {}
    for kept in context.bodies:
        own = {} if kept.places is not None else sharp_edges(kept.body)
        rows.append((kept, {n: own[n] for n in wanted if n in own}))
        known.update(own)
    _refuse_missing(context, step, known)
    length = sum(length_of(chain) for _, picked in rows for chain in picked.values())
    how = _how(context, step, length)
    after: list[KeptBody] = []
    changed: list[KeptBody] = []
    for kept, picked in rows:
        if picked:
            try:
                body = edged(kept.body, picked, how, step.id)
            except Problem as problem:
                more = (
                    _alike_at_ends(context, step, length)
                    if problem.message.code == "radius-jump"
                    else _smaller(how, problem.message.place.get("scale"))
                )
                raise problem.mended(*more) from None
            kept = kept.changed(f"{report.key}-{len(changed)}", body)
            changed.append(kept)
        after.append(kept)
    context.kernel_seconds += time.perf_counter() - began
    report.data = RoundingResult(result=measured([k.body for k in changed]), length=length)
    if isinstance(step.how, VaryingRound):
        report.data["chain"] = (
            points_along([e for _, picked in rows for own in picked.values() for e in own]).round(5).tolist()
        )
    report.figure = (
        f"{_title(context, how)}, {len(wanted)} edge{'s' if len(wanted) != 1 else ''}, "
        f"{format_length(length, context.scope.unit)}"
    )
    return BodyProduct(None, after, False)


def _refuse_missing(context: Context, step: RoundingStep, known: Mapping[str, Sequence[Shape]]) -> None:
    gone = next((e for e in step.edges if e.edge not in known), None)
    if gone is not None:
        problem = Problem(
            "deleted-reference",
            f"The edge between {edge_title(gone.edge, context.names)} is no longer there.",
            "Take it away or pick another.",
            field="edges",
            source=gone.step if gone.step in context.names else None,
        )
        raise with_edges(
            problem,
            step,
            gone.edge,
            {n: (n.split("/")[0], np.vstack([edge_points(e) for e in own])) for n, own in known.items()},
        )


def _how(context: Context, step: RoundingStep, length: float) -> Edging:
    how = step.how
    if isinstance(how, EvenRound):
        return Radius([(0.0, context.value(how.radius))])
    if isinstance(how, VaryingRound):
        points = sorted((context.station(p.at, length) / length, _size(context, p.value)) for p in how.points)
        for (at, _), (after, _) in itertools.pairwise(points):
            if after - at < AT_END:
                raise Problem(
                    "same-place",
                    f"Two radii stand at {mm(at * length)} of the edges.",
                    "Move or take away one of them.",
                    field="how",
                )
        low, high = points[0][0], points[-1][0]
        if low < -1e-9 or high > 1 + 1e-9:
            raise Problem(
                "off-path",
                f"The edges are {mm(length)} long.",
                f"Give places from 0 to {mm(length, 6)}, or in %.",
                field="how",
            )
        return Radius(points)
    first = context.value(how.first)
    if how.angle not in (None, "") and how.second not in (None, ""):
        raise Problem(
            "chamfer-twice",
            "Both an angle and a size on the other face say how the chamfer leans.",
            "Take one of them away.",
            field="how",
        ).mended(
            Remedy("Keep the angle", {"how": {**how.model_dump(mode="json"), "second": None}}),
            Remedy("Keep the size", {"how": {**how.model_dump(mode="json"), "angle": None}}),
        )
    angle = context.given(how.angle)
    if angle is not None:
        if not SLANT <= angle <= math.pi / 2 - SLANT:
            raise Problem(
                "bad-size",
                f"A chamfer cannot lean by {degrees(angle)}.",
                f"Give {degrees(SLANT)} to {degrees(math.pi / 2 - SLANT)}.",
                field="how",
            )
        return Chamfer(first, first * math.tan(angle), angle)
    return Chamfer(first, first if how.second in (None, "") else context.value(how.second))


def _alike_at_ends(context: Context, step: RoundingStep, length: float) -> list[Remedy]:
    """A table that ends as it begins: its last row changed where it is at the end, else one added there."""
    assert isinstance(step.how, VaryingRound)
    at = [context.station(p.at, length) for p in step.how.points]
    table = step.how.model_dump(mode="json")
    first, last = table["points"][int(np.argmin(at))], table["points"][int(np.argmax(at))]
    if max(at) > length * (1 - AT_END):
        last["value"] = first["value"]
    else:
        table["points"].append({**last, "at": "100%", "value": first["value"]})
    return [Remedy("End as it begins", {"how": table})]


def _smaller(how: Edging, scale: float | None) -> list[Remedy]:
    """The largest size that was found to fit, if one was."""
    if scale is None:
        return []
    title = f"Make it {mm(how.most * scale, 3)}"
    if isinstance(how, Chamfer):
        second = (
            {"second": at_most(how.second * scale)}
            if how.angle is None
            else {"angle": f"{math.degrees(how.angle):.9g} deg"}
        )
        return [Remedy(title, {"how": {"by": "chamfer", "first": at_most(how.first * scale), **second}})]
    if len(how.points) > 1:
        return []
    return [Remedy(title, {"how": {"by": "even", "radius": at_most(how.most * scale)}})]


def _size(context: Context, value: Expression) -> float:
    size = context.value(value)
    if size <= 1e-6:
        what = label(value)
        raise Problem("bad-size", f"{what}: {mm(size)} is not above zero.", "Give a size above zero.", field="how")
    return size


def _title(context: Context, how: Edging) -> str:
    unit = context.scope.unit
    if isinstance(how, Chamfer):
        return f"chamfer {format_length(how.first, unit)}"
    radii = [r for _, r in how.points]
    if len(set(radii)) == 1:
        return f"R {format_length(radii[0], unit)}"
    return f"R {format_length(min(radii), unit)} to {format_length(max(radii), unit)}"
