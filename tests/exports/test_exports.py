"""Files handed over, read back by other readers than the program's own."""

import io
import math
import re
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.exports.drawing import drawing
from leadline.exports.formats import Look, export
from leadline.recipe.build import build
from leadline.recipe.colours import PALETTE
from tests.support.blocks import BOX
from tests.support.parts import XY, XZ, circle, part, polyline, sketch

ROOT = Path(__file__).resolve().parents[2]
CORE = "{http://schemas.microsoft.com/3dmanufacturing/core/2015/02}"
ROD = [
    sketch("r", XY, circle(5, 80, 0)),
    {"kind": "extrude", "id": "rod", "name": "Rod <&> ä", "profile": {"step": "r"}, "length": 12},
]
SHEET = {
    "kind": "extrude",
    "id": "sheet",
    "name": "Sheet",
    "profile": {"step": "r"},
    "length": 40,
    "back": -20,
    "surface": True,
}
ROW = {
    "kind": "arranged",
    "id": "row",
    "name": "Row",
    "source": "rod",
    "plane": XY,
    "how": {"by": "rows", "count": 3, "spacing": 20},
}


@pytest.fixture(scope="module")
def files():
    document = part(
        {
            "format": "leadline-part",
            "version": 1,
            "name": "Tray",
            "units": "mm",
            "steps": [*BOX, *ROD, ROW],
            "colours": {"b": "brass", "rod": "sea"},
        }
    )
    result = build(document)
    assert all(r.state == "fresh" for r in result.reports.values()), result.reports
    return {form: export(result, form, Look.of(document)) for form in ("3mf", "step", "glb")}


def test_a_3mf_has_unit_names_colours_and_closed_meshes(files):
    package = zipfile.ZipFile(io.BytesIO(files["3mf"]))
    assert package.testzip() is None
    rels = ElementTree.fromstring(package.read("_rels/.rels"))
    (model,) = (ElementTree.fromstring(package.read(r.get("Target").lstrip("/"))) for r in rels)
    assert model.get("unit") == "millimeter"
    assert model.find(f"{CORE}metadata").text == "Tray"
    bases = [b.get("displaycolor").lower() for b in model.iter(f"{CORE}base")]
    objects = {o.get("id"): o for o in model.iter(f"{CORE}object")}
    found = {}
    for item in model.iter(f"{CORE}item"):
        one = objects[item.get("objectid")]
        move = np.fromstring(item.get("transform", "1 0 0 0 1 0 0 0 1 0 0 0"), sep=" ").reshape(4, 3)
        points = np.array([[float(v.get(k)) for k in "xyz"] for v in one.iter(f"{CORE}vertex")]) @ move[:3] + move[3]
        solid = trimesh.Trimesh(
            points, [[int(t.get(k)) for k in ("v1", "v2", "v3")] for t in one.iter(f"{CORE}triangle")], process=False
        )
        assert solid.is_watertight
        assert one.get("type") == "model"
        found.setdefault((one.get("name"), bases[int(one.get("pindex"))]), []).append(
            (solid.volume, round(solid.centroid[0], 3))
        )
    assert found[("Block", PALETTE["brass"])] == [(pytest.approx(24000), pytest.approx(20))]
    assert found[("Rod <&> ä", PALETTE["sea"])] == [
        (pytest.approx(np.pi * 25 * 12, rel=1e-2), pytest.approx(80, abs=1e-2))
    ]
    assert [x for _, x in found[("Row", PALETTE["sea"])]] == pytest.approx([100, 120], abs=1e-2)


def test_what_is_open_is_a_surface_in_a_3mf():
    result = build(
        part(
            {
                "format": "leadline-part",
                "version": 1,
                "name": "S",
                "units": "mm",
                "steps": [ROD[0], {**SHEET, "length": 40, "back": 0}],
            }
        )
    )
    model = ElementTree.fromstring(zipfile.ZipFile(io.BytesIO(export(result, "3mf"))).read("3D/3dmodel.model"))
    assert [o.get("type") for o in model.iter(f"{CORE}object")] == ["surface"]


