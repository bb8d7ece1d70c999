"""Kernel solids: valid, closed, of the right volume and the right surfaces; booleans that are checked."""

import gzip
import json
import math
import re
import struct

import manifold3d
import numpy as np
import pytest
import trimesh
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipe
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pnt

from leadline.core.geometry.mesh_booleans import as_manifold
from leadline.core.geometry.walls import hollow
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, SplinePiece
from leadline.core.problems import Problem
from leadline.core.solids.body import Body, from_bytes, to_bytes
from leadline.core.solids.combine import combine
from leadline.core.solids.kernel import bspline_curve, faces, solids
from leadline.core.solids.mesh_files import NamedMesh, write_glb, write_kept_glb, write_stl
from leadline.core.solids.step_file import Placed, read_step, write_step
from leadline.core.solids.sweep_solid import sweep_bodies
from leadline.core.solids.tessellate import tessellate
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.mass import measure
from leadline.core.sweep.motion import Motion
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
    planar_spline,
    polygon,
    ring,
    straight,
)


def mixed() -> Path:
    """A line, an arc and a spline, tangent."""
    from scipy.interpolate import make_interp_spline

    lead_in = bent().pieces[:2]
    points = np.array([[130, 30, 0], [130, 60, 0], [160, 100, 0.0]])
    curve = make_interp_spline([0, 1, 2], points, k=3, bc_type=([(1, [0, 30, 0])], [(2, [0, 0, 0])]))
    return Path([*lead_in, SplinePiece(curve, "s", Z)], up=Z)


ALL_PATHS = {**PATHS, "mixed": mixed}
SECTIONS = {
    "disc": lambda: disc(5),
    "box": lambda: box(8, 5),
    "ring": lambda: ring(5, 3.5),
    "hollow box": lambda: hollow(box(8, 5), 1),
}


def body(path: Path, region=None, turns: float = 0, owner: str = "s", name: str = "Body") -> Body:
    return sweep_bodies(Motion(path, turns), [region or disc(5)], owner, name)[0]


@pytest.mark.parametrize("turns", [0, 1])
@pytest.mark.parametrize("section", SECTIONS)
@pytest.mark.parametrize("path", ALL_PATHS)
def test_every_sweep_is_a_valid_solid_of_the_motion_s_volume(path, section, turns):
    way, region = ALL_PATHS[path](), SECTIONS[section]()
    made = body(way, region, turns)
    assert made.valid()
    numbers = measure(Motion(way, turns), [region])
    assert made.volume() == pytest.approx(numbers.volume, rel=1e-6)
    assert made.area() == pytest.approx(numbers.area, rel=1e-6)
    assert made.centre() == pytest.approx(numbers.centre, abs=1e-3)


CLOSED_FORMS = [
    ("straight", disc(5), 0, math.pi * 25 * 100),
    ("arc", disc(5), 0, math.pi * 25 * 40 * math.pi / 2),
    ("circle", disc(5), 0, 2 * math.pi**2 * 40 * 25),
    ("helix", disc(5), 0, math.pi * 25 * 3 * math.hypot(60 * math.pi, 15)),
    ("straight", box(10, 10), 3, 100 * 100.0),
]


@pytest.mark.parametrize(("path", "region", "turns", "volume"), CLOSED_FORMS)
def test_volume_in_closed_form(path, region, turns, volume):
    assert body(ALL_PATHS[path](), region, turns).volume() == pytest.approx(volume, rel=1e-6)


def test_the_kernel_s_own_pipe_agrees_where_it_works():
    """An independent builder on the same spline and circle."""
    way = planar_spline()
    curve = way.pieces[0].curve
    spine = BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(bspline_curve(curve.c, curve.t, 3)).Edge()).Wire()
    p, t = way.point(np.zeros(1))[0], way.tangent(np.zeros(1))[0]
    circle = gp_Circ(gp_Ax2(gp_Pnt(*map(float, p)), gp_Dir(*map(float, t))), 5.0)
    disc_face = BRepBuilderAPI_MakeFace(BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(circle).Edge()).Wire()).Face()
    reference = Body("pipe", BRepOffsetAPI_MakePipe(spine, disc_face).Shape(), [])
    assert body(way).volume() == pytest.approx(reference.volume(), rel=1e-4)


