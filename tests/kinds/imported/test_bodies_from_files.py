"""Bodies from files: what the program saves it reads again, with names, colours and sizes; what is no body is
refused.
"""

import io
import json
import math
import re

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.TopoDS import TopoDS_Shell, TopoDS_Solid

from leadline.core.geometry.placements import Placements
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.edging import sharp_edges
from leadline.core.solids.kernel import builder, faces
from leadline.core.solids.naming import flat_plane
from leadline.core.solids.step_file import Placed, write_step
from leadline.core.solids.step_reading import read_bodies, sound_solid
from leadline.exports.drawing import drawing
from leadline.exports.files import build_to_folder
from leadline.exports.formats import Look, export
from leadline.recipe.build import build
from leadline.recipe.files import digest_of, files_of, with_files
from leadline.recipe.part_file import part_from, read_part, write_part
from tests.support.parts import XY, XZ, Shelf, circle, demo, part, polyline, sketch

FEW = settings(max_examples=10, deadline=None)


def prism(name, x, y, z, at=0.0):
    return [
        sketch(f"s{name}", XY, polyline((at, 0), (at + x, 0), (at + x, y), (at, y), closed=True)),
        {"kind": "extrude", "id": name, "name": name.capitalize(), "profile": {"step": f"s{name}"}, "length": z},
    ]


def document(*steps, **more):
    return {"format": "leadline-part", "version": 1, "name": "From a file", "units": "mm", "steps": list(steps), **more}


def saved(doc, form="step"):
    made = part(doc)
    return export(build(made), form, Look.of(made))


def imported(data, *steps, plane=XY):
    """A part that takes the bodies of a file, with the file in it."""
    step = {
        "kind": "imported",
        "id": "in",
        "name": "From outside",
        "file": digest_of(data),
        "title": "outside.step",
        "plane": plane,
    }
    return with_files(part(document(step, *steps)), [(digest_of(data), data)])


sizes = st.floats(1, 50)


@FEW
@given(st.lists(st.tuples(sizes, sizes, sizes), min_size=1, max_size=4), st.sampled_from(["mm", "in"]))
def test_what_is_saved_comes_in_again_with_names_colours_and_sizes(blocks, units):
    steps = [s for i, (x, y, z) in enumerate(blocks) for s in prism(f"block{i}", x, y, z, 60.0 * i)]
    doc = document(*steps, units=units, colours={"block0": "madder"})
    read = read_bodies(saved(doc))
    scale = 25.4 if units == "in" else 1.0  # drawings are in mm, the length is in the unit of the part
    assert (read.unit, read.broken, read.open) == ("inch" if units == "in" else "millimetre", 0, 0)
    result = build(imported(saved(doc)))
    report = result.reports["in"]
    assert report.state == "fresh", report.messages
    assert [k.name for k in result.bodies] == [f"Block{i}" for i in range(len(blocks))]
    assert [k.body.volume() for k in result.bodies] == pytest.approx(
        [x * y * z * scale for x, y, z in blocks], rel=1e-9
    )
    assert [k.colour for k in result.bodies] == ["#c98a90", *[None] * (len(blocks) - 1)]
    assert report.data["count"] == len(blocks)
    assert not any(b["healed"] for b in report.data["bodies"])


def test_parts_of_an_assembly_stand_where_it_puts_them(tmp_path):
    body = build(part(document(*prism("pin", 2, 3, 4)))).bodies[0].body
    turns = np.array([np.eye(3), [[0, -1, 0], [1, 0, 0], [0, 0, 1]]], dtype=float)
    path = tmp_path / "a.step"
    write_step([Placed(body, Placements(turns, np.array([[10.0, 0, 0], [0, 20.0, 5.0]])), "Pin", "#336699")], path)
    read = read_bodies(path.read_bytes())
    assert [(s.name, s.colour) for s in read.solids] == [("Pin 1", "#336699"), ("Pin 2", "#336699")]
    result = build(imported(path.read_bytes()))
    centres = sorted(tuple(np.round(k.body.centre(), 9)) for k in result.bodies)
    assert centres == [(-1.5, 21.0, 7.0), (11.0, 1.5, 2.0)]