def test_a_step_file_has_a_product_and_a_colour_for_each_body(files):
    text = files["step"].decode("latin-1")
    products = re.findall(r"=PRODUCT\('([^']*)'", text.replace("\n", "")) or re.findall(
        r"PRODUCT\('([^']*)'", text.replace("\n", "")
    )
    assert {"Block"} <= set(products)
    rgb = {
        tuple(round(float(v), 3) for v in found)
        for found in re.findall(r"COLOUR_RGB\('[^']*',([\d.Ee+-]+),([\d.Ee+-]+),([\d.Ee+-]+)\)", text.replace("\n", ""))
    }
    for name in ("brass", "sea"):
        wanted = tuple(int(PALETTE[name][i : i + 2], 16) / 255 for i in (1, 3, 5))
        linear = tuple(c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in wanted)
        assert any(np.allclose(c, wanted, atol=2e-3) or np.allclose(c, linear, atol=2e-3) for c in rgb), (name, rgb)


def test_a_gltf_has_the_colours_as_light(files, tmp_path):
    (tmp_path / "a.glb").write_bytes(files["glb"])
    scene = trimesh.load(tmp_path / "a.glb")
    seen = {}
    for node in scene.graph.nodes_geometry:
        _, name = scene.graph[node]
        solid = scene.geometry[name]
        if isinstance(solid, trimesh.Trimesh):
            seen[node] = np.asarray(solid.visual.material.baseColorFactor)[:3] / 255
    brass = next(c for n, c in seen.items() if n.startswith("Block"))
    sea = [c for n, c in seen.items() if n.startswith(("Row", "Rod"))]
    assert len(sea) == 3
    for shown, name in ((brass, "brass"), *((c, "sea") for c in sea)):
        wanted = np.array([int(PALETTE[name][i : i + 2], 16) / 255 for i in (1, 3, 5)])
        linear = np.where(wanted <= 0.04045, wanted / 12.92, ((wanted + 0.055) / 1.055) ** 2.4)
        assert np.allclose(shown, linear, atol=0.005)


def test_the_colours_of_files_are_those_of_the_stage():
    shown = dict(re.findall(r'(\w+): "(#[0-9a-f]{6})"', (ROOT / "web/src/stage/bodyColours.ts").read_text()))
    assert shown == PALETTE


def drawn(data):
    """Of each view of an SVG file the visible and the hidden lines, as an independent reader finds them: x to the
    right, y up.
    """
    root = ElementTree.fromstring(data)
    views = {}
    for group in root.iter("{http://www.w3.org/2000/svg}g"):
        right, down = (float(v) for v in re.search(r"translate\((\S+) (\S+)\)", group.get("transform")).groups())
        paths = {}
        for path in group:
            lines = [[tuple(map(float, p.split())) for p in run.split("L")] for run in path.get("d").split("M")[1:]]
            paths[path.get("class")] = shapely.MultiLineString(
                [[(x + right, y + down) for x, y in line] for line in lines]
            )
        views[group.get("id")] = paths
    size = [float(root.get(k).removesuffix("mm")) for k in ("width", "height")]
    return views, size


@pytest.mark.parametrize("bore", [3.0, 7.5])
def test_four_views_at_full_size_with_hidden_lines(bore):
    """A block of 40 x 20 x 30 with a round hole from its front to its back."""
    steps = [
        sketch("plan", XY, polyline((0, 0), (40, 0), (40, 20), (0, 20), closed=True)),
        {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "plan"}, "length": 30},
        sketch("hole", XZ, circle(bore, 12, 15)),
        {
            "kind": "extrude",
            "id": "h",
            "name": "Hole",
            "profile": {"step": "hole"},
            "length": 5,
            "back": 30,
            "result": "cut",
        },
    ]
    views, size = drawn(
        export(
            build(part({"format": "leadline-part", "version": 1, "name": "Block <1>", "units": "mm", "steps": steps})),
            "svg",
        )
    )

    def lengths(name):
        visible = views[name]["visible"]
        return shapely.unary_union(visible).length, shapely.unary_union(views[name]["hidden"]).difference(
            visible.buffer(0.01)
        ).length

    assert lengths("front") == pytest.approx((140 + 2 * math.pi * bore, 0), rel=2e-3, abs=0.1)
    assert lengths("top") == pytest.approx((120, 2 * 20), rel=2e-3, abs=0.1)
    assert lengths("left") == pytest.approx((100, 2 * 20), rel=2e-3, abs=0.1)
    boxes = {name: shapely.union_all(list(own.values())).bounds for name, own in views.items()}
    assert [boxes["top"][k] for k in (0, 2)] == pytest.approx(
        [boxes["front"][k] for k in (0, 2)], abs=0.01
    )  # the views stand in line
    assert [boxes["left"][k] for k in (1, 3)] == pytest.approx([boxes["front"][k] for k in (1, 3)], abs=0.01)
    assert boxes["top"][1] > boxes["front"][3]
    assert boxes["left"][0] > boxes["front"][2]
    low, high = np.min([b[:2] for b in boxes.values()], axis=0), np.max([b[2:] for b in boxes.values()], axis=0)
    assert low == pytest.approx([10, 10], abs=0.01)
    assert high == pytest.approx(np.array(size) - 10, abs=0.01)


