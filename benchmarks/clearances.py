"""The clearance of a hose to a body beside it, as a ratio to the kernel's own distance between the two solids."""

from __future__ import annotations

from typing import Any

from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from benchmarks.timing import best, table, verdict
from leadline.core.clearance.along import Tube, along
from leadline.core.clearance.shape import Shape
from leadline.core.solids.tessellate import tessellate
from leadline.recipe.build import build
from leadline.recipe.motion_mesh import chord_for
from leadline.recipe.products import BodyProduct, HasMotion
from tests.support.parts import demo

OFF = 0.05  # mm: how fine the meshes are


def report() -> str:
    products: dict[str, Any] = {}
    build(demo("discharge-hose"), products=products)
    hose, leg = products["hose"], products["leg"]
    assert isinstance(hose, BodyProduct)
    plan = hose.give(HasMotion)
    assert plan is not None
    obstacle = Shape.of([leg.bodies[0].mesh or tessellate(leg.bodies[0].body)])
    ours, clear = best(lambda: along(Tube.of(plan.motion, plan.regions, chord_for(plan)), [obstacle]), 5)
    kernel, least = best(
        lambda: BRepExtrema_DistShapeShape(hose.bodies[0].body.shape, leg.bodies[0].body.shape).Value(), 5
    )
    rows = [
        [
            "the least distance and the lane along the path, as a ratio to the kernel's least distance alone",
            f"{ours / kernel:.2f}",
            "",
            "",
        ],
        ["milliseconds, for orientation only: ours / kernel", f"{ours * 1000:.0f} / {kernel * 1000:.0f}", "", ""],
        [
            "difference between the two, mm",
            f"{abs(clear.least - least):.1e}",
            f"{OFF}",
            verdict(abs(clear.least - least) < OFF),
        ],
    ]
    return table(
        "Clearance of the Discharge hose to the frame leg (best of five)", ["what", "reached", "target", ""], rows
    )
