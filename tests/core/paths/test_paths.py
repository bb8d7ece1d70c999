"""Paths by station: arc length, frames that do not turn, joints, planes, crossings."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.plane import PRINCIPAL, Plane
from leadline.core.paths.path import Path, path_from_sketch
from leadline.core.paths.pieces import DoubleReflection, LinePiece
from leadline.core.problems import Problem
from leadline.recipe.build import Memory, build
from tests.support.parts import part
from tests.support.shapes import (
    X,
    Y,
    Z,
    arc,
    bent,
    full_circle,
    helix,
    planar_spline,
    slot,
    space_spline,
    spiral,
    straight,
    tangent_chain,
)

PATHS = {
    "straight": straight,
    "arc": arc,
    "circle": full_circle,
    "bent": bent,
    "spline": planar_spline,
    "space": space_spline,
    "helix": helix,
    "spiral": spiral,
}


@pytest.mark.parametrize("name", PATHS)
def test_stations_are_arc_length(name):
    path = PATHS[name]()
    s = np.linspace(0.01, path.length - 0.01, 61)
    h = 1e-4
    speed = (path.point(s + h) - path.point(s - h)) / (2 * h)
    assert np.linalg.norm(speed, axis=1) == pytest.approx(np.ones(61), abs=2e-6)
    assert path.tangent(s) == pytest.approx(speed, abs=2e-5)


@pytest.mark.parametrize("name", ["arc", "spline", "space", "helix", "spiral"])
def test_curvature_against_finite_differences(name):
    path = PATHS[name]()
    s, h = np.linspace(1, path.length - 1, 23), 1e-4
    slope = (path.tangent(s + h) - path.tangent(s - h)) / (2 * h)
    assert path.curvature(s) == pytest.approx(slope, abs=2e-5)


def test_lengths_in_closed_form():
    assert straight(123).length == 123
    assert arc(40, 1.2).length == pytest.approx(48)
    assert helix(5, 30, 15).length == pytest.approx(5 * math.hypot(2 * math.pi * 30, 15))
    assert bent(30).length == pytest.approx(150 + 15 * math.pi)


def test_spline_length_against_a_fine_polyline():
    piece = space_spline().pieces[0]
    u = np.linspace(0, 4, 400001)
    polyline = np.linalg.norm(np.diff(piece.curve(u), axis=0), axis=1).sum()
    assert piece.length == pytest.approx(polyline, rel=1e-9)


@pytest.mark.parametrize("name", PATHS)
def test_carried_normals_stay_square_and_do_not_turn_about_the_path(name):
    path = PATHS[name]()
    s, h = np.linspace(0.5, path.length - 0.5, 31), 1e-3
    joints = path.starts[1:-1]
    s = s[np.all(np.abs(s[:, None] - joints[None, :]) > 0.01, axis=1)] if len(joints) else s
    n, t = path.normal(s), path.tangent(s)
    assert (n * n).sum(axis=1) == pytest.approx(np.ones(len(s)), abs=1e-9)
    assert (n * t).sum(axis=1) == pytest.approx(np.zeros(len(s)), abs=1e-8)
    slope = (path.normal(s + h) - path.normal(s - h)) / (2 * h)
    about = (slope * np.cross(t, n)).sum(axis=1)
    assert np.abs(about).max() < 2e-6


def test_closed_forms_agree_with_double_reflection():
    for name in ("arc", "spline", "helix", "spiral"):
        path = PATHS[name]()
        piece = path.pieces[0]
        s = np.linspace(0, piece.length, 17)
        n0 = path.start_normal()
        assert piece.transport_normal(n0, s) == pytest.approx(DoubleReflection(piece).transport_normal(n0, s), abs=1e-6)


def test_a_frame_does_not_depend_on_which_stations_are_asked_together():
    path = space_spline()
    many = path.normal(np.linspace(0, path.length, 101))
    assert path.normal(np.array([path.length * 0.37])) == pytest.approx(many[37:38], abs=1e-12)


def test_joints_are_told_apart():
    assert [j.kind for j in bent().joints] == ["tangent", "tangent"]
    kinked = Path([LinePiece(np.zeros(3), 10 * X), LinePiece(10 * X, 10 * X + 5 * Y)], up=Z)
    (joint,) = kinked.joints
    assert (joint.kind, joint.station) == ("corner", 10)
    assert joint.turn == pytest.approx(math.pi / 2)


@settings(max_examples=30, deadline=None)
@given(st.sampled_from(sorted(PATHS)), st.floats(0, 1))
def test_a_plane_square_to_the_path_is_square_and_crossed_there(name, share):
    path = PATHS[name]()
    station = share * path.length
    plane = path.plane_at(station)
    assert plane.normal == pytest.approx(path.tangent(np.array([station]))[0], abs=1e-9)
    crossings = path.crossings(plane)
    gap = np.abs(crossings - station)
    if path.closed:
        gap = np.minimum(gap, path.length - gap)
    assert gap.min() < 1e-5


def test_crossings_of_a_circle_with_a_plane_through_it():
    crossings = full_circle(40).crossings(PRINCIPAL["XZ"])
    assert crossings == pytest.approx([0, 40 * math.pi, 80 * math.pi], abs=1e-6)
    away = Plane(100 * Z, X, Y)
    assert len(full_circle(40).crossings(away)) == 0


def test_path_from_a_sketch_in_space():
    d = tangent_chain(5, step=12, radius=9)
    path = path_from_sketch(d.sketch(), PRINCIPAL["XZ"])
    assert [p.kind for p in path.pieces] == ["line", "arc", "line", "arc", "line"]
    assert path.length == pytest.approx(3 * 12 + 2 * 9 * math.pi / 2)
    assert np.abs(path.point(path.samples())[:, 1]).max() < 1e-12
    assert all(j.kind == "tangent" for j in path.joints)


def test_an_arc_runs_against_its_drawing_where_the_chain_does():
    path = path_from_sketch(slot(40, 10).sketch(), PRINCIPAL["XY"])
    assert path.closed
    assert path.length == pytest.approx(80 + 20 * math.pi)
    assert all(j.kind == "tangent" for j in path.joints)


def test_ten_kilometres_are_the_limit_however_a_path_is_made():
    d = tangent_chain(3, step=9e6)
    with pytest.raises(Problem, match="10 km"):
        path_from_sketch(d.sketch(), PRINCIPAL["XY"])
    corners = [
        {"id": f"q{i}", "at": {"by": "place", "x": x, "y": y, "z": 0}}
        for i, (x, y) in enumerate([(0, 1e9), (0, 0), (300, 0)])
    ]
    route = {"kind": "route", "id": "run", "name": "Run", "points": corners, "radius": 40}
    report = build(
        part({"format": "leadline-part", "version": 1, "name": "Long", "units": "mm", "steps": [route]}), Memory()
    ).reports["run"]
    assert [m.code for m in report.messages] == ["too-long"]
