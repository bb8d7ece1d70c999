"""Orientations, laws and rails of the motion, against closed forms and against rigid motions."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.GeomAbs import GeomAbs_SurfaceType
from scipy.interpolate import BSpline, make_interp_spline
from scipy.spatial.transform import Rotation

from leadline.core.geometry.edges import ellipse_edges
from leadline.core.geometry.laws import Even, Table
from leadline.core.geometry.mesh_booleans import as_manifold
from leadline.core.geometry.plane import cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.paths.corners import rounded
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece, SplinePiece
from leadline.core.problems import Problem
from leadline.core.solids.kernel import faces, pnt
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.sweep.fold import folds, outline_crossings
from leadline.core.sweep.frames import swept_tangents
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.mass import measure
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.orientation import Held, Upright
from tests.support.motions import ellipse, railed, zigzag
from tests.support.shapes import (
    X,
    Y,
    Z,
    arc,
    bent,
    box,
    disc,
    full_circle,
    helix,
    planar_spline,
    polygon,
    space_spline,
    straight,
)


def line(a, b, origin: str = "rail") -> Path:
    return Path([LinePiece(np.array(a, dtype=float), np.array(b, dtype=float), origin)])


def closed_space_curve() -> Path:
    t = np.linspace(0, 2 * math.pi, 13)
    points = np.stack([60 * np.cos(t), 45 * np.sin(t), 14 * np.sin(2 * t)], axis=1)
    points[-1] = points[0]
    curve = make_interp_spline(t, points, k=5, bc_type="periodic")
    return Path([SplinePiece(BSpline(curve.t, curve.c, 5), "loop")], closed=True)


SMOOTH = Table([0, 40, 90, 140], [1.0, 1.4, 0.7, 1.1], smooth=True)
ROUND = [(9.0, 1.0), (0.0, 8.0), (-9.0, 0.5), (-1.0, -7.0), (7.0, 6.0)]  # where rails stand about a section
MOTIONS = {
    "turning": lambda: Motion(space_spline(), 0.6),
    "leaning": lambda: Motion(
        planar_spline(), home=30.0, axes=np.array([[0.6, 0, 0.8], [0, 0.8, -0.6 + 0.6]]) / [[1], [0.8]]
    ),
    "sized": lambda: Motion(space_spline(), Table([0, 60, 140], [0, 2.0, -1.0], True), sizes=(SMOOTH, Even(1, -0.003))),
    "upright": lambda: Motion(space_spline(), orientation=Upright(space_spline(), Z)),
    "held": lambda: Motion(planar_spline(), 0.3, orientation=Held(np.array([Y, Z, X]))),
    "closed": lambda: Motion(closed_space_curve(), 1.0),
    "rail": lambda: railed(planar_spline(), [line((-40, 14, 6), (220, 40, 14))], [(0, 9)]),
    "across": lambda: railed(planar_spline(), [line((-40, 14, 26), (220, 40, 14))], [(0, 9)], "across"),
    "turned": lambda: railed(planar_spline(), [line((-40, 14, 26), (220, 40, 14))], [(0, 9)], "turn"),
    "two": lambda: railed(
        straight(80), [line((-9, 8, 1), (99, 12, 5)), line((-9, 0, 5), (99, -3, 11))], [(8, 0), (0, 6)]
    ),
    "facing": lambda: railed(
        straight(80), [line((-9, 8, 1), (99, 12, 5)), line((-9, -7, 0), (99, -9, 2))], [(8, 0), (-8, 0)], "across"
    ),
    "three": lambda: railed(
        straight(80),
        [line((-9, 8, 1), (99, 12, 5)), line((-9, 0, 5), (99, -3, 9)), line((-9, -7, -4), (99, -6, -9))],
        [(8, 0), (0, 6), (-8, -5)],
    ),
    "four": lambda: railed(
        planar_spline(), [line((-40, y, z), (220, 1.2 * y + 9, 1.3 * z)) for y, z in ROUND[:4]], ROUND[:4]
    ),
    "five": lambda: railed(straight(80), [line((-9, y, z), (99, 1.5 * y, z + 0.2 * y)) for y, z in ROUND], ROUND),
}


@pytest.mark.parametrize("name", MOTIONS)
def test_slopes_are_those_of_the_motion(name):
    motion = MOTIONS[name]()
    h = 1e-4
    s = np.linspace(0.07, 0.93, 23) * motion.length
    f, ahead, behind = motion.frames(s), motion.frames(s + h), motion.frames(s - h)
    for slope, value in (("dC", "C"), ("dX", "X"), ("dY", "Y"), ("dZ", "Z")):
        there = (getattr(ahead, value) - getattr(behind, value)) / (2 * h)
        assert getattr(f, slope) == pytest.approx(there, abs=2e-6), (name, slope)


@settings(max_examples=12, deadline=None)
@given(st.sampled_from(sorted(MOTIONS)))
def test_the_swept_solid_has_the_volume_of_its_motion(name):
    """Independent of the moments: the kernel's volume of the faces, and the closed display mesh."""
    motion, section = MOTIONS[name](), box(6, 4)
    expected = measure(motion, [section])
    (body,) = sweep_bodies(motion, [section], "s", "S")
    assert body.valid()
    assert body.volume() == pytest.approx(expected.volume, rel=2e-5)
    assert body.area() == pytest.approx(expected.area, rel=2e-4)
    assert body.centre() == pytest.approx(tuple(expected.centre), abs=2e-2)
    mesh = display_mesh(motion, [section], 0.01)
    assert mesh.volume() == pytest.approx(expected.volume, rel=5e-3)


