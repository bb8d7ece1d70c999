"""The plane step: square to a path at a station."""

from __future__ import annotations

from leadline.core.problems import Problem, mm
from leadline.core.units import format_length
from leadline.kinds.plane.model import NormalPlane
from leadline.kinds.plane.result import PlaneResult
from leadline.recipe.context import Context
from leadline.recipe.path_report import plane_shown
from leadline.recipe.products import PlaneProduct
from leadline.recipe.results import Report


def build(context: Context, step: NormalPlane, report: Report) -> PlaneProduct:
    path = context.path(step.path)
    unit = context.scope.unit
    if step.place == "start":
        station = 0.0
    elif step.place == "end":
        station = path.length
    elif step.place == "ratio":
        ratio = context.value(step.value)
        if not 0 <= ratio <= 1:
            raise Problem("off-path", f"The share {ratio:g} is not on the path.", "Give 0 to 1.", field="value")
        station = ratio * path.length
    else:
        station = context.station(step.value, path.length)
        if not -1e-9 <= station <= path.length + 1e-9:
            raise Problem(
                "off-path",
                f"The station {mm(station)} is not on the path.",
                f"Give 0 to {mm(path.length, 6)}.",
                field="value",
            )
    plane = path.plane_at(station)
    report.figure = f"square at {format_length(station, unit)}"
    report.data = PlaneResult(plane=plane_shown(plane), station=station, length=path.length)
    return PlaneProduct(plane)
