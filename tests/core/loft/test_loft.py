"""Lofts: exact at their sections and rails, of the volume that they must have, whatever the sections."""

import math
from dataclasses import replace

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import dblquad, quad
from scipy.interpolate import CubicSpline

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import (
    rectangle_section,
    ring_section,
    round_section,
)
from leadline.core.loft.basis import stacked
from leadline.core.loft.lofted import Station, lofted
from leadline.core.loft.outline import Outline
from leadline.core.loft.shares import End, shares
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece
from leadline.core.problems import Problem
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.borders import turn_between
from leadline.core.sweep.frames import swept_tangents
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.mass import measure
from tests.support.loft_sections import SHAPES, X, Y, Z, along_spine, at, tip

SQUARE = End(True)


def solid(made):
    (body,) = sweep_bodies(made.motion, [made.region], "loft", "Loft")
    assert body.valid()
    return body


def test_a_cone_frustum_and_a_pyramid_frustum_have_their_volumes():
    cone = lofted([at(0, round_section(20)), at(30, round_section(10))], End(), End())
    assert measure(cone.motion, [cone.region]).volume == pytest.approx(math.pi * 10 * (100 + 50 + 25), rel=1e-12)
    assert solid(cone).volume() == pytest.approx(math.pi * 10 * (100 + 50 + 25), rel=1e-6)
    pyramid = lofted([at(0, rectangle_section(20, 20)), at(30, rectangle_section(10, 10))], End(), End())
    assert measure(pyramid.motion, [pyramid.region]).volume == pytest.approx(7000, rel=1e-12)
    assert solid(pyramid).volume() == pytest.approx(7000, rel=1e-9)
    assert len(solid(pyramid).face_names) == 6


def test_a_square_goes_over_to_a_circle():
    """A height's outline is between those of both: its area by Green's theorem along a side and the arc that goes with
    it.
    """
    made = lofted([at(0, rectangle_section(20, 20)), at(30, round_section(20))], End(), End())

    def outline(t, v):
        corner = np.array([10.0, -10 + 20 * v])
        angle = -math.pi / 4 + v * math.pi / 2
        return (1 - t) * corner + t * 10 * np.array([math.cos(angle), math.sin(angle)])

    def slope(t, v):
        angle = -math.pi / 4 + v * math.pi / 2
        return (1 - t) * np.array([0.0, 20.0]) + t * 10 * math.pi / 2 * np.array([-math.sin(angle), math.cos(angle)])

    def rate(v, t):
        p, d = outline(t, v), slope(t, v)
        return 4 * 30 * float(p[0] * d[1] - p[1] * d[0]) / 2

    volume, _ = dblquad(rate, 0, 1, 0, 1)
    # the arcs' own speed is not even, so that places correspond a little otherwise than by angle
    assert measure(made.motion, [made.region]).volume == pytest.approx(volume, rel=2e-3)
    assert solid(made).volume() == pytest.approx(measure(made.motion, [made.region]).volume, rel=1e-6)
    assert made.threads.shape == (4, 2, 3)  # the corners
    assert np.linalg.norm(made.threads[:, 1, :2], axis=1) == pytest.approx(np.full(4, 10.0))


@settings(max_examples=12, deadline=None)
@given(
    st.lists(st.sampled_from(sorted(SHAPES)), min_size=2, max_size=4),
    st.integers(0, 10**6),
    st.booleans(),
    st.booleans(),
)
def test_any_sections_are_held_exactly_and_make_a_sound_solid(names, seed, square_start, square_end):
    rng = np.random.default_rng(seed)
    sections, z = [], 0.0
    for name in names:
        lean = rng.uniform(-0.3, 0.3, 2)
        normal = np.array([lean[0], lean[1], 1.0]) / math.sqrt(1 + lean @ lean)
        x = np.cross(Y, normal) / np.linalg.norm(np.cross(Y, normal))
        turn = rng.uniform(0, 2 * math.pi)
        y = np.cross(normal, x)
        plane = Plane(
            np.array([*rng.uniform(-8, 8, 2), z]),
            math.cos(turn) * x + math.sin(turn) * y,
            math.cos(turn) * y - math.sin(turn) * x,
        )
        sections.append(Station(name, plane, SHAPES[name]))
        z += rng.uniform(30, 50)
    made = lofted(sections, End(square_start), End(square_end))
    frames = made.motion.frames(made.stations)
    points = np.vstack([e.point(np.linspace(*e.domain, 4)[:-1]) for e in made.region.outer.edges])
    for i, section in enumerate(sections):
        there = frames.at(points)[i]
        assert np.abs(section.plane.height(there)).max() < 1e-9
        outline = Outline(section.region.outer)
        assert max(outline.nearest(section.plane.to_plane(p))[1] for p in there) < 1e-9
    body = solid(made)
    assert body.volume() == pytest.approx(measure(made.motion, [made.region]).volume, rel=1e-5)
    mesh = display_mesh(made.motion, [made.region], 0.05, "loft")
    closed = trimesh.Trimesh(mesh.points, mesh.triangles)
    closed.merge_vertices(digits_vertex=7)
    assert closed.is_watertight
    assert closed.volume == pytest.approx(body.volume(), rel=0.01)