# -- orientations ---------------------------------------------------------------------------------


def test_held_parallel_has_the_volume_of_area_times_rise():
    path = planar_spline()
    motion = Motion(path, orientation=Held(np.array([Y, Z, X])))
    rise = float((path.point(np.array([path.length]))[0] - path.point(np.zeros(1))[0]) @ X)
    assert measure(motion, [disc(4)]).volume == pytest.approx(16 * math.pi * rise, rel=1e-10)
    assert motion.frames(np.array([70.0])).X[0] == pytest.approx(Y)


@pytest.mark.parametrize("lead", [5.0, 40.0])
def test_upright_along_a_helix_is_a_screw(lead):
    """A section in a plane through the axis sweeps its area times the circle of its centroid, whatever the lead."""
    path = helix(2, 30, lead)
    upright = Upright(path, Z)
    motion = Motion(path, orientation=upright, axes=np.array([Z, X]))
    section = box(3, 8, (1, 6))
    assert measure(motion, [section]).volume == pytest.approx(24 * 2 * math.pi * 36 * 2, rel=1e-9)
    f = motion.frames(np.linspace(0, path.length, 9))
    assert pytest.approx(np.tile(Z, (9, 1))) == f.X
    assert f.Y[:, 2] == pytest.approx(np.zeros(9), abs=1e-12)


def test_upright_in_a_plane_is_turning_and_along_the_direction_is_refused():
    path = bent()
    both = [Motion(path, orientation=o).frames(np.linspace(0, path.length, 31)) for o in (None, Upright(path, Z))]
    assert np.abs((both[0].X * both[1].X).sum(axis=1)) == pytest.approx(np.ones(31))
    assert [s.kind for s in Motion(path, orientation=Upright(path, Z)).spans(4)] == ["line", "arc", "line"]
    with pytest.raises(Problem) as caught:
        Motion(path, orientation=Upright(path, Y)).frames(np.linspace(0, path.length, 31))
    assert caught.value.message.code == "along-up"
    assert caught.value.message.place["station"] > 100


def test_a_closed_path_in_space_meets_itself():
    path = closed_space_curve()
    motion = Motion(path)
    ends = motion.frames(np.array([0.0, path.length - 1e-9]))
    assert ends.X[1] == pytest.approx(ends.X[0], abs=1e-7)
    assert motion.orientation.closing != 0
    (body,) = sweep_bodies(Motion(path, 2.0), [box(6, 4)], "s", "S")
    assert body.valid()
    assert body.volume() == pytest.approx(24 * path.length, rel=1e-6)


# -- laws -----------------------------------------------------------------------------------------


