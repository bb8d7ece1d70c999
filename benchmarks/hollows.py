"""Bodies made hollow by their own sides moved, beside the kernel's offset of the same ones; and a creased surface made
thick.
"""

from __future__ import annotations

import time

import numpy as np

from benchmarks.timing import table, verdict
from leadline.core.clearance.shape import Shape
from leadline.core.solids.body import Body
from leadline.core.solids.hollow_sweep import Carried, hollowed_along
from leadline.core.solids.hollowing import Hollowing, by_kernel_offset
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate
from leadline.recipe.build import build
from leadline.recipe.products import Product, Swept
from tests.support.parts import demo

SHARE = 0.3  # of the kernel's time
OFF = 0.01  # mm, by which a wall may be off
PLACES = 2000
BODIES = (
    ("priming-bulb", "bulb", 1.5),
    ("intake-shoe", "shoe", 1.5),
    ("twisted-ring", "ring", 0.5),
    ("pump-grip", "grip", 1.5),
    ("kick-rail-mitred", "rail", 1.5),
)


def report() -> str:
    rows = []
    for name, step, wall in BODIES:
        products: dict[str, Product] = {}
        build(demo(name), quick=True, products=products)
        plan = products[step]
        assert isinstance(plan, Swept)
        (body,) = sweep_bodies(plan.motion, plan.regions[:1], step, step)
        carried = Carried(plan.motion, plan.regions[0], step, plan.volume)
        body.volume()
        own, made = _timed(lambda: hollowed_along(body, carried, wall, False, [], {}, "h"))  # noqa: B023
        kernel, other = _timed(lambda: by_kernel_offset(body, Hollowing(wall, False, [], {}), "h"))  # noqa: B023
        assert made is not None
        off = None if plan.motion.mitred else _off(made, step, wall)
        share = "fails" if other is None else f"{own / kernel:.2f}"
        rows.append(
            [
                demo(name).name,
                f"{wall:g}",
                f"{own:.2f}",
                f"{kernel:.2f}",
                share,
                *([f"{SHARE:g}", verdict(own <= SHARE * kernel)] if name == "priming-bulb" else ["", ""]),
                *(["thicker in its corners", ""] if off is None else [f"{off:.4f}", verdict(off < OFF)]),
            ]
        )
    head = [
        "hollow",
        "wall, mm",
        "own sides, s",
        "kernel's offset, s",
        "share",
        "target",
        "",
        f"wall off at {PLACES:,} places, mm",
        f"under {OFF:g}",
    ]
    return table("Hollow bodies", head, rows)


def _timed(run):  # type: ignore[no-untyped-def]  # of whatever it gives
    began = time.perf_counter()
    found = run()
    return time.perf_counter() - began, found


def _off(body: Body, step: str, wall: float) -> float:
    """The greatest difference of a wall from what was asked, at places on the inside of the sides, away from edges."""
    mesh = tessellate(body, 0.003, 0.05)
    inside, outside = (
        np.array([n.startswith(start) for n in mesh.names])[mesh.face]
        for start in (f"h/inside/{step}:side", f"{step}/")
    )
    rng = np.random.default_rng(1)
    places = mesh.points[np.unique(mesh.triangles[inside])]
    places = places[rng.permutation(len(places))[:PLACES]]
    return float(np.abs(Shape(mesh.points, mesh.triangles[outside]).nearest(places)[0] - wall).max())