def test_a_bent_round_tube_is_planes_cylinders_and_tori_in_step(tmp_path):
    tube = body(bent(), hollow(disc(5), 1), name="Riser tube")
    write_step([Placed(tube)], tmp_path / "tube.step")
    text = (tmp_path / "tube.step").read_text()
    surfaces = set(re.findall(r"=\s*([A-Z_]*SURFACE[A-Z_]*|PLANE)\(", text)) - {"SURFACE_CURVE"}
    assert surfaces == {"PLANE", "CYLINDRICAL_SURFACE", "TOROIDAL_SURFACE"}
    assert "Riser tube" in text
    assert "AP242" in text


@pytest.mark.parametrize("path", ["bent", "spline", "helix", "mixed"])
def test_step_read_back_is_the_same_closed_solid(path, tmp_path):
    made = body(ALL_PATHS[path](), ring(5, 3.5))
    write_step([Placed(made)], tmp_path / "a.step")
    back = Body("back", read_step(tmp_path / "a.step"), [])
    assert back.valid()
    assert len(solids(back.shape)) == 1
    assert back.volume() == pytest.approx(made.volume(), rel=1e-9)


def test_reading_a_file_that_is_no_step_is_refused(tmp_path):
    (tmp_path / "no.step").write_text("not a step file")
    with pytest.raises(Problem, match="not a readable STEP"):
        read_step(tmp_path / "no.step")
    with pytest.raises(Problem, match="no body"):
        write_step([], tmp_path / "none.step")


def test_faces_carry_where_they_come_from():
    made = body(bent(), owner="sweep")
    assert len(made.face_names) == len(faces(made.shape)) == 14
    assert set(made.face_names) == {
        "sweep/side/e1/a",
        "sweep/side/e1/b",
        "sweep/side/e1/c",
        "sweep/cap/start",
        "sweep/cap/end",
    }
    (cap,) = made.face_of("sweep/cap/end")
    assert Body("cap", cap, []).area() == pytest.approx(25 * math.pi)


def test_bodies_survive_the_store():
    made = [body(bent(), ring(5, 3)), body(straight(), box(4, 4), name="Bar")]
    back = from_bytes(to_bytes(made))
    assert [b.name for b in back] == ["Body", "Bar"]
    assert [b.face_names for b in back] == [b.face_names for b in made]
    assert back[0].volume() == pytest.approx(made[0].volume(), rel=1e-12)


def test_a_corner_of_the_section_on_the_bend_s_axis_is_refused():
    way = arc(10, 1.0)
    inward = float(way.start_normal() @ way.curvature(np.zeros(1))[0]) * 10
    touching = polygon([(0, -3), (inward * 10, 0), (0, 3)])
    region = touching if touching.area > 0 else polygon([(0, 3), (inward * 10, 0), (0, -3)])
    with pytest.raises(Problem) as caught:
        body(way, region)
    assert caught.value.message.code == "on-axis"


# -- meshes and mesh files ------------------------------------------------------------------------


def test_the_kernel_s_mesh_closes_and_its_normals_point_out():
    (cut,) = combine(body(straight(40), box(40, 40)), body(straight(60), disc(5)), "cut").bodies
    mesh = tessellate(cut, 0.02)
    assert as_manifold(mesh) is not None
    assert mesh.volume() == pytest.approx(cut.volume(), rel=1e-3)
    corners = mesh.points[mesh.triangles]
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    assert ((flat * mesh.normals[mesh.triangles].mean(axis=1)).sum(axis=1) > 0).all()


def test_the_mesh_of_a_moved_body_has_its_normals_turned_with_it():
    turn = np.array([[0, -1, 0], [0, 0, 1], [-1, 0, 0.0]])
    there, here = tessellate(body(bent()).moved(turn, 5 * X)), tessellate(body(bent()))
    assert there.points == pytest.approx(here.points @ turn.T + 5 * X, abs=1e-9)
    assert there.normals == pytest.approx(here.normals @ turn.T, abs=1e-6)