@given(st.floats(0.05, 3))
def test_cone_and_pyramid(end):
    taper = Even(1.0, (end - 1) / 90)
    for section, area in ((disc(7), 49 * math.pi), (box(12, 5), 60.0)):
        numbers = measure(Motion(straight(90), sizes=(taper, taper)), [section])
        assert numbers.volume == pytest.approx(area * 90 * (1 + end + end**2) / 3, rel=1e-9)
    cone = measure(Motion(straight(90), sizes=(taper, taper)), [disc(7)])
    slant = math.hypot(90, 7 - 7 * end)
    assert cone.area == pytest.approx(math.pi * (7 + 7 * end) * slant + 49 * math.pi * (1 + end**2), rel=1e-9)


def test_a_wedge_is_stretched_one_way_only():
    numbers = measure(Motion(straight(90), sizes=(Even(1.0), Even(1.0, -0.5 / 90))), [box(12, 8)])
    assert numbers.volume == pytest.approx(12 * 8 * 90 * 0.75, rel=1e-9)


def test_twisted_and_tapered_hexagon_bar():
    corners = [(10 * math.cos(a), 10 * math.sin(a)) for a in np.arange(6) * math.pi / 3]
    taper = Even(1.0, -0.6 / 200)
    motion = Motion(straight(200), 3.0, sizes=(taper, taper))
    (body,) = sweep_bodies(motion, [polygon(corners)], "s", "S")
    area = 6 * math.sqrt(3) / 4 * 100
    assert body.valid()
    assert body.volume() == pytest.approx(area * 200 * (1 + 0.4 + 0.16) / 3, rel=1e-7)


@pytest.mark.parametrize("smooth", [True, False])
def test_tables_go_through_their_values_and_do_not_overshoot(smooth):
    law = Table([50, 0, 20, 80], [3, 1, 3, 2], smooth)
    assert law.value(np.array([0.0, 20, 50, 80])) == pytest.approx([1, 3, 3, 2])
    s = np.linspace(-10, 100, 400)
    assert law.value(s).min() >= 1 - 1e-12
    assert law.value(s).max() <= 3 + 1e-12
    inner = np.linspace(1, 79, 57)
    assert law.slope(inner) == pytest.approx((law.value(inner + 1e-6) - law.value(inner - 1e-6)) / 2e-6, abs=1e-5)
    for wrong, code in (([5, 5], "two-values"), ([5], "short-table")):
        with pytest.raises(Problem) as caught:
            Table(wrong, [1.0] * len(wrong), smooth)
        assert caught.value.message.code == code


def test_a_kinked_table_cuts_the_faces_there_and_keeps_the_tolerance():
    law = Table([0, 30, 100], [0, 4.0, 1.0], smooth=False)
    motion = Motion(straight(100), law)
    spans = motion.spans(8.0, 1e-5)
    assert any(s.end == pytest.approx(30) for s in spans)
    for span in spans:
        s = np.linspace(span.start, span.end, 101)[1:-1]
        off = (span.spline(s) - motion.carriers(span.piece, s)).reshape(-1, 3, 3)
        assert np.linalg.norm(off, axis=2).max() < 1e-5
    with pytest.raises(Problem) as caught:
        Motion(full_circle(), sizes=(Even(1.0, 0.001), Even(1.0)))
    assert caught.value.message.code == "seam"


# -- rails ----------------------------------------------------------------------------------------


def test_a_straight_rail_gives_the_cone():
    motion = railed(straight(90), [line((-10, 7, 0), (100, 7 + 11 * 0.3, 0))], [(7 + 0.3, 0)])
    k = 7.3, 7.3 + 90 * 0.03
    expected = math.pi * 90 / 3 * (k[0] ** 2 + k[0] * k[1] + k[1] ** 2)
    assert measure(motion, [disc(7.3)]).volume == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize("tolerance", [1e-2, 1e-4, 1e-6])