@pytest.mark.parametrize("count", [1, 2, 3, 4])
def test_rails_are_reached_all_along_and_sections_kept(count):
    spine, sections, rails = along_spine(6, 2)
    made = lofted(sections, End(), End(), spine, rails[:count])
    s = np.linspace(0, made.motion.length, 301)
    frames, blend = made.motion.frames(s), made.motion.blend
    for rail, anchor in zip(blend.rails, blend.anchors, strict=True):
        held = next(e.start for e in made.region.outer.edges if np.allclose(e.start[:12], anchor))
        reached = frames.at(held[None])[:, 0]
        assert np.abs(reached - rail.points(s, frames)[0]).max() < 1e-9
    ends = made.motion.frames(made.stations[[0, -1]]).at(
        np.vstack([e.point(np.linspace(*e.domain, 5)) for e in made.region.outer.edges])
    )
    for section, there in zip((sections[0], sections[-1]), ends, strict=True):
        outline = Outline(section.region.outer)
        assert max(outline.nearest(p)[1] for p in section.plane.to_plane(there)) < 1e-9
    assert solid(made).volume() == pytest.approx(measure(made.motion, [made.region]).volume, rel=1e-6)


def test_a_shape_ends_in_points():
    cone = lofted([at(0, round_section(20)), tip(0, 0, 30)], End(), End())
    assert measure(cone.motion, [cone.region]).volume == pytest.approx(1000 * math.pi, rel=1e-12)
    assert solid(cone).volume() == pytest.approx(1000 * math.pi, rel=1e-6)
    both = lofted(
        [tip(0, 0, -20), at(0, rectangle_section(20, 20)), at(25, round_section(16)), tip(2, 0, 45)], End(), End()
    )
    body = solid(both)
    assert not [n for n in body.face_names if "/cap/" in n]
    mesh = display_mesh(both.motion, [both.region], 0.05, "loft")
    closed = trimesh.Trimesh(mesh.points, mesh.triangles)
    closed.merge_vertices(digits_vertex=7)
    assert closed.volume == pytest.approx(body.volume(), rel=0.01)


def test_holes_go_with_holes():
    made = lofted([at(0, ring_section(20, 2)), at(30, ring_section(30, 3))], End(), End())
    outer, inner = (math.pi * 30 / 3 * (a * a + a * b + b * b) for a, b in ((10, 15), (8, 12)))
    assert solid(made).volume() == pytest.approx(outer - inner, rel=1e-6)
    with pytest.raises(Problem, match="holes"):
        lofted([at(0, ring_section(20, 2)), at(30, round_section(30))], End(), End())


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.floats(1, 40), min_size=1, max_size=5),
    st.floats(0.1, 2.5),
    st.floats(0.1, 2.5),
    st.booleans(),
    st.booleans(),
)
def test_shares_are_one_at_their_section_and_one_together_and_have_their_slopes(
    steps, first, last, square_start, square_end
):
    stations = np.concatenate([[0.0], np.cumsum(steps)])
    laws = shares(stations, End(square_start, first), End(square_end, last))
    for k, law in enumerate(laws, start=1):
        assert law.value(stations) == pytest.approx(np.eye(len(stations))[k], abs=1e-12)
        s = np.linspace(0, stations[-1], 41)[1:-1] + 1e-4
        h = 1e-6 * stations[-1]
        rates = (law.value(s + h) - law.value(s - h)) / (2 * h)
        assert law.slope(s) == pytest.approx(rates, abs=2e-4 * (1 + np.abs(rates).max()))
        if square_end:
            assert float(law.slope(stations[-1:])[0]) == pytest.approx(0, abs=1e-9)


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(sorted(SHAPES)), st.sampled_from(sorted(SHAPES)), st.floats(0, 1), st.floats(0.01, 0.9))
def test_stretches_of_one_basis_are_the_stretches_that_they_were(one, other, first, share):
    outlines = [Outline(SHAPES[name].outer) for name in (one, other)]
    parts = []
    for outline in outlines:
        i = int(first * (len(outline.edges) - 1))
        a, b = outline.starts[i], outline.starts[i + 1]
        parts.append(outline.part(a, a + share * (b - a)))
    edge = stacked(parts, "e")
    v = np.linspace(0, 1, 15)
    for k, part in enumerate(parts):
        h = part.homogeneous(v)
        there = edge.point(v)
        base = there[:, :2] if k == 0 else there[:, :2] + there[:, 2:4]
        assert base == pytest.approx(h[:, :2] / h[:, 2:], abs=1e-10)


