"""Ellipses, splines, symmetry and lengths along curves in the solver, against closed forms."""

import math

import numpy as np
import pytest
from scipy.special import ellipe

from leadline.core.geometry.plane import PRINCIPAL
from leadline.core.paths.path import path_from_sketch
from leadline.core.problems import Problem
from leadline.core.sketch.dragging import drag
from leadline.core.sketch.model import Sketch
from leadline.core.sketch.outline import coordinates, ellipse_arc, regions, smooth_outline, spline_curve
from leadline.core.sketch.solver import build_system, solve_sketch
from leadline.core.sketch.system import External
from leadline.kinds.sketch.build import outline_faults
from tests.support.shapes import Draw, filleted_rectangle, rectangle


def solved(d: Draw) -> Sketch:
    return solve_sketch(d.sketch(), External(d.values)).sketch


def entity(sketch: Sketch, name: str):
    return next(e for e in sketch.entities if e.id == name)


def ellipse_drawing() -> Draw:
    d = Draw()
    for name, x, y in (("c", 0, 0), ("m", 30, 2), ("p", 10, 11), ("a", -40, 14), ("b", 40, 16)):
        d.point(name, x, y)
    d.ellipse("el", "c", "m", 12)
    d.line("l", "a", "b")
    d.hold("coincident", "c", "O")
    d.hold("horizontal", "c", "m")
    return d


def wave(kind: str = "spline") -> Draw:
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (20, 14), (45, -6), (70, 10)]):
        d.point(f"s{i}", x, y)
    d.spline("sp", "s0", "s1", "s2", "s3", kind=kind)
    return d


def every_curve() -> Draw:
    """One sketch with every kind of row about curves."""
    d = ellipse_drawing()
    d.hold("tangent", "l", "el")
    d.hold("on_curve", "p", "el")
    for i, (x, y) in enumerate([(60, 0), (80, 14), (105, -6), (130, 10)]):
        d.point(f"s{i}", x, y)
    for name, x, y in (
        ("h", 66, 9),
        ("q", 90, 5),
        ("e1", 150, 10),
        ("e2", 158, 4),
        ("ec", 150, 4),
        ("em", 158, 5),
        ("r", 60, 30),
        ("rs", 66, 30),
        ("re", 60, 36),
        ("t0", 60, -20),
        ("t1", 40, -30),
    ):
        d.point(name, x, y)
    d.spline("sp", "s0", "s1", "s2", "s3", start_handle="h")
    d.spline("cs", "s0", "t0", "t1", kind="control_spline")
    d.hold("on_curve", "q", "sp")
    d.ellipse("ea", "ec", "em", 6, "e2", "e1")
    d.line("join", "s3", "e1")
    d.arc("arc", "r", "rs", "re")
    d.hold("tangent", "join", "ea")
    d.hold("tangent", "sp", "join")
    d.hold("smooth", "sp", "cs")
    d.hold("symmetric", "t0", "t1", "l")
    d.hold("symmetric", "rs", "re", "O")
    d.hold("collinear", "l", "join")
    d.hold("concentric", "arc", "ea")
    d.size("curve_length", 80, "sp")
    d.size("curve_length", 11, "arc")
    d.size("minor_radius", 11, "el")
    d.size("radius", 31, "el")
    d.size("distance", 20, "q", "arc", side="far")
    d.size("distance", 20, "l", "arc")
    return d


def test_jacobian_of_the_curve_rows_against_finite_differences():
    d = every_curve()
    system = build_system(d.sketch(), External(d.values))
    x = system.state() + 0.003 * np.random.default_rng(3).standard_normal(system.n)
    J = np.asarray(system.equations.jacobian(x))
    for i in range(system.n):
        e = np.zeros(system.n)
        e[i] = 1e-6
        slope = (system.equations.residual(x + e) - system.equations.residual(x - e)) / 2e-6
        assert np.abs(J[:, i] - slope).max() < 2e-7 * max(1.0, np.abs(slope).max()), i