def test_two_elliptic_rails_give_the_ellipsoid(tolerance):
    """Points of the swept faces lie on the ellipsoid, and the faces pass through both rails."""
    a, b, c, half = 50.0, 30.0, 20.0, 42.0
    path = Path([LinePiece(-half * X, half * X, "axis")], up=Z)
    k = math.sqrt(1 - (half / a) ** 2)
    rails = [ellipse(a, b, math.pi - 0.2, 0.4 - math.pi, Y), ellipse(a, c, math.pi - 0.2, 0.4 - math.pi, Z)]
    outline = Loop(tuple(ellipse_edges((0, 0), np.array([b * k, 0]), c * k, 0.0, 2 * math.pi, "e")))
    motion = railed(path, rails, [(b * k, 0), (0, c * k)])
    expected = math.pi * b * c * (2 * half - 2 * half**3 / (3 * a**2))
    assert measure(motion, [Region(outline)]).volume == pytest.approx(expected, rel=1e-9)
    for span in motion.spans(math.hypot(b, c) * k, tolerance):
        s = np.linspace(span.start, span.end, 301)
        nine = span.spline(s).reshape(-1, 3, 3)
        for x, y in ((b * k, 0), (0, c * k), (b * k * math.cos(1), c * k * math.sin(1))):
            p = nine[:, 0] + x * nine[:, 1] + y * nine[:, 2]
            level = np.linalg.norm(p / [a, b, c], axis=1)
            off = np.abs(level - 1) / np.linalg.norm(p / [a**2, b**2, c**2], axis=1) * level
            assert off.max() < 1.5 * tolerance


@pytest.mark.parametrize("use", ["stretch", "across", "turn"])
def test_a_rail_that_is_the_anchors_own_way_changes_nothing(use):
    path = arc(40, 2.0)
    beside = Path([ArcPiece(40 * Y, -Y, X, 33, 2.0, "rail")])
    anchor = (float(path.start_normal() @ Y) * 7, 0.0)
    motion = railed(path, [beside], [anchor], use)
    plain = Motion(path).frames(s := np.linspace(0, path.length, 17))
    assert pytest.approx(plain.X, abs=1e-9) == motion.frames(s).X
    assert pytest.approx(plain.Y, abs=1e-9) == motion.frames(s).Y


def test_each_rail_is_met_at_every_station():
    for name, anchors in (
        ("rail", [(0, 9)]),
        ("two", [(8, 0), (0, 6)]),
        ("facing", [(8, 0), (-8, 0)]),
        ("three", [(8, 0), (0, 6), (-8, -5)]),
        ("five", ROUND),
    ):
        motion = MOTIONS[name]()
        f = motion.frames(np.linspace(0, motion.length, 41))
        for p, track in zip(np.moveaxis(f.at(np.array(anchors, dtype=float)), 1, 0), motion.rails.tracks, strict=True):
            a, b = track.rail.point(np.array([0.0, track.rail.length]))
            off = np.linalg.norm(cross((p - a), (b - a)), axis=1) / np.linalg.norm(b - a)
            assert off.max() < 1e-9, name


def test_four_rails_on_an_ellipsoid_give_it_without_bending_the_section():
    a, half = 50.0, 42.0
    k = math.sqrt(1 - (half / a) ** 2)
    path = Path([LinePiece(-half * X, half * X, "axis")], up=Z)
    rails = [ellipse(a, r, math.pi - 0.2, 0.4 - math.pi, side) for r, side in ((30, Y), (20, Z), (30, -Y), (20, -Z))]
    motion = railed(path, rails, [(30 * k, 0), (0, 20 * k), (-30 * k, 0), (0, -20 * k)])
    assert np.abs(motion.frames(path.samples()).Z).max() < 1e-9
    outline = Loop(tuple(ellipse_edges((0, 0), np.array([30 * k, 0]), 20 * k, 0.0, 2 * math.pi, "e")))
    expected = math.pi * 30 * 20 * (2 * half - 2 * half**3 / (3 * a**2))
    assert measure(motion, [Region(outline)]).volume == pytest.approx(expected, rel=1e-9)


