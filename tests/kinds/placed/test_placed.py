"""Placed parts: where their bodies come to stand, by closed form; values of their own; parts in parts; what is
refused.
"""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.exports.formats import Look, export
from leadline.recipe.build import build
from leadline.recipe.colours import PALETTE
from leadline.recipe.files import digest_of, files_of, needed, with_files
from leadline.recipe.part_file import part_from, read_part, write_part
from tests.support.parts import XY, bar, demo, part, polyline, sketch
from tests.support.placing import block

FEW = settings(max_examples=10, deadline=None)


def kept(document):
    """A part's document as it is kept."""
    return json.dumps(part(document).model_dump(mode="json")).encode()


def placed(data, name="one", **more):
    return {"kind": "placed", "id": name, "name": name, "file": digest_of(data), "title": "Other", **more}


def holding(steps, *files, **more):
    document = {"format": "leadline-part", "version": 1, "name": "Whole", "units": "mm", "steps": steps, **more}
    return with_files(part(document), [(digest_of(data), data) for data in files])


def built(made, name="one"):
    result = build(made)
    report = result.reports[name]
    assert report.state == "fresh", report.messages
    assert all(k.body.valid() for k in result.bodies)
    return report, result.bodies


def refused(made, name="one"):
    report = build(made).reports[name]
    assert report.state == "failed"
    return [(m.code, m.place.get("field")) for m in report.messages]


def by_normal(origin, normal, along):
    names = dict(zip("xyz", origin, strict=True))
    return {
        "kind": "datum",
        "id": "where",
        "name": "Where",
        "how": {"by": "normal", **names, "normal": list(normal), "along": list(along)},
    }


component = st.floats(-1, 1)
vector = st.tuples(component, component, component).filter(lambda v: np.linalg.norm(v) > 0.2)
ONTO = {"by": "plane", "plane": {"kind": "step", "step": "where"}}


@FEW
@given(vector, vector, vector, st.booleans(), st.tuples(component, component, component), st.floats(-180, 180))
def test_its_plane_comes_to_lie_on_the_plane_moved_and_turned(origin, normal, along, over, shift, turn):
    """The middle of the block's top, as the block's frame is carried: own plane onto the target, turned over, turned,
    moved.
    """
    n = np.array(normal) / np.linalg.norm(normal)
    x = np.array(along) - n * float(np.dot(along, n))
    if np.linalg.norm(x) < 0.1:
        return
    x /= np.linalg.norm(x)
    y = np.cross(n, x)
    data = kept(block())
    moved = dict(zip(("x", "y", "out"), (50 * s for s in shift), strict=True))
    one = placed(data, at=ONTO, over=over, turn=turn, own="top", **moved)
    report, (body,) = built(holding([by_normal([10 * v for v in origin], normal, along), one], data))
    assert report.data["result"]["volume"] == pytest.approx(8000, rel=1e-9)
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    u, v = c * x + s * y, c * y - s * x  # the plane's axes, turned about its normal
    start = 10 * np.array(origin) + moved["x"] * x + moved["y"] * y + moved["out"] * n
    side = -1 if over else 1
    # the plane on the top has its origin at the foot of the part's origin: (0, 0, 10), and the block's middle is 5 mm
    # under it
    middle = start + 20 * u + side * 10 * v - side * 5 * n
    assert np.asarray(body.body.centre()) == pytest.approx(middle, abs=1e-6)


def test_it_stands_on_the_middle_of_a_face_and_at_a_place_on_a_path():
    data = kept(block())
    face = {"by": "face", "face": {"step": "base", "face": "base/cap/end"}}
    base = [
        sketch("drawn", XY, polyline((100, 0), (160, 0), (160, 30), (100, 30), closed=True)),
        {"kind": "extrude", "id": "base", "name": "Base", "profile": {"step": "drawn"}, "length": 7},
    ]
    _, bodies = built(holding([*base, placed(data, at=face)], data))
    assert np.asarray(bodies[-1].body.centre()) == pytest.approx([130 + 20, 15 + 10, 7 + 5])
    way = {"by": "path", "path": {"step": "path"}, "station": "50%"}
    _, (body,) = built(holding([bar()["steps"][0], placed(data, at=way, own="top", over=True)], data))
    assert body.body.centre()[0] == pytest.approx(
        50 + 5
    )  # the top lies square to the bar at its middle, the block behind it


