"""Reference geometry: exact images, which follow their source and say so when it is gone."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import line_edge
from leadline.core.geometry.plane import PRINCIPAL
from leadline.core.geometry.section import Loop, Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece
from leadline.core.problems import Problem
from leadline.core.sketch.model import Sketch
from leadline.core.sketch.outline import coordinates, ellipse_arc, regions, spline_curve
from leadline.core.sweep.borders import named_edges
from leadline.core.sweep.motion import Motion
from leadline.kinds.sketch.editing import edit_step, solve_step
from leadline.kinds.sketch.imaging import strand_images
from leadline.recipe.asking import answer
from leadline.recipe.build import Memory, build
from leadline.recipe.built_edges import built_edges
from leadline.recipe.part_file import part_from
from tests.support.parts import XY, XZ, polyline
from tests.support.parts import sketch as drawn
from tests.support.shapes import Draw, rectangle, slot


def part(source: Draw, angle: float = 0.0):
    """A source sketch on XY, a plane turned about the X axis by ``angle``, and an empty sketch on it."""
    guide = Draw()
    guide.point("g0", 0, 0)
    guide.point("g1", 10, 0)
    guide.line("g", "g0", "g1")
    steps = [
        {
            "id": "guide",
            "name": "Guide",
            "kind": "sketch",
            "plane": XY,
            "sketch": guide.sketch().model_dump(mode="json"),
        },
        {
            "id": "source",
            "name": "Source",
            "kind": "sketch",
            "plane": XY,
            "sketch": source.sketch().model_dump(mode="json"),
        },
        {"id": "block", "name": "Block", "kind": "extrude", "profile": {"step": "source"}, "length": 15},
        {
            "id": "tilted",
            "name": "Tilted",
            "kind": "datum",
            "how": {"by": "line", "step": "guide", "line": "g", "angle": f"{angle} deg"},
        },
        {"id": "target", "name": "Target", "kind": "sketch", "plane": {"kind": "step", "step": "tilted"}, "sketch": {}},
    ]
    return {"format": "leadline-part", "version": 1, "name": "P", "steps": steps}


def projected(document, what, item="", source="source", **more):
    """The document with the projection made in its target sketch."""
    ask = {"op": "project", "source": source, "what": what, "item": item, **more}
    data = edit_step(part_from(document), "target", ask, Memory())
    document["steps"][-1]["sketch"] = data["sketch"]
    return document


def target(document):
    report = build(part_from(document)).reports["target"]
    assert report.state == "fresh", [m.text for m in report.messages]
    return Sketch.model_validate(report.data["sketch"]), report


@given(st.floats(0, 80), st.floats(0.3, 5.9))
def test_arcs_become_ellipses_that_hold_the_projected_points(angle, sweep):
    d = Draw()
    for name, x, y in (("c", 5, 7), ("s", 17, 7), ("e", 5 + 12 * math.cos(sweep), 7 + 12 * math.sin(sweep))):
        d.point(name, x, y)
    d.arc("arc", "c", "s", "e")
    sketch, _ = target(projected(part(d, angle), "curve", "arc"))
    (entity,), at = sketch.entities, coordinates(sketch)
    k = math.cos(math.radians(angle))
    if entity.kind == "arc":
        assert k == pytest.approx(1, abs=1e-6)
        return
    assert np.hypot(*(at[entity.major] - at[entity.center])) == pytest.approx(12)
    assert entity.minor == pytest.approx(12 * k)
    edges = ellipse_arc(entity, at)
    p = np.vstack([e.point(np.linspace(*e.domain, 7)) for e in edges])
    assert np.hypot(p[:, 0] - 5, p[:, 1] / k - 7) == pytest.approx(np.full(len(p), 12))
    ends = sorted([tuple(at[entity.start].round(6)), tuple(at[entity.end].round(6))])
    there = sorted([(17, 7 * k), (5 + 12 * math.cos(sweep), k * (7 + 12 * math.sin(sweep)))])
    assert np.array(ends) == pytest.approx(np.array(there), abs=1e-5)


@pytest.mark.parametrize("kind", ["spline", "control_spline"])
def test_splines_stay_exact(kind):
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (20, 14), (45, -6), (70, 10)]):
        d.point(f"s{i}", x, y)
    d.spline("sp", *(f"s{i}" for i in range(4)), kind=kind)
    sketch, _ = target(projected(part(d, 60), "curve", "sp"))
    image, source = sketch.entities[0], d.sketch().entities[0]
    a, b = spline_curve(source, coordinates(d.sketch())), spline_curve(image, coordinates(sketch))
    t = np.linspace(0, 1, 50)
    there = a(a.t[0] + t * (a.t[-1] - a.t[0])) * [1, 0.5]
    assert b(b.t[0] + t * (b.t[-1] - b.t[0])) == pytest.approx(there, abs=1e-9)


def test_a_face_outline_follows_its_block_and_can_be_offset():
    document = projected(part(slot()), "face", "block/cap/end", source="block")
    sketch, report = target(document)
    assert not report.messages
    assert {e.construction for e in sketch.entities} == {True}
    drawn = sketch.model_copy(
        update={"entities": [e.model_copy(update={"construction": False}) for e in sketch.entities]}
    )
    assert regions(drawn)[0].area == pytest.approx(40 * 20 + 100 * math.pi)
    longer = slot(70)
    document["steps"][1]["sketch"] = longer.sketch().model_dump(mode="json")
    followed, _ = target(document)
    drawn = followed.model_copy(
        update={"entities": [e.model_copy(update={"construction": False}) for e in followed.entities]}
    )
    assert regions(drawn)[0].area == pytest.approx(70 * 20 + 100 * math.pi)
    assert build(part_from(document)).reports["target"].data["freedom"] == 0


def test_a_side_face_and_a_whole_path():
    document = projected(part(rectangle(40, 20), 90), "face", "block/side/l1/0", source="block")
    sketch, _ = target(document)
    xy = np.array(list(coordinates(sketch).values()))
    assert (np.ptp(xy, axis=0)) == pytest.approx([40, 15])
    path = projected(part(rectangle(40, 20)), "path")
    assert len(target(path)[0].entities) == 4


def test_a_lost_source_leaves_the_geometry_and_can_be_attached_again():
    document = projected(part(rectangle(40, 20)), "curve", "l1")
    projection = document["steps"][-1]["sketch"]["projections"][0]["id"]
    source = document["steps"][1]["sketch"]
    source["entities"] = [e for e in source["entities"] if e["id"] != "l1"]
    source["constraints"] = [c for c in source["constraints"] if "l1" not in c["items"]]
    sketch, report = target(document)
    assert [m.code for m in report.messages] == ["lost-projection"]
    assert "Source" in report.messages[0].text
    assert solve_step(part_from(document), "target", Memory())["lost"][0]["place"]["projection"] == projection
    assert np.ptp(np.array([p for n, p in coordinates(sketch).items() if n != "O"]), axis=0) == pytest.approx([40, 0])
    document = projected(document, "curve", "l2", replace=projection)
    sketch, report = target(document)
    assert report.messages == []
    assert np.ptp(np.array([p for n, p in coordinates(sketch).items() if n != "O"]), axis=0) == pytest.approx([0, 20])
    with pytest.raises(Problem, match="another shape"):
        projected(document, "point", "a", replace=projection)


def test_a_source_that_turns_round_is_followed():
    document = projected(part(rectangle(40, 20)), "curve", "l1")
    line = document["steps"][1]["sketch"]["entities"][0]
    line["start"], line["end"] = line["end"], line["start"]
    sketch, report = target(document)
    assert report.messages == []
    at = coordinates(sketch)
    assert (*at[sketch.entities[0].start], *at[sketch.entities[0].end]) == pytest.approx((40, 0, 0, 0))


def test_what_cannot_be_seen_is_refused():
    d = Draw()
    d.point("a", 0, 0)
    d.point("b", 0, 10)
    d.line("l", "a", "b")
    with pytest.raises(Problem, match="end-on"):
        projected(part(d, 90), "curve", "l")
    with pytest.raises(Problem, match="no longer"):
        projected(part(d), "curve", "gone")


def test_edges_of_a_body_are_exact_and_follow():
    edge = "block/side/l1/0&block/side/l2/0"  # the upright edge at the end of l1
    document = projected(part(rectangle(40, 20), 90), "edge", edge, source="block")
    sketch, _ = target(document)
    at = coordinates(sketch)
    (line,) = sketch.entities
    assert sorted([tuple(at[line.start].round(9)), tuple(at[line.end].round(9))]) == [(40, 0), (40, 15)]
    document["steps"][1]["sketch"] = rectangle(55, 20).sketch().model_dump(mode="json")
    document["steps"][2]["length"] = 9
    sketch, report = target(document)
    at = coordinates(sketch)
    assert report.messages == []
    assert max(map(tuple, at.values())) == pytest.approx((55, 9))
    document["steps"][2]["id"] = "other"
    assert [m.code for m in target(document)[1].messages] == ["lost-projection"]


def test_a_round_rim_is_one_ellipse_and_a_round_side_has_two():
    d = Draw()
    d.point("c", 5, 7)
    d.circle("ring", "c", 12)
    rim = target(projected(part(d, 60), "edge", "block/cap/end&block/side/ring/0", source="block"))[0]
    (ellipse,), at = rim.entities, coordinates(rim)
    assert (ellipse.kind, ellipse.start) == ("ellipse", None)
    assert at[ellipse.center] == pytest.approx([5, 7 * 0.5 + 15 * math.sin(math.radians(60))])
    assert (np.hypot(*(at[ellipse.major] - at[ellipse.center])), ellipse.minor) == pytest.approx((12, 6))
    side = target(projected(part(d, 60), "face", "block/side/ring/0", source="block"))[0]
    assert [e.kind for e in side.entities] == ["ellipse", "ellipse"]


@pytest.mark.parametrize("twist", [0.0, 1.5])
def test_an_edge_along_a_free_path_stays_within_micrometres(twist):
    curve = make_interp_spline([0, 0.4, 1], [[0, 0, 0], [40, 25, 10], [90, 0, 20]], k=2)
    motion = Motion(Path([SplinePiece(curve, "p")]), twist)
    square = Region(
        Loop(
            tuple(
                line_edge(a, b, f"l{i}")
                for i, (a, b) in enumerate(pairwise([(-2, -2), (2, -2), (2, 2), (-2, 2), (-2, -2)]))
            )
        )
    )
    ((strand,),) = [v for k, v in named_edges(motion, [square], "s").items() if k == "s/side/l0/p&s/side/l1/p"]
    (image,) = strand_images(strand, PRINCIPAL["XY"])
    p = np.array(image.points)
    n = len(image.knots)
    ends = [
        (1, 3 * (p[n] - p[0]) / image.knots[1]),
        (1, 3 * (p[n - 1] - p[n + 1]) / (image.knots[-1] - image.knots[-2])),
    ]
    fit = make_interp_spline(image.knots, p[:n], bc_type=([ends[0]], [ends[1]]))
    s = np.linspace(0, motion.length, 301)
    f = motion.frames(s)
    assert np.abs(fit(s) - (f.C + 2 * f.X - 2 * f.Y)[:, :2]).max() < 2e-3


def bored(bore=6.0, across=False):
    """A block of 40 x 30 x 15 with a hole through its top at (5, 4), or a rod along X with one across it; a sketch to
    project into, on top.
    """
    hole = {
        "kind": "sweep",
        "id": "hole",
        "name": "Hole",
        "profile": {"quick": "round", "width": bore},
        "path": {"step": "axis"},
        "result": "cut",
    }
    base = (
        {
            "kind": "sweep",
            "id": "block",
            "name": "Rod",
            "profile": {"quick": "round", "width": 30},
            "path": {"step": "along"},
        }
        if across
        else {"kind": "extrude", "id": "block", "name": "Block", "profile": {"step": "low"}, "length": 15}
    )
    above = {"kind": "datum", "id": "above", "name": "Above", "how": {"by": "offset", "plane": XY, "distance": 15}}
    steps = [
        drawn("low", XY, polyline((-20, -15), (20, -15), (20, 15), (-20, 15), closed=True)),
        drawn("along", XY, polyline((-20, 0), (20, 0))),
        base,
        drawn("axis", {"kind": "step", "step": "beside"}, polyline((5, -20), (5, 20))),
        hole,
        above,
        {"id": "target", "name": "Target", "kind": "sketch", "plane": {"kind": "step", "step": "above"}, "sketch": {}},
    ]
    at = {
        "kind": "datum",
        "id": "beside",
        "name": "Beside",
        "how": {"by": "offset", "plane": XZ, "distance": 0 if across else -4},
    }
    return {"format": "leadline-part", "version": 1, "name": "P", "steps": [at, *steps]}


def made_edge(document, *faces):
    """The name of an edge that only the built body has, between faces of these beginnings."""
    names = {e["item"] for e in built_edges(part_from(document), "target", Memory())}
    return next(n for n in names if all(any(f.startswith(face) for f in n.split("&")) for face in faces))


def test_the_edge_that_a_cut_made_is_projected_and_follows():
    document = bored()
    name = made_edge(document, "block/cap/end", "hole/")
    ask = {"source": "hole", "what": "edge", "item": name}
    with pytest.raises(Problem) as waits:
        edit_step(part_from(document), "target", {"op": "project", **ask}, Memory())
    assert waits.value.message.code == "not-yet"
    images = answer(part_from(document), "target", "images", Memory(), ask)
    projected(document, "edge", name, "hole", images=images)
    sketch, _ = target(document)
    (circle,) = sketch.entities
    assert circle.kind == "circle"
    assert circle.radius == pytest.approx(3)
    assert coordinates(sketch)[circle.center] == pytest.approx([5, 4])
    document["steps"][5]["profile"]["width"] = 9
    assert solve_step(part_from(document), "target", Memory())["lost"] == []  # without the kernel it stays where it was
    assert target(document)[0].entities[0].radius == pytest.approx(4.5)
    document["steps"][5]["off"] = True
    assert [m.code for m in target(document)[1].messages] == ["lost-projection"]


@pytest.mark.parametrize("bore", [6.0, 14.0, 29.0])
def test_the_edge_where_two_tubes_meet_lies_on_both(bore):
    """Seen along the hole it is the hole's circle."""
    document = bored(bore, across=True)
    name = made_edge(document, "block/", "hole/")
    images = answer(part_from(document), "target", "images", Memory(), {"source": "hole", "what": "edge", "item": name})
    sketch, _ = target(projected(document, "edge", name, "hole", images=images))
    for entity in sketch.entities:
        points = spline_curve(entity, coordinates(sketch))(np.linspace(0, 1, 400))
        assert np.hypot(points[:, 0] - 5, points[:, 1]) == pytest.approx(np.full(400, bore / 2), abs=3e-6 * bore)
