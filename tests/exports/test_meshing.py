"""Files of triangles within a fineness: against closed forms of what they stand for, and against the files
themselves.
"""

import io
import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.mesh import MOST_TRIANGLES, Fineness
from leadline.core.problems import Problem
from leadline.exports.formats import Look, export
from leadline.exports.meshing import fineness_of, finest, meshes, meshing
from leadline.limits import FILE_TRIANGLES
from leadline.recipe.build import build
from leadline.recipe.part_file import part_from
from tests.support.parts import SHARED, XY, XZ, circle, demo, polyline, sketch

ROUGHLY = 1.05


def doc(*steps):
    return part_from({"format": "leadline-part", "version": 1, "name": "S", "units": "mm", "steps": list(steps)})


def torus(radius, wire, cut=False):
    """A ring swept along a circle, or turned and then bored through, so that the kernel has to mesh it."""
    if not cut:
        return doc(
            sketch("way", XY, circle(radius)),
            {
                "kind": "sweep",
                "id": "ring",
                "name": "Ring",
                "path": {"step": "way"},
                "profile": {"quick": "round", "width": 2 * wire},
            },
        )
    return doc(
        sketch("shape", XZ, circle(wire, radius, 0)),
        {"kind": "revolve", "id": "ring", "name": "Ring", "profile": {"step": "shape"}},
        sketch("way", XZ, polyline((0, 0), (3 * radius, 0))),
        {
            "kind": "sweep",
            "id": "bore",
            "name": "Bore",
            "path": {"step": "way"},
            "profile": {"quick": "round", "width": wire / 2},
        },
        {"kind": "combined", "id": "bored", "name": "Bored", "body": "ring", "tools": ["bore"], "operation": "cut"},
    )


def off_torus(points, radius, wire):
    return np.abs(np.hypot(np.hypot(points[:, 0], points[:, 1]) - radius, points[:, 2]) - wire)


def largest_angle(mesh):
    """Between triangles that share an edge, where the surface has no crease."""
    solid = trimesh.Trimesh(*mesh.welded(), process=False)
    return float(solid.face_adjacency_angles.max())


@given(st.floats(5, 80), st.floats(0.1, 0.6), st.floats(-2.3, -0.5), st.floats(3, 45))
@settings(max_examples=15, deadline=None)
def test_a_swept_ring_is_within_the_chord_and_the_angle(radius, slender, tenth, degrees):
    wire, chord = slender * radius, 10**tenth
    (made,) = meshes(build(torus(radius, wire)).bodies, {}, Fineness(chord, math.radians(degrees)))
    corners = made.mesh.points[made.mesh.triangles]
    inner = [
        corners.mean(axis=1),
        corners[:, [0, 1]].mean(axis=1),
        corners[:, [1, 2]].mean(axis=1),
        corners[:, [2, 0]].mean(axis=1),
    ]
    assert off_torus(np.vstack(inner), radius, wire).max() <= chord * ROUGHLY
    assert largest_angle(made.mesh) <= math.radians(degrees) * ROUGHLY + 1e-6


@pytest.mark.parametrize(("chord", "degrees"), [(0.05, 20), (0.01, 20), (0.05, 8)])
def test_a_ring_that_the_kernel_meshes_is_within_the_chord(chord, degrees):
    radius, wire = 20.0, 5.0
    result = build(torus(radius, wire, cut=True))
    assert result.bodies, [m.text for r in result.reports.values() for m in r.messages]
    (made,) = meshes(result.bodies, {}, Fineness(chord, math.radians(degrees)))
    ring = np.char.find(np.array(made.mesh.names), "bore") < 0
    own = made.mesh.triangles[ring[made.mesh.face]]
    assert (
        off_torus(made.mesh.points[own].mean(axis=1), radius, wire).max() <= 2 * chord
    )  # the kernel's own measure is along the edges of its triangles
    finer = meshes(result.bodies, {}, Fineness(chord / 4, math.radians(degrees / 1.5)))[0]
    assert len(finer.mesh.triangles) > 2 * len(made.mesh.triangles)


@pytest.mark.parametrize("name", ["pump-grip", "tether-rings", "pipe-clip"])
@pytest.mark.parametrize("fineness", [None, (0.05, None), (None, 8.0), (0.02, 10.0)])
def test_what_is_told_before_is_what_the_files_are(name, fineness):
    result = build(demo(name), SHARED)
    asked = None if fineness is None else fineness_of(*fineness)
    told, look = meshing(result.bodies, asked), Look(fineness=asked)
    files = {form: export(result, form, look) for form in ("stl", "glb", "3mf")}
    solid = trimesh.load(io.BytesIO(files["stl"]), file_type="stl", process=False)
    assert len(solid.faces) == told.triangles
    assert len(files["stl"]) == told.sizes["stl"]
    assert len(files["glb"]) == pytest.approx(told.sizes["glb"], rel=0.02)  # it has colours, too
    assert 0.5 < len(files["3mf"]) / told.sizes["3mf"] < 2
    assert abs(solid.volume / sum(k.body.volume() * k.count for k in result.bodies) - 1) < 0.02


