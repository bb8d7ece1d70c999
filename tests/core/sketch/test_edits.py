"""Edits of a sketch: each keeps what it should, solves, and has the shape that geometry says."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from leadline.core.geometry.plane import PRINCIPAL
from leadline.core.paths.path import path_from_sketch
from leadline.core.problems import Problem
from leadline.core.sketch.edits import transforms
from leadline.core.sketch.edits.operations import (
    CircularCopies,
    Corner,
    Handles,
    LinearCopies,
    Mirror,
    Offset,
    Paste,
    Smooth,
    Transform,
    Trim,
    apply,
)
from leadline.core.sketch.edits.tracks import crossings, tracks
from leadline.core.sketch.model import Sketch
from leadline.core.sketch.outline import coordinates, regions, spline_curve
from leadline.core.sketch.solver import Solution, solve_sketch
from leadline.core.sketch.system import External
from tests.support.shapes import Draw, filleted_rectangle, rectangle, slot


def settled(sketch: Sketch) -> Solution:
    """Solve with the sizes as they stand; an edit's result must already satisfy its own constraints."""
    sizes = {
        d.id: math.radians(d.value) if d.kind == "angle" else float(d.value) for d in sketch.dimensions if d.driving
    }
    solution = solve_sketch(sketch, External(sizes))
    before, after = coordinates(sketch), coordinates(solution.sketch)
    reach = max(np.abs(p).max() for p in before.values()) or 1.0
    assert max(np.abs(before[p] - after[p]).max() for p in before) < 1e-5 * reach
    return solution


def kinds(sketch: Sketch) -> list[str]:
    return sorted(e.kind for e in sketch.entities)


def cross() -> Draw:
    """A level line crossed by two upright ones and by a circle."""
    d = Draw()
    for name, x, y in (
        ("a", 0, 0),
        ("b", 100, 0),
        ("u1", 30, -20),
        ("u2", 30, 20),
        ("v1", 60, -20),
        ("v2", 60, 20),
        ("m", 85, 0),
    ):
        d.point(name, x, y)
    d.line("l", "a", "b")
    d.line("u", "u1", "u2")
    d.line("v", "v1", "v2")
    d.circle("c", "m", 8)
    d.hold("horizontal", "l")
    d.hold("coincident", "a", "O")
    d.size("length", 100, "l")
    return d


# -- trim, extend, split --------------------------------------------------------------------------


def test_trimming_the_middle_of_a_line_leaves_two_in_line():
    sketch = apply(cross().sketch(), Trim(op="trim", entity="l", at=(45, 1)))
    solution = settled(sketch)
    at = coordinates(solution.sketch)
    ends = {e.id: (at[e.start], at[e.end]) for e in solution.sketch.entities if e.kind == "line" and e.id not in "uv"}
    assert sorted(float(p[0]) for pair in ends.values() for p in pair) == pytest.approx([0, 30, 60, 100])
    assert [c.kind for c in sketch.constraints].count("horizontal") == 2
    assert {tuple(c.items[1:]) for c in sketch.constraints if c.kind == "on_curve"} == {("u",), ("v",)}
    assert sketch.dimensions == []


def test_trimming_an_end_and_what_nothing_crosses():
    sketch = apply(cross().sketch(), Trim(op="trim", entity="l", at=(5, 0)))
    at = coordinates(settled(sketch).sketch)
    line = next(e for e in sketch.entities if e.id == "l")
    assert (at[line.start][0], at[line.end][0]) == pytest.approx((30, 100))
    lone = Draw()
    lone.point("a", 0, 0)
    lone.point("b", 9, 0)
    lone.line("l", "a", "b")
    assert apply(lone.sketch(), Trim(op="trim", entity="l", at=(5, 0))) == Sketch()


def test_trimming_a_circle_leaves_the_arc_on_the_other_side():
    sketch = apply(cross().sketch(), Trim(op="trim", entity="c", at=(85, 8)))
    solution = settled(sketch)
    assert kinds(solution.sketch) == ["arc", "line", "line", "line"]
    path = path_from_sketch(
        solution.sketch, PRINCIPAL["XY"], [e.id for e in solution.sketch.entities if e.kind == "arc"]
    )
    assert path.length == pytest.approx(8 * math.pi)
    assert path.point(np.array([4 * math.pi]))[0] == pytest.approx([85, -8, 0])