def test_copies_are_drawn_and_too_many_are_refused():
    peg = [
        sketch("peg", XY, circle(2)),
        {"kind": "extrude", "id": "p", "name": "Peg", "profile": {"step": "peg"}, "length": 5},
    ]
    rows = {
        "kind": "arranged",
        "id": "r",
        "name": "Rows",
        "source": "p",
        "plane": XY,
        "how": {"by": "rows", "count": 4, "spacing": 10, "count_y": 3, "spacing_y": 10},
    }
    document = {"format": "leadline-part", "version": 1, "name": "Pegs", "units": "mm", "steps": [*peg, rows]}
    views, _ = drawn(export(build(part(document)), "svg"))
    assert len(shapely.union_all(views["top"]["visible"].buffer(0.01)).geoms) == 12
    rows["how"]["count"] = 800
    with pytest.raises(Problem, match="too many to be drawn") as refusal:
        export(build(part(document)), "svg")
    assert refusal.value.message.code == "too-many-copies"


@settings(max_examples=12, deadline=None)
@given(
    bore=st.floats(2, 8),
    at=st.floats(1, 19),
    near=st.booleans(),
    view=st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)),
)
def test_a_section_shows_the_cut_faces_hatched_as_large_as_they_are_seen(bore, at, near, view):
    """A block with a bore along y, cut square to y: of the cut face, which has its true size on its own plane, any view
    shows the cosine.
    """
    steps = [
        sketch("plan", XY, polyline((0, 0), (40, 0), (40, 20), (0, 20), closed=True)),
        {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "plan"}, "length": 30},
        sketch("hole", XZ, circle(bore, 12, 15)),
        {
            "kind": "extrude",
            "id": "h",
            "name": "Hole",
            "profile": {"step": "hole"},
            "length": 5,
            "back": 30,
            "result": "cut",
        },
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Bored", "units": "mm", "steps": steps}))
    towards = np.array(view)
    if np.linalg.norm(towards) < 0.2 or np.linalg.norm(np.cross(towards, [0, 0, 1])) < 0.1:
        return
    away = np.array([0.0, -1.0 if near else 1.0, 0.0])
    data = drawing(result, Look("Bored"), towards, np.cross([0, 0, 1], towards), (np.array([0, at, 0]), away))
    root = ElementTree.fromstring(data)
    (hatched,) = [p for p in root.iter("{http://www.w3.org/2000/svg}path") if p.get("class") == "section"]
    rings = [
        [tuple(map(float, p.split())) for p in run.removesuffix("Z").split("L")]
        for run in hatched.get("d").split("M")[1:]
    ]
    shown = float(away @ towards) / np.linalg.norm(towards)
    if shown < 1e-5:
        assert rings == []
        return
    outer, inner = sorted((shapely.Polygon(r) for r in rings), key=lambda p: -p.area)
    assert outer.area - inner.area == pytest.approx((40 * 30 - math.pi * bore**2) * shown, rel=5e-3, abs=1e-3)
    assert outer.buffer(1e-3).contains(inner)


def test_a_cut_that_takes_all_away_and_a_view_without_direction_are_refused():
    peg = [
        sketch("peg", XY, circle(2)),
        {"kind": "extrude", "id": "p", "name": "Peg", "profile": {"step": "peg"}, "length": 5},
    ]
    result = build(part({"format": "leadline-part", "version": 1, "name": "Peg", "units": "mm", "steps": peg}))
    x, z = np.array([1.0, 0, 0]), np.array([0.0, 0, 1])
    for wrong, code in (
        ((z, z, None), "no-direction"),
        ((z, x, (np.array([0, 0, -1.0]), z)), "nothing-left"),
        ((0 * z, x, None), "no-direction"),
    ):
        with pytest.raises(Problem) as refusal:
            drawing(result, Look(), *wrong)
        assert refusal.value.message.code == code
    whole = drawing(result, Look(), z, x, (np.array([0, 0, 9.0]), z))  # the plane passes beside it
    assert b"section" in whole
