"""Meshes of random sweeps: closed, and within the stated fineness of the exact surface, both ways."""

from __future__ import annotations

import json
import math

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.laws import Even
from leadline.core.geometry.mesh import MOST_TRIANGLES, DisplayMesh
from leadline.core.geometry.mesh_booleans import as_manifold
from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Region
from leadline.core.geometry.walls import hollow
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.sweep.cut_mesh import cut_mesh
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.motion import Motion
from leadline.recipe import kept_body
from leadline.recipe.build import build
from tests.support.motions import railed
from tests.support.parts import DEMO, SHARED, Shelf, demo
from tests.support.shapes import (
    PATHS,
    Y,
    Z,
    box,
    disc,
    helix,
    ring,
    straight,
)

SECTIONS = {
    "disc": lambda a: disc(a),
    "box": lambda a: box(1.6 * a, a),
    "strip": lambda a: box(2 * a, 0.1 * a),
    "ring": lambda a: ring(a, 0.7 * a),
    "thin ring": lambda a: ring(a, 0.97 * a),
    "hollow box": lambda a: hollow(box(1.8 * a, a), 0.2 * a),
}


def off_surface(motion: Motion, region: Region, mesh: DisplayMesh) -> float:
    """How far points of the exact surface are from the mesh at most, mm."""
    random = np.random.default_rng(4)
    points = []
    for s in random.uniform(0, motion.length, 60):
        f = motion.frames(np.array([s]))
        for loop in region.loops:
            for edge in loop.edges:
                points.append(f.at(edge.point(random.uniform(*edge.domain, 4)))[0])
    squared = igl.point_mesh_squared_distance(np.vstack(points), mesh.points, mesh.triangles)[0]
    return float(np.sqrt(np.abs(squared)).max())


@settings(max_examples=40, deadline=None)
@given(
    st.sampled_from(sorted(PATHS)),
    st.sampled_from(sorted(SECTIONS)),
    st.floats(1, 9),
    st.floats(-3, 3),
    st.floats(0.5, 1.5),
    st.sampled_from([0.1, 0.03]),
)
def test_every_mesh_closes_and_is_as_fine_as_it_says(path, section, size, turns, ratio, chord):
    way, region = PATHS[path](), SECTIONS[section](size)
    closed = way.closed
    turns = round(turns) if closed or abs(turns) < 0.2 else turns
    sizes = None if closed else (Even(1.0, (ratio - 1) / way.length),) * 2
    motion = Motion(way, turns, sizes=sizes)
    mesh = display_mesh(motion, [region], chord)
    assert as_manifold(mesh) is not None
    assert off_surface(motion, region, mesh) <= 2.5 * chord


def test_straight_tracks_between_skew_rails_are_cut_along_as_well():
    """A square of 40 between two straight skew rails: every track is straight, and every side a saddle with a waist."""
    corners = [(20.0, 20.0), (-20.0, 20.0)]
    ends = [(20.0, -20.0), (20.0, 20.0)]
    rails = [
        Path([LinePiece(np.array([0, *c]), np.array([100, *e]), f"r{i}")])
        for i, (c, e) in enumerate(zip(corners, ends, strict=True))
    ]
    motion = railed(straight(100), rails, corners)
    region = box(40, 40)
    mesh = display_mesh(motion, [region], 0.02)
    assert as_manifold(mesh) is not None
    assert off_surface(motion, region, mesh) <= 0.05


@pytest.mark.parametrize(
    "name",
    sorted(
        p.stem
        for p in DEMO.glob("*.json")
        if p.stem not in ("bent-relief-spring-long-way", "frost-coil", "priming-bulb-finished")
    ),
)
def test_every_body_of_the_demo_parts_has_a_closed_mesh_of_its_volume(name):
    bodies = build(demo(name), SHARED).bodies
    many = sum(len(k.shown().triangles) for k in bodies) > 0.8 * MOST_TRIANGLES  # they are as fine as so many make them
    for kept in bodies:
        if kept.body.sheet:
            continue
        solid = as_manifold(kept.shown())
        assert solid is not None, kept.name
        assert abs(solid.volume()) == pytest.approx(abs(kept.body.volume()), rel=0.03 if many else 0.02), kept.name


def numbers(told, where=""):
    """All that is told, by where it stands, but for how long it took."""
    if isinstance(told, dict):
        return {
            k: v for key, inner in told.items() if key != "seconds" for k, v in numbers(inner, f"{where}/{key}").items()
        }
    if isinstance(told, list | tuple):
        return {k: v for i, inner in enumerate(told) for k, v in numbers(inner, f"{where}/{i}").items()}
    return {where: told}


@pytest.mark.parametrize(
    "name", ["kick-rail", "pipe-clip", "suction-riser", "discharge-hose", "tether-rings", "silt-auger", "handle-bar"]
)
def test_what_another_process_built_is_told_and_measured_alike_without_the_kernel_s_mesher(name, monkeypatch):
    store = Shelf()
    first = numbers(json.loads(json.dumps(build(demo(name), store=store).as_dict())))

    def meshed(body):
        raise AssertionError(f"{body.name} is meshed")

    monkeypatch.setattr(kept_body, "displayed", meshed)
    again = numbers(json.loads(json.dumps(build(demo(name), store=store).as_dict())))
    assert again.keys() == first.keys()
    for where, value in first.items():
        assert again[where] == (pytest.approx(value, rel=1e-9, abs=1e-9) if isinstance(value, float) else value), where


@settings(max_examples=20, deadline=None)
@given(st.floats(-0.9, 0.9), st.floats(0, 1), st.floats(-40, 40))
def test_a_cut_mesh_closes_and_keeps_the_volume_above_the_plane(tilt, turn, height):
    """Against a mesh boolean of the whole with a large box."""
    import manifold3d

    mesh = display_mesh(Motion(helix(3, 30, 30)), [ring(6, 4)], 0.05)
    normal = np.array([math.cos(6 * turn) * tilt, math.sin(6 * turn) * tilt, 1.0])
    normal /= np.linalg.norm(normal)
    x = np.cross(Y, normal) / np.linalg.norm(np.cross(Y, normal))
    plane = Plane(np.array([0, 0, 45.0 + height]), x, np.cross(normal, x))
    cut = cut_mesh(mesh, [(plane, "cut")])
    expected = as_manifold(mesh).trim_by_plane(tuple(normal), float(normal @ plane.origin))
    assert isinstance(expected, manifold3d.Manifold)
    assert as_manifold(cut) is not None
    assert cut.volume() == pytest.approx(expected.volume(), rel=1e-9)
    assert cut.names[-1] == "cut"
    assert Z @ plane.normal > 0