def test_straight_rails_blend_two_sections_and_the_solid_reaches_them_all():
    """Every section point goes straight, so that the section's area is quadratic in the station (Simpson is exact)."""
    to = [(14.0, 0.0), (2.0, 9.0), (-8.0, 1.0), (0.0, -12.0), (10.0, 8.0)]
    motion = railed(straight(60), [line((0, *a), (60, *b)) for a, b in zip(ROUND, to, strict=True)], ROUND)
    section = disc(8.0)
    f = motion.frames(np.array([0.0, 30.0, 60.0]))
    first, middle, last = (
        shapely.Polygon(p).area for p in f.flat(section.outer.polygon(1e-7)) @ np.moveaxis(f.maps, 1, 2)
    )
    found = measure(motion, [section])
    assert found.volume == pytest.approx((first + 4 * middle + last) * 10, rel=1e-6)
    (body,) = sweep_bodies(motion, [polygon([ROUND[0], ROUND[4], *ROUND[1:4]])], "s", "S")
    assert body.valid()
    for a, b in zip(ROUND, to, strict=True):
        for share in (0.0, 0.3, 0.77):
            place = np.array([60 * share, *(np.array(a) * (1 - share) + np.array(b) * share)])
            vertex = BRepBuilderAPI_MakeVertex(pnt(place)).Vertex()
            assert BRepExtrema_DistShapeShape(vertex, body.shape).Value() < 2e-4
    assert (mesh := display_mesh(motion, [section], 0.01)).volume() == pytest.approx(found.volume, rel=2e-3)
    assert as_manifold(mesh).volume() == pytest.approx(mesh.volume(), rel=1e-5)


def test_rails_that_pull_an_outline_across_itself_say_where():
    to = [(9.0, 1.0), (0.0, -7.0), (-9.0, 0.5), (-1.0, 8.0)]
    motion = railed(straight(60), [line((0, *a), (60, *b)) for a, b in zip(ROUND, to, strict=False)], ROUND[:4])
    (message,) = outline_crossings(motion, [disc(8.0)])
    assert message.code == "outline-crosses"
    assert 20 < message.place["station"] < 40


@settings(max_examples=30)
@given(long=st.floats(1, 7e6), short=st.floats(1e-5, 1))
def test_however_short_a_piece_beside_the_others_the_motion_begins_and_ends_on_it(long, short):
    corner, on = np.array([long, 0, 0]), np.array([long + short, 0, 0])
    path = Path(
        [
            LinePiece(np.zeros(3), corner, "a"),
            LinePiece(corner, on, "b"),
            LinePiece(on, np.add(on, [long / 3, 0, 0]), "c"),
        ]
    )
    motion = Motion(path, twist=Table(list(np.array([0.0, 0.5, 1.0]) * path.length), [0, 1, 0], True))
    for i in range(3):
        breaks = motion.breaks(i)
        assert breaks[[0, -1]] == pytest.approx(path.starts[i : i + 2], rel=1e-14)
        assert np.all(np.diff(breaks) > 0)


def test_a_rail_with_a_corner_creases_the_sweep_there():
    rail = Path(
        [
            LinePiece(np.array([-5.0, 8, 0]), np.array([40.0, 8, 0]), "a"),
            LinePiece(np.array([40.0, 8, 0]), np.array([100.0, 20, 0]), "b"),
        ]
    )
    motion = railed(straight(90), [rail], [(8, 0)])
    assert motion.breaks(0) == pytest.approx([0, 40, 90])
    wide = 8 + 50 * 0.2
    expected = math.pi * (64 * 40 + 50 / 3 * (64 + 8 * wide + wide**2))
    (body,) = sweep_bodies(motion, [disc(8)], "s", "S")
    assert body.valid()
    assert body.volume() == pytest.approx(expected, rel=1e-6)
    assert measure(motion, [disc(8)]).volume == pytest.approx(expected, rel=1e-9)


def test_rails_that_end_miss_or_disagree_say_so():
    short = railed(straight(90), [line((-5, 8, 0), (60, 9, 0))], [(8, 0)])
    assert short.rails.tracks[0].reach == pytest.approx((0, 60))
    for rails, anchors, use, code in (
        ([line((20, 8, 0), (60, 9, 0))], [(8, 0)], "stretch", "rail-missed"),
        ([line((-5, 8, 0), (95, 9, 0))], [(0, 0)], "stretch", "anchor-on-path"),
        ([line((-5, 8, 0), (95, 9, 0)), line((-5, 0, 8), (95, 0, 9))], [(8, 0), (0, 8)], "turn", "rails-turn"),
        ([line((-5, 8, 0), (95, 9, 0)), line((-5, 0, 8), (95, 0, 9))], [(8, 0), (8, 0)], "stretch", "rails-meet"),
        (
            [line((-5, v, 0), (95, v, 0)) for v in (8, 4, -4, -8)],
            [(8, 0), (4, 0), (-4, 0), (-8, 0)],
            "stretch",
            "rails-in-line",
        ),
    ):
        with pytest.raises(Problem) as caught:
            railed(straight(90), rails, anchors, use)
        assert caught.value.message.code == code


