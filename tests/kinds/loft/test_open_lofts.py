"""Lofts through open outlines: surfaces with the area that they must have, whichever way the outlines were drawn."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import dblquad
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import arc_edges, line_edge
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import round_section
from leadline.core.geometry.section import Loop, Region
from leadline.core.loft.lofted import Station, lofted
from leadline.core.loft.shares import End
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece
from leadline.core.problems import Problem
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.mass import measure
from leadline.recipe.build import build
from tests.support.loft_steps import ABOVE, BESIDE, loft, quick
from tests.support.parts import XY, XZ, part, polyline, sketch

X, Y, Z = np.eye(3)
FREE = End()


def line(*corners):
    points = [np.array(c, dtype=float) for c in corners]
    return Region(
        Loop(tuple(line_edge(a, b, f"e{i}") for i, (a, b) in enumerate(itertools.pairwise(points))), True), (), True
    )


def arc(radius, first, last):
    return Region(Loop(tuple(arc_edges(np.zeros(2), radius, first, last - first, "e0")), True), (), True)


def at(z, region, name="a section"):
    return Station(name, Plane(np.array([0.0, 0.0, z]), X, Y), region)


def backwards(region):
    return Region(region.outer.reversed(), (), True)


def sheet(made):
    """Its body in the kernel, and its area by quadrature over the motion."""
    (body,) = sweep_bodies(made.motion, [made.region], "loft", "Loft")
    assert body.sheet
    assert body.valid()
    area = measure(made.motion, [made.region]).area
    assert body.area() == pytest.approx(area, rel=1e-4)
    return body, area


def test_two_lines_that_are_skew():
    """A hyperbolic paraboloid: between (±10, 0, 0) and (0, ±10, 30)."""
    _, area = sheet(lofted([at(0, line((-10, 0), (10, 0))), at(30, line((0, -10), (0, 10)))], FREE, FREE))

    def element(t, u):
        along = np.array([20 * (1 - t), 20 * t, 0.0])
        up = np.array([10 - 20 * u, 20 * u - 10, 30.0])
        return float(np.linalg.norm(np.cross(along, up)))

    assert area == pytest.approx(dblquad(element, 0, 1, 0, 1)[0], rel=1e-8)


def test_two_arcs_make_a_piece_of_a_cone():
    _, area = sheet(lofted([at(0, arc(20, 0.3, 2.1)), at(30, arc(12, 0.3, 2.1))], FREE, FREE))
    assert area == pytest.approx(1.8 * (20 + 12) / 2 * math.hypot(30, 8), rel=1e-9)


def test_corners_go_with_corners_from_end_to_end():
    """Of an outline with three corners the middle one goes with the only one of the other, the two others with places
    on its sides.
    """
    made = lofted(
        [at(0, line((-20, 0), (-10, 2), (0, 10), (10, 2), (20, 0))), at(30, line((-15, 0), (0, 12), (15, 0)))],
        FREE,
        FREE,
    )
    assert made.shares[0].tolist() == [0.0, 0.0]
    assert made.shares[-1].tolist() == [1.0, 1.0]
    assert made.shares[2] == pytest.approx([0.5, 0.5])
    assert len(sheet(made)[0].face_names) == 4


corner = st.tuples(st.floats(2, 12), st.floats(-10, 10))


@st.composite
def outlines(draw):
    """An open outline from left to right, of lines, or one arc."""
    if draw(st.booleans()):
        return arc(draw(st.floats(8, 25)), draw(st.floats(0.1, 0.6)), draw(st.floats(2.0, 3.0)))
    steps = draw(st.lists(corner, min_size=1, max_size=5))
    x = np.cumsum([dx for dx, _ in steps])
    return line((-x[-1] / 2, 0.0), *((float(a - x[-1] / 2), y) for a, (_, y) in zip(x, steps, strict=True)))


@given(st.lists(outlines(), min_size=2, max_size=4), st.lists(st.booleans(), min_size=4, max_size=4))
@settings(max_examples=12)
def test_it_holds_its_outlines_and_does_not_ask_how_they_were_drawn(drawn, turned):
    stations = [at(20.0 * i, region) for i, region in enumerate(drawn)]
    _, area = sheet(lofted(stations, FREE, FREE))
    again = [at(20.0 * i, backwards(r) if turn else r) for i, (r, turn) in enumerate(zip(drawn, turned, strict=False))]
    made = lofted(again, FREE, FREE)
    assert sheet(made)[1] == pytest.approx(area, rel=1e-7)
    for i, region in enumerate(drawn):
        there = made.motion.frames(np.array([made.stations[i]]))
        points = there.at(np.vstack([e.point(np.linspace(*e.domain, 9)) for e in made.region.outer.edges]))[0]
        ends = sorted(tuple(p) for p in points[[0, -1], :2])
        assert np.allclose(
            ends, sorted(tuple(p[:2]) for p in (region.outer.edges[0].start, region.outer.edges[-1].end)), atol=1e-9
        )
        gaps = [min(_gap(e, p[:2]) for e in region.outer.edges) for p in points]
        assert max(gaps) < 1e-6
        assert points[:, 2] == pytest.approx(20.0 * i, abs=1e-9)


def _gap(edge, place):
    """How far a place is from an edge: Newton's method from the nearest of many places."""
    t = np.linspace(*edge.domain, 200)
    best = t[int(np.argmin(np.linalg.norm(edge.point(t)[:, :2] - place, axis=1)))]
    for _ in range(8):
        off, way = edge.point(best)[:2] - place, edge.derivative(best)[:2]
        best = np.clip(best - off @ way / (way @ way + off @ edge.second(best)[:2]), *edge.domain)
    return float(np.linalg.norm(edge.point(best)[:2] - place))