def test_extending_reaches_the_next_thing_and_stays_on_it():
    d = Draw()
    for name, x, y in (
        ("a", 0, 0),
        ("b", 10, 0),
        ("u", 50, -20),
        ("v", 50, 30),
        ("c", 10, 10),
        ("s", 10, 0),
        ("e", 20, 10),
    ):
        d.point(name, x, y)
    d.line("l", "a", "b")
    d.line("wall", "u", "v")
    d.arc("arc", "c", "s", "e")
    longer = apply(d.sketch(), Trim(op="extend", entity="l", at=(9, 0)))
    ends = [e.end for e in longer.entities if e.id == "l"]
    assert coordinates(settled(longer).sketch)[ends[0]] == pytest.approx([50, 0])
    with pytest.raises(Problem, match="meets nothing"):
        apply(d.sketch(), Trim(op="extend", entity="l", at=(1, 0)))
    bent = apply(d.sketch(), Trim(op="extend", entity="arc", at=(20, 9)))
    arc = next(e for e in bent.entities if e.id == "arc")
    assert coordinates(settled(bent).sketch)[arc.end] == pytest.approx([0, 10]) or coordinates(bent)[arc.end][1] < 10


@pytest.mark.parametrize("kind", ["spline", "control_spline"])
def test_splitting_a_spline_changes_nothing_of_its_shape(kind):
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (20, 14), (45, -6), (70, 10), (90, 0)]):
        d.point(f"s{i}", x, y)
    d.spline("sp", *(f"s{i}" for i in range(5)), kind=kind)
    whole = spline_curve(d.sketch().entities[0], coordinates(d.sketch()))
    sketch = settled(apply(d.sketch(), Trim(op="split", entity="sp", at=(33, 5)))).sketch
    pieces = [spline_curve(e, coordinates(sketch)) for e in sketch.entities]
    assert len(pieces) == 2
    dense = whole(np.linspace(whole.t[0], whole.t[-1], 40001))
    for piece in pieces:
        for p in piece(np.linspace(piece.t[0], piece.t[-1], 25)):
            assert np.linalg.norm(dense - p, axis=1).min() < 2e-3


def test_splitting_lines_and_circles():
    d = cross()
    line = settled(apply(d.sketch(), Trim(op="split", entity="u", at=(30, 5)))).sketch
    assert [c.kind for c in line.constraints].count("collinear") == 1
    circle = settled(apply(d.sketch(), Trim(op="split", entity="c", at=(85, 8)))).sketch
    assert kinds(circle).count("arc") == 2
    with pytest.raises(Problem, match="ends there"):
        apply(d.sketch(), Trim(op="split", entity="u", at=(30, 20)))


@given(st.floats(0, 2 * math.pi), st.floats(-7, 7))
def test_crossings_of_a_line_and_a_circle_in_closed_form(angle, off):
    assume(abs(off) < 7.999)
    u = np.array([math.cos(angle), math.sin(angle)])
    n = np.array([-u[1], u[0]])
    d = Draw()
    for name, p in (("c", (0, 0)), ("a", off * n - 20 * u), ("b", off * n + 20 * u)):
        d.point(name, *p)
    d.circle("c1", "c", 8)
    d.line("l", "a", "b")
    t = tracks(d.sketch())
    found = crossings(t["l"], t["c1"])
    half = math.sqrt(64 - off * off)
    expected = [off * n + s * half * u for s in (-1, 1)]
    assert np.array([t["l"].point(p) for p, _ in found]) == pytest.approx(np.array(expected), abs=1e-8)


# -- corners --------------------------------------------------------------------------------------


def test_fillets_of_a_rectangle_give_the_rounded_area():
    d = rectangle()
    d.size("length", 40, "l1")
    d.size("length", 20, "l2")
    sketch = d.sketch()
    for corner in ("a", "b", "c", "d"):
        sketch = settled(apply(sketch, Corner(op="fillet", point=corner, size=3))).sketch
    assert regions(sketch)[0].area == pytest.approx(800 - (4 - math.pi) * 9)
    assert settled(sketch).freedom == 0
    wider = sketch.model_copy(
        update={"dimensions": [x.model_copy(update={"value": 90.0}) if x.value == 40 else x for x in sketch.dimensions]}
    )
    sizes = {x.id: float(x.value) for x in wider.dimensions}
    assert regions(solve_sketch(wider, External(sizes)).sketch)[0].area == pytest.approx(1800 - (4 - math.pi) * 9)


