"""The sketch solver: what a toy fails."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.problems import Problem
from leadline.core.sketch.dragging import drag
from leadline.core.sketch.model import Dimension, Sketch
from leadline.core.sketch.solver import build_system, explain_extra, solve_sketch
from leadline.core.sketch.system import External
from tests.support.shapes import Draw, filleted_rectangle, hexagon, rectangle, slot, tangent_chain

SHAPES = {
    "rectangle": rectangle,
    "slot": slot,
    "hexagon": hexagon,
    "filleted": filleted_rectangle,
    "chain": tangent_chain,
}


def everything() -> Draw:
    """One sketch with every kind of row."""
    d = rectangle()
    d.point("m", 20, 10)
    d.circle("c1", "m", 5)
    d.point("q", 50, 12)
    d.circle("c2", "q", 6)
    d.arc("arc", "b", "r1", "r2")
    d.point("r1", 48, 0)
    d.point("r2", 40, 8)
    d.point("s1", 0, 40)
    d.point("s2", 15, 48)
    d.point("s3", 30, 40)
    d.spline("sp", "s1", "s2", "s3")
    d.line("after", "s3", "t")
    d.point("t", 50, 34)
    d.hold("tangent", "sp", "after")
    d.hold("tangent", "l1", "c1")
    d.hold("tangent", "c1", "c2")
    d.hold("on_curve", "r1", "l1")
    d.hold("on_curve", "q", "c2")
    d.hold("midpoint", "m", "a", "c")
    d.hold("perpendicular", "after", "l2")
    d.hold("parallel", "l1", "l3")
    d.hold("equal", "c1", "arc")
    d.size("distance", 9, "s1", "l3")
    d.size("distance", 50, "s1", "t")
    d.size("horizontal_distance", 14, "s1", "s2")
    d.size("vertical_distance", 8, "s2", "t")
    d.size("diameter", 11, "c2")
    d.size("angle", 40, "after", "l1")
    return d


def turned(sketch: Sketch, angle: float, scale: float, dx: float, dy: float) -> Sketch:
    c, s = scale * math.cos(angle), scale * math.sin(angle)
    points = [p.model_copy(update={"x": c * p.x - s * p.y + dx, "y": s * p.x + c * p.y + dy}) for p in sketch.points]
    entities = [e.model_copy(update={"radius": e.radius * scale}) if e.kind == "circle" else e for e in sketch.entities]
    return sketch.model_copy(update={"points": points, "entities": entities})


def xy(sketch: Sketch) -> np.ndarray:
    return np.array([(p.x, p.y) for p in sketch.points])


def test_jacobian_against_finite_differences():
    d = everything()
    system = build_system(d.sketch(), External(d.values))
    random = np.random.default_rng(3)
    x = system.state() + 0.01 * random.standard_normal(system.n)
    J = np.asarray(system.equations.jacobian(x))
    step = 1e-6
    for i in range(system.n):
        e = np.zeros(system.n)
        e[i] = step
        slope = (system.equations.residual(x + e) - system.equations.residual(x - e)) / (2 * step)
        assert np.abs(J[:, i] - slope).max() < 1e-7, i


def test_sparse_and_dense_rows_agree():
    d = tangent_chain(90)
    system = build_system(d.sketch(), External(d.values))
    assert not system.equations.dense
    x = system.state() + 0.01 * np.random.default_rng(1).standard_normal(system.n)
    sparse = system.equations.jacobian(x).toarray()
    step = 1e-6
    for i in range(0, system.n, 7):
        e = np.zeros(system.n)
        e[i] = step
        slope = (system.equations.residual(x + e) - system.equations.residual(x - e)) / (2 * step)
        assert np.abs(sparse[:, i] - slope).max() < 1e-6


@pytest.mark.parametrize(
    ("shape", "freedom"),
    [("rectangle", 2), ("slot", 2), ("hexagon", 1), ("filleted", 3)],
)
def test_known_freedom(shape, freedom):
    d = SHAPES[shape]()
    solution = solve_sketch(d.sketch(), External(d.values))
    assert solution.freedom == freedom
    assert solution.free


@pytest.mark.parametrize("count", [6, 20, 90])
def test_freedom_of_a_chain_dense_and_sparse(count):
    """A line adds its length and an arc its radius and sweep; tangency takes the turn."""
    d = tangent_chain(count)
    solution = solve_sketch(d.sketch(), External(d.values))
    lines, arcs = (count + 1) // 2, count // 2
    assert solution.freedom == lines + 2 * arcs
    assert solution.repeated == []


def test_a_settled_sketch_has_nothing_free():
    d = rectangle()
    d.size("length", 60, "l1")
    d.size("length", 25, "l2")
    solution = solve_sketch(d.sketch(), External(d.values))
    assert (solution.freedom, solution.free, solution.motions) == (0, [], [])
    assert xy(solution.sketch) == pytest.approx(np.array([[0, 0], [60, 0], [60, 25], [0, 25]]), abs=1e-9)


def test_motions_are_what_the_constraints_allow():
    d = rectangle()
    d.size("length", 60, "l1")
    solution = solve_sketch(d.sketch(), External(d.values))
    (motion,) = solution.motions
    assert set(motion) == {"c", "d"}
    assert motion["c"] == pytest.approx(motion["d"])
    assert abs(motion["c"][0]) < 1e-9


@pytest.mark.parametrize("scale", [1e-3, 1.0, 1e3])
@pytest.mark.parametrize("shape", ["slot", "filleted", "chain"])
def test_rigid_motion_and_scale_change_nothing(shape, scale):
    """The same drawing, turned, scaled and far from the origin, moves the same way."""
    d = SHAPES[shape]()
    loose = [c for c in d.data["constraints"] if c["kind"] not in ("coincident", "horizontal", "vertical")]
    d.data["constraints"] = loose
    first = d.data["entities"][0]["id"]
    d.size("length", 1, first)
    (name,) = [x["id"] for x in d.data["dimensions"] if x["items"] == [first]]
    length = 55.0
    base = solve_sketch(d.sketch(), External({**d.values, name: length})).sketch
    moved = turned(d.sketch(), 0.7, scale, 400 * scale, -90 * scale)
    other = solve_sketch(moved, External({**d.values, name: length * scale})).sketch
    expected = xy(turned(base, 0.7, scale, 400 * scale, -90 * scale))
    assert xy(other) == pytest.approx(expected, abs=1e-6 * scale * 100)


@settings(max_examples=25, deadline=None)
@given(st.randoms(use_true_random=False), st.sampled_from(sorted(SHAPES)))
def test_order_of_constraints_changes_nothing(random, shape):
    d = SHAPES[shape]()
    sketch = d.sketch()
    line = next(e.id for e in sketch.entities if e.kind == "line")
    extra = Dimension(id="len", kind="length", items=[line], value=30)
    sketch = sketch.model_copy(update={"dimensions": [*sketch.dimensions, extra]})
    outside = External({**d.values, "len": 30.0})
    base = solve_sketch(sketch, outside).sketch
    shuffled = list(sketch.constraints)
    random.shuffle(shuffled)
    other = solve_sketch(sketch.model_copy(update={"constraints": shuffled}), outside).sketch
    assert xy(other) == pytest.approx(xy(base), abs=1e-7)


@pytest.mark.parametrize("shape", sorted(SHAPES))
def test_a_solved_sketch_is_a_fixed_point(shape):
    d = SHAPES[shape]()
    once = solve_sketch(d.sketch(), External(d.values)).sketch
    twice = solve_sketch(once, External(d.values)).sketch
    assert xy(twice) == pytest.approx(xy(once), abs=1e-9)


def orientations(sketch: Sketch) -> list[bool]:
    """For every pair of lines or arcs that meet: which way the outline turns; for every arc: large or small."""
    at = {p.id: np.array([p.x, p.y]) for p in sketch.points}
    signs = []
    for e in sketch.entities:
        if e.kind == "arc":
            a, b = at[e.start] - at[e.center], at[e.end] - at[e.center]
            sweep = (math.atan2(b[1], b[0]) - math.atan2(a[1], a[0])) % (2 * math.pi)
            signs.append(sweep > math.pi * 1.05)
    lines = [e for e in sketch.entities if e.kind == "line"]
    for e, f in itertools.pairwise(lines):
        u, v = at[e.end] - at[e.start], at[f.end] - at[f.start]
        cross = u[0] * v[1] - u[1] * v[0]
        signs.append(cross > 1e-9 * np.hypot(*u) * np.hypot(*v))
    return signs


def drive(d: Draw, kind: str, items: tuple[str, ...], values: list[float]) -> Sketch:
    """Put one dimension through a row of values; nothing may flip on the way."""
    name = d.size(kind, values[0], *items)
    sketch = d.sketch()
    before = orientations(sketch)
    for value in values:
        sketch = solve_sketch(sketch, External({**d.values, name: float(value)})).sketch
        assert orientations(sketch) == before, value
        system = build_system(sketch, External({**d.values, name: float(value)}))
        assert np.abs(system.equations.residual(system.state())).max() < 1e-9
    return sketch


def test_slot_width_from_twice_to_a_tenth():
    d = slot(40, 10)
    d.size("distance", 40, "c1", "c2")
    sketch = drive(d, "radius", ("left",), [20, 10, 1, 20])
    assert {p.id: (round(p.x, 6), round(p.y, 6)) for p in sketch.points}["p2"] == (40.0, 20.0)


def test_filleted_rectangle_driven_wide_and_narrow():
    d = filleted_rectangle(60, 40, 8)
    d.size("length", 24, "l1")
    d.size("radius", 8, "a0")
    drive(d, "length", ("l0",), [44, 300, 5, 44])


def test_hexagon_by_its_side():
    drive(hexagon(30), "length", ("l0",), [17, 100, 2, 17])


def test_chain_of_tangent_arcs_and_lines():
    drive(tangent_chain(20), "length", ("e0",), [12, 60, 3, 12])


def test_spline_end_stays_tangent():
    d = Draw()
    for name, x, y in (("o", 0, 0), ("a", 30, 0), ("b", 60, 15), ("c", 90, 10)):
        d.point(name, x, y)
    d.line("leg", "o", "a")
    d.spline("s", "a", "b", "c")
    d.hold("coincident", "o", "O")
    d.hold("tangent", "leg", "s")
    d.hold("horizontal", "leg")
    sketch = drive(d, "length", ("leg",), [30, 80, 6, 30])
    spline = next(e for e in sketch.entities if e.kind == "spline")
    assert spline.knots is not None


def test_drive_there_and_back_returns():
    d = filleted_rectangle()
    d.size("length", 24, "l1")
    d.size("radius", 8, "a0")
    name = d.size("length", 44, "l0")
    start = solve_sketch(d.sketch(), External(d.values)).sketch
    there = solve_sketch(start, External({**d.values, name: 130.0})).sketch
    back = solve_sketch(there, External(d.values)).sketch
    assert xy(back) == pytest.approx(xy(start), abs=1e-7)


def test_an_implied_constraint_adds_one_repetition_and_no_freedom():
    d = rectangle()
    before = solve_sketch(d.sketch(), External(d.values))
    extra = d.hold("parallel", "l1", "l3")
    after = solve_sketch(d.sketch(), External(d.values))
    assert after.freedom == before.freedom
    assert extra in after.repeated
    names, agrees = explain_extra(after.sketch, extra, External(d.values))
    assert agrees
    assert set(names) == {"k0", "k2"}


def test_an_independent_constraint_repeats_nothing():
    d = rectangle()
    extra = d.hold("equal", "l1", "l2")
    solution = solve_sketch(d.sketch(), External(d.values))
    assert solution.repeated == []
    assert explain_extra(solution.sketch, extra, External(d.values)) == ([], True)


def test_a_conflict_names_its_set_and_any_one_of_them_can_go():
    d = rectangle()
    d.size("length", 60, "l1")
    d.size("length", 50, "l3")
    with pytest.raises(Problem) as caught:
        solve_sketch(d.sketch(), External(d.values))
    named = caught.value.message.place["items"]
    assert {"d0", "d1"} <= set(named)
    for gone in named:
        left = d.sketch()
        left.constraints = [c for c in left.constraints if c.id != gone]
        left.dimensions = [x for x in left.dimensions if x.id != gone]
        solve_sketch(left, External({k: v for k, v in d.values.items() if k != gone}))


def test_an_unreachable_size_gives_the_limit_and_moves_nothing():
    d = Draw()
    for name, x, y in (("o", 0, 0), ("a", 40, 0), ("b", 60, 20)):
        d.point(name, x, y)
    d.line("l1", "o", "a")
    d.line("l2", "a", "b")
    d.hold("coincident", "o", "O")
    d.hold("horizontal", "l1")
    d.size("length", 40, "l1")
    d.size("length", 28.284271247461902, "l2")
    start = solve_sketch(d.sketch(), External(d.values)).sketch
    name = d.size("distance", 60, "O", "b")
    sketch = start.model_copy(update={"dimensions": d.sketch().dimensions})
    with pytest.raises(Problem) as caught:
        solve_sketch(sketch, External({**d.values, name: 90.0}))
    message = caught.value.message
    assert message.code == "limit"
    reached = float(message.text.split("gets to ")[1].split(" mm")[0])
    assert 66 < reached <= 68.29
    assert {"d0", "d1"} <= set(message.place["items"])


@settings(max_examples=20, deadline=None)
@given(st.floats(-150, 150), st.floats(-150, 150))
def test_drag_keeps_every_constraint(x, y):
    d = slot()
    start = solve_sketch(d.sketch(), External(d.values)).sketch
    moved = drag(start, "p2", (x, y), External(d.values))
    system = build_system(moved, External(d.values))
    assert np.abs(system.equations.residual(system.state())).max() < 1e-9
    assert orientations(moved) == orientations(start)


def test_drag_reaches_a_free_place_and_leaves_settled_points_alone():
    d = rectangle()
    start = solve_sketch(d.sketch(), External(d.values)).sketch
    moved = {p.id: (p.x, p.y) for p in drag(start, "c", (70, 33), External(d.values)).points}
    assert moved["c"] == pytest.approx((70, 33), abs=0.05)
    assert moved["a"] == pytest.approx((0, 0), abs=1e-12)


def test_drag_depends_on_where_it_began_and_not_on_the_way():
    d = slot()
    start = solve_sketch(d.sketch(), External(d.values)).sketch
    far = drag(start, "p2", (120, 40), External(d.values))
    del far
    direct = drag(start, "p2", (60, 15), External(d.values))
    again = drag(start, "p2", (60, 15), External(d.values))
    assert xy(direct) == pytest.approx(xy(again), abs=1e-12)


def test_drag_of_a_rim_changes_the_radius():
    d = Draw()
    d.point("c", 0, 0)
    d.circle("e", "c", 5)
    d.hold("coincident", "c", "O")
    moved = drag(d.sketch(), "e", (12, 0), External())
    assert next(e.radius for e in moved.entities if e.kind == "circle") == pytest.approx(12, abs=0.01)


def test_on_path_holds_a_point_at_the_crossing():
    d = Draw()
    d.point("c", 3, 4)
    d.circle("e", "c", 5)
    tie = d.hold("on_path", "c", path="path")
    solution = solve_sketch(d.sketch(), External({}, {tie: (10.0, -2.0)}))
    assert xy(solution.sketch)[0] == pytest.approx([10, -2], abs=1e-9)
    assert solution.freedom == 1


def test_reference_dimensions_measure_and_hold_nothing():
    d = rectangle(40, 20)
    d.size("length", 60, "l1")
    shown = d.size("distance", 0, "a", "c", driving=False)
    turn = d.size("angle", 0, "l1", "l2", driving=False)
    solution = solve_sketch(d.sketch(), External(d.values))
    assert solution.freedom == 1
    points = {p.id: np.array([p.x, p.y]) for p in solution.sketch.points}
    assert solution.measured[shown] == pytest.approx(float(np.hypot(*(points["c"] - points["a"]))))
    assert solution.measured[turn] == pytest.approx(math.pi / 2)


def test_a_point_far_off_is_brought_to_coincide():
    d = Draw()
    for name, x, y in (("a", 0, 0), ("b", 40, 0), ("c", 55, 30), ("e", 90, 20)):
        d.point(name, x, y)
    d.line("l1", "a", "b")
    d.line("l2", "c", "e")
    d.hold("coincident", "b", "c")
    solution = solve_sketch(d.sketch())
    at = {p.id: (p.x, p.y) for p in solution.sketch.points}
    assert at["b"] == pytest.approx(at["c"], abs=1e-9)
    again = build_system(solution.sketch, External())
    assert again.aliased == {"k0"}


@pytest.mark.parametrize(
    ("kind", "items", "code"),
    [
        ("tangent", ("l1", "l2"), "wrong-items"),
        ("coincident", ("a", "l1"), "wrong-items"),
        ("equal", ("l1", "a"), "wrong-items"),
        ("horizontal", ("gone",), "deleted-reference"),
    ],
)
def test_constraints_on_the_wrong_things_are_refused(kind, items, code):
    d = rectangle()
    d.hold(kind, *items)
    with pytest.raises(Problem) as caught:
        solve_sketch(d.sketch(), External(d.values))
    assert caught.value.message.code == code


@pytest.mark.parametrize(
    ("kind", "items", "value"), [("length", ("l1",), 0), ("length", ("l1",), -5), ("angle", ("l1", "l2"), 180)]
)
def test_sizes_that_cannot_be_are_refused(kind, items, value):
    d = rectangle()
    d.size(kind, value, *items)
    with pytest.raises(Problem) as caught:
        solve_sketch(d.sketch(), External(d.values))
    assert caught.value.message.code == "bad-size"