# -- properties -----------------------------------------------------------------------------------


@settings(max_examples=10, deadline=None)
@given(st.integers(0, 10**6))
def test_moving_all_inputs_moves_the_result(seed):
    rng = np.random.default_rng(seed)
    turn, shift = Rotation.random(random_state=rng).as_matrix(), rng.normal(size=3) * 100

    def made(R, d) -> Motion:
        points = np.array([[0, 0, 0], [50, 30, 8], [100, -20, 0], [160, 10, 20.0]]) @ R.T + d
        path = Path([SplinePiece(make_interp_spline([0, 1, 2, 3], points), "p")])
        rail = line(R @ [-300, 24, 26] + d, R @ [480, 60, 44] + d)
        t = path.tangent(np.zeros(1))[0]
        x = cross(R @ Z, t)
        x = x / np.linalg.norm(x)
        return railed(path, [rail], [(3, 11)], "across", axes=np.stack([x, cross(t, x)]))

    before, after = (measure(made(R, d), [box(6, 4)]) for R, d in ((np.eye(3), np.zeros(3)), (turn, shift)))
    assert after.volume == pytest.approx(before.volume, rel=1e-9)
    assert after.area == pytest.approx(before.area, rel=1e-9)
    assert after.centre == pytest.approx(turn @ before.centre + shift, abs=1e-6)


@given(st.floats(0.1, 10))
def test_scaling_all_inputs_scales_the_volume(k):
    def made(q: float) -> float:
        path = Path(
            [
                SplinePiece(
                    make_interp_spline(
                        [0, 1, 2, 3], q * np.array([[0, 0, 0], [50, 30, 8], [100, -20, 0], [160, 10, 20.0]])
                    ),
                    "p",
                )
            ]
        )
        return measure(Motion(path, 0.7), [box(6 * q, 4 * q)]).volume

    assert made(k) == pytest.approx(k**3 * made(1.0), rel=1e-8)


def test_the_fold_test_finds_where_a_growing_section_reaches_the_bend():
    """A disc that grows along a circle folds from just where its radius is that of the path."""
    path = Path([ArcPiece(np.zeros(3), X, Y, 20, 3.0, "arc")], up=Z)
    grow = Even(1.0, 0.05)
    (fold,) = folds(Motion(path, sizes=(grow, grow)), disc(8).hull())
    assert 8 * (1 + 0.05 * fold.start) == pytest.approx(20, rel=1e-3)
    assert fold.end == pytest.approx(path.length)
    assert fold.radius == pytest.approx(20)
    assert fold.reach == pytest.approx(8 * (1 + 0.05 * path.length), rel=1e-3)


def test_tangents_span_the_swept_surface():
    motion = MOTIONS["sized"]()
    f = motion.frames(np.array([33.0, 71.0]))
    p, d = np.array([[3.0, 2.0], [-1.0, 4.0]]), np.array([[1.0, 0.5], [0.2, -1.0]])
    along, across = swept_tangents(f, p, d)
    h = 1e-5
    ahead, behind = motion.frames(np.array([33.0, 71.0]) + h), motion.frames(np.array([33.0, 71.0]) - h)
    assert along == pytest.approx((ahead.at(p) - behind.at(p)) / (2 * h), abs=1e-6)
    assert across == pytest.approx((f.at(p + h * d) - f.at(p - h * d)) / (2 * h), abs=1e-6)


# -- corners and stretches --------------------------------------------------------------------------


