"""The motion, its volume and its fold test, against closed forms."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.plane import PRINCIPAL, Plane
from leadline.core.geometry.walls import hollow
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem
from leadline.core.sweep.contact import self_touch
from leadline.core.sweep.fold import bend_use, fold_messages, folds
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.mass import measure
from leadline.core.sweep.motion import Motion
from leadline.core.sweep.placing import place_on_path
from tests.support.shapes import (
    PATHS,
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
    ring,
    straight,
)

SECTIONS = {"disc": lambda: disc(5), "box": lambda: box(8, 5), "ring": lambda: ring(5, 3.5)}


@pytest.mark.parametrize("path", PATHS)
@pytest.mark.parametrize("section", SECTIONS)
def test_volume_is_area_times_length_when_the_centroid_rides_the_path(path, section):
    way, region = PATHS[path](), SECTIONS[section]()
    numbers = measure(Motion(way), [region])
    assert numbers.volume == pytest.approx(region.area * way.length, rel=1e-9)


@given(st.floats(-8, 8), st.floats(0.5, 6), st.floats(0.3, 6.2))
def test_pappus_off_the_path(offset, radius, sweep):
    """A disc whose centre rides beside an arc: area times the way of its centroid."""
    way = arc(40, sweep)
    normal = way.start_normal()
    inward = float(normal @ way.curvature(np.zeros(1))[0]) * 40
    numbers = measure(Motion(way), [disc(radius, (offset, 0))])
    assert numbers.volume == pytest.approx(math.pi * radius**2 * (40 - inward * offset) * sweep, rel=1e-9)


@given(st.floats(-5, 5))
def test_twist_changes_no_volume(turns):
    numbers = measure(Motion(straight(80), turns), [box(10, 6)])
    assert numbers.volume == pytest.approx(80 * 60, rel=1e-10)


def test_torus_area_and_centre():
    numbers = measure(Motion(full_circle(40)), [disc(5)])
    assert numbers.area == pytest.approx(4 * math.pi**2 * 40 * 5, rel=1e-9)
    assert numbers.centre == pytest.approx(np.zeros(3), abs=1e-8)
    half = measure(Motion(arc(40, math.pi)), [disc(5)])
    # centroid of a half torus lies (R² + r²/4) 2 / (pi R) from its centre
    reach = 2 * (40**2 + 25 / 4) / (math.pi * 40)
    assert np.linalg.norm(half.centre - 40 * Y) == pytest.approx(reach, rel=1e-9)


def test_lateral_area_of_a_twisted_strip_is_the_helicoid():
    """Each side of a flat bar of no thickness: integral of sqrt(1 + (w r)²) over its width and length."""
    width, length, turns = 20.0, 100.0, 1.5
    w = 2 * math.pi * turns / length
    a = width / 2
    half = (a * math.sqrt(1 + (w * a) ** 2) + math.asinh(w * a) / w) / 2
    thin = 1e-7
    numbers = measure(Motion(straight(length), turns), [box(width, thin)])
    assert numbers.area == pytest.approx(2 * 2 * half * length, rel=1e-5)


@pytest.mark.parametrize("tolerance", [1e-2, 1e-4, 1e-6])
@pytest.mark.parametrize(("path", "turns"), [("space", 0), ("spline", 0.7), ("helix", 0), ("straight", 3)])
def test_the_motion_spline_keeps_its_tolerance_between_nodes(path, turns, tolerance):
    motion = Motion(PATHS[path](), turns)
    extent = 7.0
    for span in motion.spans(extent, tolerance):
        s = np.linspace(span.start, span.end, 211)
        off = span.spline(s) - motion.carriers(span.piece, s)
        off = np.linalg.norm(off.reshape(-1, 3, 3), axis=2)
        assert (off[:, 0] + extent * (off[:, 1] + off[:, 2])).max() < 1.5 * tolerance


def test_spans_meet_with_the_same_tangent():
    motion = Motion(helix(3), 0.4)
    spans = motion.spans(5.0)
    for a, b in itertools.pairwise(spans):
        assert a.spline(a.end) == pytest.approx(b.spline(b.start), abs=1e-12)
        assert a.spline(a.end, 1) == pytest.approx(b.spline(b.start, 1), abs=1e-9)


def test_lines_and_arcs_without_twist_stay_exact():
    assert [s.kind for s in Motion(bent()).spans(5)] == ["line", "arc", "line"]
    assert {s.kind for s in Motion(bent(), 1).spans(5)} == {"free"}


def test_rigid_motion_of_the_path_moves_everything_with_it():
    base = planar_spline()
    section = box(8, 5, (1, 0.5))
    numbers = measure(Motion(base, 0.3), [section])
    reverse_volume = measure(Motion(base, -0.3), [section]).volume
    assert numbers.volume == pytest.approx(base.length * 40, rel=0.05)
    assert reverse_volume != numbers.volume


# -- the fold test ------------------------------------------------------------------------------


@given(st.floats(1, 60), st.floats(5, 60))
def test_a_disc_folds_exactly_when_it_reaches_the_bend_radius(radius, bend):
    found = folds(Motion(arc(bend, 1.0)), disc(radius).hull())
    assert bool(found) == (radius >= bend) or math.isclose(radius, bend, rel_tol=1e-5)
    if found:
        fold = found[0]
        assert fold.radius == pytest.approx(bend)
        assert fold.reach == pytest.approx(radius, rel=1e-5)
        assert fold.scale == pytest.approx(bend / radius, rel=1e-5)


def test_only_the_inner_side_counts():
    way = arc(20, 1.0)
    inward = float(way.start_normal() @ way.curvature(np.zeros(1))[0]) * 20
    outside = box(10, 10, (-30 * inward, 0))
    inside = box(10, 10, (17 * inward, 0))
    assert folds(Motion(way), outside.hull()) == []
    (fold,) = folds(Motion(way), inside.hull())
    assert fold.reach == pytest.approx(22)


def test_the_hull_decides_not_the_outline():
    """A notch on the inner side does not help: its two shoulders fold."""
    way = arc(9, 1.0)
    inward = float(way.start_normal() @ way.curvature(np.zeros(1))[0]) * 9
    notched = [(0, -10), (10, -10), (10, -8), (2, 0), (10, 8), (10, 10), (0, 10)]
    region = polygon([(inward * x, y) for x, y in notched])
    assert folds(Motion(way), region.hull())


def test_fold_ranges_on_a_bent_bar():
    message = fold_messages(Motion(bent(9.2)), disc(11).hull())[0]
    assert message.place["range"] == pytest.approx([100, 100 + 9.2 * math.pi / 2], abs=1e-3)
    assert "11 mm" in message.text
    assert "9.2 mm" in message.text
    assert "Largest section" in message.way_out
    assert "Smallest bend radius: 11.01" in message.way_out


def test_fold_range_on_a_spline_ends_where_use_is_one():
    motion = Motion(planar_spline())
    hull = disc(30).hull()
    found = folds(motion, hull)
    assert found
    for fold in found:
        ends = [e for e in (fold.start, fold.end) if 1e-6 < e < motion.length - 1e-6]
        assert bend_use(motion.frames(np.array(ends)), hull) == pytest.approx(np.ones(len(ends)), abs=1e-3)
        assert fold.start <= fold.worst <= fold.end


def test_parts_of_the_path_that_come_close_are_told():
    hairpin = Path([LinePiece(np.zeros(3), 100 * X), *arc_back(100 * X, 8), LinePiece(100 * X + 16 * Y, 16 * Y)], up=Z)
    assert self_touch(Motion(hairpin), disc(7).hull()) == []
    (message,) = self_touch(Motion(hairpin), disc(9).hull())
    assert message.code == "touches-itself"
    assert "16 mm" in message.text


def arc_back(start: np.ndarray, radius: float) -> list:
    from leadline.core.paths.pieces import ArcPiece

    return [ArcPiece(start + radius * Y, -Y, X, radius, math.pi, "back")]


# -- where a profile stands -----------------------------------------------------------------------


def test_a_profile_in_the_middle_of_the_path_stays_where_it_is_drawn():
    way = bent()
    plane = way.plane_at(60.0)
    placed = place_on_path(way, plane, [box(8, 5, (2, 1))])
    (region,), home = placed.regions, placed.home
    assert home == pytest.approx(60)
    frame = Motion(way, 2.0, home, axes=placed.axes).frames(np.array([home]))
    moments = region.moments
    centre = frame.C[0] + frame.X[0] * moments[1] / moments[0] + frame.Y[0] * moments[2] / moments[0]
    assert centre == pytest.approx(plane.to_space([2, 1]), abs=1e-9)


def test_a_profile_drawn_from_behind_keeps_its_area_and_side():
    way = straight()
    behind = Plane(np.zeros(3), Z, Y)  # its normal runs against the path
    (region,) = place_on_path(way, behind, [box(8, 5, (2, 1))]).regions
    assert region.area == pytest.approx(40)
    assert region.outer.area > 0


def test_a_profile_that_misses_or_lies_along_the_path_is_refused():
    with pytest.raises(Problem) as caught:
        place_on_path(straight(100), Plane(np.array([130.0, 0, 0]), Y, Z), [disc(5)])
    assert caught.value.message.code == "misses-path"
    assert "away" in caught.value.message.text
    lean = math.radians(30)
    tilted = Plane(np.array([50.0, 0, 0]), np.array([math.sin(lean), math.cos(lean), 0]), Z)
    placed = place_on_path(straight(100), tilted, [disc(5)])
    leaning = measure(Motion(straight(100), home=50, axes=placed.axes), placed.regions)
    assert leaning.volume == pytest.approx(100 * math.pi * 25 * math.cos(lean), rel=1e-9)
    along = Plane(np.array([50.0, 0, 0]), X, Z)
    with pytest.raises(Problem) as caught:
        place_on_path(straight(100), along, [disc(5)])
    assert caught.value.message.code in {"edge-on"}


@pytest.mark.parametrize(
    ("path", "turns", "code"),
    [
        (lambda: Path([LinePiece(np.zeros(3), X), LinePiece(X, X + Y)], up=Z), 0, "corner"),
        (straight, 1e6, "too-many-turns"),
        (full_circle, 0.5, "seam"),
    ],
)
def test_motions_that_cannot_be_are_refused(path, turns, code):
    with pytest.raises(Problem) as caught:
        Motion(path(), turns)
    assert caught.value.message.code == code


# -- the display mesh -----------------------------------------------------------------------------


@settings(max_examples=25, deadline=None)
@given(st.sampled_from(sorted(PATHS)), st.sampled_from(sorted(SECTIONS)), st.sampled_from([0, 1, -2]))
def test_display_mesh_closes_and_nears_the_volume(path, section, turns):
    motion = Motion(PATHS[path](), turns)
    region = SECTIONS[section]()
    mesh = display_mesh(motion, [region], 0.01)
    expected = measure(motion, [region]).volume
    assert mesh.volume() == pytest.approx(expected, rel=0.02)
    assert np.linalg.norm(mesh.normals, axis=1) == pytest.approx(np.ones(len(mesh.normals)), abs=1e-9)
    corners = mesh.points[mesh.triangles]
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    assert ((flat * mesh.normals[mesh.triangles].mean(axis=1)).sum(axis=1) > -1e-9).all()


def test_wall_and_faces_are_named():
    mesh = display_mesh(Motion(bent()), [hollow(disc(5), 1)], 0.1, "s")
    assert {"s/side/e1/a", "s/side/e1/b", "s/side/e1/c", "s/cap/start", "s/cap/end"} == set(mesh.names)
    assert PRINCIPAL["XY"].normal == pytest.approx(Z)