def test_an_ellipse_has_five_freedoms_and_its_sizes_hold():
    d = Draw()
    d.point("c", 0, 0)
    d.point("m", 30, 4)
    d.ellipse("el", "c", "m", 12)
    assert solve_sketch(d.sketch(), External(d.values)).freedom == 5
    d.size("radius", 50, "el")
    d.size("minor_radius", 8, "el")
    el, at = entity(solved(d), "el"), coordinates(solved(d))
    assert np.hypot(*(at["m"] - at["c"])) == pytest.approx(50)
    assert el.minor == pytest.approx(8)
    assert regions(solved(d))[0].area == pytest.approx(math.pi * 400, rel=1e-9)


def test_a_point_and_a_tangent_stay_on_a_driven_ellipse():
    d = ellipse_drawing()
    d.hold("on_curve", "p", "el")
    d.hold("tangent", "l", "el")
    d.hold("horizontal", "l")
    d.size("radius", 20, "el")
    d.size("minor_radius", 3, "el")
    sketch = solved(d)
    at = coordinates(sketch)
    x, y = at["p"]
    assert (x / 20) ** 2 + (y / 3) ** 2 == pytest.approx(1)
    assert y > 0
    assert at["a"][1] == pytest.approx(3)


def test_an_elliptical_arc_meets_a_line_tangent_at_its_end():
    d = Draw()
    for name, x, y in (("c", 0, 0), ("m", 30, 0), ("s", 30, 0), ("e", 1, 12), ("t", -30, 14)):
        d.point(name, x, y)
    d.ellipse("ea", "c", "m", 12, "s", "e")
    d.line("l", "e", "t")
    for kind, *items in (
        ("coincident", "c", "O"),
        ("horizontal", "c", "m"),
        ("tangent", "ea", "l"),
        ("horizontal", "l"),
        ("horizontal", "c", "s"),
    ):
        d.hold(kind, *items)
    d.size("radius", 30, "ea")
    d.size("minor_radius", 9, "ea")
    sketch = solved(d)
    at = coordinates(sketch)
    assert at["e"] == pytest.approx([0, 9], abs=1e-8)
    path = path_from_sketch(sketch, PRINCIPAL["XY"], ["ea"])
    assert path.length == pytest.approx(30 * ellipe(1 - (9 / 30) ** 2), rel=1e-10)
    edges = ellipse_arc(entity(sketch, "ea"), at)
    t = np.linspace(*edges[0].domain, 9)
    assert (edges[0].point(t) / [30, 9])[:, 0] ** 2 + (edges[0].point(t) / [30, 9])[:, 1] ** 2 == pytest.approx(
        np.ones(9)
    )


@pytest.mark.parametrize("kind", ["spline", "control_spline"])
def test_a_point_slides_on_a_spline_and_stays_on_it(kind):
    d = wave(kind)
    d.point("q", 30, 9)
    d.hold("on_curve", "q", "sp")
    d.hold("fix", "s0")
    d.hold("fix", "s3")
    d.size("horizontal_distance", 52, "s0", "q")
    sketch = solved(d)
    at = coordinates(sketch)
    curve = spline_curve(entity(sketch, "sp"), at)
    dense = curve(np.linspace(curve.t[0], curve.t[-1], 20001))
    assert at["q"][0] == pytest.approx(52)
    assert np.linalg.norm(dense - at["q"], axis=1).min() < 5e-3
    assert solve_sketch(d.sketch(), External(d.values)).freedom == 4


def test_dragging_one_point_of_a_spline_leaves_the_others_calm():
    start = solved(wave())
    moved = coordinates(drag(start, "s1", (26, 30)))
    before = coordinates(start)
    assert moved["s1"] == pytest.approx([26, 30], abs=0.1)
    for p in ("s0", "s2", "s3"):
        assert np.hypot(*(moved[p] - before[p])) < 0.05 * 17


