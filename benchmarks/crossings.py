"""Where two surfaces cross: traced by us, and by the kernel's own section of the same two solids."""

from __future__ import annotations

import time

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Section
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps

from benchmarks.timing import best, table
from leadline.core.solids.kernel import edges
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.surfaces.crossing import crossings
from tests.support.crossing_pairs import PAIRS, Surface


def report() -> str:
    rows = [_row(name, first, second) for name, (first, second, _, _) in PAIRS.items()]
    head = [
        "pair",
        "branches",
        "length, mm",
        "off both surfaces, mm",
        "ms",
        "kernel's edges",
        "its length",
        "its time / ours",
    ]
    return table("Where two surfaces cross (best of three; the kernel's section once)", head, rows)


def _row(name: str, first: Surface, second: Surface) -> list[str]:
    seconds, found = best(lambda: crossings(first.sheets, second.sheets), 3)
    points = np.vstack([b.path.point(np.linspace(0, b.path.length, 200)) for b in found])
    off = max(float(np.abs(s.off(points)).max()) for s in (first, second))
    length = sum(b.path.length for b in found)
    count, own_length, own = _by_the_kernel(first, second)
    return [
        name,
        str(len(found)),
        f"{length:.3f}",
        f"{off:.0e}",
        f"{seconds * 1000:.0f}",
        str(count),
        f"{own_length:.3f}",
        f"{own / seconds:.1f}",
    ]


def _by_the_kernel(first: Surface, second: Surface) -> tuple[int, float, float]:
    """Number and length of the section edges, and the seconds; of the sides alone, without caps."""
    shapes = []
    for surface in (first, second):
        regions = [type(r)(r.outer, r.holes, True) for r in surface.regions]
        (body,) = sweep_bodies(surface.motion, regions, "s", "Surface")
        shapes.append(body.shape)
    began = time.perf_counter()
    section = BRepAlgoAPI_Section(*shapes, False)
    section.Approximation(True)
    section.Build()
    spent = time.perf_counter() - began
    found = edges(section.Shape())
    numbers = GProp_GProps()
    BRepGProp.LinearProperties_s(section.Shape(), numbers)
    return len(found), float(numbers.Mass()), spent