@given(
    st.lists(st.floats(0.0, 1.0), min_size=1, max_size=3, unique_by=lambda v: round(v * 6)),
    st.floats(-6, 6),
    st.floats(-6, 6),
)
@settings(max_examples=10)
def test_rails_are_reached_all_along(places, aside, up):
    """Rails at places of two lines, bent aside between them."""
    low, high = line((-20, 0), (20, 4)), line((-16, 6), (18, 0))

    def rail(share):
        a, b = (np.append(r.outer.edges[0].point(share)[:2], z) for r, z in ((low, 0.0), (high, 40.0)))
        middle = (a + b) / 2 + [aside, up, 0.0]
        return Path([SplinePiece(make_interp_spline([0.0, 0.5, 1.0], np.array([a, middle, b]), k=2))])

    spine = Path([SplinePiece(make_interp_spline([0.0, 1.0], np.array([[0.0, 0, 0], [0, 0, 40.0]]), k=1))])
    rails = [("The rail", rail(share)) for share in places]
    made = lofted([at(0, low), at(40, high)], FREE, FREE, spine, rails)
    sheet(made)
    s = np.linspace(0, made.motion.length, 9)
    for line_, (_, path) in zip(made.lines[-len(places) :], rails, strict=True):
        own = path.point(np.linspace(0, path.length, 4001))
        assert max(np.linalg.norm(own - p, axis=1).min() for p in line_) < path.length / 4000
    assert np.isfinite(made.motion.frames(s).C).all()


@pytest.mark.parametrize(
    ("stations", "threads", "code"),
    [
        ([at(0, line((-10, 0), (10, 0))), at(30, round_section(10))], (), "open-and-closed"),
        ([at(0, line((-10, 0), (10, 0))), at(30, line((-10, 0), (10, 0)))], ((0.3, 0.7), (0.6, 0.4)), "threads-cross"),
        ([at(0, line((-10, 0), (10, 0))), at(30, line((-10, 0), (10, 0)))], ((0.4, 1.0),), "threads-cross"),
    ],
)
def test_what_cannot_be_built_is_refused(stations, threads, code):
    with pytest.raises(Problem) as refused:
        lofted(stations, FREE, FREE, threads=threads)
    assert refused.value.message.code == code


