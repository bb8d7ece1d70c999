"""Faces and edges that only a solid knows: the same planes, outlines and curves as those of the plan where there is
one; steps stand on them.
"""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.plane import plane_on
from leadline.core.problems import Problem
from leadline.core.sweep.borders import FreeStrand
from leadline.core.sweep.skin import Skin
from leadline.recipe.build import Memory, build
from leadline.recipe.products import BodyProduct, BuiltNames, HasEdges, HasFaces, Product, Swept
from tests.support.parts import XY, bar, circle, demo, part, polyline, sketch

MANY = settings(max_examples=25, deadline=None)
numbers = st.floats(-1, 1).filter(lambda v: abs(v) > 1e-3)


def built(document):
    products = {}
    result = build(part(document) if isinstance(document, dict) else document, products=products)
    return result, products


def document(*steps):
    return {"format": "leadline-part", "version": 1, "name": "Named", "units": "mm", "steps": list(steps)}


def block(x=40.0, y=20.0, z=10.0):
    return [
        sketch("plan", XY, polyline((0, 0), (x, 0), (x, y), (0, y), closed=True)),
        {"kind": "extrude", "id": "b", "name": "Block", "profile": {"step": "plan"}, "length": z},
    ]


def length(strand):
    """Of a stretch of an edge, by a fine polyline of its own."""
    if isinstance(strand, FreeStrand):
        points = strand.follow(np.linspace(strand.breaks[0], strand.breaks[-1], 4001))
    else:
        points = np.vstack([strand.plane.to_space(e.point(np.linspace(*e.domain, 2001))) for e in strand.edges])
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())


def area(loops):
    """Of outlines by the shoelace formula on fine polygons, holes taken away by their turning the other way round."""
    total = 0.0
    for loop in loops:
        p = np.vstack([e.point(np.linspace(*e.domain, 801))[:-1] for e in loop])
        total += float(np.sum(p[:, 0] * np.roll(p[:, 1], -1) - p[:, 1] * np.roll(p[:, 0], -1))) / 2
    return total


@MANY
@given(
    st.tuples(numbers, numbers, numbers), st.tuples(*[st.floats(-200, 200)] * 3), st.tuples(*[st.floats(-50, 50)] * 2)
)
def test_the_frame_of_a_plane_does_not_depend_on_the_point_that_was_clicked(normal, point, beside):
    n = np.array(normal) / np.linalg.norm(normal)
    plane = plane_on(np.array(point), n)
    other = plane_on(plane.to_space(beside), n)
    for a, b in zip((plane.origin, plane.x, plane.y), (other.origin, other.x, other.y), strict=True):
        assert b == pytest.approx(a, abs=1e-9)
    assert plane.height(np.array(point)) == pytest.approx(0, abs=1e-9)
    assert plane.normal == pytest.approx(n, abs=1e-12)


@pytest.mark.parametrize("name", ["kick-rail-mitred", "hexagon-bar", "suction-riser", "silt-auger", "pump-grip"])
def test_a_solid_tells_the_same_of_its_faces_and_edges_as_its_plan(name):
    _, products = built(demo(name))
    product = next(p for p in reversed(products.values()) if isinstance(p, BodyProduct) and p.alone)
    plan, names = product.planned, BuiltNames([k.body for k in product.bodies])
    edges = names.edges()
    for edge, strands in plan.give(HasEdges).edges().items():
        assert sum(map(length, edges[edge])) == pytest.approx(sum(map(length, strands)), rel=1e-5), edge
    flat = 0
    for face in {f for k in product.bodies for f in k.body.face_names}:
        planned, own = plan.give(HasFaces).flat_face(face), names.flat_face(face)
        if planned is None:
            continue
        flat += 1
        assert own.normal == pytest.approx(planned.normal, abs=1e-7)
        assert own.height(planned.origin) == pytest.approx(0, abs=1e-6)
        assert area(names.outline(face)[1]) == pytest.approx(abs(area(plan.outline(face)[1])), rel=1e-5)
    assert flat > 0


@pytest.mark.parametrize(
    ("step", "face", "height"),
    [
        (
            {"kind": "arranged", "id": "c", "name": "Mirrored", "source": "b", "plane": XY, "how": {"by": "mirror"}},
            "c/cap/end",
            -10,
        ),
        (
            {
                "kind": "arranged",
                "id": "c",
                "name": "Moved",
                "source": "b",
                "plane": XY,
                "how": {"by": "move", "out": 7},
            },
            "c/cap/end",
            17,
        ),
        (
            {
                "kind": "hollow",
                "id": "c",
                "name": "Hollow",
                "body": "b",
                "wall": 2,
                "opened": [{"step": "b", "face": "b/cap/end"}],
            },
            "c/inside/b:cap:start",
            2,
        ),
    ],
)
def test_a_boss_stands_on_a_face_that_another_step_made(step, face, height):
    boss = [
        {"kind": "datum", "id": "on", "name": "On it", "how": {"by": "face", "step": "c", "face": face}},
        sketch("round", {"kind": "step", "step": "on"}, circle(3, 20, 10)),
        {"kind": "extrude", "id": "boss", "name": "Boss", "profile": {"step": "round"}, "length": 4},
    ]
    result, _ = built(document(*block(), step, *boss))
    assert all(r.state == "fresh" for r in result.reports.values()), [r.messages for r in result.reports.values()]
    plane = result.reports["on"].data["plane"]
    assert plane["origin"][2] == pytest.approx(height)
    boss = next(k.body for k in result.bodies if k.step == "boss")
    assert boss.volume() == pytest.approx(math.pi * 9 * 4, rel=1e-9)
    low, high = boss.box()
    assert (low[2], high[2]) == pytest.approx((height, height + 4) if height > 0 else (height - 4, height), abs=1e-6)