def test_it_is_placed_on_a_plane_and_its_faces_are_drawn_on():
    data = saved(document(*prism("block", 20, 30, 10)))
    result = build(imported(data, plane=XZ))
    (kept,) = result.bodies
    assert kept.body.centre() == pytest.approx((10, -5, 15))  # the normal of XZ points to -y
    top = next(n for n in kept.body.face_names if _level(kept.body, n) == pytest.approx(-10))
    boss = [
        {"kind": "datum", "id": "on", "name": "On it", "how": {"by": "face", "step": "in", "face": top}},
        sketch("ring", {"kind": "step", "step": "on"}, circle(3, 5, 5)),
        {"kind": "extrude", "id": "boss", "name": "Boss", "profile": {"step": "ring"}, "length": 4},
        {"kind": "rounding", "id": "round", "name": "R", "edges": [], "how": {"by": "even", "radius": 1}},
    ]
    edge = next(e for e in sharp_edges(kept.body) if top in e.split("&"))
    boss[-1]["edges"] = [{"step": "in", "edge": edge}]
    result = build(imported(data, *boss, plane=XZ))
    assert [r.state for r in result.reports.values()] == ["fresh"] * 5, [r.messages for r in result.reports.values()]
    volumes = sorted(k.body.volume() for k in result.bodies)
    assert volumes[0] == pytest.approx(math.pi * 9 * 4, rel=1e-9)
    assert volumes[1] < 6000


def _level(body, name):
    plane = flat_plane(body, name)
    return None if plane is None or abs(plane.normal[1]) < 0.5 else plane.origin[1]


def test_faces_keep_their_names_in_a_newer_version_of_the_file():
    first, second = (
        saved(document(*prism("block", 20, 30, 10), *extra)) for extra in ([], prism("other", 5, 5, 5, 100))
    )
    names = [set(build(imported(d)).bodies[0].body.face_names) for d in (first, second)]
    tails = [{n.rpartition("/")[2] for n in own} for own in names]
    assert tails[0] == tails[1]


def test_a_part_file_brings_its_files_along_and_each_is_in_the_key():
    data = saved(document(*prism("block", 20, 30, 10)))
    made = imported(data)
    again = read_part(write_part(made))
    assert again == made
    assert build(again).bodies[0].body.volume() == pytest.approx(6000)
    bare = made.model_copy(update={"files": {}})
    (message,) = build(bare).reports["in"].messages
    assert (message.code, message.place["field"]) == ("file-gone", "file")
    store = Shelf()
    dict.__setitem__(store, f"file/{digest_of(data)}", data)
    assert build(bare, store=store).bodies[0].body.volume() == pytest.approx(6000)


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "not-stl"),
        (b"garbage\0\xff" * 100, "not-stl"),
        (b"solid nothing\nendsolid nothing\n", "not-stl"),
        (b"ISO-10303-21; and then garbage", "not-step"),
        (b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n", None),
    ],
)
def test_what_is_no_file_of_bodies_is_refused(data, code):
    (message,) = build(imported(data)).reports["in"].messages
    assert message.place["field"] == "file"
    assert message.code in ({code} if code else {"not-step", "no-solids"})


@pytest.mark.parametrize("cut", [0.1, 0.5, 0.9, 0.999])
def test_half_a_file_is_refused_or_says_what_is_missing(cut):
    data = saved(document(*prism("block", 20, 30, 10)))
    report = build(imported(data[: int(len(data) * cut)])).reports["in"]
    assert report.state == "fresh" or report.messages[0].code in ("not-step", "not-stl", "no-solids")


def test_surfaces_are_left_out_and_said():
    steps = [
        *prism("block", 20, 30, 10),
        sketch("line", XY, polyline((0, 50), (20, 50))),
        {"kind": "extrude", "id": "skin", "name": "Skin", "profile": {"step": "line"}, "length": 5, "surface": True},
    ]
    report = build(imported(saved(document(*steps)))).reports["in"]
    assert [m.code for m in report.messages] == ["surfaces-left-out"]
    only = build(imported(saved(document(*steps[2:])))).reports["in"]
    assert [m.code for m in only.messages] == ["no-solids"]