def test_a_thread_leads_from_one_place_to_another():
    made = lofted([at(0, line((-10, 0), (10, 0))), at(30, line((-10, 0), (10, 0)))], FREE, FREE, threads=[(0.25, 0.5)])
    assert made.shares.tolist() == [[0.0, 0.0], [0.25, 0.5], [1.0, 1.0]]
    assert len(sheet(made)[0].face_names) == 2
    assert made.lines[1][-1] == pytest.approx([0, 0, 30], abs=1e-9)


def built(*steps):
    return build(
        part({"format": "leadline-part", "version": 1, "name": "Loft", "units": "mm", "steps": [BESIDE, *steps]})
    )


def by(step):
    return {"by": "drawn", "profile": {"step": step}}


LOW, HIGH = sketch("low", XY, polyline((-10, 0), (10, 0))), sketch("high", ABOVE, polyline((16, 0), (-16, 0)))


def test_as_a_step_it_is_a_surface_to_thicken_and_to_cross():
    flat = loft(by("low"), by("high"), surface=True)
    thick = {"kind": "thickened", "id": "thick", "name": "Thick", "surface": "loft", "wall": 2, "side": "both"}
    wall = {
        "kind": "extrude",
        "id": "wall",
        "name": "Wall",
        "profile": {"step": "cut"},
        "length": 30,
        "back": 30,
        "surface": True,
    }
    crossing = {
        "kind": "crossing",
        "id": "cross",
        "name": "Crossing",
        "first": {"step": "loft"},
        "second": {"step": "wall"},
    }
    result = built(LOW, HIGH, flat, thick, sketch("cut", XZ, polyline((-40, 10), (40, 10))), wall, crossing)
    for step in ("loft", "thick", "cross"):
        assert result.reports[step].state == "fresh", result.reports[step].messages
    assert result.reports["loft"].data["numbers"]["area"] == pytest.approx(40 * (20 + 32) / 2, rel=1e-9)
    solid = next(k.body for k in result.bodies if k.step == "thick")
    assert solid.volume() == pytest.approx(2 * 40 * (20 + 32) / 2, rel=1e-6)
    assert result.reports["cross"].data["path"]["length"] == pytest.approx(20 + 12 / 4, rel=1e-7)


def test_with_a_wall_it_is_a_band():
    result = built(LOW, HIGH, loft(by("low"), by("high"), surface=True, wall=2, wall_side="both"))
    (body,) = result.bodies
    assert body.body.volume() == pytest.approx(2 * 40 * 26, rel=1e-6)


def test_open_outlines_without_a_surface_are_refused_with_a_way_out():
    (message,) = built(LOW, HIGH, loft(by("low"), by("high"))).reports["loft"].messages
    assert message.code == "no-region"
    (remedy,) = message.remedies
    assert remedy.change == {"surface": True}
    (message,) = built(LOW, loft(by("low"), quick("round", 20, plane=ABOVE), surface=True)).reports["loft"].messages
    assert message.code == "open-and-closed"


def test_a_surface_along_a_path_goes_over_to_another_outline():
    """A sweep of a line of 20 mm that is 32 mm at the end of its path of 50 mm."""
    sweep = {
        "kind": "sweep",
        "id": "loft",
        "name": "Sweep",
        "profile": {"step": "low"},
        "path": {"step": "way"},
        "surface": True,
        "section_change": "even",
        "sections": [{"profile": {"step": "wide"}, "at": 50}],
    }
    result = built(
        LOW, sketch("wide", XY, polyline((-16, 0), (16, 0))), sketch("way", XZ, polyline((0, 0), (0, 50))), sweep
    )
    assert result.reports["loft"].state == "fresh", result.reports["loft"].messages
    assert result.reports["loft"].data["numbers"]["area"] == pytest.approx(50 * 26, rel=1e-9)