def test_the_length_of_a_spline_and_of_an_arc():
    d = wave()
    d.size("curve_length", 120, "sp")
    sketch = solved(d)
    assert path_from_sketch(sketch, PRINCIPAL["XY"]).length == pytest.approx(120, rel=1e-9)
    d = Draw()
    for name, x, y in (("c", 0, 0), ("a", 10, 0), ("b", -2, 9.8)):
        d.point(name, x, y)
    d.arc("arc", "c", "a", "b")
    d.size("radius", 10, "arc")
    d.size("curve_length", 42, "arc")
    d.hold("fix", "a")
    at = coordinates(solved(d))
    bearing = [math.atan2(*(at[p] - at["c"])[::-1]) for p in "ab"]
    assert (bearing[1] - bearing[0]) % (2 * math.pi) == pytest.approx(4.2)


def test_smooth_gives_a_spline_the_curvature_of_its_neighbour():
    d = wave()
    d.data["entities"][0] |= {"start_handle": "h"}
    for name, x, y in (("h", 6, 9), ("c", -9, 12), ("t", -24, 12)):
        d.point(name, x, y)
    d.arc("arc", "c", "t", "s0")
    d.hold("smooth", "arc", "sp")
    d.hold("fix", "arc")
    sketch = solved(d)
    at = coordinates(sketch)
    curve = spline_curve(entity(sketch, "sp"), at)
    (x1, y1), (x2, y2) = curve(curve.t[0], 1), curve(curve.t[0], 2)
    arm = at["s0"] - at["c"]
    assert abs(x1 * y2 - y1 * x2) / math.hypot(x1, y1) ** 3 == pytest.approx(1 / np.hypot(*arm), rel=1e-7)
    assert arm @ [x1, y1] == pytest.approx(0, abs=1e-6)
    d = wave("control_spline")
    d.point("b", -30, -4)
    d.line("l", "b", "s0")
    d.hold("smooth", "l", "sp")
    sketch = solved(d)
    legs = [coordinates(sketch)[f"s{i}"] - coordinates(sketch)["s0"] for i in (1, 2)]
    assert legs[0][0] * legs[1][1] - legs[0][1] * legs[1][0] == pytest.approx(0, abs=1e-6)


def test_end_legs_on_construction_lines_leave_tangent():
    """The slab edge of a comb: the spline's first leg lies on a line, so the curve leaves along it."""
    d = wave("control_spline")
    d.point("f", -20, -14)
    d.point("g", 30, 21)
    d.line("guide", "f", "g", construction=True)
    d.hold("fix", "guide")
    d.hold("on_curve", "s0", "guide")
    d.hold("on_curve", "s1", "guide")
    sketch = solved(d)
    curve = spline_curve(entity(sketch, "sp"), coordinates(sketch))
    slope = curve(0.0, 1)
    assert math.atan2(slope[1], slope[0]) == pytest.approx(math.atan2(35, 50))


@pytest.mark.parametrize("width", [80, 12, 4])
def test_symmetric_sections_stay_symmetric(width):
    d = Draw()
    d.point("t", 0, 30)
    d.line("axis", "O", "t", construction=True)
    d.hold("vertical", "axis")
    for name, x, y in (("a", -20, 2), ("b", 20, 0), ("c", 21, 10), ("e", -18, 11), ("m", -12, 5), ("n", 13, 5)):
        d.point(name, x, y)
    d.line("left", "a", "e")
    d.line("right", "c", "b")
    d.circle("h1", "m", 2)
    d.circle("h2", "n", 3)
    d.hold("symmetric", "left", "right", "axis")
    d.hold("symmetric", "h1", "h2", "axis")
    d.size("distance", width, "a", "b")
    d.size("distance", 0.4 * width, "m", "n")
    sketch = solved(d)
    at = coordinates(sketch)
    for p, q in (("a", "b"), ("e", "c"), ("m", "n")):
        assert at[p] * [-1, 1] == pytest.approx(at[q], abs=1e-8)
    assert at["b"][0] == pytest.approx(width / 2)
    assert entity(sketch, "h1").radius == pytest.approx(entity(sketch, "h2").radius)