def test_threads_turn_what_corresponds():
    sections = [at(0, rectangle_section(20, 20)), at(40, rectangle_section(20, 20))]
    plain = lofted(sections, End(), End())
    assert solid(plain).volume() == pytest.approx(16000, rel=1e-9)
    turned = lofted(sections, End(), End(), threads=[(k / 4, (k + 1) / 4) for k in range(4)])
    assert np.allclose(np.roll(turned.threads[:, 1, :2], 1, axis=0), turned.threads[:, 0, :2])
    assert np.allclose(turned.rings[0, 0], turned.rings[0, -1])
    # each height is a square turned by up to a quarter: (1 - t) p + t q with q square to p
    assert solid(turned).volume() == pytest.approx(400 * 40 * (1 - 2 * (1 / 2 - 1 / 3)), rel=1e-6)


@pytest.mark.parametrize(
    ("sections", "code"),
    [
        ([at(0, round_section(10))], "few-sections"),
        ([tip(0, 0, 0), tip(0, 0, 9)], "few-sections"),
        ([at(0, round_section(10)), tip(0, 0, 20), at(40, round_section(10))], "point-inside"),
        ([at(0, round_section(10)), at(0, round_section(20))], "same-place"),
    ],
)
def test_what_cannot_be_lofted_is_said(sections, code):
    with pytest.raises(Problem) as caught:
        lofted(sections, End(), End())
    assert caught.value.message.code == code
    assert caught.value.message.way_out


def test_a_rail_that_misses_an_outline_or_ends_early_is_said():
    spine, sections, rails = along_spine(3, 4)
    with pytest.raises(Problem) as caught:
        lofted(sections, End(), End(), spine, [("The rail", rails[0][1].between(0, 0.8 * rails[0][1].length))])
    assert caught.value.message.code == "rail-ends"
    with pytest.raises(Problem) as caught:
        lofted(
            [*sections[:2], Station("the last", sections[2].plane, rectangle_section(8, 8))],
            End(),
            End(),
            spine,
            rails[:1],
        )
    assert caught.value.message.code == "rail-misses"
    with pytest.raises(Problem) as caught:
        lofted(sections[::-1], End(), End(), spine)
    assert caught.value.message.code == "out-of-order"


@pytest.mark.parametrize("pair", [("slot", "round"), ("round", "rectangle"), ("slot", "hexagon"), ("slot", "slot")])
@pytest.mark.parametrize("end", [End(), SQUARE])
def test_what_is_smooth_in_all_sections_is_smooth_between_them(pair, end):
    one, other = (SHAPES[name] for name in pair)
    made = lofted([at(0, one), at(40, other, 3, 5)], end, end)
    frames = made.motion.frames(np.linspace(0, made.motion.length, 41)[1:-1])
    edges = made.region.outer.edges
    for before, after in zip(edges[-1:] + edges[:-1], edges, strict=True):
        sides = []
        for edge, t in ((before, before.domain[1]), (after, after.domain[0])):
            along, across = swept_tangents(frames, edge.point(np.array([t])), edge.derivative(np.array([t])))
            normal = np.cross(across[:, 0], along[:, 0])
            sides.append(normal / np.linalg.norm(normal, axis=1)[:, None])
        crease = np.linalg.norm(np.cross(*sides), axis=1)
        sharp = [
            turn_between(*(replace(e, control=e.control[:, :2] + k * e.control[:, 2:4]) for e in (before, after)))
            > 1e-3
            for k in (0, 1)
        ]
        assert any(sharp) or crease.max() < 1e-6


@pytest.mark.parametrize("first", [0.0, 30.0, 200.0])
def test_a_closed_loft_goes_on_to_where_it_began(first):
    """Three circles on a ring: each is held, wherever on the ring the first one stands, and the whole is as large."""
    ring = Path([ArcPiece(np.zeros(3), X, Z, 60.0, 2 * math.pi)], True)
    sections = []
    for turn, radius in ((0, 8), (120, 12), (240, 10)):
        plane = ring.plane_at(((first + turn) % 360) / 360 * ring.length)
        sections.append(Station("a section", plane, round_section(2 * radius)))
    made = lofted(sections, End(), End(), ring, closed=True)
    points = np.vstack([e.point(np.linspace(*e.domain, 5)) for e in made.region.outer.edges])
    there = made.motion.frames(made.stations).at(points)
    for section, places, radius in zip(sections, there, (8, 12, 10), strict=True):
        assert np.linalg.norm(places - section.plane.origin, axis=1) == pytest.approx(
            np.full(len(places), radius), abs=1e-9
        )
    body = solid(made)
    assert not [n for n in body.face_names if "/cap/" in n]
    # Pappus, with the radius as the periodic cubic through the three
    law = CubicSpline([0, 1, 2, 3], [8, 12, 10, 8], bc_type="periodic")
    exact, _ = quad(lambda t: math.pi * float(law(t)) ** 2 * 2 * math.pi * 60 / 3, 0, 3, points=[1, 2])
    assert measure(made.motion, [made.region]).volume == pytest.approx(exact, rel=1e-6)