def test_a_fillet_between_a_line_and_an_arc_touches_both():
    d = Draw()
    for name, x, y in (("a", -40, 0), ("b", 0, 0), ("c", 20, 0), ("e", 20, 20)):
        d.point(name, x, y)
    d.line("l", "a", "b")
    d.arc("arc", "c", "e", "b")
    sketch = settled(apply(d.sketch(), Corner(op="fillet", point="b", size=4))).sketch
    path = path_from_sketch(sketch, PRINCIPAL["XY"])
    assert [j.kind for j in path.joints] == ["tangent", "tangent"]
    assert min(p.radius for p in path.pieces if p.kind == "arc") == pytest.approx(4)


def test_a_chamfer_keeps_its_corner_and_its_sizes():
    d = rectangle()
    d.size("length", 40, "l1")
    d.size("length", 20, "l2")
    solution = settled(apply(d.sketch(), Corner(op="chamfer", point="c", size=5)))
    assert regions(solution.sketch)[0].area == pytest.approx(800 - 12.5)
    assert solution.freedom == 0


@pytest.mark.parametrize(("op", "size"), [("fillet", 25), ("chamfer", 21)])
def test_corners_that_do_not_fit_are_refused(op, size):
    with pytest.raises(Problem, match="does not fit"):
        apply(rectangle().sketch(), Corner(op=op, point="b", size=size))


# -- offset and smooth ----------------------------------------------------------------------------


@pytest.mark.parametrize(("distance", "rounded"), [(3, True), (-3, True), (-3, False)])
def test_offsets_of_a_rectangle(distance, rounded):
    sketch = settled(
        apply(
            rectangle().sketch(),
            Offset(op="offset", items=["l1", "l2", "l3", "l4"], distance=distance, rounded=rounded),
        )
    )
    inner, outer = sorted(r.area for r in [*regions(only(sketch.sketch, True)), *regions(only(sketch.sketch, False))])
    d = abs(distance)
    expected = {
        (3, True): (34 * 14, 800),
        (-3, True): (800, 800 + 120 * d + math.pi * d * d),
        (-3, False): (800, 46 * 26),
    }
    assert (inner, outer) == pytest.approx(expected[distance, rounded])


def only(sketch: Sketch, old: bool) -> Sketch:
    """The drawn pieces, or those that an edit added."""
    return sketch.model_copy(update={"entities": [e for e in sketch.entities if e.id.startswith("e") != old]})


def test_an_offset_slot_follows_its_source():
    d = slot()
    d.size("distance", 40, "c1", "c2")
    d.size("radius", 10, "left")
    sketch = apply(d.sketch(), Offset(op="offset", items=["top", "bottom", "left", "right"], distance=-2))
    assert settled(sketch).freedom == 0
    longer = sketch.model_copy(
        update={"dimensions": [x.model_copy(update={"value": 70.0}) if x.value == 40 else x for x in sketch.dimensions]}
    )
    after = solve_sketch(longer, External({x.id: float(x.value) for x in longer.dimensions})).sketch
    at = coordinates(after)
    arc = next(e for e in after.entities if e.kind == "arc" and e.id.startswith("e"))
    r = float(np.hypot(*(at[arc.start] - at[arc.center])))
    assert r == pytest.approx(8) or r == pytest.approx(12)
    assert regions(only(after, False))[0].area == pytest.approx(70 * 2 * r + math.pi * r * r)


def test_an_arc_that_would_vanish_is_refused():
    with pytest.raises(Problem, match="vanishes"):
        apply(filleted_rectangle().sketch(), Offset(op="offset", items=["l0", "a0", "l1"], distance=9))


def test_smoothing_makes_the_outline_construction():
    d = filleted_rectangle()
    d.data["constraints"].pop()
    items = [e["id"] for e in d.data["entities"]]
    sketch = settled(apply(d.sketch(), Smooth(op="smooth", items=items, tolerance=0.5))).sketch
    assert [e.kind for e in sketch.entities if not e.construction] == ["smoothed"]


def test_handles_leave_the_curve_as_it_is():
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (20, 14), (45, -6), (70, 10)]):
        d.point(f"s{i}", x, y)
    d.spline("sp", "s0", "s1", "s2", "s3")
    before = spline_curve(d.sketch().entities[0], coordinates(d.sketch()))
    sketch = settled(apply(d.sketch(), Handles(op="handles", spline="sp"))).sketch
    after = spline_curve(sketch.entities[0], coordinates(sketch))
    t = np.linspace(before.t[0], before.t[-1], 60)
    assert after(t) == pytest.approx(before(t), abs=1e-9)