def test_a_sweep_s_display_mesh_is_closed():
    for way, turns in ((bent(), 0), (full_circle(), 1), (straight(), 3)):
        solid = as_manifold(display_mesh(Motion(way, turns), [ring(5, 3)], 0.05))
        assert solid is not None
        assert solid.status() == manifold3d.Error.NoError


def test_stl_read_back_by_another_library(tmp_path):
    mesh = display_mesh(Motion(bent()), [box(8, 5)], 0.02)
    (tmp_path / "a.stl").write_bytes(write_stl([NamedMesh("Bar", mesh)]))
    back = trimesh.load(tmp_path / "a.stl")
    assert back.is_watertight
    assert back.volume == pytest.approx(40 * bent().length, rel=1e-3)


def test_glb_read_back_by_another_library(tmp_path):
    mesh = display_mesh(Motion(straight(100)), [box(8, 5)], 0.02, "s")
    data = write_glb([NamedMesh("Bar", mesh)])
    (tmp_path / "a.glb").write_bytes(data)
    scene = trimesh.load(tmp_path / "a.glb")
    solid = [g for g in scene.dump() if isinstance(g, trimesh.Trimesh)]
    assert sorted(solid[0].extents) == pytest.approx([0.005, 0.008, 0.1], rel=1e-5)
    length, _ = struct.unpack("<II", data[12:20])
    head = json.loads(data[20 : 20 + length])
    extras = head["meshes"][0]["primitives"][0]["extras"]
    assert head["nodes"][0]["name"] == "Bar"
    assert set(extras["faces"]) == set(mesh.names)
    assert [r[1] for r in extras["runs"]] == sorted({r[1] for r in extras["runs"]})


@pytest.mark.parametrize("path", [straight(1000), bent()])
def test_a_mesh_for_the_screen_is_packed_and_stays_where_it_was(path):
    mesh = display_mesh(Motion(path), [box(8, 5)], 0.02, "s")
    kept = write_kept_glb(mesh)
    assert len(kept) < 0.6 * len(write_glb([NamedMesh("Bar", mesh)]))
    data = gzip.decompress(kept)
    length, _ = struct.unpack("<II", data[12:20])
    head, blob = json.loads(data[20 : 20 + length]), data[28 + length :]

    def read(accessor: int) -> np.ndarray:
        told = head["accessors"][accessor]
        view = head["bufferViews"][told["bufferView"]]
        dtype, width = {5120: ("i1", 3), 5123: ("<u2", 3), 5125: ("<u4", 1), 5126: ("<f4", 3)}[told["componentType"]]
        width = width if told["type"] == "VEC3" else 1
        stride = view.get("byteStride") or np.dtype(dtype).itemsize * width
        array = np.ndarray((told["count"], width), dtype, blob, view["byteOffset"], (stride, np.dtype(dtype).itemsize))
        return array / np.iinfo(dtype).max if told.get("normalized") else array

    assert head["extensionsRequired"] == ["KHR_mesh_quantization"]
    (packed,), node = head["meshes"][0]["primitives"], head["nodes"][0]
    points = np.array(node["translation"]) + np.array(node["scale"]) * read(packed["attributes"]["POSITION"])
    assert np.abs(points - mesh.points).max() <= 0.501 * np.ptp(mesh.points, axis=0).max() / 65535
    assert np.abs(read(packed["attributes"]["NORMAL"]) - mesh.normals).max() <= 0.501 / 127
    order = np.argsort(mesh.face, kind="stable")
    assert np.array_equal(read(packed["indices"]).reshape(-1, 3), mesh.triangles[order])
    (drawn,) = head["meshes"][1]["primitives"]
    lines = read(drawn["attributes"]["POSITION"])[read(drawn["indices"]).reshape(-1, 2)]
    meant = np.vstack([np.stack([line[:-1], line[1:]], axis=1) for line in mesh.lines])
    assert np.allclose(lines, meant, atol=1e-4)


def test_an_arc_of_a_full_turn_is_cut_in_two():
    assert len(Motion(Path([ArcPiece(np.zeros(3), X, Y, 30, 2 * math.pi - 0.1, "c")], up=Z)).spans(5)) == 2