def test_too_many_triangles_are_refused_and_the_way_out_works():
    result = build(torus(80, 10))
    with pytest.raises(Problem) as refused:
        meshing(result.bodies, fineness_of(1e-4, 20))
    message = refused.value.message
    assert (message.code, message.place["field"]) == ("too-many-triangles", "chord")
    assert f"{FILE_TRIANGLES:,}" in message.as_dict("mm")["text"]
    larger = float(message.as_dict("mm")["way_out"].split("e.g. ")[1].split(" mm")[0])
    assert meshing(result.bodies, fineness_of(larger, 20)).triangles <= FILE_TRIANGLES


def test_many_copies_are_saved_coarser_and_shown_coarser():
    rows = {"by": "rows", "count": 40, "spacing": 30, "count_y": 50, "spacing_y": 30}
    ring = [
        sketch("way", XY, circle(8)),
        {
            "kind": "sweep",
            "id": "ring",
            "name": "Ring",
            "path": {"step": "way"},
            "profile": {"quick": "round", "width": 4},
        },
    ]
    result = build(
        doc(*ring, {"kind": "arranged", "id": "rows", "name": "Rows", "source": "ring", "plane": XY, "how": rows})
    )
    own = sum(len(k.shown().triangles) * k.count for k in result.bodies)
    assert own > FILE_TRIANGLES
    assert 0.3 * FILE_TRIANGLES < meshing(result.bodies, None).triangles <= FILE_TRIANGLES
    shown = result.as_dict()["bodies"]
    assert [b["most"] & (b["most"] - 1) for b in shown] == [0] * len(shown)  # powers of two
    assert (
        sum(len(k.at_most(b["most"]).triangles) * k.count for k, b in zip(result.bodies, shown, strict=True))
        <= 2 * MOST_TRIANGLES
    )
    assert [b["most"] for b in build(torus(20, 4)).as_dict()["bodies"]] == [None]


def test_a_finer_mesh_than_triangles_suffice_for_is_as_fine_as_they_do():
    (ring,) = build(torus(80, 10)).bodies
    made = finest(ring, Fineness(1e-4, 0.01))
    assert FILE_TRIANGLES / 5 < len(made.triangles) <= FILE_TRIANGLES
    assert len(finest(ring, Fineness(0.05, 0.3)).triangles) < FILE_TRIANGLES / 50
    for few in (0, 1, 2, 100):  # an end is found however few are allowed
        assert 0 < len(finest(ring, Fineness(1e-4, 0.01), few).triangles) < 2000


@given(st.floats(5, 80), st.floats(0.1, 0.6))
@settings(max_examples=10, deadline=None)
def test_a_mesh_knows_how_far_the_surface_is_off_it(radius, slender):
    (ring,) = build(torus(radius, slender * radius)).bodies
    mesh = ring.shown()
    ends = mesh.points[np.concatenate([mesh.triangles[:, [k, (k + 1) % 3]] for k in range(3)])]
    far = off_torus(ends.mean(axis=1), radius, slender * radius).max()
    assert mesh.off.max() == pytest.approx(far, rel=0.1)
    assert ring.as_dict()["chord"] == mesh.off.max()


@given(st.integers(5, 8), st.floats(4, 20))
@settings(max_examples=8, deadline=None)
def test_a_loft_is_within_the_angle_too(height, degrees):
    """From a square to a round one: straight sides that are skew, and corners that open into arcs."""
    top = {"kind": "datum", "id": "top", "name": "Top", "how": {"by": "offset", "plane": XY, "distance": 5 * height}}
    sections = [
        {"by": "quick", "profile": {"quick": "rectangle", "width": 20, "height": 12}, "plane": XY},
        {"by": "quick", "profile": {"quick": "round", "width": 14}, "plane": {"kind": "step", "step": "top"}},
    ]
    (body,) = build(doc(top, {"kind": "loft", "id": "hood", "name": "Hood", "sections": sections})).bodies
    made = body.within(Fineness(0.5, math.radians(degrees)), FILE_TRIANGLES)
    normals = made.normals[made.triangles]
    apart = max(np.linalg.norm(normals[:, i] - normals[:, j], axis=1).max() for i, j in ((0, 1), (1, 2), (2, 0)))
    assert 2 * math.asin(apart / 2) <= 1.35 * math.radians(degrees)  # of both ways together
