"""Sweeps along splines that are tiny, huge, slender or far from the origin, against Pappus: a section about the path
has its area times the path's length as volume, and its girth times that as its side.
"""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.plane import PRINCIPAL
from leadline.core.paths.path import path_from_sketch
from leadline.recipe.build import build
from tests.support.parts import XZ, curve, part, sketch
from tests.support.shapes import Draw

SHAPES = [
    ((0, 0), (30, 20), (70, -10), (110, 15), (150, 0)),
    ((0, 0), (20, 25), (60, 30), (90, 0)),
    ((0, 0), (40, 5), (80, 0)),
]


def swept(points, scale, at, radius, **more):
    path = curve(*((scale * x + at[0], scale * y + at[1]) for x, y in points))
    profile = Draw()
    profile.point("c", 0, 0)
    profile.circle("e1", "c", radius)
    profile.hold("on_path", "c", path="path")
    steps = [
        sketch("path", XZ, path),
        {"kind": "plane", "id": "plane", "name": "Plane", "path": {"step": "path"}},
        sketch("profile", {"kind": "step", "step": "plane"}, profile),
        {
            "kind": "sweep",
            "id": "sweep",
            "name": "Sweep",
            "path": {"step": "path"},
            "profile": {"step": "profile"},
            **more,
        },
    ]
    return path_from_sketch(path.sketch(), PRINCIPAL["XZ"]), {
        "format": "leadline-part",
        "version": 1,
        "name": "Rod",
        "units": "mm",
        "steps": steps,
    }


@settings(max_examples=30, deadline=None)
@given(
    st.sampled_from(SHAPES),
    st.floats(-4, 2),
    st.sampled_from([(0, 0), (1e3, 0), (-1e5, 1e5), (1e6, 0), (9e6, -9e6)]),
    st.floats(0.05, 6),
    st.sampled_from([None, 0.3]),
    st.sampled_from([0, 1.5]),
)
def test_a_rod_along_a_spline_has_the_volume_and_the_area_of_its_path(points, power, at, radius, wall, twist):
    scale = 10.0**power
    at = at if power > -2 else (0, 0)  # mm have some sixteen digits
    radius *= scale
    path, document = swept(points, scale, at, radius, wall=None if wall is None else wall * radius, twist=twist)
    result = build(part(document))
    report = result.reports["sweep"]
    assert (report.state, report.messages) == ("fresh", [])
    inner = 0.0 if wall is None else radius * (1 - wall)
    (kept,) = result.bodies
    digits = 1e-6 + 1e-9 / scale * (max(map(abs, at)) / 1e6)
    assert kept.body.volume() == pytest.approx(math.pi * (radius**2 - inner**2) * path.length, rel=digits)
    assert kept.body.area() == pytest.approx(
        2 * math.pi * ((radius + inner) * path.length + radius**2 - inner**2), rel=digits
    )