def test_a_path_runs_along_edges_of_a_mirrored_body_and_a_sketch_projects_its_face():
    mirrored = {"kind": "arranged", "id": "c", "name": "Mirrored", "source": "b", "plane": XY, "how": {"by": "mirror"}}
    _, products = built(document(*block(), mirrored))
    known = products["c"].give(HasEdges).edges()
    name = next(n for n in known if n.startswith("c/cap/end"))
    along = {"kind": "edges", "id": "run", "name": "Run", "edges": [{"step": "c", "edge": name}], "tangent": False}
    result, _ = built(document(*block(), mirrored, along))
    report = result.reports["run"]
    assert report.state == "fresh", report.messages
    assert report.data["path"]["length"] == pytest.approx(length(known[name][0]), rel=1e-9)
    assert {p[2] for p in report.data["path"]["points"]} == {-10.0}


def test_what_stands_on_a_built_face_moves_when_the_solid_under_it_changes():
    hollow = {
        "kind": "hollow",
        "id": "c",
        "name": "Hollow",
        "body": "b",
        "wall": 2,
        "opened": [{"step": "b", "face": "b/cap/end"}],
    }
    datum = {
        "kind": "datum",
        "id": "on",
        "name": "On it",
        "how": {"by": "face", "step": "c", "face": "c/inside/b:cap:start"},
    }
    heights = []
    memory = Memory()
    for wall in (2, 3, 2):
        result = build(part(document(*block(), {**hollow, "wall": wall}, datum)), memory)
        heights.append(result.reports["on"].data["plane"]["origin"][2])
    assert heights == pytest.approx([2, 3, 2])


def test_before_it_is_built_a_face_is_where_it_was_seen_or_not_known_yet():
    moved = {
        "kind": "arranged",
        "id": "c",
        "name": "Moved",
        "source": "b",
        "plane": XY,
        "how": {"by": "move", "out": 7},
    }
    datum = {"kind": "datum", "id": "on", "name": "On it", "how": {"by": "face", "step": "c", "face": "c/cap/end"}}
    seen = {"seen": {"point": [3, 4, 17], "normal": [0, 0, 1]}}
    steps = [
        *block(),
        moved,
        {**datum, "how": datum["how"] | seen},
        sketch("round", {"kind": "step", "step": "on"}, circle(3)),
    ]
    quick = build(part(document(*steps)), quick=True)
    assert quick.reports["on"].data["plane"]["origin"] == pytest.approx([0, 0, 17])
    assert quick.reports["on"].data == build(part(document(*steps))).reports["on"].data
    unseen = build(part(document(*block(), moved, datum, steps[-1])), quick=True)
    assert [unseen.reports[s].messages[0].code for s in ("on", "round")] == ["not-yet", "not-yet"]


def test_a_face_that_is_gone_or_round_is_refused():
    moved = {
        "kind": "arranged",
        "id": "c",
        "name": "Moved",
        "source": "sweep",
        "plane": XY,
        "how": {"by": "move", "out": 7},
    }
    for face in ("c/side/e1/e1", "c/cap/middle"):
        datum = {"kind": "datum", "id": "on", "name": "On it", "how": {"by": "face", "step": "c", "face": face}}
        result = build(part({**bar(), "steps": [*bar()["steps"], moved, datum]}))
        assert result.reports["on"].messages[0].code == "deleted-reference"


@pytest.mark.parametrize(
    "name",
    [
        "",
        "b",
        "/",
        "b/",
        "b/side",
        "b/cap",
        "b/cap/middle",
        "b/side/e1",
        "b/side/e1/0/more",
        "b//e1/0",
        "&",
        "b/cap/start&b/cap/end",
        "other",
    ],
)
def test_what_is_no_name_of_a_face_names_none(name):
    """Names come from files, too, which anybody may write."""
    on_it = {"kind": "datum", "id": "p", "name": "Seat", "how": {"by": "face", "step": "b", "face": name}}
    products: dict[str, Product] = {}
    result = build(part(document(*block(), on_it)), quick=True, products=products)
    faces = products["b"]
    assert isinstance(faces, Swept)
    assert faces.flat_face(name) is None
    assert faces.outline(name) is None
    assert faces.border(name) == []
    with pytest.raises(Problem, match="no side"):
        Skin(faces.motion, faces.regions, name)
    assert [m.code for m in result.reports["p"].messages] == ["deleted-reference"]