# -- transforms -----------------------------------------------------------------------------------


@pytest.mark.parametrize("angle", [0, 90, 180, 33])
@pytest.mark.parametrize("factor", [1.0, 2.5])
def test_turned_and_scaled_pieces_keep_their_shape_and_sizes(angle, factor):
    d = filleted_rectangle()
    d.data["constraints"] = [c for c in d.data["constraints"] if c["kind"] != "coincident"]
    d.size("radius", 8, "a0")
    d.size("horizontal_distance", 44, "p0", "p1")
    items = [e["id"] for e in d.data["entities"]]
    sketch = apply(d.sketch(), Transform(op="transform", items=items, center=(3, 4), angle=angle, factor=factor, dx=5))
    solution = settled(sketch)
    area = 60 * 40 - (4 - math.pi) * 64
    assert regions(solution.sketch)[0].area == pytest.approx(area * factor**2)
    assert len(sketch.dimensions) == 2


def test_moving_one_of_two_joined_lines_takes_it_loose():
    d = Draw()
    for name, x, y in (("a", 0, 0), ("b", 10, 0), ("c", 10, 10)):
        d.point(name, x, y)
    d.line("l1", "a", "b")
    d.line("l2", "b", "c")
    sketch = settled(apply(d.sketch(), Transform(op="transform", items=["l2"], dx=5, dy=1))).sketch
    at, l2 = coordinates(sketch), sketch.entities[1]
    assert (*at["b"], *at[l2.start], *at[l2.end]) == pytest.approx((10, 0, 15, 1, 15, 11))


def test_copies_along_a_line_and_round_a_circle():
    d = slot(20, 4)
    d.data["constraints"] = [c for c in d.data["constraints"] if "O" not in c["items"]]
    items = [e["id"] for e in d.data["entities"]]
    row = settled(apply(d.sketch(), LinearCopies(op="linear_copies", items=items, dx=0, dy=12, count=4)))
    assert len(regions(row.sketch)) == 4
    around = settled(apply(d.sketch(), CircularCopies(op="circular_copies", items=items, center=(-30, 0), count=6)))
    areas = [r.area for r in regions(around.sketch)]
    assert areas == pytest.approx([20 * 8 + 16 * math.pi] * 6)


@pytest.mark.parametrize("live", [True, False])
def test_a_mirrored_half_is_joined_and_stays_symmetric_when_live(live):
    d = Draw()
    for name, x, y in (("a", 0, 20), ("b", 15, 20), ("c", 15, 0), ("e", 0, 0), ("m", 8, 10)):
        d.point(name, x, y)
    for name, p, q in (("l1", "a", "b"), ("l2", "b", "c"), ("l3", "c", "e")):
        d.line(name, p, q)
    d.circle("c1", "m", 3)
    d.hold("on_curve", "a", "Y")
    d.hold("on_curve", "e", "Y")
    sketch = apply(d.sketch(), Mirror(op="mirror", items=["l1", "l2", "l3", "c1"], about="Y", live=live))
    solution = settled(sketch)
    (region,) = regions(solution.sketch)
    assert region.area == pytest.approx(600 - 2 * math.pi * 9)
    assert len(region.holes) == 2
    sketch.dimensions.append(_width(25))
    wide = solve_sketch(sketch, External({"w": 25.0})).sketch
    xs = sorted(float(p[0]) for p in coordinates(wide).values())
    assert (xs[0] == pytest.approx(-xs[-1])) == live


def _width(value: float):
    d = Draw()
    d.size("distance", value, "b", "Y")
    return d.sketch().dimensions[0].model_copy(update={"id": "w"})


def test_paste_between_sketches_brings_ties_and_sizes_along():
    d = slot(20, 4)
    d.size("radius", 4, "left")
    piece = transforms.clip(d.sketch(), [e["id"] for e in d.data["entities"]])
    target = rectangle(90, 60).sketch()
    sketch = settled(apply(target, Paste(op="paste", clip=piece, at=(45, 30)))).sketch
    (region,) = regions(sketch)
    assert region.area == pytest.approx(5400 - 20 * 8 - 16 * math.pi)
    assert [x.value for x in sketch.dimensions] == [4]
