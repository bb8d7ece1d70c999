"""Planes placed by planes, points, lines and faces, against what geometry says."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.core.geometry.circles import circle_through
from leadline.core.geometry.plane import any_square_to
from leadline.recipe.build import Memory, build, dependents
from leadline.recipe.part_file import part_from
from leadline.recipe.preview import body_edges
from tests.support.parts import bar, step
from tests.support.shapes import rectangle


def part_with(*datums, length=100):
    """A bar of square section, a sketch of a rectangle on the plan, and datum planes."""
    document = bar(length)
    document["steps"].append(
        {
            "id": "plan",
            "name": "Plan",
            "kind": "sketch",
            "plane": {"kind": "principal", "plane": "XY"},
            "sketch": rectangle(40, 20).sketch().model_dump(mode="json"),
        }
    )
    for i, how in enumerate(datums):
        document["steps"].append({"id": f"d{i}", "name": f"Datum {i}", "kind": "datum", "how": how})
    return document


def plane_of(document, name="d0"):
    report = build(part_from(document)).reports[name]
    assert report.state == "fresh", [m.text for m in report.messages]
    p = {k: np.array(v) for k, v in report.data["plane"].items()}
    p["n"] = np.cross(p["x"], p["y"])
    assert np.linalg.norm([p["x"] @ p["y"], p["x"] @ p["x"] - 1, p["y"] @ p["y"] - 1]) < 1e-12
    return p


XY, XZ = {"kind": "principal", "plane": "XY"}, {"kind": "principal", "plane": "XZ"}


def points(*names):
    return {"by": "points", "points": [{"step": "plan", "point": n} for n in names]}


def test_beside_another_plane_and_chained():
    first = {"by": "offset", "plane": XY, "distance": "1 in"}
    second = {"by": "offset", "plane": {"kind": "step", "step": "d0"}, "distance": -5}
    document = part_with(first, second)
    assert plane_of(document)["origin"] == pytest.approx([0, 0, 25.4])
    assert plane_of(document, "d1")["origin"] == pytest.approx([0, 0, 20.4])
    assert dependents(part_from(document), "d0") == ["d1"]


def test_through_three_points_and_not_through_a_line():
    plane = plane_of(part_with(points("b", "c", "d")))
    assert plane["origin"] == pytest.approx([40, 0, 0])
    assert plane["x"] == pytest.approx([0, 1, 0])
    assert abs(plane["n"][2]) == pytest.approx(1)
    bad = build(part_from(part_with(points("a", "b", "b")))).reports["d0"]
    assert bad.messages[0].code == "in-line"
    gone = build(part_from(part_with(points("a", "b", "zz")))).reports["d0"]
    assert gone.messages[0].code == "deleted-reference"


@given(st.floats(-180, 180))
def test_through_a_line_at_an_angle(angle):
    plane = plane_of(part_with({"by": "line", "step": "plan", "line": "l1", "angle": f"{angle} deg"}))
    assert plane["x"] == pytest.approx([1, 0, 0])
    assert plane["y"] == pytest.approx([0, math.cos(math.radians(angle)), math.sin(math.radians(angle))], abs=1e-12)


def test_midway_between_parallel_and_crossing_planes():
    up = {"by": "offset", "plane": XY, "distance": 30}
    between = {"by": "midway", "first": XY, "second": {"kind": "step", "step": "d0"}}
    assert plane_of(part_with(up, between), "d1")["origin"][2] == pytest.approx(15)
    cross = plane_of(part_with({"by": "midway", "first": XY, "second": XZ}))
    assert abs(cross["n"] @ [0, 0, 1]) == pytest.approx(math.cos(math.pi / 4))
    assert abs(cross["n"] @ [0, -1, 0]) == pytest.approx(math.cos(math.pi / 4))


@pytest.mark.parametrize(("face", "normal"), [("sweep/cap/start", [-1, 0, 0]), ("sweep/cap/end", [1, 0, 0])])
def test_on_the_caps_of_a_sweep(face, normal):
    plane = plane_of(part_with({"by": "face", "step": "sweep", "face": face}))
    assert plane["n"] == pytest.approx(normal)
    assert plane["origin"][0] == pytest.approx(100 if normal[0] > 0 else 0)


def test_on_a_flat_side_which_follows_the_section():
    document = part_with()
    step(document, "profile")["sketch"] = rectangle(20, 12).sketch().model_dump(mode="json")
    names = {n for b in build(part_from(document)).bodies for n in b.body.face_names if "/side/" in n}
    normals = []
    for name in sorted(names):
        document = part_with({"by": "face", "step": "sweep", "face": name})
        step(document, "profile")["sketch"] = rectangle(20, 12).sketch().model_dump(mode="json")
        plane = plane_of(document)
        inside = np.array(build(part_from(document)).reports["sweep"].data["numbers"]["centre"])
        assert (inside - plane["origin"]) @ plane["n"] < -5
        normals.append(plane["n"])
    assert np.array(normals).sum(axis=0) == pytest.approx(np.zeros(3), abs=1e-12)
    round_bar = build(part_from(part_with({"by": "face", "step": "sweep", "face": "sweep/side/e1/l1"}))).reports["d0"]
    assert round_bar.messages[0].code == "deleted-reference"


def test_a_sketch_on_a_datum_plane_is_swept_from_there():
    document = part_with({"by": "offset", "plane": XY, "distance": 30})
    document["steps"].append(
        {
            "id": "on",
            "name": "On",
            "kind": "sketch",
            "plane": {"kind": "step", "step": "d0"},
            "sketch": rectangle(10, 10).sketch().model_dump(mode="json"),
        }
    )
    document["steps"].append(
        {"id": "block", "name": "Block", "kind": "extrude", "profile": {"step": "on"}, "length": 4}
    )
    report = build(part_from(document)).reports["block"]
    assert report.data["numbers"]["volume"] == pytest.approx(400)
    assert report.data["numbers"]["centre"][2] == pytest.approx(32)


@given(
    st.floats(0.01, 1e4),
    st.floats(0.3, 2 * math.pi),
    st.lists(st.floats(-1, 1), min_size=3, max_size=3),
    st.floats(-1e3, 1e3),
)
def test_a_circle_is_found_from_any_stretch_of_it(radius, sweep, axis, away):
    normal = np.array(axis)
    if np.linalg.norm(normal) < 0.1:
        return
    normal /= np.linalg.norm(normal)
    x = any_square_to(normal)
    t = np.linspace(0.3, 0.3 + sweep, 40)[:, None]
    centre = away * np.array([1.0, -2, 0.5])
    points = centre + radius * (np.cos(t) * x + np.sin(t) * np.cross(normal, x))
    found = circle_through(points)
    assert found is not None
    slack = 1e-7 * (radius + abs(away)) / sweep**2  # of a short stretch the centre is the less certain
    assert np.linalg.norm(found[0] - centre) < slack
    assert np.linalg.norm(np.cross(found[1], normal)) < 1e-6 / sweep**2
    assert found[2] == pytest.approx(radius, abs=slack)
    bent = points + 0.01 * radius * sweep * np.sin(2 * np.pi * (t - 0.3) / sweep) * normal
    assert circle_through(bent) is None
    assert circle_through(points[:1] + t * x) is None  # a line


def test_in_a_round_edge_about_its_centre_facing_out_of_the_flat_face():
    document = part_with()
    end = "sweep/cap/end&sweep/side/e1/e1"
    names = {e["item"] for e in body_edges(part_from(document), None, Memory())}
    assert end in names
    document = part_with(
        {"by": "round", "edge": {"step": "sweep", "edge": end}},
        {"by": "round", "edge": {"step": "sweep", "edge": end}, "over": True},
    )
    assert plane_of(document)["origin"] == pytest.approx([100, 0, 0])
    assert (plane_of(document)["n"][0], plane_of(document, "d1")["n"][0]) == pytest.approx((1, -1))
    document["steps"].insert(
        4,
        {
            "kind": "arranged",
            "id": "twin",
            "name": "Twin",
            "source": "sweep",
            "plane": XY,
            "how": {"by": "move", "x": 0, "y": 30, "out": 7, "turn": 90, "keep": True},
        },
    )
    step(document, "d0")["how"]["edge"] = {"step": "twin", "edge": end.replace("sweep", "twin")}
    assert plane_of(document)["origin"] == pytest.approx([0, 130, 7])
    assert plane_of(document)["n"] == pytest.approx([0, 1, 0], abs=1e-9)
    assert build(part_from(document), quick=True).reports["d0"].messages[0].code == "not-yet"
    face = {"by": "face", "step": "twin", "face": "twin/cap/end", "middle": True}
    step(document, "d1")["how"] = face
    assert plane_of(document, "d1")["origin"] == pytest.approx([0, 130, 7])


@pytest.mark.parametrize(
    ("edge", "code"),
    [("block/cap/end&block/side/e1/0", "not-round"), ("block/cap/end&block/side/e9/0", "deleted-reference")],
)
def test_an_edge_that_is_not_round_or_gone_gives_no_plane(edge, code):
    document = part_with()
    document["steps"].append(
        {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "plan"}, "length": 5}
    )
    edges = {e["item"] for e in body_edges(part_from(document), None, Memory())}
    named = edge if code != "not-round" else next(e for e in edges if e.startswith("block/cap/end&block/side"))
    document["steps"].append(
        {"kind": "datum", "id": "d0", "name": "D", "how": {"by": "round", "edge": {"step": "block", "edge": named}}}
    )
    (message,) = build(part_from(document)).reports["d0"].messages
    assert message.code == code