@pytest.mark.parametrize("change", ["digest", "base64", "gzip"])
def test_a_damaged_file_in_a_part_file_is_refused(change):
    data = saved(document(*prism("block", 20, 30, 10)))
    made = imported(data).model_dump(mode="json")
    (digest,) = made["files"]
    made["files"][digest] = {
        "digest": next(iter(with_files(demo("handle-bar"), [(digest, b"other")]).files.values())),
        "base64": "?!",
        "gzip": "AAAA",
    }[change]
    (message,) = build(part_from(made)).reports["in"].messages
    assert message.code == "damaged-file"


def test_a_file_that_swells_beyond_what_may_be_is_refused():
    huge = bytes(40_000_000)
    swollen = with_files(demo("handle-bar"), [(digest_of(huge), huge)])
    with pytest.raises(Problem, match="more than 30 MB"):
        dict(files_of(swollen))


FLAGS = {
    "face": r"(ADVANCED_FACE\('',\(#\d+(?:,#\d+)*\),#\d+,)\.(T|F)\.",
    "edge": r"(ORIENTED_EDGE\('',\*,\*,#\d+,)\.(T|F)\.",
}


@pytest.mark.parametrize("seed", range(10))
def test_a_damaged_file_comes_in_whole(seed):
    """Faces and edges that are turned the wrong way, and a corner that is a little off: the solid is what it ought to
    be.
    """
    rng = np.random.default_rng(seed)
    size = rng.uniform(5, 40, 3)
    text = saved(document(*prism("block", *size.tolist()))).decode()
    for pattern in FLAGS.values():
        at = set(rng.choice(6, 2, replace=False).tolist())
        numbers = iter(range(10**6))

        def flagged(found, at=at, numbers=numbers):
            return found[1] + (_other(found[2]) if next(numbers) in at else f".{found[2]}.")

        text = re.sub(pattern, flagged, text)
    corner = rng.choice(re.findall(r"VERTEX_POINT\('',#(\d+)\)", text))
    text = re.sub(rf"(#{corner} = CARTESIAN_POINT\('',\()([-\d.E]+)", lambda m: f"{m[1]}{float(m[2]) + 0.003}", text)
    read = read_bodies(text.encode())
    (solid,) = read.solids
    body = Body("", solid.shape, [])
    assert body.valid()
    assert body.volume() == pytest.approx(size.prod(), rel=1e-3)


def _other(flag):
    return ".F." if flag == "T" else ".T."


@pytest.mark.parametrize("turned", [1, 2, 3])
def test_a_solid_with_faces_turned_inside_out_is_healed(turned):
    """As the kernel may hand it over: some faces of its shell are the wrong way round."""
    whole = build(part(document(*prism("block", 20, 15, 10)))).bodies[0].body
    shell, solid = TopoDS_Shell(), TopoDS_Solid()
    builder.MakeShell(shell)
    for i, face in enumerate(faces(whole.shape)):
        builder.Add(shell, face.Reversed() if i < turned else face)
    builder.MakeSolid(solid)
    builder.Add(solid, shell)
    sound, healed = sound_solid(solid)
    assert healed
    body = Body("", sound, [])
    assert body.valid()
    assert body.volume() == pytest.approx(3000, rel=1e-9)


SHAPES = {
    "box": trimesh.creation.box((10, 20, 30)),
    "ball": trimesh.creation.icosphere(3, 12.0),
    "cylinder": trimesh.creation.cylinder(5, 20),
    "ring": trimesh.creation.annulus(4, 9, 12),
}
MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4}


def from_stl(data, *steps, plane=XY, unit="mm"):
    step = {
        "kind": "imported",
        "id": "in",
        "name": "Scan",
        "file": digest_of(data),
        "title": "scan.stl",
        "plane": plane,
        "unit": unit,
    }
    return with_files(part(document(*steps, step)), [(digest_of(data), data)])


def stl(mesh, text):
    data = mesh.export(file_type="stl_ascii" if text else "stl")
    return data.encode() if isinstance(data, str) else data