@FEW
@given(st.floats(1, 60), st.sampled_from(["mm", "in"]), st.sampled_from(["mm", "in"]))
def test_values_of_its_own_are_worked_out_here(height, outer, inner):
    data = kept(block(units=inner))
    values = [{"name": "wish", "value": f"{height} mm"}]
    one = placed(data, values=[{"name": "h", "value": "wish * 2"}])
    two = placed(data, "two", at={"by": "plane", "plane": {"kind": "principal", "plane": "YZ"}})
    report, bodies = built(holding([one, two], data, values=values, units=outer))
    plain = 10 * 25.4 if inner == "in" else 10
    assert [b.body.volume() for b in bodies] == pytest.approx([40 * 20 * 2 * height, 40 * 20 * plain])
    assert [(v["name"], v["own"]) for v in report.data["values"]] == [("h", True)]
    assert [p["id"] for p in report.data["planes"]] == ["outline", "top"]


def test_parts_in_parts_go_along_in_the_part_file():
    inner = kept(block(colours={"block": "madder"}))
    row = {
        "kind": "arranged",
        "id": "row",
        "name": "Row",
        "source": "inner",
        "plane": XY,
        "how": {"by": "rows", "count": 3, "spacing": 50},
    }
    middle_part = {
        "format": "leadline-part",
        "version": 1,
        "name": "Middle",
        "units": "mm",
        "steps": [placed(inner, "inner"), row],
    }
    middle = kept(middle_part)
    store = {digest_of(d): d for d in (inner, middle)}
    outer = part(
        {"format": "leadline-part", "version": 1, "name": "Whole", "units": "mm", "steps": [placed(middle, x=5)]}
    )
    whole = with_files(outer, sorted(needed(outer, store.get).items()))
    again = read_part(write_part(whole))
    assert set(dict(files_of(again))) == set(store)
    report, bodies = built(again)
    assert report.data["count"] == 3
    assert report.data["result"]["volume"] == pytest.approx(3 * 8000)
    assert {b.colour for b in bodies} == {PALETTE["madder"]}
    assert sorted(round(b.box()[0][0]) for b in bodies) == [5, 55]  # the row of two stands for itself
    assert export(build(again), "stl", Look.of(again))  # what is shown can be saved


def test_what_is_drawn_on_a_placed_body_holds_and_moves_with_it():
    data = kept(block())
    steps = [
        placed(data, x=100),
        {
            "kind": "datum",
            "id": "there",
            "name": "There",
            "how": {"by": "face", "step": "one", "face": "one/block/cap/end"},
        },
        sketch(
            "peg", {"kind": "step", "step": "there"}, polyline((110, 5), (120, 5), (120, 15), (110, 15), closed=True)
        ),
        {"kind": "extrude", "id": "up", "name": "Up", "profile": {"step": "peg"}, "length": 6, "result": "add"},
    ]
    report, (body,) = built(holding(steps, data), "up")
    assert report.data["result"]["volume"] == pytest.approx(8000 + 600)
    assert body.body.box()[1][2] == pytest.approx(16, abs=1e-3)


@pytest.mark.parametrize(
    ("more", "files", "code", "field"),
    [
        ({}, False, "part-gone", "file"),
        ({"values": [{"name": "width", "value": 3}]}, True, "no-such-value", "values"),
        ({"own": "gone"}, True, "no-such-plane", "own"),
        ({"at": {"by": "face", "face": {"step": "gone", "face": "gone/cap/end"}}}, True, "deleted-reference", "at"),
    ],
)
def test_what_cannot_be_placed_is_refused(more, files, code, field):
    data = kept(block())
    assert refused(holding([placed(data, **more)], *([data] if files else []))) == [(code, field)]


def test_a_part_without_bodies_is_refused_and_one_with_faults_says_so():
    empty = kept({"format": "leadline-part", "version": 1, "name": "Empty", "units": "mm", "steps": []})
    assert refused(holding([placed(empty)], empty)) == [("no-bodies", "file")]
    faulty = block()
    faulty["steps"].append({"kind": "extrude", "id": "bad", "name": "Bad", "profile": {"step": "outline"}, "length": 0})
    data = kept(faulty)
    report, _ = built(holding([placed(data)], data))
    assert [(m.level, m.code) for m in report.messages] == [("warning", "other-part-faulty")]
    assert "Bad" in report.messages[0].text


def test_a_demo_part_placed_is_the_same_body():
    rail = demo("kick-rail")
    data = json.dumps(rail.model_dump(mode="json")).encode()
    (alone,) = build(part_from(json.loads(data))).bodies
    _, (body,) = built(holding([placed(data)], data))
    assert body.body.volume() == pytest.approx(alone.body.volume())
    assert body.body.face_names == [f"one/{name}" for name in alone.body.face_names]
    assert body.shown().volume() == pytest.approx(alone.shown().volume())
