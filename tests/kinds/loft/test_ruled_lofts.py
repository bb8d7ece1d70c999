"""Ruled lofts: straight in space between sections on any planes, of the volume that bilinear sides enclose; what they
cannot do is refused.
"""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakePolygon
from OCP.BRepGProp import BRepGProp
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.gp import gp_Pnt
from OCP.GProp import GProp_GProps

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import polygon_section, rectangle_section, round_section
from leadline.core.loft.lofted import Station, lofted
from leadline.core.loft.shares import End
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.mass import measure
from leadline.recipe.build import build
from tests.support.loft_sections import SHAPES, X, Y, Z, at, tip
from tests.support.parts import part, polyline, sketch

FREE = End()


def leaning(x, z, lean, twist, region, name="a leaning section"):
    """A section whose plane leans about Y and is turned in itself."""
    c, s, k, m = math.cos(lean), math.sin(lean), math.cos(twist), math.sin(twist)
    u, v = c * X - s * Z, Y
    return Station(name, Plane(np.array([x, 0, z]), k * u + m * v, k * v - m * u), region)


def ngon(count, radius, stretch=1.0):
    angles = 2 * math.pi * np.arange(count) / count
    return [(radius * stretch * math.cos(a), radius * math.sin(a)) for a in angles]


def kernel_volume(stations, corners):
    """Of the kernel's own ruled solid through polygons."""
    builder = BRepOffsetAPI_ThruSections(True, True)
    for station, points in zip(stations, corners, strict=True):
        wire = BRepBuilderAPI_MakePolygon()
        for p in station.plane.to_space(np.array(points)):
            wire.Add(gp_Pnt(*p))
        wire.Close()
        builder.AddWire(wire.Wire())
    builder.Build()
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(builder.Shape(), props)
    return abs(props.Mass())


@settings(max_examples=20, deadline=None)
@given(
    count=st.integers(3, 6),
    radii=st.lists(st.floats(6, 14), min_size=2, max_size=3),
    stretch=st.floats(0.8, 1.3),
    leans=st.lists(st.floats(-0.45, 0.45), min_size=3, max_size=3),
    twist=st.floats(-0.15, 0.15),
    aside=st.floats(-6, 6),
)
def test_polygons_on_any_planes_have_the_volume_of_the_kernel_s_ruled_solid(count, radii, stretch, leans, twist, aside):
    corners = [ngon(count, r, stretch if i == 1 else 1.0) for i, r in enumerate(radii)]
    stations = [
        leaning(aside * i, 30.0 * i, leans[i], twist * i, polygon_section(own)) for i, own in enumerate(corners)
    ]
    made = lofted(stations, FREE, FREE, change="ruled")
    expected = kernel_volume(stations, corners)
    assert measure(made.motion, [made.region]).volume == pytest.approx(expected, rel=1e-6)
    (body,) = sweep_bodies(made.motion, [made.region], "loft", "Loft")
    assert body.valid()
    assert body.volume() == pytest.approx(expected, rel=1e-6)


@settings(max_examples=20, deadline=None)
@given(
    shapes=st.lists(st.sampled_from(sorted(SHAPES)), min_size=2, max_size=4),
    leans=st.lists(st.floats(-0.4, 0.4), min_size=4, max_size=4),
    aside=st.floats(-8, 8),
)
def test_corresponding_places_are_joined_by_straight_lines(shapes, leans, aside):
    stations = [leaning(aside * (i % 2), 40.0 * i, leans[i], 0.0, SHAPES[name]) for i, name in enumerate(shapes)]
    made = lofted(stations, FREE, FREE, change="ruled")
    corners = made.region.outer.edges
    points = np.array([e.point(np.array([t]))[0] for e in corners for t in np.linspace(*e.domain, 7)[:-1]])
    for a, b in pairwise(made.stations):
        s = np.linspace(a, b, 9)
        places = made.motion.frames(s).at(points)
        share = ((s - a) / (b - a))[:, None, None]
        assert np.abs(places - (places[:1] + share * (places[-1:] - places[:1]))).max() < 1e-9


def test_on_planes_that_are_parallel_and_on_a_straight_line_it_is_the_even_one():
    sections = [at(0, rectangle_section(20, 20)), at(30, round_section(20)), at(50, round_section(12))]
    ruled, even = (lofted(sections, FREE, FREE, change=change) for change in ("ruled", "even"))
    s = np.linspace(0, 50, 23)
    points = np.array([e.point(np.array([0.3]))[0] for e in ruled.region.outer.edges])
    assert ruled.motion.frames(s).at(points) == pytest.approx(even.motion.frames(s).at(points), abs=1e-9)


def test_it_ends_in_a_point():
    made = lofted([leaning(0, 0, 0.4, 0, rectangle_section(20, 12)), tip(3, 0, 30)], FREE, FREE, change="ruled")
    height = np.array([3.0, 0, 30]) @ np.cross(made.motion.ends.X[0], made.motion.ends.Y[0])
    assert measure(made.motion, [made.region]).volume == pytest.approx(20 * 12 * abs(height) / 3, rel=1e-9)


def document(**fields):
    flat = {"kind": "principal", "plane": "XY"}
    high = {"kind": "datum", "id": "high", "name": "High", "how": {"by": "offset", "plane": flat, "distance": 40}}
    quick = [
        {"by": "quick", "profile": {"quick": "round", "width": w}, "plane": plane}
        for w, plane in ((20, flat), (12, {"kind": "step", "step": "high"}))
    ]
    line = sketch("line", {"kind": "principal", "plane": "XZ"}, polyline((0, 0), (0, 40)))
    return part(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Ruled",
            "units": "mm",
            "values": [],
            "steps": [
                high,
                line,
                {"kind": "loft", "id": "loft", "name": "Loft", "sections": quick, "section_change": "ruled", **fields},
            ],
        }
    )


@pytest.mark.parametrize(
    ("fields", "code", "field"),
    [
        ({"start": {"how": "square"}}, "ruled-end", "start"),
        ({"end": {"how": "square", "strength": 2}}, "ruled-end", "end"),
        ({"centreline": {"step": "line"}}, "ruled-centreline", "centreline"),
    ],
)
def test_what_it_cannot_do_is_refused_with_ways_out(fields, code, field):
    assert build(document()).reports["loft"].state == "fresh"
    (message,) = build(document(**fields)).reports["loft"].messages
    assert (message.code, message.place["field"]) == (code, field)
    assert len(message.remedies) == 2
    for remedy in message.remedies:
        assert build(document(**fields | remedy.change)).reports["loft"].state == "fresh"