@FEW
@given(st.sampled_from(list(SHAPES)), st.booleans(), st.sampled_from(list(MM)), st.booleans())
def test_a_mesh_comes_in_with_its_size_whichever_way_it_is_written(name, text, unit, turned):
    mesh = SHAPES[name].copy()
    if turned:
        mesh.invert()
    result = build(from_stl(stl(mesh, text), unit=unit, plane=XZ))
    report = result.reports["in"]
    assert report.state == "fresh", report.messages
    (kept,) = result.bodies
    assert report.data["triangles"] == len(mesh.faces) == len(kept.shown().triangles)
    assert report.data["open"] == 0
    assert report.data["bodies"][0]["volume"] == pytest.approx(abs(mesh.volume) * MM[unit] ** 3, rel=1e-5)
    assert kept.shown().volume() == pytest.approx(report.data["bodies"][0]["volume"], rel=1e-9)  # and not inside out
    low, high = kept.own_box()
    assert high - low == pytest.approx(mesh.extents[[0, 2, 1]] * MM[unit], rel=1e-5)


def test_normals_are_smooth_but_at_sharp_edges():
    ball = build(from_stl(stl(SHAPES["ball"], False))).bodies[0].shown()
    assert ball.lines == []
    assert (ball.normals * ball.points / np.linalg.norm(ball.points, axis=1)[:, None]).sum(axis=1).min() > 0.999
    box = build(from_stl(stl(SHAPES["box"], False))).bodies[0].shown()
    assert len(box.lines) == 12
    assert sorted({tuple(n) for n in np.abs(box.normals).round(9).tolist()}) == [(0, 0, 1), (0, 1, 0), (1, 0, 0)]


def test_clearance_to_a_mesh_is_that_to_its_shape():
    """From a straight path along Z, 32 mm beside the middle of a ball of 12 mm."""
    doc = json.loads(write_part(from_stl(stl(SHAPES["ball"], False), sketch("way", XZ, polyline((32, -30), (32, 30))))))
    doc["steps"].append(
        {"kind": "clearance", "id": "room", "name": "Room", "path": {"step": "way"}, "diameter": 4, "obstacles": ["in"]}
    )
    report = build(part_from(doc)).reports["room"]
    assert report.state == "fresh", report.messages
    assert report.data["clear"]["least"] == pytest.approx(32 - 12 - 2, abs=0.02)


def test_a_mesh_is_saved_as_triangles_and_left_out_of_what_is_exact(tmp_path):
    result = build(from_stl(stl(SHAPES["box"], False), *prism("block", 5, 6, 7, 100)))
    assert [s.name for s in read_bodies(export(result, "step")).solids] == ["Block"]
    read = trimesh.load_mesh(io.BytesIO(export(result, "stl")), file_type="stl")
    assert read.volume == pytest.approx(6000 + 210, rel=1e-6)
    build_to_folder(from_stl(stl(SHAPES["box"], False)), tmp_path)
    assert sorted(p.name for p in tmp_path.iterdir()) == ["part.3mf", "part.glb", "part.stl", "report.json"]
    alone = build(from_stl(stl(SHAPES["box"], False)))
    for save in (
        lambda: export(alone, "step"),
        lambda: export(alone, "svg"),
        lambda: drawing(alone, Look(), np.array([0.0, -1, 0]), np.array([1.0, 0, 0])),
    ):
        with pytest.raises(Problem) as refused:
            save()
        assert refused.value.message.code == "nothing-built"


def test_an_open_mesh_says_so_and_nothing_is_cut_with_a_mesh():
    mesh = SHAPES["box"].copy()
    mesh.update_faces(np.arange(len(mesh.faces)) > 0)
    data = stl(mesh, False)
    doc = json.loads(write_part(from_stl(data, *prism("block", 5, 6, 7))))
    doc["steps"].append(
        {
            "kind": "rounding",
            "id": "round",
            "name": "Round",
            "edges": [{"step": "in", "edge": "in/mesh&in/mesh"}],
            "how": {"by": "even", "radius": 1},
        }
    )
    doc["steps"].append(
        {"kind": "combined", "id": "cut", "name": "Cut", "body": "block", "tools": ["in"], "operation": "cut"}
    )
    reports = build(part_from(doc)).reports
    assert reports["in"].data["open"] == 3
    assert [m.code for m in reports["in"].messages] == ["mesh-alone", "mesh-open"]
    assert reports["round"].state == reports["cut"].state == "failed"
    assert "unexpected" not in {m.code for r in reports.values() for m in r.messages}