@pytest.mark.parametrize("closed", [False, True])
def test_mitred_corners_keep_area_times_length_and_flat_faces_flat(closed):
    path = zigzag(closed)
    motion = Motion(path, mitred=True)
    section = box(8, 5)
    assert measure(motion, [section]).volume == pytest.approx(40 * path.length, rel=1e-12)
    (body,) = sweep_bodies(motion, [section], "s", "S")
    assert body.valid()
    assert body.volume() == pytest.approx(40 * path.length, rel=1e-9)
    assert {BRepAdaptor_Surface(f).GetType() for f in faces(body.shape)} == {GeomAbs_SurfaceType.GeomAbs_Plane}
    assert len(faces(body.shape)) == 4 * len(path.pieces) + (0 if closed else 2)
    assert as_manifold(display_mesh(motion, [section], 0.05)) is not None


def test_a_mitred_section_beside_the_path_and_round_ones():
    path = zigzag()
    motion = Motion(path, mitred=True)
    (tube,) = sweep_bodies(motion, [disc(3, (4, 1))], "s", "S")
    assert tube.valid()
    assert tube.volume() == pytest.approx(measure(motion, [disc(3, (4, 1))]).volume, rel=1e-6)
    (fold, *_) = folds(
        Motion(
            Path(
                [LinePiece(np.zeros(3), 20 * X), LinePiece(20 * X, 20 * X + 5 * Y), LinePiece(20 * X + 5 * Y, 5 * Y)],
                up=Z,
            ),
            mitred=True,
        ),
        disc(8).hull(),
    )
    assert 20 <= fold.worst <= 25  # the short line in the middle has no room for its mitres


def test_corners_that_cannot_be_mitred_are_refused():
    at_arc = Path([LinePiece(np.zeros(3), 20 * X), ArcPiece(20 * X + 9 * Y, -Y, Z, 9, 1.0)], up=Z)
    back = Path([LinePiece(np.zeros(3), 20 * X), LinePiece(20 * X, Y)], up=Z)
    for path, code in ((at_arc, "mitre-at-curve"), (back, "sharp-corner")):
        with pytest.raises(Problem) as caught:
            Motion(path, mitred=True).frames(np.array([1.0]))
        assert caught.value.message.code == code


def test_rounded_corners_are_tangent_arcs_of_the_radius():
    path = rounded(zigzag(), 6)
    assert {j.kind for j in path.joints} == {"tangent"}
    saved = sum(2 * 6 * math.tan(j.turn / 2) - 6 * j.turn for j in zigzag().joints)
    assert path.length == pytest.approx(zigzag().length - saved)
    assert [p.kind for p in path.pieces] == ["line", "arc"] * 3 + ["line"]
    with pytest.raises(Problem) as caught:
        rounded(zigzag(), 60)
    assert caught.value.message.code == "bends-overlap"


@given(st.floats(0.02, 0.45), st.floats(0.5, 0.98), st.sampled_from(["space", "bent", "helix"]))
@settings(max_examples=20, deadline=None)
def test_a_stretch_of_a_path_is_that_stretch(a, b, name):
    path = {"space": space_spline, "bent": bent, "helix": helix}[name]()
    a, b = a * path.length, b * path.length
    part, s = path.between(a, b), np.linspace(0, 1, 23) * (b - a)
    assert part.length == pytest.approx(b - a)
    for get in ("point", "tangent", "curvature"):
        assert getattr(part, get)(s[1:-1]) == pytest.approx(getattr(path, get)(s[1:-1] + a), abs=1e-9)
    whole = Motion(path).frames(s + a)
    again = Motion(part, axes=np.stack([whole.X[0], whole.Y[0]])).frames(s)
    assert pytest.approx(whole.X, abs=1e-6) == again.X


def test_two_halves_make_the_whole():
    path = space_spline()
    whole = measure(Motion(path), [box(6, 4, (1, 2))])
    f = Motion(path).frames(np.array([70.0]))
    parts = [
        measure(Motion(path.between(0, 70)), [box(6, 4, (1, 2))]),
        measure(Motion(path.between(70, path.length), axes=np.stack([f.X[0], f.Y[0]])), [box(6, 4, (1, 2))]),
    ]
    assert parts[0].volume + parts[1].volume == pytest.approx(whole.volume, rel=1e-6)