def test_collinear_and_concentric():
    d = Draw()
    for name, x, y in (("a", 0, 0), ("b", 20, 1), ("c", 30, 5), ("e", 50, -4), ("m", 5, 20), ("n", 9, 23)):
        d.point(name, x, y)
    d.line("l1", "a", "b")
    d.line("l2", "c", "e")
    d.circle("c1", "m", 5)
    d.circle("c2", "n", 9)
    d.hold("collinear", "l1", "l2")
    d.hold("concentric", "c1", "c2")
    at = coordinates(solved(d))
    u = at["b"] - at["a"]
    for p in "ce":
        v = at[p] - at["a"]
        assert u[0] * v[1] - u[1] * v[0] == pytest.approx(0, abs=1e-7)
    assert at["m"] == pytest.approx(at["n"])


@pytest.mark.parametrize(("side", "expected"), [("near", 12 + 5), ("far", 12 - 5)])
def test_distance_to_either_side_of_a_circle(side, expected):
    d = Draw()
    d.point("m", 20, 0)
    d.circle("c", "m", 5)
    d.hold("horizontal", "O", "m")
    d.size("radius", 5, "c")
    d.size("distance", 12, "O", "c", side=side)
    assert coordinates(solved(d))["m"] == pytest.approx([expected, 0])
    e = Draw()
    e.point("m", 20, 9)
    e.circle("c", "m", 5)
    e.size("radius", 5, "c")
    e.size("distance", 12, "X", "c", side=side)
    assert coordinates(solved(e))["m"][1] == pytest.approx(expected)


@pytest.mark.parametrize("tolerance", [3.0, 0.3])
def test_an_outline_smoothed_stays_within_tolerance_and_follows(tolerance):
    d = filleted_rectangle()
    sides = [e["id"] for e in d.data["entities"]]
    for e in d.data["entities"]:
        e["construction"] = True
    d.data["entities"].append({"kind": "smoothed", "id": "sm", "of": sides, "tolerance": tolerance})
    d.size("horizontal_distance", 90, "p0", "p1")
    sketch = solved(d)
    curve, off = smooth_outline(entity(sketch, "sm"), coordinates(sketch), sketch)
    assert 0.5 * tolerance < off <= tolerance
    for order in (1, 2):
        assert curve(0.0, order) == pytest.approx(curve(1.0, order), rel=1e-4, abs=1e-4)
    (region,) = regions(sketch)
    sharp = regions(
        sketch.model_copy(
            update={"entities": [e.model_copy(update={"construction": e.kind == "smoothed"}) for e in sketch.entities]}
        )
    )[0]
    assert abs(region.area - sharp.area) < tolerance * 320
    assert path_from_sketch(sketch, PRINCIPAL["XY"]).closed


def test_what_cannot_be_smoothed_says_why():
    d = rectangle()
    d.data["entities"].append({"kind": "smoothed", "id": "sm", "of": ["l1", "l2", "l3"], "tolerance": 1.0})
    sketch = d.sketch()
    with pytest.raises(Problem) as caught:
        smooth_outline(entity(sketch, "sm"), coordinates(sketch), sketch)
    assert caught.value.message.code == "not-closed"
    d.data["entities"][-1]["of"] = ["l1", "gone"]
    with pytest.raises(Problem, match="gone"):
        solve_sketch(d.sketch())


def test_a_loop_in_a_spline_is_marked_where_it_crosses_itself():
    d = Draw()
    for i, (x, y) in enumerate([(0, 0), (30, 20), (15, 40), (0, 20), (30, 0)]):
        d.point(f"s{i}", x, y)
    d.spline("sp", *(f"s{i}" for i in range(5)))
    sketch = d.sketch()
    (place,) = outline_faults(sketch, {"sp"})["crossing"]
    assert place[0] == pytest.approx(15, abs=1e-6)  # the curve is its own mirror image
    curve = spline_curve(sketch.entities[0], coordinates(sketch))
    t = np.linspace(curve.t[0], curve.t[-1], 20001)
    through = t[np.linalg.norm(curve(t) - place, axis=1) < 2e-2]
    assert np.ptp(through) > 0.2 * np.ptp(t)
